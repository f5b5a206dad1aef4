// SPDX-License-Identifier: GPL-3.0-or-later
// Sections over every arrangement that takes them: what stands where is what a plain model says, however sections
// begin, end, are folded and grow.
#include "engine/arrange/arrangement_spec.h"
#include "testing/engine/any_arrangement.h"
#include "testing/engine/plain_arrangement.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using testing::PlainArrangement;
using Measured = std::optional<Length>;

constexpr Arrangement::Estimates kThoughtOf{Length::px(90), Length::px(60), Length::px(40), Length::px(33),
                                            Length::px(21), Length::px(27), Length::px(25)};

struct PlainSection {
    bool isHeaded = false;
    bool isFolded = false;
    std::vector<Measured> records;
    Measured header;
    Measured footer;

    void fold(bool fold) {
        if (fold != isFolded) {
            isFolded = fold;
            records.assign(records.size(), std::nullopt);
            footer.reset();
        }
    }
};

/// Sections as lists within a list.
struct PlainSections {
    std::vector<PlainSection> all;
    bool haveFooters = false;

    std::size_t sectionOf(std::int64_t& place) const { // makes it the place within
        std::size_t section = 0;
        while (place >= std::ssize(all[section].records)) {
            place -= std::ssize(all[section++].records);
        }
        return section;
    }
    std::int64_t records() const {
        std::int64_t count = 0;
        for (const PlainSection& each : all) {
            count += std::ssize(each.records);
        }
        return count;
    }
    void insert(std::int64_t place, std::int64_t count) {
        if (all.empty() && count > 0) {
            all.push_back({});
            all[0].records.resize(static_cast<std::size_t>(count));
        } else if (count > 0) {
            std::int64_t before = std::max<std::int64_t>(place - 1, 0);
            const std::size_t section = sectionOf(before);
            auto& into = all[section].records;
            into.insert(into.begin() + before + (place > 0 ? 1 : 0), static_cast<std::size_t>(count),
                        std::nullopt);
        }
    }
    void erase(std::int64_t place, std::int64_t count) {
        for (; count > 0; --count) {
            std::int64_t in = place;
            const std::size_t section = sectionOf(in);
            auto& from = all[section].records;
            from.erase(from.begin() + in);
            if (from.empty()) {
                all.erase(all.begin() + static_cast<std::ptrdiff_t>(section));
            }
        }
    }
    void setStart(std::int64_t place, bool starts) {
        const bool isFirst = place == 0;
        const std::size_t section = sectionOf(place);
        PlainSection& in = all[section];
        if (starts == (place == 0 && in.isHeaded)) {
            return;
        }
        if (isFirst) {
            in.fold(false);
            in.isHeaded = starts;
            in.header = in.footer = std::nullopt;
        } else if (starts) {
            PlainSection made{
                true, in.isFolded, {in.records.begin() + place, in.records.end()}, {}, in.footer};
            in.records.resize(static_cast<std::size_t>(place));
            in.footer.reset();
            all.insert(all.begin() + static_cast<std::ptrdiff_t>(section) + 1, std::move(made));
        } else {
            PlainSection& before = all[section - 1];
            in.fold(before.isFolded);
            before.footer = before.isHeaded ? in.footer : std::nullopt;
            before.records.insert(before.records.end(), in.records.begin(), in.records.end());
            all.erase(all.begin() + static_cast<std::ptrdiff_t>(section));
        }
    }
};

