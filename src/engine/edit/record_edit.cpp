// SPDX-License-Identifier: Apache-2.0
#include "engine/edit/record_edit.h"

#include "engine/record/json_outline.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere {

bool areSame(const RecordEdits& a, const RecordEdits& b) {
    return std::ranges::equal(
        a, b, [](const auto& one, const auto& other) { return one == other || *one == *other; });
}

std::string faultOf(const RecordEdit& edit) {
    const bool isRecord = edit.kind == RecordEdit::Kind::Insert;
    if (!isRecord && (edit.kind != RecordEdit::Kind::Set || edit.value.empty())) {
        return {};
    }
    const JsonOutline outline = JsonOutline::of(edit.value);
    if (outline.fault) {
        return fmt::format("its value is no JSON: {}", outline.fault->message);
    }
    if (outline.nodes.empty() || (isRecord && outline.nodes.front().type != JsonOutline::Type::Object)) {
        return isRecord ? "a record is a JSON object" : "it says no value";
    }
    return {};
}

} // namespace scorrere
