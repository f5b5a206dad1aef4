// SPDX-License-Identifier: GPL-3.0-or-later
// One's own few records, run as if there were more or fewer of them.
#include "testing/program/window_fixture.h"
#include "workbench/ui/flow/flow_station.h"

#include <QLabel>
#include <QTest>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::SentenceWord;

class AsIfTest : public WindowTest {
protected:
    void choose(const char* chosen) {
        Q_EMIT find<SentenceWord>("wordAsIf")->wordChosen(QString::fromUtf8(chosen));
        ASSERT_TRUE(settle());
    }
    std::string openHikes() {
        write("hikes.json", R"([{"id": 3, "name": "Ridge", "km": 12}, {"id": 7, "name": "Gorge"},
                                {"id": 8, "name": "Long lake path", "km": 31.5}])");
        const std::string path = write("hikes.collection.json", R"({"scorrere": 1, "noun": "hikes",
            "source": {"file": "hikes.json", "key": "id"},
            "items": {"record": {"column": [{"text": "{name}"}, {"text": "{id} {km}"}], "tap": "open"}},
            "arrangement": {"list": {"gap": 4}}})");
        openFile(path);
        window->goTo(QStringLiteral("flow"));
        EXPECT_TRUE(settle());
        return path;
    }
    std::int64_t running() { return run().arrangement().recordCount(); }
};

TEST_F(AsIfTest, AFewRecordsRunAsMany) {
    const std::string path = openHikes();
    EXPECT_THAT(sentenceOf(flow()).sentence().toStdString(),
                HasSubstr("3 hikes, as many as there are, all, containing anything"));
    EXPECT_EQ(running(), 3);
    choose("as if there were 20,000");
    EXPECT_EQ(running(), 20'000);
    EXPECT_THAT(find<QLabel>("cutawayName")->text().toStdString(), HasSubstr("made up from 3"));
    EXPECT_EQ(window->workspace().records()->size(), 3) << "what there is stays what it is";
    // The last is one of the names there are, and has a key of its own.
    run().jumpTo(19'999);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    const RecordTable& records = live().records();
    const std::string name(records.text(19'999, *records.find("name")));
    EXPECT_TRUE(name == "Ridge" || name == "Gorge" || name == "Long lake path") << name;
    EXPECT_NE(records.integer(19'999, *records.find("id")), records.integer(19'998, *records.find("id")));
    // The document says how many, and nothing of what was made up.
    ASSERT_TRUE(isSaved(path));
    const auto saved = CollectionDocument::load(path);
    ASSERT_TRUE(saved);
    EXPECT_EQ(saved->asIf, 20'000);
    std::ifstream file(path);
    EXPECT_THAT(std::string(std::istreambuf_iterator<char>(file), {}), Not(HasSubstr("Gorge")));
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_EQ(running(), 3);
    EXPECT_EQ(find<QLabel>("cutawayName")->text(), QStringLiteral("Cutaway"));
}

TEST_F(AsIfTest, AFileThatStillGrowsIsMadeUpOfAllOfIt) {
    std::string lines;
    for (int i = 0; i < 60'000; ++i) {
        lines += R"({"id":)" + std::to_string(i) + R"(,"s":"record )" + std::to_string(i) + "\"}\n";
    }
    write("large.ndjson", lines);
    const auto textOf = [](double padding) {
        return R"({"scorrere": 1, "source": {"file": "large.ndjson", "key": "id"}, "run": {"asIf": 500000},
            "items": {"record": {"text": "{s}", "padding": )" +
               std::to_string(padding) + "}}}";
    };
    // Another design while it grows is the one that it runs with in the end.
    bool isChanged = false;
    QObject::connect(&window->workspace(), &workbench::Workspace::grew, window.get(), [&](bool last) {
        if (!last && !isChanged) {
            isChanged = true;
            window->workspace().changeDesign(
                QStringLiteral("edit"),
                QStringLiteral(R"({"items": {"record": {"text": "{s}", "padding": 30}}})"), {});
        }
    });
    openFile(write("large.collection.json", textOf(4)));
    window->goTo(QStringLiteral("flow"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->workspace().records()->size() == 60'000; }, 60'000));
    ASSERT_TRUE(QTest::qWaitFor([&] { return running() == 500'000; }, 60'000));
    ASSERT_TRUE(settle());
    EXPECT_TRUE(isChanged) << "it came at once";
    EXPECT_THAT(find<QLabel>("cutawayName")->text().toStdString(), HasSubstr("made up from 60,000"));
    EXPECT_GT(run().placements().front().box.extent, Length::px(60)) << "the design as it is now";
    // The last of those made up has a key beyond those there are.
    const RecordTable& records = live().records();
    EXPECT_GE(records.integer(499'999, *records.find("id")), 60'000);
}

TEST_F(AsIfTest, WhatIsReadStaysWhenMoreAreMadeUp) {
    openHikes();
    choose("as if there were 1,000,000");
    run().jumpTo(70'000);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    choose("as if there were 20");
    EXPECT_EQ(running(), 20);
    choose("as if there were none");
    EXPECT_EQ(running(), 0);
    choose("as if there were 1");
    EXPECT_EQ(running(), 1);
    choose("as many as there are");
    EXPECT_EQ(running(), 3);
}

TEST_F(AsIfTest, ItsWordIsForOnesOwnRecords) {
    openDemo(20);
    EXPECT_EQ(flow().sentence()->findChild<SentenceWord*>(QStringLiteral("wordAsIf")), nullptr)
        << "there is another word for how many";
}

TEST_F(AsIfTest, ATapNamesTheRecordThatWasMadeUp) {
    openHikes();
    choose("as if there were 500");
    run().jumpTo(400);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    const auto tap = live().tapAt(20, 10);
    ASSERT_TRUE(tap);
    EXPECT_EQ(tap->record, 400);
    QString told;
    QObject::connect(&flow(), &workbench::Station::noticed, window.get(),
                     [&told](const workbench::Notice& notice) { told = notice.text; });
    const auto& cutaway = flow().cutaway();
    const QPoint at = (cutaway.windowRect().topLeft() + QPointF(20, 10) * cutaway.scale()).toPoint();
    QTest::mouseClick(&flow().cutaway(), Qt::LeftButton, {}, at);
    EXPECT_THAT(told.toStdString(), HasSubstr("record 401"));
}

TEST(AsIfDocument, TooManyAreRefusedWithTheirPlace) {
    const auto read = CollectionDocument::parse(
        R"({"scorrere": 1, "source": {"demo": {}}, "items": {"record": {"text": "a"}}, "run": {"asIf": 1e12}})",
        "");
    ASSERT_FALSE(read);
    EXPECT_THAT(read.error().text(), HasSubstr("asIf"));
}

} // namespace
} // namespace scorrere::testing
