// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/engine/fake_pages.h"

#include <gmock/gmock.h>

namespace scorrere {
namespace {

using testing::FakeService;
using ::testing::HasSubstr;
using testing::PagerRig;

PageRules rulesOf(PageStyle style, std::int64_t size = 10) {
    PageRules rules;
    rules.style = style;
    rules.size = size;
    return rules;
}

std::vector<std::string> keysOf(const FakeService& service) {
    std::vector<std::string> keys;
    for (const auto& entry : service.list) {
        keys.push_back(entry.key);
    }
    return keys;
}

/// The latest request that was really made.
const RequestRecord& lastAsked(const Pager& pager) {
    const auto& entries = pager.log().entries();
    return *std::find_if(entries.rbegin(), entries.rend(),
                         [](const RequestRecord& record) { return record.putOff == PutOff::No; });
}

/// What every page style must do, whether the service tells a total or not.
class EveryStyle : public ::testing::TestWithParam<std::tuple<PageStyle, bool>> {
protected:
    FakeService service(int count) {
        return FakeService(std::get<0>(GetParam()), count, std::get<1>(GetParam()));
    }
    PageRules rules() { return rulesOf(std::get<0>(GetParam())); }
};

INSTANTIATE_TEST_SUITE_P(Pager, EveryStyle,
                         ::testing::Combine(::testing::Values(PageStyle::Number, PageStyle::Offset,
                                                              PageStyle::Cursor, PageStyle::Next,
                                                              PageStyle::Link),
                                            ::testing::Bool()));

TEST_P(EveryStyle, ReadsEverythingInOrderAndKnowsTheEnd) {
    FakeService held = service(57);
    PageRules all = rules();
    all.keepPages = 100;
    PagerRig rig(all, held);
    rig.readThrough();
    EXPECT_EQ(rig.keys(), keysOf(held));
    EXPECT_EQ(rig.pager.tail(), TailState::End);
    EXPECT_LE(rig.asked, 6 + (std::get<1>(GetParam()) ? 0 : 1));
    EXPECT_FALSE(rig.twice);
    EXPECT_FALSE(rig.afterEnd);
    EXPECT_EQ(rig.wrong, "");
    EXPECT_TRUE(rig.pager.findings().empty());
}

TEST_P(EveryStyle, AFullLastPageEndsToo) {
    FakeService held = service(30);
    PagerRig rig(rules(), held);
    rig.readThrough();
    EXPECT_EQ(rig.keys(), keysOf(held));
    EXPECT_EQ(rig.pager.tail(), TailState::End);
}

TEST_P(EveryStyle, NothingAtAllIsEmpty) {
    FakeService held = service(0);
    PagerRig rig(rules(), held);
    EXPECT_EQ(rig.pager.tail(), TailState::FirstLoad);
    rig.rest();
    EXPECT_EQ(rig.pager.tail(), TailState::Empty);
    EXPECT_EQ(rig.asked, 1);
}

TEST_P(EveryStyle, KeepsFewPagesAndAsksAgainOnReturn) {
    FakeService held = service(200);
    PageRules few = rules();
    few.keepPages = 4;
    PagerRig rig(few, held);
    rig.readThrough();
    EXPECT_LE(rig.pager.strip().loaded().size(), 4U);
    const std::int64_t places = rig.pager.strip().places();
    EXPECT_EQ(places, 200);
    EXPECT_TRUE(rig.pager.strip().wasDropped(0));
    rig.top = 0;
    rig.rest();
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k0");
    EXPECT_EQ(rig.pager.strip().places(), places); // the strip kept its length
}

TEST_P(EveryStyle, OfWhatIsFarOnlyTheLengthInAllIsRemembered) {
    FakeService held = service(2000);
    PageRules few = rules();
    few.keepPages = 4;
    few.rememberedPlaces = 300;
    PagerRig rig(few, held);
    rig.readThrough();
    const std::set<std::int64_t>& near = rig.pager.strip().remembered();
    EXPECT_LE(std::ssize(near) * few.size, 300 + 300 / 64 + 1);
    EXPECT_GE(rig.far, 1600);
    EXPECT_GT(*near.begin(), 160); // the nearest ones are
    rig.top = 0;
    rig.rest(); // what was far is near again, and the other end is far
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k0");
    EXPECT_EQ(rig.wrong, "");
}

TEST_P(EveryStyle, WhatCameLiveStandsWhereTheServiceHasItAfterARefresh) {
    FakeService held = service(40);
    PageRules all = rules();
    all.keepPages = 100;
    PagerRig rig(all, held);
    rig.rest();
    for (int i = 0; i < 25; ++i) { // more than a page of them
        held.insert(0);
        rig.pager.streamAdded({FakeService::record(held.list.front())});
    }
    rig.pager.showWaiting();
    rig.drain();
    EXPECT_EQ(rig.pager.strip().streamedCount(), 25);
    rig.top = 0;
    rig.pager.refresh(rig.now, RefreshStand::AtTop);
    rig.drain();
    rig.readThrough();
    EXPECT_EQ(rig.keys(), keysOf(held));
    EXPECT_EQ(rig.wrong, "");
}

TEST_P(EveryStyle, WhatCameLiveAfterItWasAskedForStaysOnTop) {
    FakeService held = service(40);
    PagerRig rig(rules(), held);
    rig.rest();
    held.insert(0);
    rig.pager.streamAdded({FakeService::record(held.list.front())});
    rig.pager.showWaiting();
    rig.pager.refresh(rig.now, RefreshStand::WithReader);
    rig.drain();
    const PageCommand asked = rig.open.begin()->second;
    const PageAnswer answer = held.answer(asked, rules().size);
    held.insert(0);
    const auto late = FakeService::record(held.list.front());
    rig.pager.streamAdded({late});
    rig.pager.showWaiting();
    rig.open.erase(asked.request);
    rig.pager.answered(rig.now, asked.request, answer);
    rig.drain();
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, late.key);
    EXPECT_EQ(rig.pager.strip().streamedCount(), 1);
    EXPECT_EQ(rig.wrong, "");
}

TEST_P(EveryStyle, OfVeryManyThatCameLiveTheNewestWaitAndShowingThemIsARefresh) {
    FakeService held = service(40);
    PagerRig rig(rules(), held);
    rig.rest();
    for (int i = 0; i < 1200; ++i) {
        held.insert(0);
        rig.pager.streamAdded({FakeService::record(held.list.front())});
    }
    EXPECT_EQ(rig.pager.waitingCount(), 1200U);
    rig.pager.showWaiting();
    rig.drain();
    EXPECT_TRUE(rig.pager.isRefreshing());
    rig.rest();
    EXPECT_EQ(rig.pager.waitingCount(), 0U);
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, held.list.front().key);
    EXPECT_EQ(rig.wrong, "");
}

