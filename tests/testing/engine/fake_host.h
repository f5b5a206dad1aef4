// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/record/record_order.h"
#include "engine/run/run.h"
#include "testing/engine/tables.h"

#include <functional>
#include <gtest/gtest.h>
#include <map>
#include <string>
#include <vector>

namespace scorrere::testing {

/// Time that moves only when told to.
class FakeWatch final : public Stopwatch {
public:
    std::int64_t nowNs() override { return now; }
    std::int64_t now = 0;
};

/// Item views that are only noted down. Extents follow from the record, the width and the revision alone.
class FakeHost final : public RunHost {
public:
    explicit FakeHost(std::int64_t records) : order(records) { carried.reserve(128); }

    static Length extentOf(std::int64_t record, Length cross, int revision) {
        std::uint64_t bits = static_cast<std::uint64_t>(record + 7) * 0x9e3779b97f4a7c15ull +
                             static_cast<std::uint64_t>(cross.raw()) * 31u +
                             static_cast<std::uint64_t>(revision) * 977u;
        bits ^= bits >> 29;
        bits *= 0xbf58476d1ce4e5b9ull;
        bits ^= bits >> 32;
        const std::int64_t roll = static_cast<std::int64_t>(bits % 100);
        const std::int64_t px = roll < 60 ? 40 + roll : roll < 97 ? 60 + roll * 2 : 700 + roll * 6;
        return Length::fromRaw(px * 64 + static_cast<std::int64_t>((bits >> 40) % 64));
    }
    std::int64_t recordAt(const Slot& slot) const {
        if (slot.role == Role::SectionHeader ||
            slot.role == Role::SectionFooter) { // says of what, and how many
            const std::int64_t many = run->arrangement().sections()->at(slot.section).records;
            return -10 - (order.at(slot.place) * 20'000 + many) * 2 -
                   (slot.role == Role::SectionFooter ? 1 : 0);
        }
        return slot.role == Role::Record    ? order.at(slot.place)
               : slot.role == Role::Header  ? -1
               : slot.role == Role::Heading ? -3
                                            : -2;
    }

    void build(ViewId view, int kind) override {
        ++builds;
        // One of the same kind is reused before one is built.
        for (const ViewId other : run->recycler().waiting()) {
            if (run->recycler().view(other).kind == kind) {
                problem = "built while one of the same kind waited";
            }
        }
        if (static_cast<std::size_t>(view.index) >= carried.size()) {
            carried.resize(static_cast<std::size_t>(view.index) + 1, {-9, -1, Length{}});
        }
        watch.now += 200'000;
    }
    Length fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) override {
        ++fills;
        if (beforeFill) {
            beforeFill();
        }
        const CostMeter::Span span(meter, Phase::Measure);
        watch.now += 100'000;
        Carried& held = carried[static_cast<std::size_t>(view.index)];
        const Carried now{recordAt(slot), revision, given.crossExtent, given.columns};
        for (const Placement& p : run->placements()) { // as they stood after the last frame
            if (checkRefills && p.view == view && held == now &&
                run->arrangement().slotAt(p.position).place == slot.place) {
                problem = "a live view was refilled with what it carried";
            }
        }
        held = now;
        if (given.columns != 0) { // its cells widen the columns
            TableColumns& columns = tableIn(run->arrangement())->columns();
            for (std::size_t column = 0; column < columns.count(); ++column) {
                columns.see(column, cellWidth(now.record + revision, column));
            }
            held.columns = columns.revision();
            held.cross = columns.across();
        }
        if (slot.role == Role::Heading) { // it has lines enough
            return extentOf(now.record, {}, revision);
        }
        return extentOf(now.record, held.cross, revision + static_cast<int>(held.columns));
    }

    struct Carried {
        std::int64_t record;
        int revision;
        Length cross;
        std::uint32_t columns = 0;
        bool operator==(const Carried&) const = default;
    };
    RecordOrder order;
    FakeWatch watch;
    Run* run = nullptr;
    std::function<void()> beforeFill; ///< may be none
    int revision = 0;
    std::int64_t builds = 0;
    std::int64_t fills = 0;
    bool checkRefills = false;
    std::vector<Carried> carried;
    std::string problem;
};

} // namespace scorrere::testing
