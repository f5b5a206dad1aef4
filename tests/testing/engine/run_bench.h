// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/arrangement_spec.h"
#include "engine/run/run.h"
#include "testing/engine/any_arrangement.h"
#include "testing/engine/fake_host.h"
#include "testing/engine/placing.h"

#include <algorithm>
#include <array>
#include <map>
#include <rapidcheck.h>
#include <string>
#include <vector>

namespace scorrere {

/// Looks into a run; and breaks what it must never break, to see that it is told.
struct RunProbe {
    static void moveHold(scorrere::Run& run, Length by) { run.hold_.onScreen += by; }
    static bool isMotionDue(const scorrere::Run& run) { return run.pendingMs_ > 0; }
    static Length anchorShift(scorrere::Run& run) {
        return run.anchor_.position < 0 || run.anchor_.position >= run.arrangement().size()
                   ? Length{}
                   : run.arrangement().startOf(run.anchor_.position) - run.offset() - run.anchor_.onScreen;
    }
};

} // namespace scorrere

namespace scorrere::testing {

inline constexpr Arrangement::Estimates kEstimates{Length::px(90), Length::px(60), Length::px(40),
                                                   Length::px(33), Length::px(21)};
inline constexpr std::int64_t kFrameUs = 8333;

/// A run over the fake host, with everything that must hold checked after each frame.
struct Bench {
    Bench(std::int64_t records, const ArrangementSpec& spec, double lead, Ends theEnds = {})
        : of(spec), ends(theEnds), host(records), spacing(of.spacing),
          isRagged(std::holds_alternative<ColumnsSpec>(of.form) ||
                   std::holds_alternative<PlacedSpec>(of.form)),
          run(host, host.watch, makeArrangement(of, ends, records, kEstimates), kEstimates, settings(lead)) {
        host.run = &run;
        if (TableArrangement* table = tableIn(run.arrangement())) {
            table->setColumns(someColumns());
        }
        run.resize(Length::px(700), Length::px(360));
    }
    static RunSettings settings(double lead) {
        RunSettings made;
        made.viewLead = lead;
        return made;
    }
    const FrameRecord& frame() {
        now += kFrameUs;
        struct Was {
            std::uint32_t turn;
            Box drawn;
        };
        std::map<int, Was> was;
        for (const Placement& p : run.placements()) {
            if (!p.staysAt && p.drawnBox().start < run.window() && p.drawnBox().end() > Length{}) {
                was[p.view.index] = {run.recycler().view(p.view).turn, p.drawnBox()};
            }
        }
        const bool begins = RunProbe::isMotionDue(run);
        const FrameRecord& made = run.frame(now);
        isBounded = made.bounded;
        if (!begins || !run.isAnimating()) {
            return made;
        }
        const Length shift = RunProbe::anchorShift(run);
        for (const Placement& p : run.placements()) {
            const auto before = was.find(p.view.index);
            if (p.staysAt || before == was.end() || before->second.turn != run.recycler().view(p.view).turn) {
                continue;
            }
            Box expected = before->second.drawn;
            expected.start += shift;
            if (p.drawnBox() != expected && skipped.empty()) {
                skipped = "item " + std::to_string(p.position) + " skipped from " +
                          std::to_string(expected.start.raw()) + " to " +
                          std::to_string(p.drawnBox().start.raw());
            }
        }
        return made;
    }
    void settle() {
        for (int i = 0; i < 1000 && !run.isIdle(); ++i) {
            frame();
        }
    }
    Length lead() const { return Length::fromPx(run.window().toPx() * run.settings().viewLead); }

