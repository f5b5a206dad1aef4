// SPDX-License-Identifier: GPL-3.0-or-later
//
// A collection file: read, or refused with a place; what was read is written and read again to the same.
#include "engine/document/collection_document.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    const auto document = CollectionDocument::parse(std::string(reinterpret_cast<const char*>(data), size),
                                                    "fuzz.collection.json");
    if (!document) {
        if (document.error().message.empty()) {
            std::abort();
        }
        return 0;
    }
    const std::string written = document->serialise();
    const auto again = CollectionDocument::parse(written, "fuzz.collection.json");
    if (!again || again->serialise() != written || !document->withDesign(document->designText())) {
        std::abort();
    }
    // Its designs over records that have no field: compiled, or refused.
    const RecordTable none;
    if (const auto design = ItemDesign::compile(document->item, document->scope(none))) {
        ItemContent content;
        std::vector<std::uint8_t> changed;
        (void)design->fill({none, -1, &document->parameters, 0, nullptr, -1, 0}, content, changed);
    }
    return 0;
}