TEST_P(EveryStyle, InsertedRecordsComeOnceAndNoneIsLost) {
    FakeService held = service(40);
    PageRules all = rules();
    all.keepPages = 100;
    PagerRig rig(all, held);
    rig.rest();
    for (int i = 0; i < 3; ++i) {
        held.insert(0);
    }
    rig.readThrough();
    rig.pager.refresh(rig.now, RefreshStand::AtTop);
    rig.drain();
    rig.readThrough();
    EXPECT_EQ(rig.keys(), keysOf(held));
    EXPECT_EQ(rig.wrong, "");
}

TEST_P(EveryStyle, OldRecordsStayUntilTheRefreshIsHere) {
    FakeService held = service(40);
    PagerRig rig(rules(), held);
    rig.rest();
    rig.pager.refresh(rig.now, RefreshStand::AtTop);
    rig.drain();
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k0");
    EXPECT_TRUE(rig.pager.isRefreshing());
    held.insert(0);
    rig.calm();
    EXPECT_FALSE(rig.pager.isRefreshing());
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k40");
    EXPECT_EQ(rig.pager.generation(), 2);
}

TEST_P(EveryStyle, AnAnswerOfAnOldGenerationChangesNothing) {
    FakeService held = service(40);
    PagerRig rig(rules(), held);
    rig.calm();
    rig.top = 8;
    rig.look(100);
    ASSERT_FALSE(rig.open.empty());
    const auto [request, command] = *rig.open.begin();
    PageAnswer late = held.answer(command, 10);
    rig.pager.refresh(rig.now, RefreshStand::AtTop);
    rig.drain();
    EXPECT_TRUE(rig.cancelled.contains(request));
    const auto before = rig.keys();
    late.records.front().key = "late";
    rig.pager.answered(rig.now, request, late);
    rig.drain();
    EXPECT_EQ(rig.keys(), before);
}

