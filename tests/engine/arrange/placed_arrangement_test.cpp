// SPDX-License-Identifier: GPL-3.0-or-later
// Items that stand where they are told to: beside a plain model that works everything out anew.
#include "engine/arrange/arrangement_spec.h"
#include "testing/engine/any_arrangement.h"
#include "testing/engine/placing.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <map>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

constexpr Arrangement::Estimates kPlacedThought{Length::px(90), Length::px(60), Length::px(40)};

TEST(PlacedItems, AreFoundInOrderAndByWhatTheyTouchWhateverCameAndWent) {
    rc::check([] {
        std::map<std::pair<Length, std::int32_t>, PlacedItems::Item> plain;
        const auto upTo = [](std::int64_t most) { return *rc::gen::inRange<std::int64_t>(0, most + 1); };
        const auto any = [&](std::int32_t id) {
            return PlacedItems::Item{Length::px(upTo(3000) - 1000),
                                     Length::px(1 + upTo(*rc::gen::element(20, 20, 900))), id};
        };
        std::int32_t id = 0;
        for (std::int64_t n = *rc::gen::element<std::int64_t>(0, 5, 200, 5000); n > 0; --n) {
            const PlacedItems::Item item = any(id++);
            plain[{item.start, item.id}] = item;
        }
        std::vector<PlacedItems::Item> items;
        std::ranges::transform(plain, std::back_inserter(items), [](const auto& one) { return one.second; });
        PlacedItems real(items);
        for (int step = *rc::gen::inRange(1, 30); step > 0; --step) {
            for (std::int64_t n = upTo(*rc::gen::element(1, 200)); n > 0; --n) {
                if (*rc::gen::arbitrary<bool>() || plain.empty()) {
                    const PlacedItems::Item item = any(id++);
                    plain[{item.start, item.id}] = item;
                    real.insert(item);
                } else {
                    const std::int64_t at = upTo(std::ssize(plain) - 1);
                    plain.erase(std::next(plain.begin(), at));
                    real.erase(at);
                }
            }
            real.checkInvariants();
            RC_ASSERT(real.size() == std::ssize(plain));
            const Length from = Length::px(upTo(4000) - 1500);
            const Length until = from + Length::px(upTo(400));
            const std::int64_t past = upTo(real.size() + 1) - 1;
            std::vector<std::int64_t> wantedOn;
            std::vector<std::int64_t> wantedBack;
            Length reach = Length::fromRaw(INT64_MIN);
            std::int64_t position = 0;
            for (const auto& [key, item] : plain) {
                RC_ASSERT(real.countBefore(item.start, item.id) == position);
                RC_ASSERT(real.at(position).id == item.id);
                if (item.start < until && item.end() > from) {
                    (position >= past ? wantedOn : wantedBack).push_back(position);
                }
                reach = std::max(reach, item.end());
                ++position;
            }
            RC_ASSERT((plain.empty() ? reach : real.reach()) == reach);
            std::ranges::reverse(wantedBack);
            std::vector<std::int64_t> on;
            std::vector<std::int64_t> back;
            real.on(from, until, past, [&](std::int64_t one, const PlacedItems::Item&) {
                on.push_back(one);
                return true;
            });
            real.back(from, until, past - 1, [&](std::int64_t one, const PlacedItems::Item&) {
                back.push_back(one);
                return true;
            });
            RC_ASSERT(on == wantedOn);
            RC_ASSERT(back == wantedBack);
        }
    });
}

/// Worked out anew each time: nothing is kept but what was told.
struct PlainPlaced {
    struct One {
        std::int64_t id = 0;
        std::optional<GivenPlace> is;
    };
    struct Stands {
        GivenPlace is;
        std::int64_t id = 0;
        std::int64_t place = 0;
        int among = 0;
        int abreast = 1;
        Length end() const { return is.start + is.extent; }
    };
    std::vector<One> records; ///< by place
    std::int64_t nextId = 0;
    int lanes = 1;
    Spacing spacing;
    Length laneGap;
    Length cross;
    std::optional<Length> header;
    std::optional<Length> footer;

