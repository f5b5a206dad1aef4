// SPDX-License-Identifier: GPL-3.0-or-later
//
// A live event: a JSON Patch for records by their key.
#include "engine/record/record_builder.h"
#include "render/stream_patch.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    const auto changes = render::streamChanges(std::string(reinterpret_cast<const char*>(data), size), "/s");
    if (!changes) {
        return changes.error().message.empty() ? (std::abort(), 0) : 0;
    }
    static const auto table = [] {
        RecordBuilder builder;
        builder.setText(builder.fieldNamed("id"), "1");
        builder.setJson(builder.fieldNamed("note"), FieldType::List, "[1]");
        builder.endRecord();
        return std::make_shared<const RecordTable>(builder.finish());
    }();
    std::vector<render::StreamChange> all = *changes;
    for (render::StreamChange& change : all) {
        change.base = {change.key, 0, table, 0};
    }
    SourceSpec source;
    source.key = {"id"};
    int refused = 0;
    (void)render::madeStreamed(all, source, table->fields(), refused);
    return 0;
}
