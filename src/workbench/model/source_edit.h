// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/source_spec.h"
#include "engine/record/field_profile.h"
#include "engine/record/json_outline.h"

#include <functional>
#include <string>
#include <vector>

namespace scorrere::workbench {

// A source as it is after one edit. What comes out the same is no edit.

/// What is decided about a field; a decision that says nothing goes.
SourceSpec withField(SourceSpec source, const std::string& field,
                     const std::function<void(FieldChoice&)>& change);
/// A field's numbers or times are written in a language's way, or (empty) as JSON has them. Of a text field its
/// `samples` say which of both they are; `type` is what it is now.
SourceSpec withLocale(SourceSpec source, const std::string& field, const std::string& locale, FieldType type,
                      const std::vector<std::string>& samples);
/// `now`: what identifies a record, chosen or proposed. `together`: the field joins it, or leaves it; else it stands
/// alone, or no more.
SourceSpec withKey(SourceSpec source, const std::vector<std::string>& now, const std::string& field,
                   bool together);
/// A value from inside an item becomes a field of its own, called after its path; `taken` are the names in use. Gives
/// the name, too; empty: the node is in no item.
struct NewColumn {
    SourceSpec source;
    std::string name;
};
NewColumn withColumn(SourceSpec source, const JsonOutline& tree, std::string_view text, int items, int node,
                     const std::vector<std::string>& taken);
/// A variable of the address, or a header; empty: not given.
SourceSpec withVariable(SourceSpec source, const std::string& name, const std::string& value);
SourceSpec withHeader(SourceSpec source, const std::string& name, const std::string& value);

} // namespace scorrere::workbench
