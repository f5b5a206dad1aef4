// SPDX-License-Identifier: GPL-3.0-or-later
// What hands do in a collection that runs: taps, swipes, lifting, selection, keys, a record at length.
#include "engine/record/record_builder.h"
#include "render/live_collection.h"
#include "render/scroll_input.h"
#include "testing/program/settled.h"

#include <QPainter>
#include <QSignalSpy>
#include <QTest>
#include <algorithm>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <random>

namespace scorrere::render {
namespace {

using ::testing::ElementsAre;
using Reach = LiveHands::Reach;
using Step = LiveHands::Step;

std::shared_ptr<const RecordTable> named(std::int64_t count) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        builder.setText(builder.fieldNamed("name"),
                        (i % 3 == 0 ? "Ärgo " : "bird ") + std::to_string(i) +
                            std::string(static_cast<std::size_t>(i * 31 % 90), 'm'));
        builder.setInteger(builder.fieldNamed("id"), i + 1);
        builder.setInteger(builder.fieldNamed("group"), i / 40);
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

constexpr const char* kItem =
    R"({"row": [{"column": [{"text": "{name}", "lines": 0},
          {"text": "chosen", "hide": "$.state.selected == false"},
          {"badge": "b", "tone": [{"tone": "good", "when": "$.state.pressed"}, {"tone": "note"}]}], "grow": 1},
        {"text": "=", "width": 40, "height": 40, "tap": "lift"}], "padding": [6, 10]})";
constexpr const char* kPlain = R"({"text": "{name}", "height": 70, "padding": 8})";
constexpr const char* kUsualHands = R"("hands": {"select": "many"})";

CollectionDocument handled(const std::string& hands, const std::string& arrangement = R"({"list": {}})",
                           const char* item = kItem) {
    auto document = CollectionDocument::parse(
        R"({"scorrere": 1, "source": {"demo": {}, "key": ["id"]}, "items": {"record": )" + std::string(item) +
            R"(, "detail": {"column": [{"text": "{name}", "size": 30, "lines": 0}, {"text": "more", "height": 2000}]}},
            "arrangement": )" +
            arrangement + ", " + hands + "}",
        "");
    EXPECT_TRUE(document) << document.error().text();
    return *document;
}

class Handled : public testing::Settled {
public:
    explicit Handled(const std::string& hands, std::int64_t count = 400,
                     const std::string& arrangement = R"({"list": {}})", double width = 360,
                     const char* design = kItem)
        : Settled(handled(hands, arrangement, design), named(count), Estimating::AtOnce, width) {
        QObject::connect(&live->hands(), &LiveHands::tapped,
                         [this](QPointF at, Reach reach) { live->hands().tapItem(at, reach); });
        QObject::connect(&live->hands(), &LiveHands::acted,
                         [this](const QString& action, const HandItem& item) {
                             acts.push_back(action.toStdString() + " " + item.key);
                         });
        settle();
    }
    LiveHands& hands() { return live->hands(); }
    /// The same without waiting for workers, of which there are none here.
    void rest() {
        for (int i = 0; i < 5000; ++i) {
            live->frame(now += 8333);
            if (live->isIdle()) {
                return;
            }
        }
        ADD_FAILURE() << "it never comes to rest";
    }
    void frames(int count) {
        for (int i = 0; i < count; ++i) {
            live->frame(now += 8333);
        }
    }
    /// The middle of where a record's item shows.
    QPointF middleOf(std::int64_t place) {
        for (const Placement& placement : live->run().placements()) {
            if (placement.showing && live->run().arrangement().slotAt(placement.position).place == place) {
                return live->axis().onScreen(placement.box).center();
            }
        }
        ADD_FAILURE() << place << " does not show";
        return {};
    }
    QPointF handleOf(std::int64_t place) {
        const auto at = hands().pointOf(hands().keyAt(place), true);
        EXPECT_TRUE(at) << place << " does not show";
        return at.value_or(QPointF());
    }
    void tap(std::int64_t place, Reach reach = Reach::Alone) {
        live->press(now, middleOf(place), reach);
        frames(2);
        live->release(now);
        rest();
    }
    /// From a point by so much, in so many frames, let go or not.
    void drag(QPointF from, QPointF by, int steps = 10, bool letGo = true) {
        live->press(now, from);
        for (int i = 1; i <= steps; ++i) {
            frames(1);
            live->move(now, from + by * i / steps);
        }
        frames(1);
        if (letGo) {
            frames(12); // it stands still
            live->release(now);
            rest();
        }
    }
    bool isSelected(std::int64_t record) {
        return hands().selection().has({std::to_string(record + 1), record});
    }
    QImage picture() {
        QImage screen(live->whole().toSize(), QImage::Format_ARGB32_Premultiplied);
        QPainter painter(&screen);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::TextAntialiasing);
        live->paintWindow(painter, ItemColours::light(), 1);
        return screen;
    }
    /// Where two pictures differ.
    static QRect differing(const QImage& one, const QImage& other) {
        QRect all;
        for (int y = 0; y < one.height(); ++y) {
            for (int x = 0; x < one.width(); ++x) {
                all = one.pixel(x, y) != other.pixel(x, y) ? all.united(QRect(x, y, 1, 1)) : all;
            }
        }
        return all;
    }
    QRect boxOf(std::int64_t place) {
        for (const Placement& placement : live->run().placements()) {
            if (live->run().arrangement().slotAt(placement.position).place == place) {
                return live->axis().onScreen(placement.box).toAlignedRect().adjusted(-8, -8, 8, 8);
            }
        }
        return {};
    }
    std::int64_t shownFirst() {
        for (const Placement& placement : live->run().placements()) {
            if (placement.showing) {
                return live->run().arrangement().slotAt(placement.position).place;
            }
        }
        return -1;
    }
    std::vector<std::int64_t> order(std::int64_t count) {
        std::vector<std::int64_t> records;
        for (std::int64_t place = 0; place < count; ++place) {
            records.push_back(live->contextAt(place)->record);
        }
        return records;
    }
    std::vector<std::string> acts;
};