    std::vector<Stands> standing() const {
        std::vector<Stands> all;
        for (std::size_t place = 0; place < records.size(); ++place) {
            if (records[place].is) {
                all.push_back({*records[place].is, records[place].id, static_cast<std::int64_t>(place)});
            }
        }
        std::ranges::sort(all, {}, [](const Stands& one) { return std::pair(one.is.start, one.id); });
        for (std::size_t i = 0; i < all.size(); ++i) {
            std::vector<bool> taken(100);
            for (std::size_t other = 0; other < i; ++other) {
                if (all[other].is.lane == all[i].is.lane && all[other].end() > all[i].is.start) {
                    taken[static_cast<std::size_t>(all[other].among)] = true;
                }
            }
            all[i].among = static_cast<int>(std::ranges::find(taken, false) - taken.begin());
        }
        // Those that overlap, and those that overlap them, are abreast: until nothing changes any more.
        for (bool changes = true; changes;) {
            changes = false;
            for (Stands& one : all) {
                for (const Stands& other : all) {
                    const int least = std::max(other.abreast, other.among + 1);
                    if (one.is.lane == other.is.lane && one.is.start < other.end() &&
                        other.is.start < one.end() && one.abreast < least) {
                        one.abreast = least;
                        changes = true;
                    }
                }
            }
        }
        return all;
    }
    std::vector<Box> boxes() const {
        std::vector<Box> all;
        const Length room = std::max(cross - spacing.insets[1] - spacing.insets[3], Length{});
        Length at = spacing.insets[0];
        if (header) {
            all.push_back({at, *header, spacing.insets[3], room});
            at += *header + spacing.gap;
        }
        const auto items = standing();
        const Length lane = std::max((room + laneGap) / lanes - laneGap, Length{});
        Length end = at;
        for (const Stands& one : items) {
            const Length width = std::max((lane + laneGap) / one.abreast - laneGap, Length{});
            const Length start = at + one.is.start - items.front().is.start;
            all.push_back({start, one.is.extent,
                           spacing.insets[3] + (lane + laneGap) * one.is.lane + (width + laneGap) * one.among,
                           width});
            end = std::max(end, start + one.is.extent);
        }
        if (footer) {
            all.push_back({items.empty() ? end : end + spacing.gap, *footer, spacing.insets[3], room});
        }
        return all;
    }
    Length total() const {
        const auto all = boxes();
        Length end = spacing.insets[0];
        for (const Box& box : all) {
            end = std::max(end, box.end());
        }
        return end + spacing.insets[2];
    }
};

std::optional<GivenPlace> anyPlace() {
    if (*rc::gen::inRange(0, 8) == 0) {
        return std::nullopt;
    }
    return GivenPlace{Length::px(*rc::gen::inRange(-500, 4000)), Length::px(*rc::gen::inRange(1, 300)),
                      static_cast<std::uint8_t>(*rc::gen::inRange(0, 3))};
}

