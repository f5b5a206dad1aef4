// SPDX-License-Identifier: GPL-3.0-or-later
// What holds of every arrangement: its boxes are those of a plain one that works them out anew, whatever was
// measured and edited; what it names as touching a stretch is what touches it.
#include "engine/arrange/arrangement_spec.h"
#include "examples/stairs.h"
#include "testing/engine/any_arrangement.h"
#include "testing/engine/conforms.h"
#include "testing/engine/plain_arrangement.h"
#include "testing/engine/tables.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using testing::PlainArrangement;

constexpr Arrangement::Estimates kEstimates{Length::px(90), Length::px(60), Length::px(40), Length::px(33),
                                            Length::px(21), Length::px(27), Length::px(25)};

struct Pair {
    Pair(const ArrangementSpec& spec, Ends ends, std::int64_t records)
        : plain(spec, ends, records, kEstimates), real(makeArrangement(spec, ends, records, kEstimates)) {
        setCross(Length::px(360));
    }
    void setCross(Length cross) {
        plain.cross = cross;
        plain.items.assign(plain.items.size(), std::nullopt);
        plain.header = plain.footer = std::nullopt;
        real->setCross(cross);
        real->setWindow(plain.window);
        if (GridArrangement* grid = spanning()) {
            CellFlow flow(grid->columnsToBe());
            flow.append(spansFrom(0, plain.spans.size()));
            (void)grid->takeFlow(std::move(flow));
        }
        (void)real->forgetExtents(kEstimates);
        recallAll();
    }
    GridArrangement* spanning() const {
        auto* grid = dynamic_cast<GridArrangement*>(real.get());
        return grid != nullptr && grid->hasSpans() ? grid : nullptr;
    }
    std::vector<std::uint8_t> spansFrom(std::size_t first, std::size_t count) const {
        std::vector<std::uint8_t> spans(plain.spans.begin() + static_cast<std::ptrdiff_t>(first),
                                        plain.spans.begin() + static_cast<std::ptrdiff_t>(first + count));
        return spans;
    }
    void measure(std::int64_t position, Length extent) {
        const Slot slot = real->slotAt(position);
        if (slot.role == Role::Record) {
            extent = plain.isAcross(static_cast<std::size_t>(slot.place)) ? extent
                                                                          : plain.given().value_or(extent);
        }
        (slot.role == Role::Record   ? plain.items[static_cast<std::size_t>(slot.place)]
         : slot.role == Role::Header ? plain.header
                                     : plain.footer) = extent;
        real->setMeasured(position, extent);
    }
    /// Also of what nobody sees, which a run leaves as it was.
    void recallAll() {
        for (std::int64_t position = 0; position < real->size(); ++position) {
            real->recall(position);
        }
    }
    void check() {
        real->checkInvariants();
        const std::vector<Box> boxes = plain.boxes();
        RC_ASSERT(real->size() == static_cast<std::int64_t>(boxes.size()));
        RC_ASSERT(real->total() == plain.total());
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            RC_ASSERT(real->boxOf(static_cast<std::int64_t>(i)) == boxes[i]);
        }
    }
    void checkTouching(Length from, Length until) {
        const std::vector<Box> boxes = plain.boxes();
        std::vector<std::int64_t> wanted;
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            const Box& box = boxes[i];
            if (from < until && box.start < until && box.end() > std::max(from, Length{}) &&
                box.extent > Length{}) {
                wanted.push_back(static_cast<std::int64_t>(i));
            }
        }
        std::vector<std::int64_t> room(boxes.size() + Arrangement::kMostInALine);
        for (const Toward toward : {Toward::End, Toward::Start}) {
            const std::size_t count = real->touching(from, until, toward, Arrangement::kFromTheEnd, room);
            std::vector<std::int64_t> named(room.begin(), room.begin() + static_cast<std::ptrdiff_t>(count));
            std::vector<std::int64_t> in = wanted;
            if (toward == Toward::Start) {
                std::ranges::reverse(in);
            }
            RC_LOG() << (toward == Toward::End ? "from the start, " : "from the end, ") << from.raw()
                     << " to " << until.raw() << ": " << named.size() << " named, " << in.size()
                     << " wanted\n";
            RC_ASSERT(named == in);
            // With less room, line by line.
            std::vector<std::int64_t> few(real->mostInALine());
            std::vector<std::int64_t> bit;
            std::int64_t past = Arrangement::kFromTheEnd;
            while (const std::size_t fewer = real->touching(from, until, toward, past, few)) {
                bit.insert(bit.end(), few.begin(), few.begin() + static_cast<std::ptrdiff_t>(fewer));
                past = bit.back();
                RC_ASSERT(bit.size() <= in.size());
            }
            RC_ASSERT(bit == in);
        }
    }

    PlainArrangement plain;
    std::unique_ptr<Arrangement> real;
};

