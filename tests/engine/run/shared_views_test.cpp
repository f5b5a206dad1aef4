// SPDX-License-Identifier: GPL-3.0-or-later
// Runs that share their views, as strips within items do.
#include "engine/arrange/list_arrangement.h"
#include "testing/engine/fake_host.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

constexpr Arrangement::Estimates kInner{Length::px(60), {}, {}};

/// Notes what each view carries, of whichever run.
class InnerHost final : public RunHost {
public:
    InnerHost(std::int64_t records, std::shared_ptr<ItemViews> views, std::vector<std::int64_t>& carried)
        : carried_(carried),
          run(*this, watch, std::make_unique<ListArrangement>(Spacing(), Ends(), records, kInner), kInner, {},
              std::move(views)) {
        run.resize(Length::px(300), Length::px(80));
    }
    void build(ViewId view, int) override {
        carried_.resize(std::max(carried_.size(), static_cast<std::size_t>(view.index) + 1), -1);
    }
    Length fill(ViewId view, const Slot& slot, const Given&, CostMeter&) override {
        carried_[static_cast<std::size_t>(view.index)] = number * 1'000'000 + slot.place;
        return Length::px(40 + (slot.place * 7 + number * 13) % 50);
    }
    /// Each view carries what it should, and none is another's.
    bool isRight() const {
        return std::ranges::all_of(run.placements(), [&](const Placement& p) {
            return carried_[static_cast<std::size_t>(p.view.index)] ==
                   number * 1'000'000 + run.arrangement().slotAt(p.position).place;
        });
    }

private:
    std::vector<std::int64_t>& carried_;

public:
    testing::FakeWatch watch;
    std::int64_t number = 0;
    Run run;
};

RC_GTEST_PROP(SharedViews, AreNeverTwoRunsAtOnceAndNoMoreThanWereWanted, ()) {
    auto views = std::make_shared<ItemViews>();
    std::vector<std::int64_t> carried;
    std::vector<std::unique_ptr<InnerHost>> all;
    std::int64_t now = 0;
    std::size_t most = 0;
    std::int64_t made = 0;
    for (int step = *rc::gen::inRange(1, 60); step > 0; --step) {
        switch (*rc::gen::inRange(0, 4)) {
        case 0:
            if (all.size() < 6) {
                all.push_back(
                    std::make_unique<InnerHost>(*rc::gen::inRange<std::int64_t>(0, 30), views, carried));
                all.back()->number = ++made;
            }
            break;
        case 1:
            if (!all.empty()) {
                all.erase(all.begin() + *rc::gen::inRange<std::ptrdiff_t>(0, std::ssize(all)));
            }
            break;
        case 2: // it is another's now: its views go to whoever comes next
            if (!all.empty()) {
                InnerHost& host = *all[*rc::gen::inRange<std::size_t>(0, all.size())];
                host.run.eraseRecords(0, host.run.arrangement().recordCount());
                host.number = ++made;
                host.run.insertRecords(0, *rc::gen::inRange<std::int64_t>(0, 30));
            }
            break;
        default:
            if (!all.empty()) {
                all[*rc::gen::inRange<std::size_t>(0, all.size())]->run.wheel(
                    Length::px(*rc::gen::inRange(-400, 400)));
            }
        }
        for (const auto& host : all) {
            host->run.frame(now += 8333);
        }
        std::vector<int> used;
        for (const auto& host : all) {
            RC_ASSERT(host->isRight());
            host->run.checkInvariants();
            for (const ViewId id : host->run.recycler().alive()) {
                used.push_back(id.index);
            }
        }
        std::ranges::sort(used);
        RC_ASSERT(std::ranges::adjacent_find(used) == used.end());
        RC_ASSERT(used.size() + views->waiting.size() == views->all.size());
        most = std::max(most, used.size());
    }
    // In a frame one run may hold some while another already asks for more.
    RC_ASSERT(views->all.size() <= most + 12);
}

TEST(SharedViews, ARunThatGoesLeavesThem) {
    auto views = std::make_shared<ItemViews>();
    std::vector<std::int64_t> carried;
    {
        InnerHost first(20, views, carried);
        for (int frame = 0; frame < 9; ++frame) {
            first.run.frame(frame);
        }
        EXPECT_TRUE(views->waiting.empty());
    }
    const std::size_t built = views->all.size();
    EXPECT_EQ(views->waiting.size(), built);
    InnerHost second(20, views, carried);
    for (int frame = 0; frame < 9; ++frame) {
        second.run.frame(frame);
    }
    EXPECT_EQ(views->all.size(), built) << "nothing is built";
}

TEST(Run, StandsAsItDidAtAnotherTime) {
    std::vector<std::int64_t> carried;
    InnerHost host(100, nullptr, carried);
    host.run.wheel(Length::px(1234));
    host.run.frame(1);
    const HoldPoint was = host.run.hold();
    host.run.travelTo({});
    host.run.frame(2);
    EXPECT_NE(host.run.hold(), was);
    host.run.standAt(was);
    host.run.frame(3);
    EXPECT_EQ(host.run.hold(), was);
}

} // namespace
} // namespace scorrere