RC_GTEST_PROP(PlacedArrangement, StandsItemsWhereAPlainOneDoes, ()) {
    const auto upTo = [](std::int64_t most) { return *rc::gen::inRange<std::int64_t>(0, most + 1); };
    const std::int64_t records = *rc::gen::element<std::int64_t>(0, 1, 5, 60);
    const Ends ends = testing::anyEnds();
    PlainPlaced plain;
    PlacedSpec spec;
    spec.laneGap = plain.laneGap = Length::fromRaw(upTo(500));
    plain.spacing.gap = Length::fromRaw(upTo(1000));
    for (Length& inset : plain.spacing.insets) {
        inset = Length::px(upTo(30));
    }
    for (; plain.nextId < records; ++plain.nextId) {
        plain.records.push_back({plain.nextId, std::nullopt});
    }
    plain.header = ends.header ? std::optional(Length::px(60)) : std::nullopt;
    plain.footer = ends.footer ? std::optional(Length::px(40)) : std::nullopt;
    PlacedArrangement real(spec, plain.spacing, ends, records, kPlacedThought);
    for (int step = *rc::gen::inRange(1, 25); step > 0; --step) {
        const auto count = std::ssize(plain.records);
        switch (*rc::gen::inRange(0, 8)) {
        case 0: {
            const std::int64_t at = upTo(count);
            const std::int64_t more = upTo(9);
            for (std::int64_t i = 0; i < more; ++i) {
                plain.records.insert(plain.records.begin() + at + i, {plain.nextId++, std::nullopt});
            }
            real.insertRecords(at, more);
            break;
        }
        case 1: {
            const std::int64_t at = upTo(count);
            const std::int64_t fewer = upTo(std::min<std::int64_t>(9, count - at));
            plain.records.erase(plain.records.begin() + at, plain.records.begin() + at + fewer);
            real.eraseRecords(at, fewer);
            break;
        }
        case 2:
            if (count > 0) {
                const std::int64_t from = upTo(count - 1);
                const std::int64_t to = upTo(count - 1);
                const PlainPlaced::One moved = plain.records[static_cast<std::size_t>(from)];
                plain.records.erase(plain.records.begin() + from);
                plain.records.insert(plain.records.begin() + to, moved);
                real.moveRecord(from, to);
            }
            break;
        case 3: { // all at once
            std::vector<std::optional<GivenPlace>> places;
            plain.nextId = 0;
            for (PlainPlaced::One& one : plain.records) {
                one = {plain.nextId++, anyPlace()};
                places.push_back(one.is);
            }
            plain.lanes = 3;
            (void)real.takeTold(PlacedArrangement::Told(places, 3));
            break;
        }
        case 4:
            plain.cross = Length::px(upTo(900));
            real.setCross(plain.cross);
            break;
        case 5:
            if (real.size() > 0) {
                const std::int64_t at = upTo(real.size() - 1);
                const Length extent = Length::px(upTo(100));
                const Role role = real.slotAt(at).role;
                (role == Role::Header   ? plain.header
                 : role == Role::Footer ? plain.footer
                                        : plain.header) =
                    role == Role::Record ? plain.header : std::optional(extent);
                real.setMeasured(at, extent);
            }
            break;
        default: {
            const std::int64_t at = upTo(count);
            std::vector<std::optional<GivenPlace>> places;
            for (std::int64_t i = at; i < std::min<std::int64_t>(at + upTo(12), count); ++i) {
                places.push_back(anyPlace());
                plain.records[static_cast<std::size_t>(i)].is = places.back();
            }
            if (std::ranges::any_of(places, [](const auto& one) { return one.has_value(); })) {
                plain.lanes = 3;
            }
            if (!places.empty()) {
                real.tell(at, places, plain.lanes);
            }
        }
        }
        real.checkInvariants();
        const auto boxes = plain.boxes();
        const auto standing = plain.standing();
        RC_ASSERT(real.size() == std::ssize(boxes));
        RC_ASSERT(real.recordCount() == std::ssize(plain.records));
        RC_ASSERT(real.leftOut() == 0);
        for (std::int64_t i = 0; i < real.size(); ++i) {
            RC_ASSERT(real.boxOf(i) == boxes[static_cast<std::size_t>(i)]);
            if (const Slot slot = real.slotAt(i); slot.role == Role::Record) {
                const auto at = static_cast<std::size_t>(i - (ends.header ? 1 : 0));
                RC_ASSERT(slot.place == standing[at].place);
                RC_ASSERT(real.positionOf(slot.place) == i);
                RC_ASSERT(real.find(slot) == i);
            }
        }
        for (std::size_t place = 0; place < plain.records.size(); ++place) {
            if (!plain.records[place].is) {
                RC_ASSERT(real.find({Role::Record, static_cast<std::int64_t>(place)}) == -1);
            }
        }
        RC_ASSERT(real.total() == plain.total());
        const Length from = Length::px(upTo(5000) - 500);
        const Length until = from + Length::px(upTo(800));
        std::vector<std::int64_t> wanted;
        std::int64_t covers = -1;
        std::int64_t before = real.size() > 0 ? 0 : -1;
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            const auto position = static_cast<std::int64_t>(i);
            if (from < until && boxes[i].start < until && boxes[i].end() > std::max(from, Length{}) &&
                boxes[i].extent > Length{}) {
                wanted.push_back(position);
            }
            before = boxes[i].start <= from ? position : before;
            covers = covers < 0 && boxes[i].start <= from && boxes[i].end() > from ? position : covers;
        }
        RC_ASSERT(real.indexAt(from) == (covers >= 0 ? covers : before));
        for (const Toward toward : {Toward::End, Toward::Start}) {
            std::vector<std::int64_t> named;
            std::vector<std::int64_t> room(Arrangement::kMostInALine);
            std::int64_t past = Arrangement::kFromTheEnd;
            while (const std::size_t some = real.touching(from, until, toward, past, room)) {
                named.insert(named.end(), room.begin(), room.begin() + static_cast<std::ptrdiff_t>(some));
                past = named.back();
            }
            RC_ASSERT(named == wanted);
            std::ranges::reverse(wanted);
        }
    }
}

