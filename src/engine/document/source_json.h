// SPDX-License-Identifier: Apache-2.0
// The "source" member of a collection file: an implementation header of document/.
#pragma once

#include "engine/document/collection_document.h"
#include "engine/document/json_check.h"

namespace scorrere {

void readSource(Members& top, CollectionDocument& document, std::optional<Error>& error,
                std::vector<std::string>& unknown);
/// Puts the source into the member it was read from; what this version does not know stays.
void writeSource(Json& json, const SourceSpec& source);

} // namespace scorrere
