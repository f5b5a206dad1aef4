// SPDX-License-Identifier: Apache-2.0
#include "engine/base/result.h"

#include <fmt/format.h>

namespace scorrere {

std::string Error::text() const {
    std::string where = place.file;
    if (place.line > 0) {
        where += fmt::format("{}{}:{}", where.empty() ? "line " : ":", place.line, place.column);
    }
    const auto add = [&where](const std::string& more) { where += (where.empty() ? "" : ", ") + more; };
    if (place.record >= 0) {
        add(fmt::format("record {}", place.record + 1));
    }
    if (!place.pointer.empty()) {
        add("at " + place.pointer);
    }
    if (!place.field.empty()) {
        add("field " + place.field);
    }
    std::string whole = where.empty() ? message : where + ": " + message;
    if (!advice.empty()) {
        whole += (whole.ends_with('.') ? " " : ". ") + advice;
    }
    return whole;
}

} // namespace scorrere
