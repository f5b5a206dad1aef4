// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/part_facts.h"

#include "engine/record/record_builder.h"

#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

class PartFactsTest : public ::testing::Test {
protected:
    PartFactsTest() {
        RecordBuilder builder;
        for (const char* word :
             {"short", "a text that is far too long for the one line that it may have here"}) {
            builder.setText(builder.fieldNamed("word"), word);
            builder.setJson(builder.fieldNamed("tags"), FieldType::List, R"(["a", "b"])");
            builder.endRecord();
        }
        board.setRecords(std::make_shared<const RecordTable>(builder.finish()));
        board.setSettings({{200, 1, 1}});
        auto document = CollectionDocument::parse(R"({"scorrere": 1, "name": "n", "source": {"list": ""},
            "items": {"record": {"column": [
                {"picture": "{word}", "width": 20, "height": 30},
                {"text": "{word}", "lines": 1, "width": 120},
                {"text": "{word}", "colour": "#eeeeee", "hide": "@.word == \"short\""},
                {"column": [{"text": "{word}", "colour": "#202020"}], "ground": "#101010"},
                {"repeat": "tags", "most": 3, "part": {"text": "{entry}"}},
                {"text": "{word}", "colour": "#202020"}]}}})",
                                                  {});
        EXPECT_TRUE(document) << document.error().text();
        EXPECT_TRUE(board.setDesign(*document, kRecordDesign));
        board.setHard({{0, {Extreme::Shortest}, 0}, {1, {Extreme::Tallest}, 0}}, {});
    }
    PartFacts of(int child) {
        return factsOf(board, "/items/record/column/" + std::to_string(child), render::ItemColours::light());
    }
    BoardModel board;
};

TEST_F(PartFactsTest, SayWhereAPartShowsIsCutAndHowLargeItIs) {
    const PartFacts text = of(1);
    EXPECT_EQ(text.shownOn, 2);
    EXPECT_EQ(text.cutOn, 1);
    EXPECT_EQ(text.widest, 120);
    EXPECT_EQ(text.readAs, 2) << "behind the picture";
    EXPECT_GE(text.contrast.value_or(0), PartFacts::kLeastContrast);
    const PartFacts picture = of(0);
    EXPECT_EQ(picture.target(), 20);
    EXPECT_LT(picture.target(), PartFacts::kLeastTarget);
    EXPECT_TRUE(picture.lacksWords);
    EXPECT_FALSE(picture.contrast);
}

TEST_F(PartFactsTest, FindWhatIsTooFaintWhereItShows) {
    const PartFacts faint = of(2);
    EXPECT_EQ(faint.shownOn, 1);
    ASSERT_TRUE(faint.contrast);
    EXPECT_LT(*faint.contrast, PartFacts::kLeastContrast);
    EXPECT_EQ(factsOf(board, "/nowhere", render::ItemColours::light()).shownOn, 0);
}

TEST_F(PartFactsTest, ATextIsReadAgainstTheBoxItStandsIn) {
    const double onDark =
        *factsOf(board, "/items/record/column/3/column/0", render::ItemColours::light()).contrast;
    const double onPaper = *of(5).contrast;
    EXPECT_LT(onDark, 1.5) << "nearly black on nearly black";
    EXPECT_GT(onPaper, 10) << "the same colour beside that box";
}

TEST_F(PartFactsTest, EntriesOfARepeatAreReadAsOne) {
    EXPECT_EQ(of(5).readAs, 7) << "behind picture, two texts, the one in the box, the tags, and \"+2\"";
}

} // namespace
} // namespace scorrere::workbench
