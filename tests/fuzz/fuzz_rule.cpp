// SPDX-License-Identifier: GPL-3.0-or-later
//
// A rule over one record of every type, and a regular expression of its own.
#include "engine/design/rule.h"
#include "engine/record/i_regexp.h"
#include "engine/record/record_builder.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    static const RecordTable table = [] {
        RecordBuilder builder;
        builder.setText(builder.fieldNamed("a"), "Pale lantern");
        builder.setInteger(builder.fieldNamed("n"), 9'007'199'254'740'993);
        builder.setReal(builder.fieldNamed("r"), 2.5);
        builder.setBoolean(builder.fieldNamed("b"), true);
        builder.setJson(builder.fieldNamed("l"), FieldType::List, R"([1, "x", {"y": [2]}])");
        builder.setJson(builder.fieldNamed("o"), FieldType::Object, R"({"x": {"y": null}})");
        builder.endRecord();
        return builder.finish();
    }();
    Parameter limit;
    limit.name = "p";
    limit.number = 3;
    const Parameters parameters{limit};
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    const auto rule = Rule::compile(text, {table, "en", &parameters, nullptr, false});
    if (!rule && rule.error().message.empty()) {
        std::abort();
    }
    const FillContext context{table, 0, &parameters, 0, nullptr, -1, 0};
    if (rule && rule->holds(context) != rule->holds(context)) {
        std::abort();
    }
    if (const auto pattern = IRegexp::compile(text)) {
        const bool whole = pattern->matches("Pale lantern", true);
        if (whole && !pattern->matches("Pale lantern", false)) {
            std::abort();
        }
    }
    return 0;
}