TEST(LiveHands, TapsSelectWithCtrlMoreAndWithShiftARange) {
    Handled shown(kUsualHands);
    shown.tap(2);
    shown.tap(4);
    EXPECT_FALSE(shown.isSelected(2)) << "each by itself";
    EXPECT_TRUE(shown.isSelected(4));
    shown.tap(2, Reach::More);
    EXPECT_TRUE(shown.isSelected(4) && shown.isSelected(2));
    shown.tap(6, Reach::Range);
    for (std::int64_t record = 0; record < 10; ++record) {
        EXPECT_EQ(shown.isSelected(record), record >= 2 && record <= 6) << record;
    }
    shown.tap(1, Reach::Range);
    EXPECT_TRUE(shown.isSelected(1) && shown.isSelected(2) && !shown.isSelected(3)) << "the anchor stays";
    shown.hands().selectAll();
    shown.tap(3, Reach::More);
    EXPECT_EQ(shown.hands().selectedCount(), 399);
}

TEST(LiveHands, WhatIsSelectedStaysSoWhereOthersAreFilteredAndSorted) {
    Handled shown(kUsualHands);
    shown.tap(2);
    OrderSpec order;
    order.where = "@.group == 0";
    order.by = {{"id", true, false}};
    shown.live->setOrder(order);
    shown.rest();
    EXPECT_TRUE(shown.isSelected(2));
    shown.hands().selectAll();
    EXPECT_EQ(shown.hands().selectedCount(), 40) << "all that show";
    shown.live->setOrder({});
    shown.rest();
    EXPECT_TRUE(shown.isSelected(39) && !shown.isSelected(40));
    shown.hands().selection().invert();
    EXPECT_EQ(shown.hands().selectedCount(), 360);
}

/// What is so of an item is never passed on by the view that carried it: each view says what is so of what it carries now.
TEST(LiveHands, StateStaysWithTheKeyWhateverViewsCarry) {
    Handled shown(kUsualHands, 2000);
    std::mt19937 random(11);
    int chosen = 0;
    for (int round = 0; round < 300; ++round) {
        const std::int64_t first = shown.shownFirst() + 1;
        switch (random() % 4) {
        case 0:
            shown.tap(first + 1, Reach::More);
            break;
        case 1:
            shown.live->run().wheel(Length::px(static_cast<std::int64_t>(random() % 3000) - 1000));
            shown.rest();
            break;
        case 2:
            shown.live->run().jumpTo(static_cast<std::int64_t>(random() % 2000));
            shown.rest();
            break;
        default:
            (void)shown.hands().focusStep(Step::On, shown.now);
            shown.rest();
        }
        for (const ViewId id : shown.live->run().recycler().alive()) {
            const std::int64_t position = shown.live->run().recycler().view(id).position;
            const HandItem item = shown.hands().itemOf(position);
            const ItemContent& content = shown.live->view(id).content();
            const bool is = shown.hands().selection().has(item.selectable());
            chosen += is ? 1 : 0;
            ASSERT_EQ(content.hidden[3] == 0, is) << "round " << round << ", record " << item.record;
        }
    }
    EXPECT_GT(chosen, 50) << "hardly anything was selected";
}

