// SPDX-License-Identifier: Apache-2.0
// An arrangement of one's own: along the strip it is a list, across it says itself where items stand.
#include "examples/stairs.h"

#include "engine/arrange/arrangement_over.h"
#include "engine/arrange/list_arrangement.h"
#include "engine/arrange/own_arrangements.h"

#include <algorithm>

namespace scorrere::examples {

namespace {

class Stairs final : public ArrangementOver {
public:
    Stairs(const OwnSpec& spec, const Spacing& spacing, Ends ends, std::int64_t records,
           const Estimates& estimates)
        : ArrangementOver(ends, std::make_unique<ListArrangement>(spacing, ends, records, estimates)),
          steps_(static_cast<std::int64_t>(spec.number("steps", 4, 1, 100))),
          share_(static_cast<std::int64_t>(spec.number("share", 0.6, 0.05, 1) * 1000)) {}

    Box boxOf(std::int64_t position) override {
        Box box = ArrangementOver::boxOf(position);
        auto& list = static_cast<ListArrangement&>(below());
        if (list.entryKindAt(position) == kRecordKind) { // no header, and none of a section
            const Length width = box.crossExtent * share_ / 1000;
            box.crossStart += (box.crossExtent - width) * stepOf(position) / steps_;
            box.crossExtent = width;
        }
        return box;
    }
    Given givenFor(std::int64_t position) override { return {boxOf(position).crossExtent, std::nullopt}; }

private:
    /// 0, 1, 2 ... steps, and back.
    std::int64_t stepOf(std::int64_t position) const {
        const std::int64_t at = position % (2 * steps_);
        return std::min(at, 2 * steps_ - at);
    }

    std::int64_t steps_;
    std::int64_t share_; ///< in thousandths
};

} // namespace

void addStairs() {
    OwnArrangements::add("stairs", [](const OwnSpec& spec, const Spacing& spacing, Ends ends,
                                      std::int64_t records, const Arrangement::Estimates& estimates) {
        return std::make_unique<Stairs>(spec, spacing, ends, records, estimates);
    });
}

} // namespace scorrere::examples
