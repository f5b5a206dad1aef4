// SPDX-License-Identifier: Apache-2.0
// What hands can do, in a collection file: an implementation header of document/.
#pragma once

#include "engine/document/hands_spec.h"
#include "engine/document/json_check.h"

namespace scorrere {

/// The collection's members "hands" and "actions"; nothing where there are none.
HandsSpec readHands(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown);
Actions readActions(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown);
/// Puts them in place, where they say anything; members that are not known stay.
void writeHands(Json& json, const HandsSpec& hands);
void writeActions(Json& json, const Actions& actions);

} // namespace scorrere