TEST(LiveHands, APressTonesOnlyItsViewAndIsGoneWithTheScroll) {
    Handled shown(kUsualHands);
    const auto toneOf = [&](std::int64_t place) {
        for (const ViewId id : shown.live->run().recycler().alive()) {
            if (shown.hands().itemOf(shown.live->run().recycler().view(id).position).place == place) {
                return shown.live->view(id).content().tones[4];
            }
        }
        return Tone::Bad;
    };
    shown.live->press(shown.now, shown.middleOf(3));
    EXPECT_EQ(toneOf(3), Tone::Good);
    EXPECT_EQ(toneOf(4), Tone::Note);
    shown.live->move(shown.now += 8000, shown.middleOf(3) + QPointF(0, -40));
    EXPECT_EQ(toneOf(3), Tone::Note) << "the strip has it";
    shown.live->release(shown.now);
}

constexpr const char* kSwiped =
    R"("hands": {"tap": "open", "doubleTap": "twice", "press": "long", "swipe": {"atStart": ["like"], "atEnd": ["remove", "copy"]}})";

TEST(LiveHands, ASwipeUncoversActionsThatATapDoesAndPulledFarTheFirstIsDone) {
    Handled shown(kSwiped);
    shown.drag(shown.middleOf(3), {-120, 3});
    EXPECT_EQ(shown.hands().states().whose(ItemFlag::Open), "4");
    ASSERT_TRUE(shown.hands().aside());
    EXPECT_EQ(shown.hands().aside()->offset, Length::px(-168));
    EXPECT_THAT(shown.hands().aside()->actions, ElementsAre("remove", "copy"));
    const double y = shown.middleOf(3).y();
    shown.live->press(shown.now, {360 - 120, y}); // the second one from its edge
    shown.live->release(shown.now += 8000);
    shown.frames(90); // no second tap comes
    EXPECT_THAT(shown.acts, ElementsAre("copy 4"));
    EXPECT_FALSE(shown.hands().aside()) << "and it closes";
    shown.drag(shown.middleOf(2), {230, 0}, 20);
    EXPECT_THAT(shown.acts, ElementsAre("copy 4", "like 3"));
    shown.drag(shown.middleOf(3), {20, 0});
    EXPECT_EQ(shown.acts.size(), 2U) << "back, before half of it";
    shown.drag(shown.middleOf(3), {-120, 0});
    shown.live->run().wheel(Length::px(40));
    shown.rest();
    EXPECT_FALSE(shown.hands().aside()) << "closed by scrolling";
    const auto& entries = shown.hands().log().entries();
    std::vector<GestureEntry::Kind> kinds;
    std::ranges::transform(entries, std::back_inserter(kinds), &GestureEntry::kind);
    using What = GestureEntry::Kind;
    EXPECT_THAT(kinds, ElementsAre(What::Aside, What::Tap, What::Pulled, What::Back, What::Aside));
}

TEST(LiveHands, ADragAlongTheStripIsNoSwipe) {
    Handled shown(kSwiped);
    const Length before = shown.live->run().offset();
    shown.drag(shown.middleOf(6), {20, -160});
    EXPECT_FALSE(shown.hands().aside());
    EXPECT_GT(shown.live->run().offset(), before);
    EXPECT_TRUE(shown.acts.empty());
}

TEST(LiveHands, TapsDoubleTapsAndLongPressesAreToldApart) {
    Handled shown(kSwiped);
    const QPointF at = shown.middleOf(2);
    shown.live->press(shown.now, at);
    shown.frames(3);
    shown.live->release(shown.now);
    shown.frames(5);
    EXPECT_TRUE(shown.acts.empty()) << "another may come";
    shown.frames(60);
    EXPECT_THAT(shown.acts, ElementsAre("open 3"));
    for (int i = 0; i < 2; ++i) {
        shown.live->press(shown.now, at);
        shown.frames(3);
        shown.live->release(shown.now);
        shown.frames(3);
    }
    shown.frames(60);
    EXPECT_THAT(shown.acts, ElementsAre("open 3", "twice 3"));
    shown.live->press(shown.now, at);
    shown.frames(80);
    EXPECT_THAT(shown.acts, ElementsAre("open 3", "twice 3", "long 3"));
    shown.live->release(shown.now);
    shown.frames(60);
    EXPECT_EQ(shown.acts.size(), 3U) << "it is no tap, too";
    shown.live->run().motion().fling(3000, shown.now);
    shown.frames(4);
    shown.live->press(shown.now, at);
    shown.live->release(shown.now += 8000);
    shown.rest();
    EXPECT_EQ(shown.acts.size(), 3U) << "it stopped what flew";
}

