// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/cell_flow.h"
#include "engine/document/collection_document.h"

#include <cstdint>
#include <vector>

namespace scorrere::render {

/// How many columns of a grid an item of each kind takes, as its arrangement says.
class LiveSpans {
public:
    explicit LiveSpans(const CollectionDocument& document);
    /// Whether any kind takes more than one.
    bool areAny() const { return !spans_.empty(); }
    /// By a number of the document's kinds; -1: none. As CellFlow has it.
    std::uint8_t of(int kind) const { return kind < 0 ? 1 : spans_[static_cast<std::size_t>(kind)]; }
    /// A kind that takes all columns; -1: none does.
    int acrossKind() const;

private:
    std::vector<std::uint8_t> spans_; ///< none: one column each
};

} // namespace scorrere::render
