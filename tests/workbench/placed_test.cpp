// SPDX-License-Identifier: GPL-3.0-or-later
// A timetable as people make it: by the words of Flow's sentence, each of which moves items, and what the cutaway
// says of those that stand nowhere.
#include "examples/stairs.h"
#include "testing/program/flow_fixture.h"
#include "testing/program/painted_words.h"
#include "workbench/ui/flow/placed_words.h"

#include <QLabel>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::SectionField;

class PlacedTest : public FlowTest {
protected:
    void open(const char* arrangement = R"({"list": {"gap": 6}})") {
        const std::string records =
            R"([{\"Name\": \"early\", \"at\": 30, \"to\": 90, \"hall\": \"north\"},)"
            R"({\"Name\": \"late\", \"at\": 60, \"to\": 160, \"hall\": \"south\"}, {\"Name\": \"never\"}])";
        openCollection(R"("source": {"list": ")" + records +
                       R"("}, "items": {"record": {"text": "{Name}", "lines": 0}}, "arrangement": )" +
                       arrangement);
    }
    Box boxOf(std::int64_t place) {
        Arrangement& all = run().arrangement();
        const std::int64_t position = all.find({Role::Record, place});
        return position < 0 ? Box() : all.boxOf(position);
    }
    std::string cutawayName() { return find<QLabel>("cutawayName")->text().toStdString(); }
};

TEST_F(PlacedTest, EachWordMovesItemsAndIsOneUndo) {
    open();
    choose("wordArrangement", "placed by at");
    ASSERT_TRUE(settle());
    EXPECT_THAT(sentence(),
                HasSubstr("as placed by at running down, each as short as can be read, 1 px a unit, in "
                          "one lane, 6 px apart, all in one strip"));
    EXPECT_EQ(boxOf(1).start - boxOf(0).start, Length::px(30));
    EXPECT_EQ(boxOf(0).extent, Length::px(24));
    EXPECT_THAT(cutawayName(), HasSubstr("1 stand nowhere"));
    choose("wordPlacedLength", "to to");
    ASSERT_TRUE(settle());
    EXPECT_EQ(boxOf(0).extent, Length::px(60));
    EXPECT_EQ(boxOf(0).crossExtent + Length::px(6) + boxOf(1).crossExtent, run().cross()) << "they overlap";
    choose("wordPlacedScale", "4 px a unit");
    ASSERT_TRUE(settle());
    EXPECT_EQ(boxOf(1).start - boxOf(0).start, Length::px(120));
    choose("wordPlacedLane", "lanes by hall");
    ASSERT_TRUE(settle());
    EXPECT_GT(boxOf(1).crossStart, boxOf(0).crossStart);
    choose("wordPlacedGap", "40 px");
    ASSERT_TRUE(settle());
    EXPECT_EQ(boxOf(0).crossExtent + Length::px(40) + boxOf(1).crossExtent, run().cross());
    choose("wordAxis", "sideways");
    ASSERT_TRUE(settle());
    EXPECT_EQ(boxOf(0).extent, Length::px(240)) << "the way it runs does not change how long it is";
    for (int i = 0; i < 6; ++i) {
        window->workspace().undo().undo();
        ASSERT_TRUE(settle());
    }
    EXPECT_THAT(sentence(), HasSubstr("as a list running"));
}

TEST_F(PlacedTest, AFieldThatIsNotThereIsSaidAndWhatRanRunsOn) {
    open(R"({"placed": {"start": "at", "end": "to"}})");
    ASSERT_TRUE(settle());
    choose("wordPlacedLane", "lanes by wing");
    ASSERT_TRUE(settle());
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("wing"));
    EXPECT_EQ(boxOf(0).extent, Length::px(60));
}