constexpr const char* kLifted = R"("hands": {"lift": "handle"})";

TEST(LiveHands, LiftedByItsHandleOthersMakeRoomAndItIsSetDownBetweenThem) {
    Handled shown(kLifted);
    std::int64_t set = -1;
    QObject::connect(&shown.hands(), &LiveHands::setDownAt, [&](const HandItem& item) { set = item.place; });
    const QPointF to = shown.middleOf(5) + QPointF(0, 10);
    const QPointF from = shown.handleOf(2);
    shown.live->press(shown.now, from);
    EXPECT_EQ(shown.hands().states().whose(ItemFlag::Lifted), "3");
    for (int i = 1; i <= 30; ++i) {
        shown.live->move(shown.now, from + QPointF(0, (to.y() - from.y()) * i / 30));
        shown.frames(2);
        ASSERT_EQ(shown.live->run().trace().at(shown.live->run().trace().size() - 1).jump, Length{});
    }
    shown.frames(40);
    const std::int64_t stands = shown.hands().lifted()->place;
    EXPECT_GE(stands, 4);
    shown.live->release(shown.now);
    shown.rest();
    EXPECT_EQ(set, stands);
    const auto order = shown.order(10);
    EXPECT_EQ(order[static_cast<std::size_t>(stands)], 2);
    EXPECT_EQ(order[2], 3) << "the others made room";
    EXPECT_TRUE(shown.hands().states().whose(ItemFlag::Lifted).empty());
}

TEST(LiveHands, CancelledItIsWhereItWasAndWhereItCannotBeLiftedThatIsSaid) {
    Handled shown(kLifted);
    shown.drag(shown.handleOf(1), {0, 200}, 20, false);
    ASSERT_TRUE(shown.hands().lifted());
    EXPECT_NE(shown.hands().lifted()->place, 1);
    shown.hands().cancel(shown.now);
    shown.rest();
    EXPECT_THAT(shown.order(6), ElementsAre(0, 1, 2, 3, 4, 5));
    OrderSpec sorted;
    sorted.by = {{"name", false, false}};
    shown.live->setOrder(sorted);
    shown.rest();
    EXPECT_FALSE(shown.hands().liftProblem().isEmpty());
    shown.drag(shown.handleOf(2), {0, 150}, 10, false);
    EXPECT_FALSE(shown.hands().lifted());
    shown.live->release(shown.now);
}

TEST(LiveHands, HeldAtTheEdgeTheStripGoesOnAndWhatIsReadIsNotTornApart) {
    Handled shown(kLifted, 5000);
    shown.live->run().jumpTo(100);
    shown.rest();
    const std::int64_t lifted = shown.shownFirst() + 2;
    const QPointF from = shown.handleOf(lifted);
    shown.live->press(shown.now, from);
    for (int i = 1; i <= 20; ++i) {
        shown.live->move(shown.now, from + QPointF(0, (690 - from.y()) * i / 20));
        shown.frames(1);
    }
    for (int i = 0; i < 400; ++i) {
        shown.frames(1);
        ASSERT_EQ(shown.live->run().trace().at(shown.live->run().trace().size() - 1).jump, Length{}) << i;
        ASSERT_NO_FATAL_FAILURE(shown.live->run().checkInvariants());
        ASSERT_TRUE(shown.hands().lifted());
    }
    const std::int64_t place = shown.hands().lifted()->place;
    EXPECT_GT(place, lifted + 60) << "it went a long way";
    shown.live->release(shown.now);
    shown.rest();
    EXPECT_EQ(shown.live->contextAt(place)->record, lifted);
    EXPECT_EQ(shown.live->contextAt(lifted)->record, lifted + 1);
}

TEST(LiveHands, WithinItsSectionOnly) {
    Handled shown(kLifted, 400, R"({"list": {"sections": {"by": "{group}", "stay": true}}})");
    shown.live->run().jumpTo(shown.live->run().arrangement().positionOf(36));
    shown.rest();
    shown.drag(shown.handleOf(37), {0, 500}, 30, false);
    ASSERT_TRUE(shown.hands().lifted());
    EXPECT_LE(shown.hands().lifted()->place, 39);
    shown.live->release(shown.now);
    shown.rest();
}

