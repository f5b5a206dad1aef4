// SPDX-License-Identifier: GPL-3.0-or-later
//
// The first line is a path, the rest a document.
#include "engine/record/json_path.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    const std::size_t line = text.find('\n');
    const auto path = scorrere::JsonPath::parse(text.substr(0, line));
    if (!path) {
        if (path.error().message.empty() || path.error().place.column < 1) {
            std::abort();
        }
        return 0;
    }
    const std::string_view document =
        line == std::string_view::npos ? R"({"a":[1,{"b":"x"},[null,true]],"c":2.5})" : text.substr(line + 1);
    const auto matches = path->select(document);
    if (matches && path->isSingular() && matches->size() > 1) {
        std::abort();
    }
    // Each normalized path must select one node. (Not always the same one: a member may be given twice.)
    for (std::size_t i = 0; matches && i < matches->size() && i < 20; ++i) {
        const auto one = scorrere::JsonPath::parse((*matches)[i].path);
        const auto found =
            one ? one->select(document) : scorrere::Result<std::vector<scorrere::JsonMatch>>(one.error());
        if (!found || found->size() != 1 || (*found)[0].path != (*matches)[i].path) {
            std::abort();
        }
    }
    return 0;
}