TEST_P(EveryStyle, AnotherQueryWaitsThenReplacesEverything) {
    FakeService held = service(40);
    PagerRig rig(rules(), held);
    rig.rest();
    const int before = rig.asked;
    rig.pager.requery(rig.now);
    rig.now += 100;
    rig.pager.requery(rig.now); // still being typed
    rig.now += 200;
    rig.look();
    EXPECT_EQ(rig.asked, before);
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k0"); // the old ones stay until the new ones are here
    held.list.erase(held.list.begin(), held.list.begin() + 25);
    rig.now += 60;
    rig.rest();
    rig.readThrough();
    EXPECT_EQ(rig.keys(), keysOf(held));
    EXPECT_EQ(lastAsked(rig.pager).generation, 2);
}

TEST_P(EveryStyle, AnotherQueryThatFailsSaysSoAndIsAskedAgainWhenTold) {
    FakeService held = service(40);
    PagerRig rig(rules(), held);
    rig.rest();
    rig.pager.requery(rig.now);
    rig.now += 300;
    rig.look();
    ASSERT_EQ(rig.open.size(), 1U);
    rig.fail(rig.open.begin()->first, PageFailure::Kind::Lasting);
    EXPECT_EQ(rig.pager.tail(), TailState::FirstFailed);
    EXPECT_EQ(rig.pager.failure().message, "it failed");
    EXPECT_EQ(rig.pager.strip().places(), 0); // what belonged to the other query does not stand for this one
    rig.now += 100'000;
    rig.look();
    EXPECT_TRUE(rig.open.empty()); // asking again by itself would bring the same
    rig.pager.retry(rig.now);
    rig.drain();
    rig.rest();
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k0");
    EXPECT_EQ(rig.pager.generation(), 2);
    EXPECT_EQ(rig.wrong, "");
}

TEST_P(EveryStyle, AServiceThatSaysTheSameForEverIsStopped) {
    FakeService held = service(10);
    held.saysTheSame = true;
    held.tellsTotal = false;
    PagerRig rig(rules(), held);
    if (isPositional(held.style)) {
        rig.readThrough();
        ASSERT_EQ(rig.pager.findings().size(), 2U); // it looked like a changed order first
        EXPECT_EQ(rig.pager.findings().back().kind, PageFinding::Kind::SamePage);
        EXPECT_EQ(rig.keys().size(), 10U);
        EXPECT_EQ(rig.pager.tail(), TailState::End);
        EXPECT_LE(rig.asked, 5);
    } else {
        // A chain whose page says that it follows itself.
        rig.deliver(rig.open.begin()->first);
        for (int i = 0; i < 6 && rig.pager.tail() != TailState::End; ++i) {
            rig.top = 100;
            rig.look();
            if (!rig.open.empty()) {
                const auto [request, command] = *rig.open.begin();
                PageAnswer answer = held.answer(command, 10);
                answer.next = ">1";
                rig.open.erase(request);
                rig.pager.answered(rig.now, request, answer);
                rig.drain();
            }
        }
        EXPECT_EQ(rig.pager.tail(), TailState::End);
    }
}

TEST(Pager, ASharedLeadAsksInScreensAndInTime) {
    FakeService service(PageStyle::Number, 1000, false);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.deliver(rig.open.begin()->first);
    rig.look(); // 6 show, 9 more are the lead: 10 are here
    ASSERT_EQ(rig.open.size(), 1U);
    EXPECT_EQ(rig.open.begin()->second.page, 1);
    rig.deliver(rig.open.begin()->first);
    rig.look();
    EXPECT_TRUE(rig.open.empty());
    rig.look(60); // 36 places a lead time: three pages more than are here
    EXPECT_EQ(rig.open.size(), 3U);
    EXPECT_THAT(reasonText(lastAsked(rig.pager)), HasSubstr("screens ahead of the end"));
}

TEST(Pager, ANearerPageComesFirstAndOneLeftBehindIsCancelled) {
    FakeService service(PageStyle::Offset, 1000);
    PageRules rules = rulesOf(PageStyle::Offset);
    rules.atOnce = 2;
    PagerRig rig(rules, service);
    rig.calm();
    EXPECT_EQ(rig.pager.strip().places(), 1000);
    rig.top = 500;
    rig.look();
    ASSERT_EQ(rig.open.size(), 2U);
    EXPECT_EQ(rig.open.begin()->second.page, 50);
    EXPECT_EQ(rig.open.begin()->second.from, 500);
    rig.top = 0;
    rig.look();
    EXPECT_TRUE(rig.open.empty());
    EXPECT_EQ(lastAsked(rig.pager).outcome, AskOutcome::Cancelled);
}