    /// What is wrong after a frame; empty when nothing is.
    std::string faults() {
        if (!host.problem.empty() || !skipped.empty()) {
            return host.problem + skipped;
        }
        const auto& placed = run.placements();
        Arrangement& list = run.arrangement();
        if (list.size() == 0) {
            return placed.empty() ? "" : "something lives though there is nothing";
        }
        const Length gap = spacing.gap;
        std::int64_t firstShowing = -1;
        std::int64_t lastShowing = -1;
        std::vector<int> used;
        Stayings stays;
        std::size_t staying = 0;
        for (std::size_t i = 0; i < placed.size(); ++i) {
            const Placement& p = placed[i];
            if (i > 0 && p.position <= placed[i - 1].position) {
                return "an item twice or out of order";
            }
            const Box before = i > 0 ? placed[i - 1].box : Box();
            const bool isBeside = p.box.start == before.start && p.box.extent == before.extent &&
                                  p.box.crossStart >= before.crossStart + before.crossExtent;
            if (!isRagged && i > 0 && p.position == placed[i - 1].position + 1 && !isBeside &&
                p.box.start != before.end() + gap) {
                return "a gap or an overlap between neighbours";
            }
            for (std::size_t other = 0; isRagged && other < i; ++other) {
                const Box& box = placed[other].box;
                if (box.crossStart < p.box.crossStart + p.box.crossExtent &&
                    p.box.crossStart < box.crossStart + box.crossExtent && box.start < p.box.end() &&
                    p.box.start < box.end()) {
                    return "items " + std::to_string(placed[other].position) + " and " +
                           std::to_string(p.position) + " overlap: " + std::to_string(box.start.raw()) +
                           " to " + std::to_string(box.end().raw()) + " and " +
                           std::to_string(p.box.start.raw()) + " to " + std::to_string(p.box.end().raw());
                }
            }
            Box stands = list.boxOf(p.position);
            stands.start -= run.offset();
            if (p.staysAcross) {
                stands.crossStart -= run.acrossOffset();
            }
            if (p.box != stands) {
                return "a placement that is not where the arrangement says";
            }
            if (!p.staysAt && !p.drawn &&
                (p.box.start >= run.window() + lead() + gap || p.box.start + p.box.extent + gap <= -lead())) {
                return "alive outside the wanted range: " + std::to_string(p.position) + " at " +
                       std::to_string(p.box.start.raw()) + " to " + std::to_string(p.box.end().raw()) +
                       (run.isAnimating() ? " while others move" : "");
            }
            const FakeHost::Carried& held = host.carried[static_cast<std::size_t>(p.view.index)];
            if (held != FakeHost::Carried{host.recordAt(list.slotAt(p.position)), host.revision,
                                          list.givenFor(p.position).crossExtent,
                                          list.givenFor(p.position).columns}) {
                return "a view carries another item, or an outdated one";
            }
            used.push_back(p.view.index);
            if (p.staysAt) {
                if (staying == Stayings::kMost) {
                    return "more stays than may";
                }
                stays.all[staying++] = {p.position, *p.staysAt + run.offset()};
            }
            if (p.box.start < run.window() && p.box.start + p.box.extent > Length{}) {
                firstShowing = firstShowing < 0 ? p.position : firstShowing;
                lastShowing = p.position;
            }
        }
        if (std::string wrong = drawnFaults(); !wrong.empty()) {
            return wrong;
        }
        if (list.stayingAt(run.offset()) != stays) {
            return "what stays at the window's start has no view, or not there";
        }
        std::ranges::sort(used);
        if (std::ranges::adjacent_find(used) != used.end()) {
            return "one view carries two items";
        }
        if (isBounded) { // the rest comes with the next
            return run.isIdle() ? "a frame that did not get ready is the last" : "";
        }
        return isRagged ? raggedCoverage() : coverage(firstShowing, lastShowing);
    }
    /// Of what moves to where it stands: nothing lies over another but what moved past it, nothing is left when all is over.
    std::string drawnFaults() {
        const auto& placed = run.placements();
        if (!run.isAnimating()) {
            moved = false;
            if (run.recycler().leaving() > 0) {
                return "a view that left never came back to those that wait";
            }
            const bool isStill =
                run.leaving().empty() &&
                std::ranges::none_of(placed, [](const Placement& p) { return p.drawn.has_value(); });
            return isStill ? "" : "something is still drawn elsewhere";
        }
        const auto isOff = [](const Drawn& drawn) {
            return drawn.presence < 0 || drawn.presence > 1 || drawn.box.extent < Length{};
        };
        const Placement* before = nullptr;
        for (const Placement& p : placed) {
            if (p.drawn && isOff(*p.drawn)) {
                return "drawn with no extent or presence";
            }
            const bool isOver = before != nullptr && !moved && run.arrangement().mostInALine() == 1 &&
                                run.arrangement().isInOrder() &&
                                p.drawnBox().start < before->drawnBox().end();
            if (isOver && !p.staysAt && !before->staysAt) {
                return "drawn over each other: " + std::to_string(before->position) + " to " +
                       std::to_string(before->drawnBox().end().raw()) + ", " + std::to_string(p.position) +
                       " from " + std::to_string(p.drawnBox().start.raw()) + drawnList();
            }
            before = p.staysAt ? before : &p;
        }
        for (const scorrere::Run::Leaving& one : run.leaving()) {
            if (isOff(one.drawn) || run.recycler().view(one.view).position >= 0 ||
                std::ranges::find(placed, one.view, &Placement::view) != placed.end()) {
                return "a ghost of what is there";
            }
        }
        return "";
    }
    std::string drawnList() const {
        std::string all;
        for (const Placement& p : run.placements()) {
            all += "\n  " + std::to_string(p.position) + " stands " + std::to_string(p.box.start.raw()) +
                   " to " + std::to_string(p.box.end().raw()) + (p.showing ? " shows" : "") +
                   (p.staysAt ? " stays" : "");
            if (p.drawn) {
                all += ", drawn " + std::to_string(p.drawn->box.start.raw()) + " to " +
                       std::to_string(p.drawn->box.end().raw());
            }
        }
        return all;
    }
    /// All that the arrangement names in the window is carried.
    std::string raggedCoverage() {
        std::vector<std::int64_t> room(4096);
        Length top = run.offset();
        std::size_t count = 0;
        // What is named gets its lane, which moves all together on the strip.
        for (int tries = 0; tries < 4; ++tries) {
            top = run.offset();
            count = run.arrangement().touching(top, top + run.window(), Toward::End, Arrangement::kFromTheEnd,
                                               room);
            if (run.offset() == top) {
                break;
            }
        }
        for (std::size_t i = 0; i < count; ++i) {
            if (run.recycler().carrierOf(room[i]).index < 0) {
                const Box box = run.arrangement().boxOf(room[i]);
                return "item " + std::to_string(room[i]) + " in the window has no view, " +
                       std::to_string((box.start - top).raw()) + " to " +
                       std::to_string((box.end() - top).raw());
            }
        }
        return "";
    }
    std::string coverage(std::int64_t first, std::int64_t last) {
        Arrangement& list = run.arrangement();
        const Length gap = spacing.gap;
        if (first < 0) {
            std::array<std::int64_t, Arrangement::kMostInALine> room{};
            return list.touching(run.offset(), run.offset() + run.window(), Toward::End,
                                 Arrangement::kFromTheEnd, room) == 0
                       ? ""
                       : "nothing shows";
        }
        for (std::int64_t i = first; i <= last; ++i) {
            if (list.extentOf(i) > Length{} && run.recycler().carrierOf(i).index < 0) {
                return "an item in the window has no view";
            }
        }
        while (first > 0 && list.extentOf(first - 1) == Length{}) {
            --first;
        }
        while (last + 1 < list.size() && list.extentOf(last + 1) == Length{}) {
            ++last;
        }
        const Length top = list.startOf(first) - run.offset();
        const Length bottom = list.startOf(last) + list.extentOf(last) - run.offset();
        if (first > 0 ? top > gap : top > list.startOf(0)) {
            return "the window's top is not covered";
        }
        const bool wholeShows = first == 0 && last == list.size() - 1;
        if (last < list.size() - 1 ? bottom + gap < run.window()
                                   : !wholeShows && run.total() - run.offset() < run.window()) {
            return "the window's bottom is not covered";
        }
        return "";
    }