TEST_F(PlacedTest, WhereNothingStandsTheCutawaySaysHowFarTheNextIs) {
    open(R"({"placed": {"start": "at", "scale": 100}})"); // the second 3,000 px behind the first
    wheel(*find<workbench::Cutaway>("cutaway"), {0, -1000});
    ASSERT_EQ(run().offset(), Length::px(1000));
    auto* cutaway = find<workbench::Cutaway>("cutaway");
    const auto isInked = [&] { // in the middle of the window
        const QImage seen = cutaway->grab().toImage();
        const QRect middle(cutaway->windowRect().center().toPoint() - QPoint(40, 20), QSize(80, 40));
        const QColor paper = seen.pixelColor(middle.topLeft());
        for (int y = middle.top(); y < middle.bottom(); ++y) {
            for (int x = middle.left(); x < middle.right(); ++x) {
                if (seen.pixelColor(x, y) != paper) {
                    return true;
                }
            }
        }
        return false;
    };
    EXPECT_TRUE(isInked()) << "nothing here, the next in 2,000 px";
    EXPECT_TRUE(std::ranges::any_of(paintedWords(*find("stripMap")), [](const PaintedWord& word) {
        return word.text.contains(QLatin1String("after 1"));
    }));
    wheel(*cutaway, {0, 1000}); // the first stands at the window's start, and the middle is empty
    EXPECT_FALSE(isInked());
}

TEST_F(PlacedTest, OnesOwnArrangementIsAWordToo) {
    examples::addStairs();
    open();
    choose("wordArrangement", "your own stairs");
    EXPECT_THAT(sentence(), HasSubstr("as your own stairs running down, in no sections, all in one strip"));
    EXPECT_GT(boxOf(1).crossStart, boxOf(0).crossStart);
    choose("wordArrangement", "your own spiral");
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("brings no arrangement \"spiral\""));
    EXPECT_GT(boxOf(1).crossStart, boxOf(0).crossStart) << "what ran runs on";
}

TEST(PlacedWords, AreUnderstoodBothWays) {
    const std::vector<SectionField> fields{{QStringLiteral("from"), true},
                                           {QStringLiteral("until"), true},
                                           {QStringLiteral("minutes"), false},
                                           {QStringLiteral("Site"), false}};
    PlacedBy by;
    by.start = "from";
    const QStringList lengths = workbench::placedLengthChoices(fields, by);
    EXPECT_TRUE(lengths.contains(QStringLiteral("to until")));
    EXPECT_TRUE(lengths.contains(QStringLiteral("for minutes")));
    EXPECT_FALSE(lengths.contains(QStringLiteral("to from")));
    EXPECT_FALSE(lengths.contains(QStringLiteral("to minutes"))) << "a time does not end at a number";
    for (const QString& choice : lengths) {
        EXPECT_EQ(workbench::placedLengthInWords(*workbench::placedLengthFromWords(choice, by)), choice);
    }
    for (const bool isTime : {true, false}) {
        for (const QString& choice : workbench::placedScaleChoices(isTime)) {
            EXPECT_EQ(workbench::placedScaleInWords(*workbench::placedScaleFromWords(choice, by), isTime),
                      choice);
        }
    }
    for (const QString& choice : workbench::placedLaneChoices(fields)) {
        EXPECT_EQ(workbench::placedLaneInWords(*workbench::placedLaneFromWords(choice)), choice);
    }
    EXPECT_EQ(workbench::placedLaneFromWords(QStringLiteral("by Site")), "Site");
    EXPECT_EQ(workbench::placedLengthFromWords(QStringLiteral("for 45 minutes"), by)->units, 45);
    EXPECT_EQ(workbench::placedScaleFromWords(QStringLiteral("90px/hour"), by)->unit, PlacedBy::Unit::Hour);
    EXPECT_FALSE(workbench::placedScaleFromWords(QStringLiteral("0 px a day"), by));
    EXPECT_FALSE(workbench::placedLengthFromWords(QStringLiteral("for 0"), by));
    EXPECT_FALSE(workbench::placedLengthFromWords(QStringLiteral("long"), by));
    EXPECT_FALSE(workbench::placedLaneFromWords(QStringLiteral("two")));
}

} // namespace
} // namespace scorrere::testing
