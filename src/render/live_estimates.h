// SPDX-License-Identifier: Apache-2.0
// Compiling a document's designs, and estimating extents off the interface thread: an implementation header
// of LiveCollection.
#pragma once

#include "engine/document/collection_document.h"
#include "engine/page/page_records.h"
#include "engine/record/record_order.h"

#include <functional>
#include <stop_token>

namespace scorrere::render {

/// Views of a document's own kinds are numbered from here.
inline constexpr int kFirstOwnKind = ListArrangement::kKinds;

/// The designs of a document compiled against the records' fields: record, header, footer, then its kinds;
/// with states also what placeholders are shaped like, and one design for each TailState.
struct Compiled {
    std::vector<ItemDesign> designs;
    KindChooser kinds;
};
Result<Compiled> compileDesigns(const CollectionDocument& document, const RecordTable& records,
                                bool withStates);

/// What a state's texts can say, as one record: noun, message, advice, count.
RecordTable stateRecord(const CollectionDocument& document, const PageFailure& failure, std::int64_t count);

struct EstimateTask {
    /// A record of a page, and where it stood when the task was made.
    struct Row {
        std::int64_t place = 0;
        std::shared_ptr<const RecordTable> table;
        std::int64_t row = 0;
    };
    CollectionDocument document;
    std::shared_ptr<const RecordTable> records;
    RecordOrder order;
    std::vector<Row> rows; ///< in order of place; when there are any: these, not `order`
    double textScale = 1;
    Length width;
    std::int64_t nowMs = 0;
    std::int64_t from = 0; ///< the place where the window is
};

/// Estimates every record's extent, slice by slice, those nearest to the window first. Gives false when
/// stopped. Blocks: for workers.
bool estimateSlices(
    const EstimateTask& task, const std::stop_token& stop,
    const std::function<void(std::int64_t place, std::vector<std::int32_t> extents)>& deliver);

} // namespace scorrere::render
