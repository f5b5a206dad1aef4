// SPDX-License-Identifier: GPL-3.0-or-later
//
// An event stream in pieces: the same events, however it is cut.
#include "engine/page/event_stream.h"

#include <cstdint>
#include <cstdlib>
#include <string>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    EventStream whole;
    std::string once;
    for (const StreamEvent& event : whole.feed(text)) {
        once += event.data + '\x1f';
    }
    const std::size_t step = size == 0 ? 1 : 1 + data[0] % 7;
    EventStream pieces;
    std::string cut;
    for (std::size_t at = 0; at < size; at += step) {
        for (const StreamEvent& event : pieces.feed(text.substr(at, step))) {
            cut += event.data + '\x1f';
        }
    }
    if (once != cut || whole.lastId() != pieces.lastId()) {
        std::abort();
    }
    return 0;
}
