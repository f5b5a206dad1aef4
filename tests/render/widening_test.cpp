// SPDX-License-Identifier: GPL-3.0-or-later
// A page, or a live change, brings a value that its field has no room for.
#include "render/live_collection.h"

#include "testing/program/paged_fixture.h"
#include "testing/program/raw_server.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;

/// Thirty sightings in pages of ten; their counts are numbers but for those the test says otherwise.
class Widening : public testing::PagedFixture {
protected:
    static std::string document(const std::string& part) {
        return R"({"scorrere": 1, "name": "Traps",
                   "source": {"address": "demo:/traps{?page,size}",
                              "pages": {"style": "number", "size": 10, "total": "$.total"},
                              "live": {"address": "demo:/live", "records": "/traps"},
                              "items": "$.traps[*]", "key": ["id"]},
                   "items": {"record": {"column": [)" +
               part + R"(], "padding": [30, 8]}}})";
    }
    std::string answer(const std::string& request) const {
        if (request.starts_with("GET /live")) {
            return "HTTP/1.1 200 OK\r\nContent-Type: text/event-stream\r\n\r\n" + events;
        }
        const int page = request.find("page=3") != std::string::npos   ? 2
                         : request.find("page=2") != std::string::npos ? 1
                                                                       : 0;
        std::string body = R"({"total": 30, "traps": [)";
        for (int i = page * 10; i < page * 10 + 10; ++i) {
            body += fmt::format(R"({}{{"id": {}, "count": {}}})", i % 10 == 0 ? "" : ", ", i + 1,
                                i == 14 ? odd : std::to_string(i * 3));
        }
        body += "]}";
        return fmt::format("HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: "
                           "{}\r\nConnection: close\r\n\r\n{}",
                           body.size(), body);
    }
    void openTraps(const std::string& part, bool isStreamed) {
        service_ = std::make_unique<testing::RawServer>(
            [this](const std::string& request) { return answer(request); });
        auto parsed = CollectionDocument::parse(document(part), "");
        ASSERT_TRUE(parsed) << parsed.error().text();
        parsed->paging.lead = 0;
        parsed->paging.streams = isStreamed;
        parsed->paging.diskMiB = 0;
        auto first = readRecordsText(R"([{"id": 1, "count": 0}])", "a sample", {}, "UTF-8");
        ASSERT_TRUE(first) << first.error().text();
        auto records = std::make_shared<const RecordTable>(std::move(first->records));
        WireSetup setup;
        setup.source = parsed->source;
        setup.demoAddress = [this] { return Result<std::string>(service_->address()); };
        setup.fields = records->fields();
        auto made = LiveCollection::create(*parsed, records, std::make_shared<FolderPictures>(QStringList()),
                                           Estimating::Background,
                                           std::make_unique<PagedRecords>(parsed->paging, setup));
        ASSERT_TRUE(made) << made.error().text();
        live = std::move(*made);
        QObject::connect(live->paged(), &PagedRecords::noticed,
                         [this](const Error& error) { notices.push_back(error.text()); });
        live->setWindow(360, 400);
        live->startPages(now);
    }
    std::string countAt(std::int64_t place) {
        const PageRecord* record = pager().strip().recordAt(place);
        return record == nullptr ? "" : record->table->display(record->row, *record->table->find("count"));
    }
    FieldType countType() {
        for (const Field& field : live->paged()->fields()) {
            if (field.name == "count") {
                return field.type;
            }
        }
        return FieldType::Unknown;
    }
    bool readsAll() {
        return until([&] {
            if (keyAt(live->recordCount() - 1) == "30" && quiet()) {
                return true;
            }
            live->run().wheel(Length::px(60));
            return false;
        });
    }

    std::string odd = "42";
    std::string events;
    std::vector<std::string> notices;

private:
    std::unique_ptr<testing::RawServer> service_;
};

TEST_F(Widening, APageWithATextInANumbersPlaceIsTakenAndTheOthersStay) {
    odd = R"("a dozen")";
    openTraps(R"({"text": "{count} moths"})", false);
    ASSERT_TRUE(until([&] { return keyAt(0) == "1" && quiet(); }));
    EXPECT_EQ(countType(), FieldType::Integer);
    const Length before = live->run().arrangement().startOf(3);
    ASSERT_TRUE(readsAll());
    EXPECT_EQ(countType(), FieldType::Text);
    live->run().jumpTo(10);
    ASSERT_TRUE(until([&] { return keyAt(14) == "15" && quiet(); }));
    EXPECT_EQ(countAt(14), "a dozen");
    EXPECT_EQ(countAt(3), "9"); // read from the table made anew
    EXPECT_EQ(live->recordCount(), 30);
    EXPECT_EQ(live->run().arrangement().startOf(3), before); // all rows are alike
    EXPECT_TRUE(notices.empty()) << notices.front();
}

TEST_F(Widening, ADesignThatNeedsTheNumberSaysSoAndIsNotRunOnTexts) {
    odd = R"("a dozen")";
    openTraps(R"({"meter": "count", "from": 0, "to": 100})", false);
    ASSERT_TRUE(until([&] { return keyAt(0) == "1" && quiet(); }));
    live->run().jumpTo(12);
    ASSERT_TRUE(until([&] { return !notices.empty(); }));
    EXPECT_THAT(notices.front(), HasSubstr("count"));
    ASSERT_TRUE(until([&] { return keyAt(14) == "15" && quiet(); }));
    EXPECT_EQ(countAt(14), "a dozen"); // the records are here; only the design shows none of them
}

TEST_F(Widening, ALiveChangeThatIsTooWideIsTakenWithAllThatCameWithIt) {
    events = "id: 1\ndata: [{\"op\": \"replace\", \"path\": \"/traps/2/count\", \"value\": \"too many\"}]\n\n"
             "id: 2\ndata: [{\"op\": \"add\", \"path\": \"/traps/99\", \"value\": {\"id\": 99, \"count\": "
             "7}}]\n\n";
    openTraps(R"({"text": "{count} moths"})", true);
    ASSERT_TRUE(until([&] { return keyAt(1) == "2" && countAt(1) == "too many"; }));
    EXPECT_EQ(countType(), FieldType::Text);
    EXPECT_EQ(countAt(0), "0");
    ASSERT_TRUE(until([&] { return pager().waitingCount() == 1; }));
    live->showWaiting();
    frames(1);
    EXPECT_EQ(keyAt(0), "99");
    EXPECT_EQ(countAt(0), "7");
    ASSERT_TRUE(readsAll()); // pages that come later fit
    EXPECT_TRUE(notices.empty()) << notices.front();
}

} // namespace
} // namespace scorrere::render
