// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/record/record_table.h"
#include "workbench/model/design_edit.h"

#include <string>

namespace scorrere::workbench {

/// The first parameter that texts and rules of a design name and the design does not have; empty: none.
std::string missingParameter(const DesignDraft& draft);
/// How such a parameter begins: beside a number field it ranges over what that field holds, from the middle;
/// beside a text field it is one of its texts.
///
/// Complexity  O(design + records), at most 2000 of them.
nlohmann::ordered_json newParameter(const DesignDraft& draft, const std::string& name,
                                    const RecordTable& records);
/// The same parameter under another name, wherever the design names it; false when that name is taken or
/// none.
bool renameParameter(DesignDraft& draft, const std::string& from, const std::string& to);

/// A parameter of that name says what `to` says: a number stays within its bounds.
void setParameter(DesignDraft& draft, const Parameter& to);

} // namespace scorrere::workbench