    ArrangementSpec of;
    Ends ends;
    FakeHost host;
    Spacing spacing;
    bool isRagged;
    scorrere::Run run;
    std::int64_t now = 0;
    std::string skipped;    ///< what was not drawn where it was drawn before, as a motion began
    bool isBounded = false; ///< the last frame filled as many as one may
    bool moved = false;     ///< items passed each other since all stood still
};

/// Where items of a grid have spans, of some or of all records: most have one column.
inline void tellSpans(Bench& bench, bool ofAll) {
    auto* over = dynamic_cast<SectionedArrangement*>(&bench.run.arrangement());
    auto* grid = dynamic_cast<GridArrangement*>(over ? &over->below() : &bench.run.arrangement());
    if (grid == nullptr || !grid->hasSpans()) {
        return;
    }
    const std::int64_t records = bench.run.arrangement().recordCount();
    const std::int64_t from = ofAll ? 0 : *rc::gen::inRange<std::int64_t>(0, records + 1);
    const std::int64_t count = ofAll ? records : *rc::gen::inRange<std::int64_t>(0, records - from + 1);
    std::vector<std::uint8_t> spans;
    for (std::int64_t place = from; place < from + count; ++place) {
        const std::uint64_t dice =
            static_cast<std::uint64_t>(bench.host.order.at(place) + 3) * 0x9e3779b97f4a7c15ULL >> 60;
        spans.push_back(dice < 10 ? 1 : dice < 13 ? 2 : dice < 15 ? 3 : CellFlow::kAll);
    }
    RC_LOG() << "spans of " << from << " " << count << "\n";
    bench.run.rearrange([&] {
        if (ofAll) {
            CellFlow flow(grid->columnsToBe());
            flow.append(spans);
            over ? (void)over->takeFlow(std::move(flow)) : (void)grid->takeFlow(std::move(flow));
        } else {
            over ? over->setSpans(from, spans) : grid->setSpans(from, spans);
        }
    });
}

/// Where there are sections: tells of some, of all, folds one or all.
inline void group(Bench& bench) {
    auto* over = dynamic_cast<SectionedArrangement*>(&bench.run.arrangement());
    if (over == nullptr || over->recordCount() == 0) {
        return;
    }
    const auto upTo = [](std::int64_t most) { return *rc::gen::inRange<std::int64_t>(0, most + 1); };
    const std::int64_t records = over->recordCount();
    const bool folds = *rc::gen::arbitrary<bool>();
    bench.moved = bench.moved || bench.of.sections->haveFooters; // they go to where their sections end now
    switch (*rc::gen::inRange(0, 4)) {
    case 0: {
        std::vector<std::int32_t> counts;
        for (std::int64_t left = records; left > 0; left -= counts.back()) {
            counts.push_back(static_cast<std::int32_t>(std::min(left, 1 + upTo(left / 3))));
        }
        RC_LOG() << "sections anew " << counts.size() << "\n";
        return bench.run.regroup([&] { (void)over->takeSections(counts, folds); });
    }
    case 1: {
        const std::int64_t from = upTo(records - 1);
        std::vector<std::uint8_t> starts;
        for (std::int64_t n = std::min<std::int64_t>(records - from, 40); n > 0; --n) {
            starts.push_back(*rc::gen::element<std::uint8_t>(0, 0, 0, 1));
        }
        RC_LOG() << "starts from " << from << "\n";
        return bench.run.regroup([&] { over->setStarts(from, starts); });
    }
    case 2:
        RC_LOG() << "all folded " << folds << "\n";
        return bench.run.regroup([&] { (void)over->setAllFolded(folds); });
    default: {
        const std::int64_t section = upTo(over->sections()->count() - 1);
        RC_LOG() << "folded " << section << " " << folds << "\n";
        bench.run.regroup([&] { over->setFolded(section, folds); });
    }
    }
}

/// Where items are placed: tells of some, or of all.
inline void tellPlaces(Bench& bench, bool ofAll) {
    auto* placed = dynamic_cast<PlacedArrangement*>(&bench.run.arrangement());
    if (placed == nullptr) {
        return;
    }
    const std::int64_t records = placed->recordCount();
    const std::int64_t from = ofAll ? 0 : *rc::gen::inRange<std::int64_t>(0, records + 1);
    const std::int64_t count =
        ofAll ? records : std::min<std::int64_t>(*rc::gen::inRange<std::int64_t>(0, records - from + 1), 500);
    std::vector<std::optional<GivenPlace>> places;
    for (std::int64_t place = from; place < from + count; ++place) {
        places.push_back(placeOf(bench.host.order.at(place)));
    }
    RC_LOG() << "places of " << from << " " << count << "\n";
    bench.run.regroup([&] {
        if (ofAll) {
            (void)placed->takeTold(PlacedArrangement::Told(places, 2));
        } else {
            placed->tell(from, places, 2);
        }
    });
}

/// Puts all records in another order, the last first or by so many on; some of them go, and others come.
inline bool reorder(Bench& bench, bool isReversed, std::int64_t by) {
    const std::int64_t had = bench.run.arrangement().recordCount();
    const int goes = *rc::gen::element(0, 0, 2, 3, 1); // each so manieth; 1: all
    const std::int64_t comes = *rc::gen::element<std::int64_t>(0, 0, 7, 300);
    std::vector<std::int64_t> from; // which place before each has; -1: it came
    for (std::int64_t place = 0; place < had; ++place) {
        const std::int64_t was = isReversed ? had - 1 - place : (place + by) % had;
        if (goes == 0 || was % goes != 0) {
            from.push_back(was);
        }
    }
    from.insert(from.begin() + static_cast<std::ptrdiff_t>(from.size() / 2), static_cast<std::size_t>(comes),
                -1);
    RecordOrder order;
    std::vector<std::int64_t> to(static_cast<std::size_t>(had), -1);
    for (std::int64_t place = 0; place < std::ssize(from); ++place) {
        const std::int64_t was = from[static_cast<std::size_t>(place)];
        order.insert(place, was < 0 ? 7'000'000 + place : bench.host.order.at(was), 1);
        if (was >= 0) {
            to[static_cast<std::size_t>(was)] = place;
        }
    }
    const auto placeNow = [&](std::int64_t was) { return to[static_cast<std::size_t>(was)]; };
    const auto nearest = [&](std::int64_t was) {
        for (std::int64_t apart = 0; apart < had; ++apart) {
            for (const std::int64_t one : {was + apart, was - apart}) {
                if (one >= 0 && one < had && placeNow(one) >= 0) {
                    return one;
                }
            }
        }
        return std::int64_t{-1};
    };
    const bool isKept = *rc::gen::element(true, true, true, false);
    bench.moved = true;
    RC_LOG() << "reorder " << (isReversed ? -1 : by) << " goes " << goes << " comes " << comes << " kept "
             << isKept << "\n";
    const Arrangement::Estimates& estimates = kEstimates;
    auto made = makeArrangement(bench.of, bench.ends, std::ssize(from), estimates);
    made->setCross(bench.run.cross());
    made->setWindow(bench.run.window());
    (void)made->forgetExtents(estimates);
    TableArrangement* const table = tableIn(*made);
    const bool wasEmpty = bench.run.hold().position < 0;
    if (table != nullptr) {
        table->setColumns(TableColumns(tableIn(bench.run.arrangement())->columns()));
    }
    if (auto* placed = dynamic_cast<PlacedArrangement*>(made.get())) {
        std::vector<std::optional<GivenPlace>> places;
        for (std::int64_t place = 0; place < order.size(); ++place) {
            places.push_back(placeOf(order.at(place)));
        }
        (void)placed->takeTold(PlacedArrangement::Told(places, 2));
    }
    const auto before = [from](std::int64_t now) { return from[static_cast<std::size_t>(now)]; };
    (void)bench.run.adopt(std::move(made), {placeNow, nearest, isKept, before},
                          [&] { bench.host.order = order; });
    if (!isKept && !wasEmpty && std::ssize(from) > 0 && bench.run.arrangement().circle() == Length{}) {
        RC_ASSERT(bench.run.offset() == Length{});
    }
    return !isKept;
}

/// Does something at random; tells whether it scrolls on purpose.
inline bool disturb(Bench& bench) {
    scorrere::Run& run = bench.run;
    const std::int64_t records = run.arrangement().recordCount();
    const auto upTo = [](std::int64_t most) { return *rc::gen::inRange<std::int64_t>(0, most + 1); };
    switch (*rc::gen::inRange(0, 20)) {
    case 19: // across, where there is anything to go to
        run.acrossMotion().push(Length::px(*rc::gen::inRange(-300, 300)));
        return false;
    case 17:
    case 18:
        group(bench);
        tellPlaces(bench, *rc::gen::arbitrary<bool>());
        return false;
    case 16:
        return reorder(bench, *rc::gen::arbitrary<bool>(), upTo(std::max<std::int64_t>(records - 1, 0)));
    case 15:
        tellSpans(bench, *rc::gen::arbitrary<bool>());
        return false;
    case 0:
        run.motion().fling(static_cast<double>(*rc::gen::inRange(-20'000, 20'000)), bench.now);
        return true;
    case 1:
        run.jumpTo(upTo(run.arrangement().size()));
        return true;
    case 2:
        run.travelTo(Length::fromRaw(upTo(run.total().raw())));
        return true;
    case 3:
        run.key(static_cast<KeyStep>(*rc::gen::inRange(0, 6)));
        return true;
    case 4: {
        const std::int64_t place = upTo(records);
        const std::int64_t count = upTo(*rc::gen::element<std::int64_t>(1, 3, 400));
        RC_LOG() << "insert " << place << " " << count << "\n";
        bench.host.order.insert(place, 5'000'000 + upTo(1000), count);
        run.insertRecords(place, count);
        return false;
    }
    case 5: {
        const std::int64_t place = upTo(records);
        const std::int64_t count =
            upTo(std::min<std::int64_t>(records - place, *rc::gen::element<std::int64_t>(1, 3, 400)));
        RC_LOG() << "erase " << place << " " << count << "\n";
        bench.host.order.erase(place, count);
        run.eraseRecords(place, count);
        return false;
    }
    case 6: {
        if (records == 0) {
            return false;
        }
        const std::int64_t from = upTo(records - 1);
        const std::int64_t to = upTo(records - 1);
        RC_LOG() << "move " << from << " " << to << "\n";
        const std::int64_t record = bench.host.order.at(from);
        bench.host.order.erase(from, 1);
        bench.host.order.insert(to, record, 1);
        bench.moved = true;
        run.moveRecord(from, to);
        return false;
    }
    case 7: {
        const std::int64_t first = upTo(records);
        std::vector<std::int32_t> extents(
            static_cast<std::size_t>(std::min<std::int64_t>(records - first, upTo(600))));
        for (std::size_t i = 0; i < extents.size(); ++i) {
            extents[i] = static_cast<std::int32_t>((i * 7919 + 131) % 12'000) - 800;
        }
        if (*rc::gen::inRange(0, 3) == 0) { // many take no room
            const auto from = static_cast<std::size_t>(upTo(static_cast<std::int64_t>(extents.size())));
            std::fill(extents.begin() + static_cast<std::ptrdiff_t>(from), extents.end(), 0);
        }
        RC_LOG() << "setEstimated " << first << " " << extents.size() << "\n";
        run.setEstimated(first, extents);
        return false;
    }
    case 8: {
        const bool turned = run.cross() == Length::px(360);
        RC_LOG() << "turn\n";
        run.resize(Length::px(turned ? 330 : 700), Length::px(turned ? 720 : 360));
        return false;
    }
    case 9:
        ++bench.host.revision;
        RC_LOG() << "content changed\n";
        run.contentChanged();
        return false;
    case 10:
        run.setViewLead(*rc::gen::element(0.0, 0.3, 0.5, 2.0));
        return false;
    case 11: {
        // What no view carries is forgotten but for its length, before or behind what lives.
        const bool isBefore = *rc::gen::arbitrary<bool>();
        std::int64_t from = isBefore ? 0 : upTo(records);
        std::int64_t until = isBefore ? upTo(records) : records;
        for (const ViewId id : run.recycler().alive()) {
            const Slot slot = run.arrangement().slotAt(run.recycler().view(id).position);
            if (slot.role == Role::Record) {
                (isBefore ? until : from) =
                    isBefore ? std::min(until, slot.place) : std::max(from, slot.place + 1);
            }
        }
        if (from < until) {
            RC_LOG() << "evenOut " << from << " " << until - from << "\n";
            const Length total = run.total();
            run.evenOut(from, until - from);
            RC_ASSERT(run.total() == total);
        }
        return false;
    }
    default:
        run.wheel(Length::px(*rc::gen::inRange(-900, 900)));
        return true;
    }
}

/// The most items of each kind that were ever wanted at once: in the window and the lead beyond its edges by what was
/// known at that moment, whether they were prepared or not.
struct MostWanted {
    std::array<std::int64_t, Arrangement::kRoles> ofKind{};
    std::int64_t ofAll = 0;
    std::int64_t longestLine = 0;

    void look(Bench& bench) {
        scorrere::Run& run = bench.run;
        Arrangement& all = run.arrangement();
        std::array<std::int64_t, Arrangement::kRoles> many{};
        if (all.size() > 0) {
            const Length lead = Length::fromPx(run.window().toPx() * run.settings().viewLead);
            longestLine = std::max(longestLine, static_cast<std::int64_t>(all.mostInALine()));
            const std::int64_t first = all.indexAt(run.offset() - lead);
            const std::int64_t last = all.indexAt(run.offset() + run.window() + lead) +
                                      static_cast<std::int64_t>(all.mostInALine()) - 1;
            ofAll = std::max(ofAll, last - first + 1);
            for (std::int64_t i = first; i <= std::min(last, all.size() - 1); ++i) {
                ++many[static_cast<std::size_t>(bench.host.viewKind(all.slotAt(i)))];
            }
        }
        for (std::size_t kind = 0; kind < many.size(); ++kind) {
            ofKind[kind] = std::max(ofKind[kind], many[kind]);
        }
    }
};

/// Disturbs a run over such an arrangement, and checks after each frame.
inline void keepEveryFrame(const ArrangementSpec& spec) {
    const auto records = *rc::gen::element<std::int64_t>(0, 1, 4, 60, 5000);
    Bench bench(records, spec, *rc::gen::element(0.0, 0.5, 1.5), anyEnds());
    tellPlaces(bench, *rc::gen::arbitrary<bool>());
    MostWanted most;
    bench.host.beforeFill = [&] { most.look(bench); };
    const int steps = *rc::gen::inRange(1, 40);
    const bool animates = *rc::gen::arbitrary<bool>();
    if (animates) {
        bench.run.setAnimation({40, 25, 60, 30, *rc::gen::element<std::string>("linear", "ease-in-out"),
                                *rc::gen::element(60, 60, 4)});
    }
    for (int i = 0; i < steps; ++i) {
        disturb(bench);
        if (animates && *rc::gen::inRange(0, 4) > 0) {
            const auto kind = static_cast<MotionKind>(*rc::gen::inRange(0, kMotionKinds));
            RC_LOG() << "animate " << static_cast<int>(kind) << "\n";
            bench.run.animate(kind);
        }
        for (int f = *rc::gen::inRange(1, 6); f > 0; --f) {
            const FrameRecord& frame = bench.frame();
            RC_ASSERT(bench.faults() == std::string());
            RC_ASSERT(frame.jump == Length{});
            most.look(bench);
            most.ofAll = std::max<std::int64_t>(most.ofAll, std::ssize(bench.run.recycler().alive()) +
                                                                std::ssize(bench.run.leaving()));
        }
        bench.run.checkInvariants();
        // Live and pooled views: never more than were ever wanted at once, and one more line a kind.
        const auto& views = bench.run.recycler().views();
        if (animates) {
            continue; // what moves or leaves has its view until it is there
        }
        if (spec.sections && !bench.isRagged) { // all of them may be headers, once: by kind, then
            for (std::size_t kind = 0; kind < most.ofKind.size(); ++kind) {
                const auto many = std::ranges::count(views, static_cast<int>(kind), &Recycler::View::kind);
                RC_ASSERT(many <= most.ofKind[kind] + most.longestLine + 1);
            }
            continue;
        }
        RC_ASSERT(bench.isRagged ||
                  std::ssize(views) <= most.ofAll + most.longestLine + Arrangement::kRoles - 1);
    }
}

} // namespace scorrere::testing