TEST(LiveHands, WhereTheDocumentAllowsItIsSetDownInAnotherSectionAndTakesOverWhatThatIsToldBy) {
    Handled shown(R"("hands": {"lift": "handle", "liftTo": "anywhere"})", 400,
                  R"({"list": {"sections": {"by": "{group}", "stay": true}}})");
    shown.live->run().jumpTo(shown.live->run().arrangement().positionOf(36));
    shown.rest();
    std::int64_t set = -1;
    std::vector<std::pair<std::string, std::string>> said;
    QObject::connect(&shown.hands(), &LiveHands::setDownAt, [&](const HandItem& item, const auto& takesOver) {
        set = item.place;
        said = takesOver;
    });
    const auto countOf = [&](std::int64_t section) { return shown.live->sections()->at(section).records; };
    shown.drag(shown.handleOf(37), {0, 400}, 60, false);
    ASSERT_TRUE(shown.hands().lifted());
    EXPECT_GE(shown.hands().lifted()->place, 39);
    EXPECT_EQ(shown.live->sections()->ofPlace(shown.hands().lifted()->place).section, 1);
    EXPECT_EQ(countOf(0), 39);
    EXPECT_EQ(countOf(1), 41);
    shown.hands().cancel(shown.now);
    shown.rest();
    EXPECT_EQ(countOf(0), 40);
    EXPECT_EQ(countOf(1), 40);
    EXPECT_EQ(shown.live->contextAt(37)->record, 37);
    shown.drag(shown.handleOf(37), {0, 400}, 60);
    EXPECT_GE(set, 39);
    EXPECT_THAT(said, ElementsAre(std::pair<std::string, std::string>("group", "1")));
    shown.drag(shown.handleOf(39), {0, 40}, 10, false); // in its own again, it takes nothing over
    ASSERT_TRUE(shown.hands().lifted());
    EXPECT_TRUE(shown.hands().lifted()->takesOver.empty());
    shown.hands().cancel(shown.now);
}

TEST(LiveHands, BesideASectionThatIsFoldedOthersStayOpenAndTheFoldedOneFolded) {
    for (const char* to : {"section", "anywhere"}) {
        Handled shown(std::string(R"("hands": {"lift": "handle", "liftTo": ")") + to + "\"}", 400,
                      R"({"list": {"sections": {"by": "{group}", "stay": true}}})");
        shown.live->setFolded(0, true);
        shown.live->run().jumpTo(0);
        shown.rest();
        std::vector<std::string> set;
        QObject::connect(&shown.hands(), &LiveHands::setDownAt,
                         [&](const HandItem& item) { set.push_back(item.key); });
        const auto folds = [&] {
            std::vector<bool> are;
            for (std::int64_t section = 0; section < 4; ++section) {
                are.push_back(shown.live->sections()->at(section).isFolded);
            }
            return are;
        };
        const std::vector<bool> before = folds();
        ASSERT_TRUE(before[0] && !before[1]);
        shown.drag(shown.handleOf(42), {0, -500}, 60);
        EXPECT_EQ(folds(), before) << "to the first place of its section, in " << to;
        EXPECT_THAT(set, ElementsAre("43"));
        shown.drag(shown.handleOf(40), {0, 120}, 20);
        EXPECT_EQ(folds(), before) << "and down again";
        shown.live->run().checkInvariants();
    }
}

TEST(LiveHands, WhatIsLiftedIsDrawnWhereThePointerIsAndAPlaceIsLeftForIt) {
    Handled shown(kLifted, 50, R"({"list": {}})", 360, kItem);
    const QRect where = shown.boxOf(1);
    const QPointF from = shown.handleOf(1);
    const QImage before = shown.picture();
    shown.live->press(shown.now, from);
    for (int i = 1; i <= 10; ++i) {
        shown.live->move(shown.now, from + QPointF(0, 3 * i));
        shown.frames(1);
    }
    ASSERT_TRUE(shown.hands().drawnOver());
    EXPECT_NEAR(shown.hands().drawnOver()->box.start.toPx(), where.top() + 8 + 30, 1.5);
    const QRect other = Handled::differing(before, shown.picture());
    EXPECT_LE(other.top(), where.top() + 8) << "it left its place";
    EXPECT_GE(other.bottom(), where.bottom() - 8 + 29) << "and is drawn 30 px below it";
    shown.hands().cancel(shown.now);
    shown.rest();
    const QRect after = Handled::differing(before, shown.picture());
    EXPECT_TRUE(after.isEmpty()) << after.left() << " " << after.top() << " " << after.width() << " x "
                                 << after.height();
}

