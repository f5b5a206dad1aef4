// SPDX-License-Identifier: GPL-3.0-or-later
//
// Bytes of an unknown character set: whatever comes out is UTF-8.
#include "engine/record/charset.h"
#include "engine/record/json_outline.h"
#include "fuzz.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    const std::string text(reinterpret_cast<const char*>(data), size);
    if (firstBadUtf8(mendedUtf8(text)) < mendedUtf8(text).size()) {
        std::abort();
    }
    const std::string undone = undoDoubleDecoding(mendedUtf8(text));
    if (firstBadUtf8(undone) < undone.size()) {
        std::abort();
    }
    ReadOptions options;
    options.form = SourceForm::Lines;
    const auto reading = readRecordsText(text, "fuzz", options, {});
    return reading || !reading.error().message.empty() ? 0 : (std::abort(), 0);
}
