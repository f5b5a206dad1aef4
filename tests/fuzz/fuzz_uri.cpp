// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/uri_template.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    const auto made = UriTemplate::parse(std::string_view(reinterpret_cast<const char*>(data), size));
    if (!made) {
        if (made.error().message.empty()) {
            std::abort();
        }
        return 0;
    }
    UriVariables variables;
    for (const std::string& name : made->names()) {
        variables[name] = "a b/ä";
    }
    const std::string expanded = made->expand(variables);
    return expanded == made->expand(variables) ? 0 : (std::abort(), 0);
}
