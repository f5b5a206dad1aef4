// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/document/script_file.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto script =
        scorrere::parseScript(std::string(reinterpret_cast<const char*>(data), size), "fuzz.script.json");
    if (!script && script.error().message.empty()) {
        std::abort();
    }
    return 0;
}