TEST(Pager, HeldBackRequestsSayWhyOnce) {
    FakeService service(PageStyle::Cursor, 1000);
    PagerRig rig(rulesOf(PageStyle::Cursor), service);
    rig.deliver(rig.open.begin()->first);
    for (int i = 0; i < 20; ++i) {
        rig.look();
    }
    const auto& entries = rig.pager.log().entries();
    ASSERT_EQ(entries.size(), 3U);
    EXPECT_EQ(entries[2].putOff, PutOff::AlreadyInFlight);
    EXPECT_EQ(reasonText(entries[2]), "already in flight");
}

TEST(Pager, AFailedPageIsAGapThatCanBeAskedForAgain) {
    FakeService service(PageStyle::Number, 200);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.calm();
    rig.top = 60;
    for (int i = 0; i < 40 && rig.pager.stateOfPage(6) != PlaceState::Failed; ++i) {
        rig.look();
        for (const auto& [request, command] : std::map(rig.open)) {
            command.page == 6 ? rig.fail(request, PageFailure::Kind::Passing) : rig.deliver(request);
        }
        rig.now = rig.pager.wakeAtMs().value_or(rig.now);
    }
    EXPECT_EQ(rig.pager.stateOfPage(6), PlaceState::Failed);
    EXPECT_EQ(rig.pager.stateOfPage(7), PlaceState::Loaded); // those after it came
    EXPECT_EQ(rig.pager.strip().countOf(6), 10);
    EXPECT_EQ(rig.pager.tail(), TailState::End);
    rig.rest();
    EXPECT_EQ(rig.pager.stateOfPage(6), PlaceState::Failed); // nobody asks while it stays in sight
    rig.top = 0;
    rig.rest();
    rig.top = 60;
    rig.rest();
    EXPECT_EQ(rig.pager.stateOfPage(6), PlaceState::Loaded);
}

TEST(Pager, TheTailSaysFailedAndTriesAgainWhenTold) {
    FakeService service(PageStyle::Next, 100);
    PagerRig rig(rulesOf(PageStyle::Next), service);
    rig.deliver(rig.open.begin()->first);
    rig.look();
    EXPECT_EQ(rig.pager.tail(), TailState::Loading);
    rig.fail(rig.open.begin()->first, PageFailure::Kind::Lasting);
    EXPECT_EQ(rig.pager.tail(), TailState::Failed);
    EXPECT_EQ(rig.pager.failure().message, "it failed");
    rig.look();
    EXPECT_TRUE(rig.open.empty());
    rig.pager.retry(rig.now);
    rig.drain();
    EXPECT_EQ(rig.pager.tail(), TailState::Loading);
    rig.deliver(rig.open.begin()->first);
    EXPECT_EQ(rig.pager.strip().places(), 20);
}

TEST(Pager, AFirstLoadThatFailsSaysSoAndRetryAfterIsHonoured) {
    FakeService service(PageStyle::Number, 100);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.now += 160;
    rig.look();
    EXPECT_EQ(rig.pager.strip().places(), 10); // placeholders
    rig.fail(rig.open.begin()->first, PageFailure::Kind::Passing, 5000);
    EXPECT_EQ(rig.pager.tail(), TailState::FirstLoad);
    rig.now += 4999;
    rig.look();
    EXPECT_TRUE(rig.open.empty());
    ASSERT_TRUE(rig.pager.wakeAtMs());
    EXPECT_GE(*rig.pager.wakeAtMs(), rig.now + 1);
    rig.now = *rig.pager.wakeAtMs();
    rig.look();
    ASSERT_EQ(rig.open.size(), 1U);
    rig.fail(rig.open.begin()->first, PageFailure::Kind::Lasting);
    EXPECT_EQ(rig.pager.tail(), TailState::FirstFailed);
    EXPECT_EQ(rig.pager.strip().places(), 0);
}

TEST(Pager, PlaceholdersNeverFlash) {
    FakeService service(PageStyle::Number, 100);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.now += 149;
    rig.look();
    EXPECT_EQ(rig.pager.strip().places(), 0);
    EXPECT_EQ(rig.pager.wakeAtMs(), rig.now + 1);
    rig.deliver(rig.open.begin()->first);
    EXPECT_EQ(rig.pager.strip().places(), 100);
}