RC_GTEST_PROP(EveryArrangement, StandsItemsWhereAPlainOneDoes, ()) {
    const auto records = *rc::gen::element<std::int64_t>(0, 1, 2, 20, 150);
    Pair pair(testing::anyLines(), testing::anyEnds(), records);
    pair.check();
    const int steps = *rc::gen::inRange(1, 25);
    for (int i = 0; i < steps; ++i) {
        const std::int64_t count = pair.real->recordCount();
        const auto upTo = [](std::int64_t most) { return *rc::gen::inRange<std::int64_t>(0, most + 1); };
        switch (*rc::gen::inRange(0, 8)) {
        case 0: {
            const std::int64_t at = upTo(count);
            const std::int64_t more = upTo(9);
            pair.plain.items.insert(pair.plain.items.begin() + at, static_cast<std::size_t>(more),
                                    std::nullopt);
            pair.plain.spans.insert(pair.plain.spans.begin() + at, static_cast<std::size_t>(more), 1);
            pair.plain.kinds.resize(pair.plain.items.size(), Arrangement::kRecordKind);
            pair.real->insertRecords(at, more);
            pair.recallAll();
            break;
        }
        case 1: {
            const std::int64_t at = upTo(count);
            const std::int64_t fewer = upTo(std::min<std::int64_t>(9, count - at));
            pair.plain.items.erase(pair.plain.items.begin() + at, pair.plain.items.begin() + at + fewer);
            pair.plain.spans.erase(pair.plain.spans.begin() + at, pair.plain.spans.begin() + at + fewer);
            pair.plain.kinds.resize(pair.plain.items.size());
            pair.real->eraseRecords(at, fewer);
            pair.recallAll();
            break;
        }
        case 2: {
            if (count > 0) {
                const std::int64_t from = upTo(count - 1);
                const std::int64_t to = upTo(count - 1);
                const auto moved = pair.plain.items[static_cast<std::size_t>(from)];
                pair.plain.items.erase(pair.plain.items.begin() + from);
                pair.plain.items.insert(pair.plain.items.begin() + to, moved);
                const int span = pair.plain.spans[static_cast<std::size_t>(from)];
                pair.plain.spans.erase(pair.plain.spans.begin() + from);
                pair.plain.spans.insert(pair.plain.spans.begin() + to, span);
                pair.real->moveRecord(from, to);
                pair.recallAll();
            }
            break;
        }
        case 3:
            if (GridArrangement* grid = pair.spanning(); grid != nullptr && count > 0) {
                const std::int64_t at = upTo(count - 1);
                const auto many = static_cast<std::size_t>(upTo(std::min<std::int64_t>(20, count - at)));
                for (std::size_t item = static_cast<std::size_t>(at);
                     item < static_cast<std::size_t>(at) + many; ++item) {
                    pair.plain.spans[item] = *rc::gen::element(1, 1, 2, 3, 255);
                }
                if (pair.plain.given()) { // what is given may be other now: nothing is known
                    pair.setCross(pair.plain.cross);
                } else {
                    grid->setSpans(at, pair.spansFrom(static_cast<std::size_t>(at), many));
                    pair.recallAll();
                }
            }
            break;
        case 4:
            pair.setCross(Length::px(*rc::gen::inRange(0, 900)));
            break;
        default:
            for (std::int64_t n = pair.real->size() > 0 ? upTo(12) : 0; n > 0; --n) {
                pair.measure(upTo(pair.real->size() - 1), Length::fromRaw(upTo(20'000)));
            }
        }
        pair.check();
        const std::int64_t total = pair.plain.total().raw();
        const Length from = Length::fromRaw(*rc::gen::inRange<std::int64_t>(-5000, total + 5000));
        pair.checkTouching(from, from + Length::fromRaw(upTo(60'000)));
    }
}

/// One's own is held to what all are.
RC_GTEST_PROP(EveryArrangement, HoldsWhatItsInterfaceSays, ()) {
    examples::addStairs();
    const int which = *rc::gen::inRange(0, 4);
    ArrangementSpec spec = which == 0   ? testing::anyLines()
                           : which == 1 ? testing::anyTable()
                                        : testing::anyOwn();
    const auto made =
        makeArrangement(spec, testing::anyEnds(), *rc::gen::element<std::int64_t>(0, 1, 7, 90), kEstimates);
    const auto upTo = [](std::int64_t most) { return *rc::gen::inRange<std::int64_t>(0, most + 1); };
    made->setCross(Length::px(360));
    made->setWindow(Length::px(700));
    TableArrangement* table = testing::tableIn(*made);
    if (table != nullptr) {
        table->setColumns(testing::someColumns());
    }
    (void)made->forgetExtents(kEstimates);
    for (int step = *rc::gen::inRange(1, 20); step > 0; --step) {
        const std::int64_t count = made->recordCount();
        switch (*rc::gen::inRange(0, 6)) {
        case 0:
            made->insertRecords(upTo(count), upTo(9));
            break;
        case 1: {
            const std::int64_t at = upTo(count);
            made->eraseRecords(at, upTo(std::min<std::int64_t>(9, count - at)));
            break;
        }
        case 2:
            if (count > 0) {
                made->moveRecord(upTo(count - 1), upTo(count - 1));
            }
            break;
        case 3:
            made->setCross(Length::px(upTo(900)));
            (void)made->forgetExtents(kEstimates);
            break;
        case 4: {
            const std::int64_t at = upTo(count);
            made->setEstimated(at,
                               std::vector<std::int32_t>(static_cast<std::size_t>(upTo(count - at)), 3000));
            break;
        }
        default:
            if (table != nullptr) {
                table->columns().see(static_cast<std::size_t>(upTo(3)), Length::px(upTo(300)));
            }
            for (std::int64_t n = made->size() > 0 ? upTo(12) : 0; n > 0; --n) {
                const std::int64_t at = upTo(made->size() - 1);
                const Length extent = Length::fromRaw(upTo(20'000));
                made->setMeasured(at, made->givenFor(at).extent.value_or(extent));
                RC_ASSERT((made->mostInALine() > 1 ||
                           made->stateOf(at) == ExtentState::Measured)); // of a line all are
            }
        }
        for (std::int64_t position = 0; position < made->size(); ++position) {
            made->recall(position);
        }
        const Length from =
            Length::fromRaw(*rc::gen::inRange<std::int64_t>(-5000, made->total().raw() + 5000));
        testing::conforms(*made, from, from + Length::fromRaw(upTo(60'000)));
    }
}

TEST(Stairs, ItemsStepToTheSideAndBack) {
    examples::addStairs();
    ArrangementSpec spec{{}, OwnSpec{"stairs", {{"steps", 2}, {"share", 0.5}}}};
    const auto made = makeArrangement(spec, {true, false}, 9, kEstimates);
    made->setCross(Length::px(400));
    (void)made->forgetExtents(kEstimates);
    EXPECT_EQ(made->boxOf(0).crossExtent, Length::px(400)) << "a header has the strip's width";
    for (const auto& [position, start] : {std::pair{1, 100}, {2, 200}, {3, 100}, {4, 0}, {5, 100}}) {
        EXPECT_EQ(made->boxOf(position).crossStart, Length::px(start)) << position;
        EXPECT_EQ(made->givenFor(position).crossExtent, Length::px(200));
    }
    EXPECT_EQ(OwnArrangements::make({"spiral"}, {}, {}, 3, kEstimates), nullptr);
}

ArrangementSpec sectioned(decltype(ArrangementSpec::form) form) {
    ArrangementSpec spec{{}, std::move(form)};
    spec.sections = testing::sectionsOf(true, true);
    return spec;
}

/// Nodes visited by the costliest of some hundreds of steps over so many records.
std::int64_t mostVisited(const ArrangementSpec& spec, std::int64_t records) {
    const auto made = makeArrangement(spec, {true, true}, records, kEstimates);
    made->setCross(Length::px(360));
    made->setWindow(Length::px(700));
    if (auto* over = dynamic_cast<SectionedArrangement*>(made.get())) { // ten times as many sections, too
        (void)over->takeSections(std::vector<std::int32_t>(static_cast<std::size_t>(records / 100), 100),
                                 true);
    }
    (void)made->forgetExtents(kEstimates);
    std::array<std::int64_t, 64> room{};
    std::int64_t most = 0;
    std::uint64_t dice = 7;
    const auto any = [&](std::int64_t below) {
        dice = dice * 6364136223846793005ULL + 1442695040888963407ULL;
        return static_cast<std::int64_t>((dice >> 33) % static_cast<std::uint64_t>(below));
    };
    for (int i = 0; i < 600; ++i) {
        const std::int64_t before = made->nodesVisited();
        const std::int64_t count = made->recordCount();
        switch (i % 6) {
        case 0:
            (void)made->boxOf(any(made->size()));
            break;
        case 1:
            made->setMeasured(any(made->size()), Length::px(20 + any(200)));
            break;
        case 2: {
            const Length at = Length::fromRaw(any(made->total().raw()));
            (void)made->touching(at, at + Length::px(700), Toward::End, Arrangement::kFromTheEnd, room);
            break;
        }
        case 3:
            made->insertRecords(any(count), 3);
            break;
        case 4:
            made->eraseRecords(any(count - 3), 3);
            break;
        default:
            made->moveRecord(any(count), any(count));
        }
        most = std::max(most, made->nodesVisited() - before);
    }
    return most;
}

TEST(EveryArrangementOfMany, VisitsAFewNodesMoreOverTenTimesAsManyItems) {
    GridSpec spanned;
    spanned.spans = {{"wide", 2}};
    for (const ArrangementSpec& spec :
         {ArrangementSpec{{}, ListSpec()}, ArrangementSpec{{}, GridSpec()}, ArrangementSpec{{}, spanned},
          ArrangementSpec{{}, ColumnsSpec()}, ArrangementSpec{{}, PagerSpec()}, sectioned(ListSpec()),
          sectioned(GridSpec()), sectioned(TableSpec()), sectioned(ColumnsSpec()), sectioned(PagerSpec()),
          ArrangementSpec{{}, OwnSpec{"stairs"}}}) {
        examples::addStairs();
        const std::int64_t few = mostVisited(spec, 1'000'000);
        const std::int64_t many = mostVisited(spec, 10'000'000);
        EXPECT_LE(many, few * 2) << spec.form.index() << ": " << few;
        EXPECT_LT(many, 1200) << spec.form.index() << ": " << few;
    }
}

TEST(ColumnsArrangement, NamesNothingWhereNothingTakesRoomAndNoneHasALane) {
    for (const Toward toward : {Toward::End, Toward::Start}) {
        ColumnsArrangement columns({}, {{}, {Length::px(10)}}, {}, 3, {});
        columns.setCross(Length::px(300));
        for (std::int64_t i = 0; i < 3; ++i) {
            columns.setMeasured(i, Length{});
        }
        std::array<std::int64_t, 8> room{};
        EXPECT_LE(columns.touching(Length{}, Length::px(100), toward, Arrangement::kFromTheEnd, room), 3U);
    }
}

TEST(GridArrangement, ALineIsAsLongAsItsLongestCell) {
    GridSpec spec;
    spec.columns.count = 3;
    spec.columns.gap = Length::px(6);
    GridArrangement grid(spec, {Length::px(8), {}}, {}, 7, kEstimates);
    grid.setCross(Length::px(300));
    (void)grid.forgetExtents(kEstimates);
    EXPECT_EQ(grid.lineCount(), 3);
    EXPECT_EQ(grid.boxOf(4), (Box{Length::px(98), Length::px(90), Length::px(102), Length::px(96)}));
    grid.setMeasured(3, Length::px(50));
    EXPECT_EQ(grid.extentOf(4), Length::px(90)) << "the others of its line are not known yet";
    grid.setMeasured(4, Length::px(120));
    grid.setMeasured(5, Length::px(10));
    EXPECT_EQ(grid.extentOf(3), Length::px(120));
    grid.setMeasured(4, Length::px(20));
    EXPECT_EQ(grid.extentOf(3), Length::px(50));
    EXPECT_EQ(grid.startOf(6), Length::px(98 + 50 + 8));
}

TEST(GridArrangement, AsManyColumnsAsFit) {
    GridSpec spec;
    spec.columns.least = Length::px(100);
    spec.columns.gap = Length::px(10);
    GridArrangement grid(spec, {}, {}, 100, kEstimates);
    for (const auto& [cross, columns] : {std::pair{90, 1}, {209, 1}, {210, 2}, {330, 3}}) {
        grid.setCross(Length::px(cross));
        (void)grid.forgetExtents(kEstimates);
        EXPECT_EQ(grid.columns(), columns) << cross;
        EXPECT_EQ(grid.lineCount(), (100 + columns - 1) / columns);
    }
}

TEST(GridArrangement, ExtentsEstimatedFromContentAreThoseOfLines) {
    GridSpec spec;
    spec.columns.count = 3;
    GridArrangement grid(spec, {}, {}, 8, kEstimates);
    grid.setCross(Length::px(300));
    (void)grid.forgetExtents(kEstimates);
    grid.setEstimated(1,
                      std::vector<std::int32_t>{64 * 30, 64 * 200, 64 * 10, 64 * 20, 64 * 15, 64 * 70, -1});
    EXPECT_EQ(grid.extentOf(0), Length::px(200)) << "its first cell may be shorter than that";
    EXPECT_EQ(grid.extentOf(3), Length::px(20));
    EXPECT_EQ(grid.stateOf(3), ExtentState::ContentEstimate);
    EXPECT_EQ(grid.extentOf(7), Length::px(90));
    EXPECT_EQ(grid.knownBefore(8), 6);
}

TEST(GridArrangement, OneMeasuredCellMovesNothingButWhatStandsBehindItsLine) {
    GridSpec spec;
    GridArrangement grid(spec, {}, {}, 100'000, kEstimates);
    grid.setCross(Length::px(300));
    (void)grid.forgetExtents(kEstimates);
    const Box before = grid.boxOf(49'998);
    grid.setMeasured(49'999, Length::px(300));
    EXPECT_EQ(grid.boxOf(49'995),
              (Box{before.start - Length::px(90), Length::px(90), before.crossStart, before.crossExtent}));
    EXPECT_EQ(grid.startOf(50'000), before.start);
    EXPECT_EQ(grid.startOf(50'001), before.start + Length::px(300));
}

} // namespace
} // namespace scorrere