TEST(PlacedArrangement, BeginsWithItsFirstItemAndLeavesOutWhatHasNoRoom) {
    const std::vector<std::optional<GivenPlace>> places(40, GivenPlace{Length::px(9000), Length::px(50), 0});
    PlacedArrangement made({}, {}, {}, 40, kPlacedThought);
    made.setCross(Length::px(320));
    made.tell(0, places, 1);
    EXPECT_EQ(made.size(), 32);
    EXPECT_EQ(made.leftOut(), 8);
    EXPECT_EQ(made.total(), Length::px(50));
    EXPECT_EQ(made.boxOf(31).crossExtent, Length::px(10));
    EXPECT_EQ(made.find({Role::Record, 39}), -1);
    // One after the other they are as many.
    PlacedArrangement slowly({}, {}, {}, 40, kPlacedThought);
    for (std::int64_t place = 0; place < 40; ++place) {
        slowly.tell(place, std::span(places).first(1), 1);
    }
    EXPECT_EQ(slowly.size(), 32);
    EXPECT_EQ(slowly.leftOut(), 8);
    for (PlacedArrangement* each : {&made, &slowly}) { // told again, or gone, they are not counted twice
        each->tell(30, std::span(places).first(10), 1);
        EXPECT_EQ(each->leftOut(), 8);
        EXPECT_EQ(each->placed(), 32);
        each->eraseRecords(38, 2);
        EXPECT_EQ(each->placed() + each->leftOut(), 38);
        each->eraseRecords(0, 38);
        EXPECT_EQ(each->leftOut(), 0);
        EXPECT_EQ(each->placed(), 0);
    }
}

TEST(PlacedArrangement, AnItemIsDesignedForALaneOfItsOwn) {
    ArrangementSpec spec{{}, PlacedSpec()};
    EXPECT_EQ(itemWidth(spec, Length::px(360), Length::px(700)), Length::px(360));
    spec.sideways = Sideways();
    EXPECT_EQ(itemWidth(spec, Length::px(360), Length::px(700)), Length::px(200)) << "as wide as any";
}

TEST(PlacedArrangement, OfVeryManyThatOverlapEditsMoveFewAndCoverTheSame) {
    // Each overlaps the next two: all hang together.
    std::vector<std::optional<GivenPlace>> places;
    for (std::int64_t i = 0; i < 20'000; ++i) {
        places.push_back(GivenPlace{Length::px(i * 10), Length::px(25), 0});
    }
    PlacedArrangement made({}, {}, {}, 20'000, kPlacedThought);
    made.setCross(Length::px(320));
    made.tell(0, places, 1);
    EXPECT_EQ(made.boxOf(9000).crossExtent, Length::px(320) / 3);
    const std::int64_t before = made.nodesVisited();
    made.eraseRecords(9000, 1);
    made.insertRecords(9000, 1);
    made.tell(9000, std::span(places).subspan(9000, 1), 1);
    EXPECT_LT(made.nodesVisited() - before, 20'000);
    made.checkInvariants();
    for (std::int64_t i = 8000; i < 10'000; ++i) { // none stands on another
        for (std::int64_t next = i + 1; next < i + 3; ++next) {
            const Box a = made.boxOf(i);
            const Box b = made.boxOf(next);
            EXPECT_TRUE(a.end() <= b.start || a.crossStart + a.crossExtent <= b.crossStart ||
                        b.crossStart + b.crossExtent <= a.crossStart)
                << i;
        }
    }
}

TEST(PlacedArrangementOfMany, VisitsAFewNodesMoreOverTenTimesAsManyItems) {
    const auto mostVisited = [](std::int64_t count) {
        PlacedArrangement made({}, {}, {true, true}, count, kPlacedThought);
        made.setCross(Length::px(360));
        (void)made.takeTold(testing::toldOf(count));
        std::array<std::int64_t, Arrangement::kMostInALine> room{};
        std::int64_t most = 0;
        for (std::int64_t i = 0; i < 300; ++i) {
            const std::int64_t before = made.nodesVisited();
            const std::int64_t at = (i * 7919 * 104'729) % (count * 9 / 10);
            const auto place = testing::placeOf(at);
            switch (i % 5) {
            case 0:
                (void)made.boxOf(at);
                break;
            case 1:
                (void)made.touching(made.startOf(at), made.startOf(at) + Length::px(700), Toward::End,
                                    Arrangement::kFromTheEnd, room);
                break;
            case 2:
                made.insertRecords(at, 1);
                made.tell(at, {&place, 1}, 2);
                break;
            case 3:
                made.eraseRecords(at, 1);
                break;
            default:
                (void)made.indexAt(Length::fromRaw(made.total().raw() / 300 * i));
            }
            most = std::max(most, made.nodesVisited() - before);
        }
        return most;
    };
    const std::int64_t few = mostVisited(100'000);
    const std::int64_t many = mostVisited(1'000'000);
    EXPECT_LE(many, few * 2);
    EXPECT_LT(many, 1200);
}

} // namespace
} // namespace scorrere
