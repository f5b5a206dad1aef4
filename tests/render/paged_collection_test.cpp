// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/live_collection.h"

#include "service/demo_document.h"
#include "service/moths.h"
#include "service/survey_server.h"
#include "testing/program/paged_fixture.h"
#include "testing/program/raw_server.h"

#include <QImage>
#include <QPainter>
#include <QTemporaryDir>
#include <QTest>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <set>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;
using testing::PagedFixture;

class PagedCollection : public PagedFixture {};

TEST_F(PagedCollection, ReadsPagesAheadOfTheWindowAndEstimatesThem) {
    open(20'000);
    ASSERT_TRUE(until([&] { return pager().total() == 20'000 && quiet(); }));
    EXPECT_EQ(live->recordCount(), 20'000);
    for (int i = 0; i < 40; ++i) {
        live->run().wheel(Length::px(60));
        frames(1);
    }
    ASSERT_TRUE(until([&] { return pager().strip().isLoaded(2) && quiet(); }));
    // Estimated from content, what comes is exact before it shows.
    Arrangement& list = live->run().arrangement();
    std::vector<Length> estimated;
    for (std::int64_t place = 40; place < 60; ++place) {
        EXPECT_EQ(list.stateOf(list.positionOf(place)), ExtentState::ContentEstimate);
        estimated.push_back(list.extentOf(list.positionOf(place)));
    }
    int exact = 0;
    for (std::int64_t place = 40; place < 60; ++place) {
        live->run().jumpTo(list.positionOf(place));
        frames(1);
        exact +=
            list.extentOf(list.positionOf(place)) == estimated[static_cast<std::size_t>(place - 40)] ? 1 : 0;
    }
    EXPECT_GE(exact, 15);
}

TEST_F(PagedCollection, APagerOverPagesHasEndsWhateverTheFileAsks) {
    open(200, [](CollectionDocument& document, WireSetup&) {
        document.arrangement.form = PagerSpec{{}, false, std::nullopt, true};
    });
    ASSERT_TRUE(until([&] { return pager().total() == 200 && quiet(); }));
    live->run().key(KeyStep::PageBack);
    frames(30);
    EXPECT_EQ(live->run().offset(), Length{}) << "nobody knows what is the last";
}

struct StyleCase {
    PageStyle style;
    const char* address;
    const char* items;
    const char* next;
};

class EveryPageStyle : public PagedFixture, public ::testing::WithParamInterface<StyleCase> {
protected:
    void openStyle(std::int64_t count, const std::string& more = {},
                   const std::function<void(CollectionDocument&)>& change = {}) {
        const StyleCase style = GetParam();
        open(count, [&](CollectionDocument& document, WireSetup&) {
            SourceSpec& source = document.source;
            source.address = style.address;
            if (!more.empty()) {
                source.address.insert(source.address.find('}'), ",fault");
                source.variables = {{"fault", more}};
            }
            source.pages.style = style.style;
            const bool sized = style.style == PageStyle::Number || style.style == PageStyle::Link;
            source.pages.count = sized ? "size" : "limit";
            source.pages.from = style.style == PageStyle::Offset   ? "offset"
                                : style.style == PageStyle::Cursor ? "cursor"
                                                                   : "page";
            source.pages.next = style.next;
            source.pages.total = isPositional(style.style) ? "$.total" : "";
            source.reading.items = style.items;
            if (change) {
                change(document);
            }
        });
    }
    /// Scrolls to the end, however many pages that takes.
    bool toTheEnd() {
        return until([&] {
            const bool isThere = pager().tail() == TailState::End && quiet();
            if (!isThere) {
                live->run().key(KeyStep::ToEnd);
            }
            return isThere;
        });
    }
};

INSTANTIATE_TEST_SUITE_P(
    DemoService, EveryPageStyle,
    ::testing::Values(StyleCase{PageStyle::Number, "demo:/sightings{?page,size}", "$.data.sightings[*]", ""},
                      StyleCase{PageStyle::Offset, "demo:/by-offset{?offset,limit}", "$.sightings[*]", ""},
                      StyleCase{PageStyle::Cursor, "demo:/by-cursor{?cursor,limit}", "$.sightings[*]",
                                "$.cursor.next"},
                      StyleCase{PageStyle::Next, "demo:/by-next{?limit}", "$.sightings[*]", "$.next"},
                      StyleCase{PageStyle::Link, "demo:/by-link{?size}", "$[*]", ""}));

TEST_P(EveryPageStyle, IsReadToItsEndOnce) {
    openStyle(145);
    ASSERT_TRUE(toTheEnd());
    EXPECT_EQ(live->recordCount(), 145);
    EXPECT_EQ(keyAt(144), "145");
    std::set<std::string> asked;
    for (const auto& call : server->received()) {
        EXPECT_TRUE(asked.insert(call.what).second) << call.what << " twice";
    }
    EXPECT_TRUE(pager().findings().empty());
}

TEST_P(EveryPageStyle, SurvivesAServiceThatFailsNowAndThen) {
    serve(100, {.failRate = 0.3});
    openStyle(100);
    ASSERT_TRUE(until(
        [&] {
            now += 300'000; // what waits to try again need not be waited for
            if (pager().tail() == TailState::End && keyAt(99) == "100" && quiet()) {
                return true;
            }
            live->retryPages(now);
            live->run().key(KeyStep::ToEnd);
            return false;
        },
        60'000));
    EXPECT_EQ(live->recordCount(), 100);
}

TEST_P(EveryPageStyle, AFaultOnTheFirstCallIsSaid) {
    for (const char* fault : {"unauthorised", "missing", "broken", "page", "empty"}) {
        SCOPED_TRACE(fault);
        openStyle(100, fault);
        ASSERT_TRUE(until([&] {
            now += 500'000;
            return pager().tail() == TailState::FirstFailed;
        }));
        EXPECT_FALSE(pager().failure().message.empty());
        EXPECT_FALSE(pager().failure().advice.empty());
        EXPECT_EQ(live->recordCount(), 0);
    }
}

TEST_F(PagedCollection, ACutOffAnswerIsTriedAgain) {
    open(100, [](CollectionDocument& document, WireSetup&) {
        document.source.variables = {{"fault", "too-long"}};
        document.paging.tries = 2;
    });
    ASSERT_TRUE(until([&] {
        now += 500'000;
        return pager().tail() == TailState::FirstFailed;
    }));
    EXPECT_THAT(pager().failure().message, HasSubstr("not whole"));
    EXPECT_EQ(pager().log().requestsEver(), 2);
}

TEST_F(PagedCollection, AGapWhosePageFailedSaysSoAndIsTappedToTryAgain) {
    open(2000);
    ASSERT_TRUE(until([&] { return pager().total() == 2000 && quiet(); }));
    EXPECT_FALSE(live->tapAt(180, 350).has_value() && live->tapAt(180, 350)->action == "retry");
    live->paged()->setWeather({.failShare = 1});
    live->run().jumpTo(live->run().arrangement().positionOf(1000));
    ASSERT_TRUE(until([&] {
        now += 300'000; // what waits to try again need not be waited for
        return pager().stateOfPage(pager().strip().pageAt(1000)) == PlaceState::Failed;
    }));
    frames(2);
    const auto tap = live->tapAt(180, 350);
    ASSERT_TRUE(tap);
    EXPECT_EQ(tap->action, "retry");
    EXPECT_TRUE(tap->isState);
    const render::ItemColours colours = render::ItemColours::light();
    QImage image(360, 700, QImage::Format_RGB32);
    QPainter painter(&image);
    live->paintWindow(painter, colours, 1);
    painter.end();
    int words = 0;
    for (int y = 0; y < image.height(); ++y) {
        for (int x = 180; x < image.width(); ++x) {
            words += image.pixel(x, y) == colours.bad.rgb() ? 1 : 0;
        }
    }
    EXPECT_GT(words, 20) << "each says that it did not come";
}

TEST_F(PagedCollection, TenThousandPagesAreScrolledToTheEndInFewOfThem) {
    open(10'000, [](CollectionDocument& document, WireSetup&) {
        document.source.pages.size = 1;
        document.paging.keep = 30;
        document.paging.atOnce = 8;
    });
    ASSERT_TRUE(until([&] { return pager().total() == 10'000; }));
    std::size_t most = 0;
    ASSERT_TRUE(until(
        [&] {
            live->run().wheel(Length::px(2000));
            frames(1);
            most = std::max(most, pager().strip().loaded().size());
            const auto& placed = live->run().placements();
            return !placed.empty() &&
                   live->run().arrangement().slotAt(placed.back().position).role == Role::Footer &&
                   !keyAt(9999).empty();
        },
        120'000));
    EXPECT_LE(most, 60U);
    EXPECT_EQ(keyAt(9999), "10000");
    EXPECT_EQ(live->run().trace().totals().worstJump, Length{});
}

TEST_F(PagedCollection, OfflineTellsAndComesBackByItself) {
    open(1000);
    ASSERT_TRUE(until([&] { return quiet() && keyAt(0) == "1"; }));
    Weather storm;
    storm.offline = true;
    live->paged()->setWeather(storm);
    live->run().jumpTo(500);
    ASSERT_TRUE(until([&] { return pager().isOffline(); }));
    EXPECT_EQ(keyAt(500), "");
    live->paged()->setWeather({});
    ASSERT_TRUE(until([&] {
        now += 100'000;
        return !pager().isOffline() && keyAt(500) == "501";
    }));
}

TEST_F(PagedCollection, OpensWithWhatWasLastSeenWhileTheServiceIsAway) {
    QTemporaryDir folder;
    const auto keeping = [&](CollectionDocument& document, WireSetup& setup) {
        document.paging.diskMiB = 16;
        setup.diskFile = folder.filePath(QStringLiteral("pages.sqlite")).toStdString();
    };
    open(200, keeping);
    ASSERT_TRUE(until([&] { return quiet() && keyAt(0) == "1"; }));
    live.reset();
    open(200, [&](CollectionDocument& document, WireSetup& setup) {
        keeping(document, setup);
        setup.weather.offline = true;
    });
    ASSERT_TRUE(until([&] { return keyAt(0) == "1" && pager().isOffline(); }));
    EXPECT_TRUE(pager().isFromDisk());
    EXPECT_EQ(live->recordCount(), 200);
    live->paged()->setWeather({});
    const auto before = server->received().back().number;
    ASSERT_TRUE(until([&] {
        now += 100'000;
        return !pager().isFromDisk();
    }));
    EXPECT_EQ(server->received(before).front().status, 304); // nothing changed, nothing was sent
}

TEST_F(PagedCollection, UnchangedPagesAreNotSentAgain) {
    open(1000);
    ASSERT_TRUE(until([&] { return quiet() && keyAt(0) == "1"; }));
    const auto before = server->received().back().number;
    live->refresh(now);
    ASSERT_TRUE(until([&] { return quiet() && !pager().isRefreshing(); }));
    const auto calls = server->received(before);
    ASSERT_FALSE(calls.empty());
    for (const auto& call : calls) {
        EXPECT_EQ(call.status, 304) << call.what;
    }
}

TEST_F(PagedCollection, PullingRefreshesOnce) {
    open(1000);
    ASSERT_TRUE(until([&] { return quiet() && keyAt(0) == "1"; }));
    live->run().motion().press(now, Length::px(100));
    for (int i = 1; i <= 20; ++i) {
        live->run().motion().drag(now, Length::px(100 + i * 12));
        frames(1);
    }
    EXPECT_GT(live->run().pull(), Run::kPullThreshold);
    live->run().motion().letGo(now);
    ASSERT_TRUE(until([&] { return pager().generation() == 2 && !pager().isRefreshing() && quiet(); }));
    EXPECT_EQ(live->run().pull(), Length{});
    EXPECT_EQ(pager().generation(), 2);
}

TEST_F(PagedCollection, AnotherQueryReplacesEverything) {
    open(1000);
    ASSERT_TRUE(until([&] { return quiet() && keyAt(0) == "1"; }));
    live->setVariables(now, {{"status", "queried"}});
    live->setVariables(now, {{"status", "provisional"}});
    EXPECT_EQ(keyAt(0), "1"); // it stays until the first page is here
    ASSERT_TRUE(until([&] { return quiet() && pager().generation() == 2 && pager().total() < 1000; }));
    const PageRecord& first = *pager().strip().recordAt(0);
    EXPECT_EQ(first.table->display(first.row, *first.table->find("status")), "provisional");
    int queries = 0;
    for (const auto& call : server->received()) {
        queries += call.what.find("status=queried") != std::string::npos ? 1 : 0;
    }
    EXPECT_EQ(queries, 0); // it was still being typed
}

TEST_F(PagedCollection, WhatComesLiveWaitsAndWhatShowsIsChangedInPlace) {
    open(30, [](CollectionDocument& document, WireSetup&) {
        document.source.stream = {"demo:/live?every=5", "/sightings"};
    });
    ASSERT_TRUE(until([&] { return pager().waitingCount() >= 8; }));
    EXPECT_EQ(keyAt(0), "1");
    EXPECT_EQ(live->run().trace().totals().worstJump, Length{});
    // Every third event verifies a sighting.
    const auto verified = [&] {
        for (std::int64_t place = 0; place < 20; place += 3) { // those the events are about
            const PageRecord* record = pager().strip().recordAt(place);
            if (record == nullptr ||
                record->table->display(record->row, *record->table->find("status")) != "verified") {
                return false;
            }
        }
        return true;
    };
    ASSERT_TRUE(until(verified));
    const std::size_t held = pager().waitingCount();
    live->showWaiting();
    frames(1);
    EXPECT_EQ(pager().waitingCount(), 0U);
    EXPECT_GE(live->recordCount(), 30 + static_cast<std::int64_t>(held));
    EXPECT_NE(keyAt(0), "1");
}

TEST_F(PagedCollection, AStreamThatIsSilentIsLiveOnceItStands) {
    open(30, [](CollectionDocument& document, WireSetup&) {
        document.source.stream = {"demo:/live?every=3600000", "/sightings"};
    });
    EXPECT_TRUE(until([&] { return live->paged()->streamState() == StreamState::On; }));
}

TEST_F(PagedCollection, ACutStreamGoesOnWhereItWas) {
    serve(30);
    const int port = server->port();
    open(30, [](CollectionDocument& document, WireSetup&) {
        document.source.stream = {"demo:/live?every=20", "/sightings"};
    });
    ASSERT_TRUE(until([&] { return pager().waitingCount() >= 3; }));
    server->stop(); // the stream is cut in the middle
    ASSERT_TRUE(until([&] { return live->paged()->streamState() == StreamState::Waiting; }));
    const std::size_t before = pager().waitingCount();
    service::ServerSettings again;
    again.port = port;
    serve(30, again);
    ASSERT_TRUE(until([&] { return pager().waitingCount() > before + 2; }, 30'000));
    // Nothing came twice and nothing was left out: the new ones are numbered without a gap.
    std::set<std::int64_t> numbers;
    live->showWaiting();
    frames(1);
    for (std::int64_t place = 0; place < live->recordCount() - 30; ++place) {
        numbers.insert(std::stoll(keyAt(place)));
    }
    std::int64_t expected = *numbers.begin();
    for (const std::int64_t number : numbers) {
        expected += (expected - 30 - 1) % 3 == 0 ? 1 : 0; // every third event changes one instead
        EXPECT_EQ(number, expected++);
    }
}

TEST_F(PagedCollection, StoppedWithItsViewNothingArrivesLate) {
    serve(1000, {.latencyMinMs = 30, .latencyMaxMs = 30});
    open(1000);
    ASSERT_TRUE(until([&] { return keyAt(0) == "1"; }));
    live->run().jumpTo(700);
    frames(3);
    ASSERT_FALSE(pager().inFlight().empty());
    live->stopPages();
    EXPECT_TRUE(pager().inFlight().empty());
    ASSERT_TRUE(QTest::qWaitFor([&] { return server->received().size() >= 2; }));
    frames(5);
    EXPECT_EQ(keyAt(700), "");
    live->startPages(now);
    ASSERT_TRUE(until([&] { return keyAt(700) == "701"; }));
}

TEST_F(PagedCollection, ClosingWithManyInFlightWaitsForNone) {
    serve(10'000, {.latencyMinMs = 5000, .latencyMaxMs = 5000});
    open(10'000, [](CollectionDocument& document, WireSetup&) {
        document.source.pages.style = PageStyle::Offset;
        document.source.address = "demo:/by-offset{?offset,limit}";
        document.source.pages.from = "offset";
        document.source.pages.count = "limit";
        document.source.pages.total = "";
        document.source.reading.items = "$.sightings[*]";
        document.paging.atOnce = 20;
    });
    frames(5);
    ASSERT_FALSE(pager().inFlight().empty());
    live.reset();
    EXPECT_TRUE(server->received().empty()); // it did not wait for the answers
}

TEST_F(PagedCollection, OneThatWasOpenedWhileItsServiceWasDownGetsItsFieldsFromThePages) {
    serve(300);
    auto document = CollectionDocument::parse(service::demoServiceDocument(), "");
    document->source.sign = {};
    document->source.stream = {};
    document->paging.diskMiB = 0;
    WireSetup setup;
    setup.source = document->source;
    setup.demoAddress = [held = server] { return Result<std::string>(held->address()); };
    auto made = LiveCollection::create(
        *document, std::make_shared<const RecordTable>(), std::make_shared<FolderPictures>(QStringList()),
        Estimating::Background, std::make_unique<PagedRecords>(document->paging, setup));
    ASSERT_TRUE(made) << made.error().text();
    live = std::move(*made);
    live->setWindow(360, 700);
    frames(3); // views are built for designs that no field is known for yet
    live->startPages(now);
    ASSERT_TRUE(until([&] { return pager().strip().isLoaded(0); }));
    live->run().key(KeyStep::ToEnd);
    ASSERT_TRUE(until([&] { return quiet() && pager().tail() == TailState::End && keyAt(299) == "300"; }));
    QImage screen(360, 700, QImage::Format_RGB32);
    QPainter painter(&screen);
    live->paintWindow(painter, ItemColours::light(), 1);
    int shown = 0;
    for (const Placement& placement : live->run().placements()) {
        shown += placement.showing && !live->view(placement.view).title().isEmpty() ? 1 : 0;
    }
    EXPECT_GE(shown, 4) << "with the design made for the fields they have";
}

TEST_F(PagedCollection, ATotalBeyondBeliefIsAnErrorAndNotACollectionOfThatLength) {
    const std::string body = R"({"total": 2000000000000, "data": {"sightings": [{"id": 1}]}})";
    const scorrere::testing::RawServer lies(
        fmt::format("HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\r\n{}",
                    body.size(), body));
    open(20, [&](CollectionDocument& document, WireSetup&) {
        document.source.address = lies.address() + "/s{?page}";
        document.source.pages.size = 1;
    });
    ASSERT_TRUE(until([&] { return pager().tail() == TailState::FirstFailed; }));
    EXPECT_NE(pager().failure().message.find("2000000000000 records"), std::string::npos)
        << pager().failure().message;
    EXPECT_EQ(live->recordCount(), 0);
}

TEST_F(PagedCollection, AServiceThatGivesMoreThanWasThoughtIsReadInItsOwnPages) {
    const scorrere::testing::RawServer hundred([](const std::string& request) {
        const std::size_t at = request.find("page=");
        const int page = std::atoi(request.c_str() + at + 5);
        std::string body = "[";
        for (int i = 0; i < (page < 3 ? 100 : page == 3 ? 40 : 0); ++i) {
            body += fmt::format("{}{{\"id\": {}}}", i > 0 ? "," : "", (page - 1) * 100 + i);
        }
        body += "]";
        return fmt::format(
            "HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\r\n{}", body.size(),
            body);
    });
    open(20, [&](CollectionDocument& document, WireSetup& setup) {
        document.source.address = hundred.address() + "/s{?page}"; // with no place for a size
        document.source.reading.items = "$[*]";
        document.source.pages.total.clear();
        document.item.binding = "{id}";
        setup.fields.clear();
    });
    for (int i = 0; i < 40; ++i) {
        live->run().key(KeyStep::ToEnd);
        (void)until([&] { return quiet(); }, 2000);
    }
    EXPECT_EQ(pager().tail(), TailState::End);
    EXPECT_EQ(live->recordCount(), 240);
    EXPECT_EQ(keyAt(239), "239");
}

} // namespace
} // namespace scorrere::render
