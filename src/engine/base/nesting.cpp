// SPDX-License-Identifier: Apache-2.0
#include "engine/base/nesting.h"

namespace scorrere {

std::size_t tooDeepAt(std::string_view json, int most) {
    int depth = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < json.size(); ++i) {
        const char c = json[i];
        if (quoted) {
            i += c == '\\' ? 1 : 0;
            quoted = c != '"';
        } else if (c == '"') {
            quoted = true;
        } else if (c == '{' || c == '[') {
            if (++depth > most) {
                return i;
            }
        } else if (c == '}' || c == ']') {
            --depth;
        }
    }
    return std::string_view::npos;
}

} // namespace scorrere