TEST(LiveHands, WhatIsSaidOfAnItemStandsOnItForAWhile) {
    Handled shown(kSwiped, 50, R"({"list": {}})", 360, kPlain);
    const QImage before = shown.picture();
    shown.hands().sayOf("3", QStringLiteral("did not work"), shown.now);
    shown.frames(2);
    const QRect where = Handled::differing(before, shown.picture());
    EXPECT_TRUE(!where.isEmpty() && shown.boxOf(2).contains(where));
    shown.frames(700);
    EXPECT_EQ(shown.picture(), before);
}

TEST(LiveHands, EachGestureSaysWhatElseItMightHaveBeenAndWhatItLacked) {
    Handled shown(R"("hands": {"tap": "open", "press": "long", "swipe": {"atEnd": ["remove"]}})");
    using Loss = GestureLoss;
    const auto last = [&]() -> const GestureEntry& { return shown.hands().log().entries().back(); };
    shown.tap(2);
    EXPECT_THAT(last().losses,
                ::testing::Contains(Loss{Loss::What::Held, Loss::Lack::HeldShortly, last().heldMs, 500, -1}));
    shown.drag(shown.middleOf(2), {2, -60});
    EXPECT_EQ(last().kind, GestureEntry::Kind::Drag);
    EXPECT_THAT(last().losses, ::testing::Contains(::testing::AllOf(
                                   ::testing::Field(&Loss::lack, Loss::Lack::LessThatWay),
                                   ::testing::Field(&Loss::taker, static_cast<int>(WindowTakers::kAside)))));
    shown.drag(shown.middleOf(shown.shownFirst() + 2), {-120, 0});
    EXPECT_EQ(last().kind, GestureEntry::Kind::Aside);
    EXPECT_THAT(last().losses, ::testing::Contains(::testing::Field(&Loss::lack, Loss::Lack::MovedEarly)));
}

TEST(LiveHands, ARecordAtLengthOpensAndBackLeadsToTheSamePlaceAThousandTimes) {
    Handled shown(R"("hands": {"tap": "detail"})", 3000);
    shown.live->run().wheel(Length::fromPx(777.3));
    shown.rest();
    const Length offset = shown.live->run().offset();
    const std::size_t views = shown.live->run().recycler().views().size();
    const HandItem item = shown.hands().itemOf(shown.shownFirst() + 1);
    for (int i = 0; i < 1000; ++i) {
        shown.live->detail().open(item, shown.now);
        shown.frames(i % 40 + 1);
        (void)shown.live->detail().step(i % 2 == 0, shown.now);
        shown.live->detail().scroll(Length::px(300));
        shown.frames(1);
        shown.live->detail().close(shown.now);
        shown.frames(i % 30 + 1);
        ASSERT_EQ(shown.live->run().offset(), offset) << i;
    }
    shown.rest();
    EXPECT_EQ(shown.live->run().recycler().views().size(), views);
    EXPECT_EQ(shown.live->detail().view(), nullptr);
}

TEST(LiveHands, WhatGoesWhileItShowsAtLengthClosesItAndOnAWideDeviceBothShow) {
    Handled shown(R"("hands": {"tap": "detail"})", 300, R"({"list": {}})", 900);
    shown.live->run().wheel(Length::px(500));
    shown.rest();
    const std::int64_t place = shown.shownFirst() + 1;
    const HandItem item = shown.hands().itemOf(shown.live->run().arrangement().positionOf(place));
    const HoldPoint hold = shown.live->run().hold();
    shown.live->detail().open(item, shown.now);
    shown.rest();
    EXPECT_EQ(shown.live->run().cross(), Length::px(378)) << "the rest is the record's";
    EXPECT_EQ(shown.live->detail().box(), QRectF(378, 0, 522, 700));
    EXPECT_EQ(shown.live->run().hold(), hold) << "what is read stays where it is";
    OrderSpec without;
    without.where = "@.id != " + std::to_string(item.record + 1);
    shown.live->setOrder(without);
    shown.rest();
    EXPECT_FALSE(shown.live->detail().isOpen()) << "no item any more";
    EXPECT_EQ(shown.live->run().cross(), Length::px(900));
}