struct SectionPair {
    SectionPair(const ArrangementSpec& spec, Ends ends, std::int64_t records)
        : lines(spec, ends, 0, kThoughtOf), real(makeArrangement(spec, ends, records, kThoughtOf)) {
        over = dynamic_cast<SectionedArrangement*>(real.get());
        model.haveFooters = spec.sections->haveFooters;
        model.insert(0, records);
        setCross(Length::px(360));
    }
    void setCross(Length cross) {
        lines.cross = cross;
        real->setCross(cross);
        real->setWindow(lines.window);
        forgetAll();
        (void)real->forgetExtents(kThoughtOf);
    }
    void forgetAll() {
        for (PlainSection& each : model.all) {
            each.records.assign(each.records.size(), std::nullopt);
            each.header = each.footer = std::nullopt;
        }
        lines.header = lines.footer = std::nullopt;
    }
    /// What the model has at each position, in order, between header and footer.
    std::vector<std::pair<Slot, Measured*>> entries() {
        std::vector<std::pair<Slot, Measured*>> all;
        std::int64_t first = 0;
        for (std::size_t i = 0; i < model.all.size(); ++i) {
            PlainSection& each = model.all[i];
            const auto section = static_cast<std::int64_t>(i);
            if (each.isHeaded) {
                all.push_back({{Role::SectionHeader, first, section}, &each.header});
            }
            for (std::size_t r = 0; r < each.records.size() && !each.isFolded; ++r) {
                all.push_back(
                    {{Role::Record, first + static_cast<std::int64_t>(r), section}, &each.records[r]});
            }
            if (each.isHeaded && model.haveFooters && !each.isFolded) {
                all.push_back({{Role::SectionFooter, first, section}, &each.footer});
            }
            first += std::ssize(each.records);
        }
        return all;
    }
    void check() {
        for (std::int64_t position = 0; position < real->size(); ++position) {
            real->recall(position);
        }
        real->checkInvariants();
        const auto all = entries();
        lines.items.clear();
        lines.spans.clear();
        lines.kinds.clear();
        for (const auto& [slot, measured] : all) {
            lines.items.push_back(*measured);
            lines.spans.push_back(slot.role == Role::Record ? 1 : 255);
            lines.kinds.push_back(Arrangement::kindOf(slot.role));
        }
        const std::vector<Box> boxes = lines.boxes();
        RC_ASSERT(real->size() == static_cast<std::int64_t>(boxes.size()));
        RC_ASSERT(real->recordCount() == model.records());
        RC_ASSERT(real->total() == lines.total());
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            RC_ASSERT(real->boxOf(static_cast<std::int64_t>(i)) == boxes[i]);
        }
        const std::int64_t begin = lines.ends.header ? 1 : 0;
        for (std::size_t i = 0; i < all.size(); ++i) {
            const Slot slot = real->slotAt(begin + static_cast<std::int64_t>(i));
            const Slot& wanted = all[i].first;
            RC_ASSERT(slot.role == wanted.role);
            RC_ASSERT(slot.place == wanted.place);
            RC_ASSERT(slot.section == wanted.section);
            if (slot.role == Role::Record) {
                RC_ASSERT(real->positionOf(slot.place) == begin + static_cast<std::int64_t>(i));
            }
        }
    }
    void checkStaying(Length top) {
        const Staying staying = real->stayingAt(top).all[0];
        // The section that the window's start is in, by looking at all of them.
        Staying wanted;
        std::int64_t position = lines.ends.header ? 1 : 0;
        for (const PlainSection& each : model.all) {
            const std::int64_t many = (each.isHeaded ? 1 : 0) +
                                      (each.isFolded ? 0 : std::ssize(each.records)) +
                                      (each.isHeaded && model.haveFooters && !each.isFolded ? 1 : 0);
            const Box header = real->boxOf(position);
            const Length end = real->boxOf(position + many - 1).end();
            const Length at = top + lines.spec.sections->clear;
            const Length start = std::min(at, end - header.extent);
            if (each.isHeaded && header.start < at && at < end && start > header.start) {
                wanted = {position, start};
            }
            position += many;
        }
        if (wanted.position >= 0 || staying.position >= 0) {
            // In the gap behind a section its header is still on its way out.
            const bool isInGap = wanted.position < 0 && staying.start < top + lines.spec.sections->clear;
            RC_ASSERT(isInGap || (staying.position == wanted.position && staying.start == wanted.start));
        }
    }

    PlainSections model;
    PlainArrangement lines;
    std::unique_ptr<Arrangement> real;
    SectionedArrangement* over = nullptr;
};

ArrangementSpec anySectioned() {
    ArrangementSpec spec = testing::anySections();
    if (auto* grid = std::get_if<GridSpec>(&spec.form)) {
        grid->spans.clear();
    }
    return spec;
}

