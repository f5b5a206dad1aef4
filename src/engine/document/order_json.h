// SPDX-License-Identifier: Apache-2.0
// The order of records in a collection file: an implementation header of document/.
#pragma once

#include "engine/document/json_check.h"
#include "engine/order/order_spec.h"

namespace scorrere {

/// The collection's member "order"; all records as the source has them where there is none.
OrderSpec readOrder(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown);
/// Puts it in place, where it says anything; members that are not known stay.
void writeOrder(Json& json, const OrderSpec& order);

} // namespace scorrere
