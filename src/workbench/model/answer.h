// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/source_spec.h"
#include "engine/record/json_outline.h"
#include "engine/record/reading.h"
#include "render/http_call.h"

#include <cstdint>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// What a source gave, as it is shown: the call, what came back, and where in it the records and fields are.
struct Answer {
    static constexpr std::size_t kShownBytes = std::size_t{512} << 10; ///< of the text; more is passed over
    static constexpr std::int64_t kShownRecords = 20;                  ///< in the tree of what is not JSON

    std::string place;          ///< the address or path it came from
    bool isCall = false;        ///< it has a status, headers and times
    render::HttpAnswer http;    ///< without the body
    std::string cutOff;         ///< why it is not whole; empty: it is
    std::int64_t bytes = 0;     ///< of the whole
    std::string text;           ///< as received, in UTF-8
    bool isPart = false;        ///< the text is only the beginning
    std::string treeText;       ///< the JSON that the tree shows
    bool treeIsRecords = false; ///< the tree shows records as read, because what came is not JSON
    JsonOutline tree;
    std::int32_t items = -1;          ///< the node whose children are the items
    std::vector<std::int32_t> fields; ///< by the table's field: the first node that holds one, or -1

    /// The bytes as text, its tree, and which node is where. `reading`: as they were read; null when they
    /// could not be.
    void take(std::string_view body, const std::string& charset, const Reading* reading,
              const std::vector<FieldChoice>& choices);
    /// Paths to arrays of it that may be the items, the outermost first; none of an answer that was no JSON.
    std::vector<std::string> itemPaths() const;
};

} // namespace scorrere::workbench