TEST(Pager, OfflineProbesAloneAndRecoversAtOnce) {
    FakeService service(PageStyle::Number, 1000);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.calm();
    rig.top = 300;
    rig.look();
    for (const auto& [request, command] : std::map(rig.open)) {
        rig.fail(request, PageFailure::Kind::Offline);
    }
    EXPECT_TRUE(rig.pager.isOffline());
    EXPECT_TRUE(rig.open.empty());
    rig.now = *rig.pager.wakeAtMs();
    rig.look();
    ASSERT_EQ(rig.open.size(), 1U); // one call finds out
    rig.deliver(rig.open.begin()->first);
    EXPECT_FALSE(rig.pager.isOffline());
    EXPECT_FALSE(rig.open.empty()); // and the others follow without waiting
}

TEST(Pager, UnchangedPagesCostNothing) {
    FakeService service(PageStyle::Number, 100);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.rest();
    const auto before = rig.keys();
    rig.pager.refresh(rig.now, RefreshStand::WithReader);
    rig.drain();
    while (!rig.open.empty()) {
        const auto [request, command] = *rig.open.begin();
        EXPECT_TRUE(command.conditional);
        rig.open.erase(request);
        PageAnswer same;
        same.unchanged = true;
        rig.pager.answered(rig.now, request, same);
        rig.drain();
    }
    EXPECT_EQ(rig.keys(), before);
    EXPECT_EQ(outcomeText(lastAsked(rig.pager)), "nothing changed");
}

TEST(Pager, StaysWithTheReaderByKeyThroughARefresh) {
    FakeService service(PageStyle::Number, 100);
    PageRules rules = rulesOf(PageStyle::Number);
    PagerRig rig(rules, service);
    rig.rest();
    rig.top = 32;
    rig.rest();
    const std::string reading = rig.pager.strip().recordAt(32)->key;
    for (int i = 0; i < 3; ++i) {
        service.insert(0);
    }
    rig.pager.refresh(rig.now, RefreshStand::WithReader);
    rig.drain();
    rig.rest();
    EXPECT_TRUE(rig.pager.strip().placeOfKey(reading));
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k102");
    rig.readThrough();
    EXPECT_EQ(rig.pager.strip().placeOfKey(reading), 35);
    EXPECT_EQ(rig.wrong, "");
}

TEST(Pager, OpensAtARecordAndLoadsWhatIsBeforeIt) {
    FakeService service(PageStyle::Offset, 1000, false);
    PageRules rules = rulesOf(PageStyle::Offset);
    rules.firstRecord = 503;
    PagerRig rig(rules, service);
    rig.calm();
    EXPECT_EQ(rig.top, 503);
    EXPECT_EQ(rig.pager.strip().recordAt(503)->key, "k503");
    EXPECT_EQ(rig.pager.strip().recordAt(497)->key, "k497");
    EXPECT_EQ(rig.pager.stateOfPage(3), PlaceState::Unasked);
}

TEST(Pager, AChainOpenedInTheMiddleGoesBothWays) {
    FakeService service(PageStyle::Cursor, 100);
    PagerRig rig(rulesOf(PageStyle::Cursor), service);
    // The address itself may hold a cursor: the first page is not the first one then.
    const auto [request, command] = *rig.open.begin();
    PageCommand middle = command;
    middle.token = fmt::format(">{}", service.list[49].rank);
    rig.open.clear();
    rig.pager.answered(rig.now, request, service.answer(middle, 10));
    rig.drain();
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k50");
    for (int i = 0; i < 30; ++i) {
        rig.top = 0;
        rig.calm();
    }
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k0");
    EXPECT_EQ(rig.pager.strip().firstPage(), -5);
    EXPECT_EQ(rig.wrong, "");
}

TEST(Pager, AServiceThatGivesFewerThanAskedIsReadWhole) {
    FakeService service(PageStyle::Offset, 100);
    service.most = 7;
    PagerRig rig(rulesOf(PageStyle::Offset), service);
    rig.readThrough();
    EXPECT_EQ(rig.seen.size(), 100U);
    ASSERT_EQ(rig.pager.findings().size(), 1U);
    EXPECT_EQ(rig.pager.findings()[0].text, "10 records were asked for, and a page has 7");
}

TEST(Pager, APageThatIsNotThereIsTheEnd) {
    FakeService service(PageStyle::Number, 20, false);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.deliver(rig.open.begin()->first);
    rig.top = 9;
    rig.look();
    rig.deliver(rig.open.begin()->first);
    rig.top = 19;
    rig.look();
    ASSERT_EQ(rig.open.begin()->second.page, 2);
    while (!rig.open.empty()) {
        rig.fail(rig.open.begin()->first, PageFailure::Kind::NoSuch);
    }
    EXPECT_EQ(rig.pager.tail(), TailState::End);
    EXPECT_EQ(rig.pager.strip().places(), 20);
}

