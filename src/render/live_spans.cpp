// SPDX-License-Identifier: Apache-2.0
#include "render/live_spans.h"

#include <algorithm>

namespace scorrere::render {

LiveSpans::LiveSpans(const CollectionDocument& document) {
    const auto* grid = std::get_if<GridSpec>(&document.arrangement.form);
    if (grid == nullptr || grid->spans.empty()) {
        return;
    }
    for (const KindSpec& kind : document.kinds) {
        const int span = spanOf(document.arrangement, kind.name);
        spans_.push_back(span == GridSpec::kAllColumns ? CellFlow::kAll : static_cast<std::uint8_t>(span));
    }
    if (std::ranges::all_of(spans_, [](std::uint8_t span) { return span == 1; })) {
        spans_.clear();
    }
}

int LiveSpans::acrossKind() const {
    const auto across = std::ranges::find(spans_, CellFlow::kAll);
    return across == spans_.end() ? -1 : static_cast<int>(across - spans_.begin());
}

} // namespace scorrere::render