TEST(LiveHands, KeysGoFromItemToItemKeepItInTheWindowAndItsViewAlive) {
    Handled shown(R"("hands": {"tap": "open", "select": "many"})", 1000);
    ASSERT_TRUE(shown.hands().focusStep(Step::On, shown.now));
    EXPECT_EQ(shown.hands().focused()->place, 0);
    EXPECT_FALSE(shown.hands().focusStep(Step::Back, shown.now)) << "it is the first";
    for (int i = 0; i < 60; ++i) {
        ASSERT_TRUE(shown.hands().focusStep(Step::On, shown.now));
        shown.rest();
        const auto item = shown.hands().focused();
        ASSERT_EQ(item->place, i + 1);
        const Box box = shown.live->run().arrangement().boxOf(item->position);
        ASSERT_GE(box.start, shown.live->run().offset());
        ASSERT_LE(box.end(), shown.live->run().offset() + shown.live->run().window());
    }
    const auto viewOfFocused = [&] {
        ViewId found;
        for (const ViewId id : shown.live->run().recycler().alive()) {
            found = shown.live->run().recycler().view(id).position == shown.hands().focused()->position
                        ? id
                        : found;
        }
        return found;
    };
    const ViewId kept = viewOfFocused();
    shown.live->run().wheel(Length::px(20'000));
    shown.rest();
    EXPECT_EQ(viewOfFocused(), kept) << "far out of the window it has its view";
    shown.hands().focusNothing();
    shown.rest();
    EXPECT_LT(shown.live->run().recycler().alive().size(), 60U);
    (void)shown.hands().focusStep(Step::Last, shown.now);
    shown.rest();
    shown.hands().tapFocused(shown.now);
    EXPECT_THAT(shown.acts, ElementsAre("open 1000"));
    shown.hands().selectFocused(Reach::More);
    EXPECT_TRUE(shown.isSelected(999));
}

TEST(LiveHands, InAGridKeysGoAcrossAndToTheLineBelow) {
    Handled shown(kUsualHands, 100, R"({"grid": {"columns": 3}})");
    (void)shown.hands().focusStep(Step::First, shown.now);
    (void)shown.hands().focusStep(Step::On, shown.now);
    EXPECT_EQ(shown.hands().focused()->place, 1);
    (void)shown.hands().focusStep(Step::LineOn, shown.now);
    EXPECT_EQ(shown.hands().focused()->place, 4);
    (void)shown.hands().focusStep(Step::LineOn, shown.now);
    (void)shown.hands().focusStep(Step::LineBack, shown.now);
    EXPECT_EQ(shown.hands().focused()->place, 4);
    (void)shown.hands().focusStep(Step::Last, shown.now);
    EXPECT_EQ(shown.hands().focused()->place, 99);
}

TEST(LiveHands, TypingGoesToTheNextThatBeginsSoWithoutCaseAndAccents) {
    Handled shown(kUsualHands, 100);
    QSignalSpy found(&shown.hands(), &LiveHands::titleFound);
    (void)shown.hands().focusTitled(QStringLiteral("argo 3"), shown.now);
    ASSERT_TRUE(QTest::qWaitFor([&] { return found.count() == 1; }));
    EXPECT_EQ(shown.hands().focused()->place, 3);
    (void)shown.hands().focusTitled(QStringLiteral("ARGO"), shown.now);
    ASSERT_TRUE(QTest::qWaitFor([&] { return found.count() == 2; }));
    EXPECT_EQ(shown.hands().focused()->place, 6) << "the next one";
    (void)shown.hands().focusTitled(QStringLiteral("ARGO 6"), shown.now, true);
    ASSERT_TRUE(QTest::qWaitFor([&] { return found.count() == 3; }));
    EXPECT_EQ(shown.hands().focused()->place, 6) << "it begins so still";
    (void)shown.hands().focusTitled(QStringLiteral("nobody"), shown.now);
    ASSERT_TRUE(QTest::qWaitFor([&] { return found.count() == 4; }));
    EXPECT_FALSE(found.last().at(0).toBool());
    EXPECT_EQ(shown.hands().focused()->place, 6);
}

TEST(LiveHands, WhatWasOnScreenForLongEnoughWasSeenAndWhatAPointerIsOverIsHovered) {
    Handled shown(R"("hands": {"seenMs": 500})", 100, R"({"list": {}})", 360,
                  R"({"column": [{"text": "{name}"}, {"text": "seen", "hide": "!$.state.seen"},
                      {"badge": "b", "tone": [{"tone": "good", "when": "$.state.hovered"}, {"tone": "note"}]}]})");
    const auto contentOf = [&](std::int64_t place) -> const ItemContent* {
        for (const ViewId id : shown.live->run().recycler().alive()) {
            if (shown.hands().itemOf(shown.live->run().recycler().view(id).position).place == place) {
                return &shown.live->view(id).content();
            }
        }
        return nullptr;
    };
    EXPECT_EQ(contentOf(0)->hidden[2], 0) << "it came to rest once all that shows was seen";
    const std::size_t seen = shown.hands().states().seenCount();
    EXPECT_GT(seen, 5U);
    shown.live->run().jumpTo(50);
    shown.frames(50); // 417 ms
    EXPECT_EQ(shown.hands().states().seenCount(), seen) << "not for long enough";
    EXPECT_EQ(contentOf(51)->hidden[2], 1);
    shown.frames(15);
    EXPECT_GT(shown.hands().states().seenCount(), seen);
    shown.frames(2);
    EXPECT_EQ(contentOf(51)->hidden[2], 0);
    ASSERT_TRUE(shown.hands().wantsHover());
    shown.hands().hover(shown.middleOf(51));
    EXPECT_EQ(contentOf(51)->tones[3], Tone::Good);
    shown.hands().hover(std::nullopt);
    EXPECT_EQ(contentOf(51)->tones[3], Tone::Note);
}

