// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement_spec.h"
#include "engine/document/json_check.h"

#include <optional>
#include <string>
#include <vector>

namespace scorrere {

/// The member "arrangement" of a collection file. What is wrong with it goes to `error`, located; members that
/// are not known to `unknown`, as pointers.
void readArrangement(Members& top, ArrangementSpec& spec, std::optional<Error>& error,
                     std::vector<std::string>& unknown);
/// The same of a strip within an item, where fewer are known; a list that runs sideways where none is said.
ArrangementSpec readStripArrangement(Members& part, std::optional<Error>& error,
                                     std::vector<std::string>& unknown);
/// Puts it into the file. Members that this version does not know stay.
void writeArrangement(Json& json, const ArrangementSpec& spec);

} // namespace scorrere
