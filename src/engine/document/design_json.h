// SPDX-License-Identifier: Apache-2.0
// Reading item designs, pieces and parameters: an implementation header of document/.
#pragma once

#include "engine/document/collection_document.h"
#include "engine/document/json_check.h"

namespace scorrere {

/// Reads "parameters", "pieces" and "items" of the document into `document`; members this version does not
/// know are added to `unknown`. The first error is kept.
void readDesign(Members& top, CollectionDocument& document, std::optional<Error>& error,
                std::vector<std::string>& unknown);

} // namespace scorrere