TEST(Pager, StoppedItAsksForNothingAndGoesOnWhereItWas) {
    FakeService service(PageStyle::Number, 1000);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.calm();
    rig.top = 400;
    rig.look();
    EXPECT_FALSE(rig.open.empty());
    rig.pager.stop();
    rig.drain();
    EXPECT_TRUE(rig.open.empty());
    rig.look();
    EXPECT_TRUE(rig.open.empty());
    EXPECT_FALSE(rig.pager.wakeAtMs());
    rig.pager.start(rig.now);
    rig.calm();
    EXPECT_EQ(rig.pager.strip().recordAt(400)->key, "k400");
}

TEST(Pager, WhatComesLiveWaitsAboveTheReader) {
    FakeService service(PageStyle::Number, 100);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    rig.calm();
    rig.pager.streamAdded({{"new1", 1, nullptr, 0}});
    rig.pager.streamAdded({{"new2", 1, nullptr, 0}, {"k3", 9, nullptr, 0}});
    rig.drain();
    EXPECT_EQ(rig.pager.waitingCount(), 2U);
    EXPECT_EQ(rig.pager.strip().places(), 100);
    EXPECT_EQ(rig.pager.strip().find("k3")->content, 9U); // known: it changed where it stands
    rig.pager.showWaiting();
    rig.drain();
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "new2");
    EXPECT_EQ(rig.pager.strip().recordAt(1)->key, "new1");
    rig.pager.streamRemoved("new1");
    rig.drain();
    EXPECT_EQ(rig.pager.strip().places(), 101);
    EXPECT_EQ(rig.wrong, "");
}

TEST(Pager, WhatWasKeptOnDiskShowsUntilTheServiceAnswers) {
    FakeService service(PageStyle::Number, 100);
    PagerRig rig(rulesOf(PageStyle::Number), service);
    const auto [request, command] = *rig.open.begin();
    PageAnswer kept = service.answer(command, 10);
    kept.fromDisk = true;
    rig.pager.answered(rig.now, request, kept);
    rig.drain();
    EXPECT_TRUE(rig.pager.isFromDisk());
    EXPECT_EQ(rig.pager.stateOfPage(0), PlaceState::InFlight);
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k0");
    rig.fail(request, PageFailure::Kind::Offline);
    EXPECT_TRUE(rig.pager.isFromDisk());
    EXPECT_EQ(rig.pager.strip().recordAt(0)->key, "k0");
    rig.now += 60'000;
    service.list.front().version = 2;
    rig.rest();
    EXPECT_FALSE(rig.pager.isFromDisk());
    EXPECT_EQ(rig.pager.strip().recordAt(0)->content, 2U);
}

TEST(Pager, AKeyThatAPageHasTwiceStandsOnceWithTheLaterValue) {
    FakeService service(PageStyle::Cursor, 5);
    service.list[3].key = "k1";
    service.list[3].version = 7;
    PagerRig rig(rulesOf(PageStyle::Cursor), service);
    rig.rest();
    EXPECT_EQ(rig.keys(), (std::vector<std::string>{"k0", "k2", "k1", "k4"}));
    EXPECT_EQ(rig.pager.strip().find("k1")->content, 7U);
    EXPECT_EQ(rig.pager.findings().front().kind, PageFinding::Kind::Twice);
}

TEST(Pager, BytesLimitWhatIsKept) {
    FakeService service(PageStyle::Number, 500);
    PageRules rules = rulesOf(PageStyle::Number);
    rules.keepPages = 50;
    rules.keepBytes = 5000;
    PagerRig rig(rules, service);
    for (rig.top = 0; rig.top < 490; rig.top += 5) {
        rig.look();
        while (!rig.open.empty()) {
            const auto [request, command] = *rig.open.begin();
            rig.open.erase(request);
            PageAnswer answer = service.answer(command, 10);
            answer.bytes = 1000;
            rig.pager.answered(rig.now, request, answer);
            rig.drain();
        }
    }
    EXPECT_LE(rig.pager.strip().loadedBytes(), 5000);
    EXPECT_GE(rig.pager.strip().loadedBytes(), 3000);
}

} // namespace
} // namespace scorrere