TEST(LiveHands, WhatIsSoOfAnItemIsSeenOnItAndNowhereElse) {
    Handled shown(kSwiped, 50, R"({"list": {}})", 360, kPlain);
    const QImage before = shown.picture();
    const auto isOnItemOnly = [&](std::int64_t place) {
        const QRect where = Handled::differing(before, shown.picture());
        return !where.isEmpty() && shown.boxOf(place).contains(where);
    };
    shown.live->press(shown.now, shown.middleOf(2));
    EXPECT_TRUE(isOnItemOnly(2)) << "pressed";
    shown.hands().cancel(shown.now);
    shown.rest();
    EXPECT_EQ(shown.picture(), before);
    (void)shown.hands().focusStep(Step::On, shown.now);
    shown.rest();
    EXPECT_TRUE(isOnItemOnly(0)) << "it has the keys";
    shown.hands().focusNothing();
    shown.rest();
    EXPECT_EQ(shown.picture(), before);
    shown.drag(shown.middleOf(3), {-120, 0});
    EXPECT_TRUE(isOnItemOnly(3)) << "swiped aside";
    Handled chosen(kUsualHands, 50, R"({"list": {}})", 360, kPlain);
    const QImage none = chosen.picture();
    chosen.tap(1);
    const QRect where = Handled::differing(none, chosen.picture());
    EXPECT_TRUE(!where.isEmpty() && chosen.boxOf(1).contains(where)) << "selected";
}

TEST(LiveHands, HowFarIsPulledAndHowLongIsHeldIsAsTheDocumentSays) {
    for (const auto& [pulled, isDone] : {std::pair("0.3", true), {"0.9", false}}) {
        Handled shown(std::string(R"("hands": {"swipe": {"atEnd": ["remove"], "pulled": )") + pulled + "}}");
        shown.drag(shown.middleOf(2), {-160, 0}, 20);
        EXPECT_EQ(shown.acts.size(), isDone ? 1U : 0U) << pulled;
    }
    for (const auto& [ms, isHeld] : {std::pair("100", true), {"900", false}}) {
        Handled shown(std::string(R"("hands": {"press": "long", "pressMs": )") + ms + "}");
        shown.live->press(shown.now, shown.middleOf(2));
        shown.frames(40); // 333 ms
        EXPECT_EQ(shown.acts.size(), isHeld ? 1U : 0U) << ms;
    }
}

TEST(LiveHands, ARecordAtLengthSlidesAcrossOrAlong) {
    for (const auto& [way, isAlong] : {std::pair("across", false), {"along", true}}) {
        Handled shown(std::string(R"("hands": {"tap": "detail", "detail": ")") + way + "\"}");
        const QImage before = shown.picture();
        shown.live->detail().open(shown.hands().itemOf(1), shown.now);
        shown.frames(4); // on its way
        const QRect where = Handled::differing(before, shown.picture());
        EXPECT_EQ(where.left() > 5, !isAlong) << way << " from " << where.left();
        EXPECT_EQ(where.top() > 5, isAlong) << way << " from " << where.top();
    }
}

} // namespace
} // namespace scorrere::render
