// SPDX-License-Identifier: GPL-3.0-or-later
//
// A text pattern; its first byte chooses the locale.
#include "engine/design/text_pattern.h"
#include "engine/record/record_builder.h"

#include <array>
#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    static const RecordTable table = [] {
        RecordBuilder builder;
        builder.setText(builder.fieldNamed("a"), "Pale lantern");
        builder.setInteger(builder.fieldNamed("n"), 12);
        builder.setReal(builder.fieldNamed("r"), 2.5);
        builder.setText(builder.fieldNamed("t"), "2024-05-01T21:30:00Z");
        builder.endRecord();
        return builder.finish();
    }();
    static const std::array<std::string, 5> locales{"en", "de", "ar", "ja", "xxxxxxxxxxxx"};
    const std::string& locale = locales[size == 0 ? 0 : data[0] % locales.size()];
    const std::string_view text(reinterpret_cast<const char*>(data) + (size > 0 ? 1 : 0),
                                size > 0 ? size - 1 : 0);
    const auto pattern = TextPattern::compile(text, NameScope{table, locale, nullptr, nullptr, false});
    if (!pattern) {
        if (pattern.error().message.empty()) {
            std::abort();
        }
        return 0;
    }
    std::string out;
    (void)pattern->format({table, 0, nullptr, 0, nullptr, -1, 0}, out);
    (void)pattern->format({table, -1, nullptr, 0, nullptr, -1, 0}, out);
    return 0;
}