RC_GTEST_PROP(SectionedArrangement, StandsItemsWhereAPlainOneDoes, ()) {
    SectionPair pair(anySectioned(), testing::anyEnds(), *rc::gen::element<std::int64_t>(0, 1, 2, 20, 90));
    pair.check();
    for (int step = *rc::gen::inRange(1, 25); step > 0; --step) {
        const std::int64_t count = pair.real->recordCount();
        const auto upTo = [](std::int64_t most) { return *rc::gen::inRange<std::int64_t>(0, most + 1); };
        switch (*rc::gen::inRange(0, 9)) {
        case 0: {
            const std::int64_t at = upTo(count);
            const std::int64_t more = upTo(9);
            RC_LOG() << "insert " << at << " " << more << "\n";
            pair.model.insert(at, more);
            pair.real->insertRecords(at, more);
            break;
        }
        case 1: {
            const std::int64_t at = upTo(count);
            const std::int64_t fewer = upTo(std::min<std::int64_t>(30, count - at));
            RC_LOG() << "erase " << at << " " << fewer << "\n";
            pair.model.erase(at, fewer);
            pair.real->eraseRecords(at, fewer);
            break;
        }
        case 2:
            if (count > 0) {
                const std::int64_t from = upTo(count - 1);
                const std::int64_t to = upTo(count - 1);
                pair.model.erase(from, 1);
                pair.model.insert(to, 1);
                pair.real->moveRecord(from, to);
            }
            break;
        case 3:
        case 4:
            if (count > 0) {
                const std::int64_t at = upTo(count - 1);
                std::vector<std::uint8_t> starts;
                for (std::int64_t place = at; place < count && starts.size() < 9; ++place) {
                    starts.push_back(*rc::gen::element<std::uint8_t>(0, 0, 1));
                    RC_LOG() << "start " << place << " " << int{starts.back()} << "\n";
                    pair.model.setStart(place, starts.back() != 0);
                }
                pair.over->setStarts(at, starts);
            }
            break;
        case 5:
            if (!pair.model.all.empty()) {
                const std::int64_t section = upTo(std::ssize(pair.model.all) - 1);
                const bool isFolded = *rc::gen::arbitrary<bool>();
                RC_LOG() << "fold " << section << " " << isFolded << "\n";
                if (PlainSection& in = pair.model.all[static_cast<std::size_t>(section)]; in.isHeaded) {
                    in.fold(isFolded);
                }
                pair.over->setFolded(section, isFolded);
            }
            break;
        case 6: {
            const bool areFolded = *rc::gen::arbitrary<bool>();
            pair.forgetAll();
            for (PlainSection& each : pair.model.all) {
                each.isFolded = each.isHeaded && areFolded;
            }
            (void)pair.over->setAllFolded(areFolded);
            break;
        }
        case 7:
            pair.setCross(Length::px(*rc::gen::inRange(0, 900)));
            break;
        default:
            for (std::int64_t n = 8; n > 0; --n) {
                auto all = pair.entries();
                if (all.empty()) {
                    break;
                }
                const std::int64_t at = upTo(std::ssize(all) - 1);
                const auto& [slot, measured] = all[static_cast<std::size_t>(at)];
                const Length long_ = Length::fromRaw(upTo(20'000));
                *measured = slot.role == Role::Record ? pair.lines.given().value_or(long_) : long_;
                pair.real->setMeasured(at + (pair.lines.ends.header ? 1 : 0), **measured);
            }
        }
        pair.check();
        const bool isPager = std::holds_alternative<PagerSpec>(pair.lines.spec.form); // fills the window
        if (isPager && pair.real->size() > 0) {
            RC_ASSERT(pair.real->stayingAt(Length::fromRaw(upTo(pair.real->total().raw() + 1))) ==
                      Stayings());
        }
        if (pair.lines.spec.sections->stay && pair.real->size() > 0 && !isPager) {
            pair.checkStaying(Length::fromRaw(upTo(pair.real->total().raw() + 1)));
        }
    }
}

/// Ragged columns, seen from the start to the end: in each section lanes begin level behind the header.
RC_GTEST_PROP(SectionedArrangement, StandsRaggedColumnsLevelBehindEachHeader, ()) {
    const ArrangementSpec spec = testing::anyRaggedSections();
    const Ends ends = testing::anyEnds();
    auto counts = *rc::gen::container<std::vector<std::int32_t>>(rc::gen::element(1, 2, 3, 9, 40, 90, 200));
    const bool isFirstHeaded = *rc::gen::arbitrary<bool>();
    std::int64_t records = 0;
    for (const std::int32_t count : counts) {
        records += count;
    }
    const auto real = makeArrangement(spec, ends, records, kThoughtOf);
    auto& over = dynamic_cast<SectionedArrangement&>(*real);
    real->setCross(Length::px(*rc::gen::inRange(50, 900)));
    (void)real->forgetExtents(kThoughtOf);
    (void)over.takeSections(counts, isFirstHeaded && records > 0);
    for (int fold = *rc::gen::inRange(0, 3); fold > 0 && !counts.empty(); --fold) {
        over.setFolded(*rc::gen::inRange<std::int64_t>(0, std::ssize(counts)), true);
    }
    const auto extentOf = [](std::int64_t position) {
        return Length::fromRaw(position % 11 == 3 ? 0 : position * 7919 % 9'000);
    };
    const Length window = Length::px(300);
    std::vector<std::int64_t> room(64);
    for (Length top; top < real->total(); top += window) {
        for (std::int64_t position = 0; position >= 0;) { // until all that touch it are measured
            const std::size_t count =
                real->touching(top, top + window, Toward::End, Arrangement::kFromTheEnd, room);
            const auto named = std::span(room).first(count);
            const auto found = std::ranges::find_if(
                named, [&](std::int64_t one) { return real->stateOf(one) != ExtentState::Measured; });
            position = found == named.end() ? -1 : *found;
            if (position >= 0) {
                real->setMeasured(position, extentOf(position));
            }
        }
    }
    real->checkInvariants();
    const auto& form = std::get<ColumnsSpec>(spec.form);
    const Length gap = spec.spacing.gap;
    Length at = spec.spacing.insets[0];
    std::vector<Length> lanes(real->mostInALine());
    const auto level = [&](Length to) { std::ranges::fill(lanes, to); };
    const auto last = [&] { return *std::ranges::max_element(lanes); };
    level(at);
    for (std::int64_t position = 0; position < real->size(); ++position) {
        const Box box = real->boxOf(position);
        const bool isMeasured = real->stateOf(position) == ExtentState::Measured;
        RC_ASSERT((isMeasured || box.extent + gap == Length{} || extentOf(position) == Length{}));
        if (real->slotAt(position).role == Role::Record) {
            const auto lane = std::ranges::min_element(lanes);
            RC_ASSERT(box.start == *lane);
            RC_ASSERT(box.crossStart ==
                      spec.spacing.insets[3] + (box.crossExtent + form.lanes.gap) * (lane - lanes.begin()));
            *lane = box.end() + gap;
        } else {
            RC_ASSERT(box.start == last());
            RC_ASSERT(box.crossStart == spec.spacing.insets[3]);
            level(box.end() + gap);
        }
    }
    RC_ASSERT(real->total() == last() - (real->size() > 0 ? gap : Length{}) + spec.spacing.insets[2]);
}

RC_GTEST_PROP(SectionedArrangement, TellsAllSectionsAtOnceAsOneByOne, ()) {
    const ArrangementSpec spec = anySectioned();
    const auto counts = *rc::gen::container<std::vector<std::int32_t>>(rc::gen::inRange(1, 12));
    const bool isFirstHeaded = *rc::gen::arbitrary<bool>();
    std::vector<std::uint8_t> starts;
    for (const std::int32_t count : counts) {
        starts.push_back(!starts.empty() || isFirstHeaded ? 1 : 0);
        starts.resize(starts.size() + static_cast<std::size_t>(count - 1), 0);
    }
    const auto records = std::ssize(starts);
    const auto made = [&] {
        auto real = makeArrangement(spec, {}, records, kThoughtOf);
        real->setCross(Length::px(360));
        (void)real->forgetExtents(kThoughtOf);
        return real;
    };
    const auto atOnce = made();
    (void)dynamic_cast<SectionedArrangement&>(*atOnce).takeSections(counts, isFirstHeaded && records > 0);
    const auto byOne = made();
    dynamic_cast<SectionedArrangement&>(*byOne).setStarts(0, starts);
    for (std::int64_t position = 0; position < byOne->size(); ++position) {
        byOne->recall(position);
    }
    RC_ASSERT(atOnce->size() == byOne->size());
    for (std::int64_t position = 0; position < byOne->size(); ++position) {
        RC_ASSERT(atOnce->boxOf(position) == byOne->boxOf(position));
        RC_ASSERT(atOnce->slotAt(position).place == byOne->slotAt(position).place);
        RC_ASSERT(atOnce->slotAt(position).role == byOne->slotAt(position).role);
    }
}

TEST(SectionedArrangement, ARecordRestsClearOfTheHeaderThatStays) {
    ArrangementSpec spec{{}, ListSpec()};
    spec.sections = testing::sectionsOf(true, false, Length::px(10));
    const auto real = makeArrangement(spec, {}, 30, kThoughtOf);
    (void)dynamic_cast<SectionedArrangement&>(*real).takeSections(std::array{10, 20}, true);
    real->setMeasured(11, Length::px(48));
    EXPECT_EQ(real->slotAt(11).role, Role::SectionHeader);
    EXPECT_EQ(real->startOf(15) - real->restOf(15), Length::px(58));
    EXPECT_EQ(real->restOf(11), real->startOf(11)) << "it is the header itself";
}

TEST(SectionedArrangement, MemoryOfSectionsIsLittle) {
    constexpr std::int64_t kRecords = 1'000'000;
    std::vector<std::int32_t> counts;
    for (std::int64_t left = kRecords; left > 0; left -= counts.back()) {
        counts.push_back(
            static_cast<std::int32_t>(std::min<std::int64_t>(left, 10 + std::ssize(counts) * 7919 % 991)));
    }
    for (const bool isGrid : {false, true}) {
        ArrangementSpec spec{{}, ListSpec()};
        if (isGrid) {
            spec.form = GridSpec();
        }
        const auto plain = makeArrangement(spec, {}, kRecords, kThoughtOf);
        spec.sections = SectionsSpec();
        const auto real = makeArrangement(spec, {}, kRecords, kThoughtOf);
        (void)dynamic_cast<SectionedArrangement&>(*real).takeSections(counts, true);
        // A grid counts lines, too, of which small sections have few.
        EXPECT_LT(real->memoryBytes(), plain->memoryBytes() + (isGrid ? kRecords * 3 / 2 : kRecords))
            << counts.size() << " sections";
    }
}

} // namespace
} // namespace scorrere
