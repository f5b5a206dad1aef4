// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/program/raw_server.h"
#include "testing/program/window_fixture.h"
#include "workbench/ui/flow/flow_sentence.h"
#include "workbench/ui/flow/requests_instrument.h"

#include <QLineEdit>
#include <QMenu>
#include <QSignalSpy>
#include <QSpinBox>
#include <fmt/format.h>
#include <set>

namespace scorrere::workbench {
namespace {

using ::testing::HasSubstr;

/// The demo service in pages, in the real window.
class FlowPages : public testing::WindowTest {
protected:
    void openService() {
        window->workspace().opening().openDemoService();
        ASSERT_TRUE(QTest::qWaitFor(
            [&] { return !window->workspace().opening().isBusy() && document() != nullptr; }, 30'000));
        QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
        ASSERT_TRUE(arrives([&] { return pager().total() == 20'000 && pager().strip().isLoaded(0); }));
    }
    template <typename Holds>
    bool arrives(Holds holds) {
        return QTest::qWaitFor(holds, 30'000);
    }
    Pager& pager() { return live().paged()->pager(); }
    Cutaway& cutaway() { return flow().cutaway(); }
    std::string sentence() { return sentenceOf(flow()).sentence().toStdString(); }
};

TEST_F(FlowPages, RunWhileFlowIsSeenAndStopWithIt) {
    openService();
    EXPECT_TRUE(pager().isRunning());
    QTest::keyClick(window.get(), Qt::Key_1, Qt::AltModifier);
    EXPECT_FALSE(pager().isRunning());
    EXPECT_TRUE(pager().inFlight().empty());
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    EXPECT_TRUE(pager().isRunning());
}

TEST_F(FlowPages, TheSentenceSaysHowPagesComeAndEveryChangeCanBeUndone) {
    openService();
    EXPECT_THAT(
        sentence(),
        HasSubstr(
            "; 20 to a page, pages by number from the start, asking 1.5 screens ahead, keeping 12 pages, "
            "refreshed by pulling, with live changes, over clear weather."));
    Q_EMIT find<SentenceWord>("wordKeep")->wordChosen(QStringLiteral("6 pages or 2 MiB"));
    Q_EMIT find<SentenceWord>("wordPageLead")->wordChosen(QStringLiteral("2 screens and 900 ms, 5 at once"));
    Q_EMIT find<SentenceWord>("wordRefresh")->wordChosen(QStringLiteral("pulling, staying where one reads"));
    Q_EMIT find<SentenceWord>("wordStream")->wordChosen(QStringLiteral("no live changes"));
    EXPECT_EQ(pager().rules().keepPages, 6);
    EXPECT_EQ(pager().rules().keepBytes, 2 << 20);
    EXPECT_EQ(pager().rules().leadScreens, 2);
    EXPECT_EQ(pager().rules().leadMs, 900);
    EXPECT_EQ(pager().rules().atOnce, 5);
    const CollectionDocument& changed = *document();
    EXPECT_EQ(changed.paging.stand, RefreshStand::WithReader);
    EXPECT_FALSE(changed.paging.streams);
    for (int i = 0; i < 4; ++i) {
        window->workspace().undo().undo();
    }
    EXPECT_EQ(document()->paging, PagingSpec());
    EXPECT_EQ(pager().rules().keepPages, 12);
}

TEST_F(FlowPages, OpensAtTheRecordTheSentenceNamesAndLoadsWhatIsBeforeIt) {
    openService();
    Q_EMIT find<SentenceWord>("wordStart")->wordChosen(QStringLiteral("record 5,000"));
    EXPECT_THAT(sentence(), HasSubstr("pages by number from record 5,000, asking"));
    ASSERT_TRUE(arrives([&] { return pager().strip().isLoaded(4999 / 20) && run().isIdle(); }));
    const auto keyOnTop = [&] {
        const std::int64_t place = run().arrangement().slotAt(run().hold().position).place;
        const PageRecord* record = pager().strip().recordAt(place);
        return record == nullptr ? std::string() : record->key;
    };
    EXPECT_EQ(keyOnTop(), "5000");
    const auto jumps = run().trace().totals().worstJump;
    for (int i = 0; i < 30; ++i) { // upwards: earlier pages come above the hold point
        wheel(&cutaway(), 240);
        QTest::qWait(5);
    }
    EXPECT_TRUE(arrives([&] { return pager().strip().isLoaded(4999 / 20 - 1); }));
    EXPECT_EQ(run().trace().totals().worstJump, jumps);
    window->workspace().undo().undo();
    EXPECT_TRUE(arrives([&] { return pager().strip().isLoaded(0) && run().isIdle(); }));
    EXPECT_EQ(document()->paging.startAt, 0);
}

TEST_F(FlowPages, ScrollingAsksAheadAndTheLogSaysWhy) {
    openService();
    for (int i = 0; i < 60; ++i) {
        wheel(&cutaway(), -240);
        QTest::qWait(5);
    }
    ASSERT_TRUE(arrives([&] { return pager().strip().isLoaded(2); }));
    auto* requests = find<RequestsInstrument>("requests");
    EXPECT_TRUE(requests->isVisible());
    bool told = false;
    for (int row = 0; row < 20; ++row) {
        told = told || requests->row(row).value(1).contains(QStringLiteral("screens ahead of the end"));
    }
    EXPECT_TRUE(told);
    EXPECT_THAT(requests->summary().toStdString(), HasSubstr("in flight"));
    requests->setFocus();
    QTest::keyClick(requests, Qt::Key_Down);
    EXPECT_GT(requests->chosen(), 0);
    window->grab(); // every part is painted with pages about
}

TEST_F(FlowPages, AJumpShowsPlaceholdersUntilItsPageIsHere) {
    openService();
    live().paged()->setWeather({.latencyMs = 200});
    run().jumpTo(9000);
    flow().runner().driver().want();
    ASSERT_TRUE(arrives([&] { return pager().inFlight().contains(9000 / 20); }));
    EXPECT_TRUE(live().view(run().placements().front().view).isSkeleton());
    cutaway().setZoom(9);
    window->grab();
    EXPECT_TRUE(arrives([&] {
        return std::ranges::none_of(run().placements(), [&](const Placement& placement) {
            return placement.showing && live().view(placement.view).isSkeleton();
        });
    }));
}

TEST_F(FlowPages, ItemLooksAtEveryRecordThatPagesBrought) {
    openService();
    wheel(&cutaway(), -2400);
    ASSERT_TRUE(arrives([&] { return pager().strip().loaded().size() >= 2 && pager().inFlight().empty(); }));
    const auto here = 20 * static_cast<std::int64_t>(pager().strip().loaded().size());
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    ASSERT_TRUE(arrives([&] {
        return item().model().records() && item().model().records()->size() == here && item().isSettled();
    }));
    EXPECT_THAT(sentenceOf(item()).sentence().toStdString(), HasSubstr(fmt::format("of {} records", here)));
}

TEST_F(FlowPages, PicturesComeOverTheWireAndFeelTheWeather) {
    openService();
    render::PictureCache& pictures = live().pictures();
    const auto asked = [&] {
        return std::ranges::count_if(
            window->workspace().demo().server()->received(),
            [](const service::ReceivedCall& call) { return call.what.starts_with("/wings/"); });
    };
    ASSERT_TRUE(arrives([&] { return pictures.decodedEver() > 0 && pictures.isQuiet(); }));
    EXPECT_GE(asked(), pictures.decodedEver());
    const QSignalSpy failed(&pictures, &render::PictureCache::failed);
    flow().runner().setWeather({.failShare = 1});
    wheel(&cutaway(), -2400); // to records that are here: only their pictures are asked for
    ASSERT_TRUE(arrives([&] { return failed.count() > 0 && pictures.isQuiet(); }));
    const std::int64_t before = pictures.decodedEver();
    flow().runner().setWeather({});
    EXPECT_TRUE(arrives([&] { return pictures.decodedEver() > before && pictures.isQuiet(); }));
}

TEST_F(FlowPages, RRefreshesAndPullingWithTheMouseDoes) {
    openService();
    QTest::keyClick(&cutaway(), Qt::Key_R);
    ASSERT_TRUE(arrives([&] { return pager().generation() == 2 && !pager().isRefreshing(); }));
    const QPoint top = cutaway().windowRect().center().toPoint() - QPoint(0, 150);
    QTest::mousePress(&cutaway(), Qt::LeftButton, {}, top);
    for (int i = 1; i <= 25; ++i) {
        QTest::mouseMove(&cutaway(), top + QPoint(0, i * 10));
        QTest::qWait(9);
    }
    QTest::mouseRelease(&cutaway(), Qt::LeftButton, {}, top + QPoint(0, 250));
    EXPECT_TRUE(arrives([&] { return pager().generation() == 3; }));
}

TEST_F(FlowPages, AnErrorOnTheFirstLoadIsTappedToTryAgain) {
    flow().runner().setWeather({.failShare = 1});
    window->workspace().opening().openDemoService();
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return !window->workspace().opening().isBusy() && document() != nullptr; }, 30'000));
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_TRUE(arrives([&] { return pager().tail() == TailState::FirstFailed && run().isIdle(); }));
    flow().runner().setWeather({});
    // The part that says so takes the tap.
    const QRectF shown = cutaway().windowRect();
    bool tapped = false;
    for (double y = shown.top() + 4; y < shown.bottom() && !tapped; y += 6) {
        const QPoint at(static_cast<int>(shown.center().x()), static_cast<int>(y));
        const auto tap = live().tapAt((at.x() - shown.left()) / cutaway().scale(),
                                      (at.y() - shown.top()) / cutaway().scale());
        if (tap && tap->isState) {
            QTest::mouseClick(&cutaway(), Qt::LeftButton, {}, at);
            tapped = true;
        }
    }
    ASSERT_TRUE(tapped);
    EXPECT_TRUE(arrives([&] { return pager().strip().isLoaded(0); }));
}

TEST_F(FlowPages, EachStateIsShownOnDemandWithoutTouchingTheSource) {
    openService();
    const auto made = pager().log().requestsEver();
    auto* menu = window->findChild<QMenu*>(QStringLiteral("stageMenu"));
    ASSERT_NE(menu, nullptr);
    for (QAction* action : menu->actions()) {
        action->trigger();
        QTest::qWait(20);
        window->grab();
        EXPECT_TRUE(action->isChecked()) << action->text().toStdString();
    }
    menu->actions().first()->trigger();
    EXPECT_FALSE(flow().runner().staged());
    EXPECT_EQ(pager().log().requestsEver(), made);
    EXPECT_EQ(pager().total(), 20'000);
}

TEST_F(FlowPages, WeatherIsSetInWordsOrInNumbers) {
    openService();
    auto* word = find<SentenceWord>("wordWeather");
    Q_EMIT word->wordChosen(QStringLiteral("300 to 500 ms, 60 kB/s"));
    EXPECT_EQ(flow().runner().weather(),
              (render::Weather{.latencyMs = 300, .jitterMs = 200, .bytesPerSecond = 60'000}));
    Q_EMIT word->wordChosen(QStringLiteral("set it in numbers…"));
    auto* card = find<QWidget>("weatherCard");
    card->findChild<QSpinBox*>(QStringLiteral("failing"))->setValue(25);
    EXPECT_EQ(flow().runner().weather().failShare, 0.25);
    EXPECT_THAT(sentence(), HasSubstr("over 300 to 500 ms, 60 kB/s, 25% failing."));
    card->close();
}

TEST_F(FlowPages, ADesignThatChangesKeepsThePagesThatAreHere) {
    openService();
    const auto made = pager().log().requestsEver();
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    QString text = QString::fromStdString(document()->designText());
    text.replace(QStringLiteral("\"size\": 15"), QStringLiteral("\"size\": 18"));
    window->workspace().changeDesign(QStringLiteral("size"), text, {});
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    EXPECT_TRUE(pager().strip().isLoaded(0));
    EXPECT_EQ(pager().log().requestsEver(), made);
    EXPECT_TRUE(pager().isRunning());
}

TEST_F(FlowPages, ADesignThatDoesNotFitLeavesTheLastOneRunning) {
    openService();
    QTest::keyClick(window.get(), Qt::Key_2, Qt::AltModifier);
    QString text = QString::fromStdString(document()->designText());
    text.replace(QStringLiteral("{species}"), QStringLiteral("{nosuchfield}"));
    window->workspace().changeDesign(QStringLiteral("text"), text, {});
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_NE(live().paged(), nullptr);
    EXPECT_TRUE(pager().isRunning());
    run().jumpTo(3000);
    flow().runner().driver().want();
    EXPECT_TRUE(arrives([&] { return pager().strip().isLoaded(150); }));
    EXPECT_TRUE(window->notice().isVisible());
}

TEST_F(FlowPages, AnotherQueryIsTypedWhileItRunsAndIsOneUndo) {
    openService();
    auto* status = find<QLineEdit>("query_status");
    status->setFocus();
    QTest::keyClicks(status, QStringLiteral("queried"));
    EXPECT_TRUE(pager().strip().isLoaded(0)); // the old ones stay until the new ones are here
    ASSERT_TRUE(arrives([&] { return pager().total() < 20'000; }));
    EXPECT_EQ(pager().generation(), 2); // one query, not one a key
    EXPECT_EQ(window->workspace().undo().count(), 1);
    window->workspace().undo().undo();
    EXPECT_EQ(status->text(), QString());
    ASSERT_TRUE(arrives([&] { return pager().total() == 20'000; }));
}

TEST_F(FlowPages, PagingIsSavedAndReadAgain) {
    openService();
    Q_EMIT find<SentenceWord>("wordKeep")->wordChosen(QStringLiteral("50 pages"));
    const std::string path = folder.filePath(QStringLiteral("p.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    const auto saved = CollectionDocument::load(path);
    ASSERT_TRUE(saved) << saved.error().text();
    EXPECT_EQ(saved->paging.keep, 50);
    EXPECT_EQ(saved->source.stream.records, "/sightings");
}

TEST_F(FlowPages, TwentyInFlightSurviveATurnStopWithTheStationAndComeBackWithIt) {
    openService();
    Q_EMIT find<SentenceWord>("wordPageSize")->wordChosen(QStringLiteral("2"));
    ASSERT_TRUE(arrives([&] {
        return !window->workspace().opening().isBusy() && pager().rules().size == 2 &&
               pager().strip().isLoaded(0);
    }));
    flow().runner().setWeather({.latencyMs = 2000});
    Q_EMIT find<SentenceWord>("wordKeep")->wordChosen(QStringLiteral("50 pages"));
    Q_EMIT find<SentenceWord>("wordPageLead")->wordChosen(QStringLiteral("10 screens, 20 at once"));
    run().jumpTo(9000);
    flow().runner().driver().want();
    ASSERT_TRUE(
        arrives([&] { return pager().inFlight().size() == 20 && pager().inFlight().contains(9000 / 2); }));
    const auto flying = pager().inFlight();
    QTest::keyClick(&cutaway(), Qt::Key_T);
    EXPECT_EQ(document()->window.upright, false);
    EXPECT_TRUE(pager().inFlight().contains(9000 / 2)) << "what shows is still on its way";
    QTest::keyClick(window.get(), Qt::Key_1, Qt::AltModifier);
    EXPECT_TRUE(pager().inFlight().empty());
    for (const auto& [page, request] : flying) {
        EXPECT_FALSE(pager().strip().isLoaded(page)) << "nothing arrives late";
    }
    flow().runner().setWeather({});
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_TRUE(arrives([&] { return pager().strip().isLoaded(9000 / 2) && pager().inFlight().empty(); }));
    EXPECT_EQ(run().trace().totals().worstJump, Length{});
}

TEST_F(FlowPages, OpeningAsksForThePageThatIsSeenOnce) {
    const testing::RawServer service([](const std::string& request) {
        const int page = std::atoi(request.c_str() + request.find("page=") + 5);
        std::string body = "[";
        for (int i = 0; i < 20; ++i) {
            body += fmt::format("{}{{\"id\":{}}}", i > 0 ? "," : "", page * 20 + i);
        }
        body += "]";
        return fmt::format(
            "HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\r\n{}", body.size(),
            body);
    });
    window->workspace().opening().open(QString::fromStdString(
        write("s.collection.json", fmt::format(R"({{"scorrere":1,"source":{{"address":"{}/s{{?page}}",)"
                                               R"("pages":{{"style":"number","from":"page","size":20}}}},)"
                                               R"("items":{{"record":{{"text":"{{id}}"}}}}}})",
                                               service.address()))));
    ASSERT_TRUE(arrives([&] { return window->question().isAsking(); })) << "it came from elsewhere";
    window->question().findChild<QPushButton*>(QStringLiteral("ask_allow"))->click();
    ASSERT_TRUE(
        arrives([&] { return !window->workspace().opening().isBusy() && live().paged() != nullptr; }));
    QTest::keyClick(window.get(), Qt::Key_3, Qt::AltModifier);
    ASSERT_TRUE(
        arrives([&] { return pager().strip().isLoaded(1) && pager().inFlight().empty() && run().isIdle(); }));
    const std::string heard = service.heard();
    std::set<std::string> asked;
    for (std::size_t at = heard.find("GET "); at != std::string::npos; at = heard.find("GET ", at + 1)) {
        EXPECT_TRUE(asked.insert(heard.substr(at, heard.find('\r', at) - at)).second) << heard.substr(at, 40);
    }
    EXPECT_GE(asked.size(), 2U);
}

TEST_F(FlowPages, OpeningAnotherWhileRequestsAreInFlightLeavesNothingBehind) {
    openService();
    flow().runner().setWeather({.latencyMs = 3000});
    for (const std::int64_t place : {5000, 9000, 15'000}) {
        run().jumpTo(place);
        flow().runner().driver().want();
        ASSERT_TRUE(arrives([&] { return !pager().inFlight().empty(); }));
        QTest::keyClick(&cutaway(), Qt::Key_T); // turned meanwhile
    }
    window->workspace().opening().openDemo(20);
    ASSERT_TRUE(window->question().isAsking()) << "it was turned";
    QTest::mouseClick(window->question().findChild<QPushButton*>(QStringLiteral("ask_discard")),
                      Qt::LeftButton);
    ASSERT_TRUE(
        arrives([&] { return !window->workspace().opening().isBusy() && live().paged() == nullptr; }));
    EXPECT_EQ(live().records().size(), 20);
}

} // namespace
} // namespace scorrere::workbench
