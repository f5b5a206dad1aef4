// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of items that take several columns of a grid: whoever says which records they are, a worker or the page that
// came, in the end each stands where a run would have put it that knew them from its start.
#include "engine/record/record_builder.h"
#include "render/live_collection.h"
#include "testing/program/settled.h"

#include <QTest>
#include <gtest/gtest.h>
#include <map>

namespace scorrere::render {
namespace {

constexpr std::int64_t kManyRecords = 9000; // more than are looked at without a worker

/// Every seventh is a heading, and two of five are wide; none of them where a multiple of the columns is.
std::shared_ptr<const RecordTable> kindRecords(std::int64_t count) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        const std::int64_t dice = i * 7919 % 101;
        builder.setText(builder.fieldNamed("kind"), dice < 14 ? "heading" : dice < 50 ? "wide" : "plain");
        builder.setText(builder.fieldNamed("note"), std::string(static_cast<std::size_t>(i % 83), 'm'));
        builder.setInteger(builder.fieldNamed("size"), dice);
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

CollectionDocument spanDocument(const std::string& grid) {
    auto document = CollectionDocument::parse(
        R"({"scorrere": 1, "source": {"demo": {}}, "parameters": {"large": 50}, "items": {
            "record": {"text": "{note}", "lines": 0},
            "kinds": [{"name": "heading", "field": "kind", "is": ["heading"],
                       "design": {"text": "{kind}", "size": 22}},
                      {"name": "wide", "when": "@.size < $.parameters.large",
                       "design": {"column": [{"text": "{note}", "lines": 0}, {"space": 9}]}}]},
            "arrangement": {"grid": )" +
            grid + "}}",
        "");
    EXPECT_TRUE(document) << document.error().text();
    return *document;
}

const char* const kSpanGrid = R"({"columns": 3, "gap": 8, "spans": {"heading": "all", "wide": 2}})";

class Spanned : public testing::Settled {
public:
    Spanned(const std::string& grid, std::int64_t count, Estimating how, double width = 360)
        : Settled(spanDocument(grid), kindRecords(count), how, width) {}
    std::map<std::int64_t, Box> boxesAt(std::int64_t position) {
        live->run().jumpTo(position);
        settle();
        std::map<std::int64_t, Box> all;
        for (const Placement& placed : live->run().placements()) {
            if (placed.showing) {
                all[placed.position] = placed.box;
            }
        }
        return all;
    }
    const GridArrangement& grid() const {
        return dynamic_cast<const GridArrangement&>(live->run().arrangement());
    }
};

void expectAlike(Spanned& one, Spanned& other) {
    for (const std::int64_t position :
         {std::int64_t{0}, std::int64_t{17}, one.live->recordCount() / 2, one.live->recordCount() - 30}) {
        const auto boxes = one.boxesAt(position);
        EXPECT_GT(boxes.size(), 8U);
        EXPECT_EQ(boxes, other.boxesAt(position)) << position;
    }
}

TEST(Spans, ItemsTakeTheColumnsThatTheirKindSays) {
    Spanned shown(kSpanGrid, 60, Estimating::Background);
    shown.settle();
    const auto table = kindRecords(60);
    int exact = 0;
    for (const auto& [position, box] : shown.boxesAt(0)) {
        const std::string kind = table->display(position, *table->find("kind"));
        const int columns = kind == "heading" ? 3 : kind == "wide" ? 2 : 1;
        const int span = shown.grid().spanOf(position);
        EXPECT_GE(span, columns) << position;
        exact += span == columns ? 1 : 0;
        EXPECT_NEAR(box.crossExtent.toPx(), (360.0 + 8) / 3 * span - 8, 0.1) << position << " " << kind;
        if (kind == "heading") {
            EXPECT_LT(box.extent, Length::px(40)) << "no longer than what it holds";
        }
    }
    EXPECT_GT(exact, 10) << "others fill what their line has left";
}

TEST(Spans, AWorkerThatTellsThemOfManyComesToWhatARunThatKnowsThem) {
    for (const char* const grid : {kSpanGrid, R"({"columns": 4, "gap": 3, "shape": [1, 1], "holes": true,
                                              "spans": {"heading": "all", "wide": 3}})"}) {
        Spanned told(grid, kManyRecords, Estimating::Background);
        EXPECT_GT(told.grid().spanOf(1), 0);
        told.settle();
        Spanned known(grid, kManyRecords, Estimating::AtOnce);
        EXPECT_EQ(told.grid().lineCount(), known.grid().lineCount());
        expectAlike(told, known);
        // Estimated in the widths that they come to have.
        Arrangement& all = told.live->run().arrangement();
        int exact = 0;
        for (std::int64_t position = 3000; position < 3100; ++position) {
            const Length thought = all.extentOf(position);
            (void)told.boxesAt(position);
            exact += all.extentOf(position) == thought ? 1 : 0;
        }
        EXPECT_GT(exact, 90);
    }
}

TEST(Spans, TheFirstFrameKnowsThoseAtTheStart) {
    Spanned shown(kSpanGrid, kManyRecords, Estimating::Background);
    shown.live->frame(8333);
    const auto first = shown.live->run().placements();
    const std::vector<Placement> before(first.begin(), first.end());
    shown.settle();
    ASSERT_FALSE(before.empty());
    for (std::size_t i = 0; i < before.size(); ++i) {
        if (before[i].showing) {
            EXPECT_EQ(before[i].box, shown.live->run().placements()[i].box) << i;
        }
    }
}

TEST(Spans, RecordsThatComeAndGoWhileTheWorkerIsAtItAreWhereTheyBelong) {
    Spanned changed(kSpanGrid, kManyRecords, Estimating::Background);
    changed.live->frame(8333);
    changed.live->eraseRecords(20, 31);
    changed.live->insertRecords(4000, 20, 31);
    changed.live->eraseRecords(3990, 5);
    changed.live->insertRecords(0, 8000, 3);
    changed.settle();
    Spanned known(kSpanGrid, kManyRecords, Estimating::AtOnce);
    known.live->eraseRecords(20, 31);
    known.live->insertRecords(4000, 20, 31);
    known.live->eraseRecords(3990, 5);
    known.live->insertRecords(0, 8000, 3);
    known.settle();
    EXPECT_EQ(changed.grid().lineCount(), known.grid().lineCount());
    expectAlike(changed, known);
}

TEST(Spans, OtherColumnsComeOnceTheyAreKnownAndWhatIsReadStays) {
    const char* const grid = R"({"leastCell": 100, "gap": 8, "spans": {"heading": "all", "wide": 2}})";
    for (const std::int64_t count : {std::int64_t{300}, kManyRecords}) {
        Spanned changed(grid, count, Estimating::Background);
        changed.settle();
        (void)changed.boxesAt(count / 2);
        const HoldPoint read = changed.live->run().hold();
        changed.live->setWindow(700, 360);
        changed.settle();
        EXPECT_EQ(changed.grid().columns(), 6);
        const auto& placed = changed.live->run().placements();
        const auto item = std::ranges::find(placed, read.position, &Placement::position);
        ASSERT_NE(item, placed.end());
        EXPECT_EQ(item->box.start, read.onScreen);
        Spanned fresh(grid, count, Estimating::Background, 700);
        fresh.live->setWindow(700, 360);
        fresh.settle();
        expectAlike(changed, fresh);
    }
}

TEST(Spans, ALongLeafTakesOtherColumnsToo) {
    const char* const grid =
        R"({"leastCell": 100, "gap": 8, "byHand": 6000, "spans": {"heading": "all", "wide": 2}})";
    Spanned changed(grid, kManyRecords, Estimating::Background);
    changed.settle();
    EXPECT_EQ(changed.grid().columns(), 3);
    changed.live->setWindow(700, 360);
    changed.settle();
    EXPECT_EQ(changed.grid().columns(), 6);
    Spanned fresh(grid, kManyRecords, Estimating::Background, 700);
    fresh.live->setWindow(700, 360);
    fresh.settle();
    EXPECT_EQ(changed.grid().lineCount(), fresh.grid().lineCount());
    EXPECT_EQ(changed.boxesAt(5500), fresh.boxesAt(5500));
}

TEST(Spans, AParameterThatChoosesKindsChoosesSpans) {
    for (const std::int64_t count : {std::int64_t{300}, kManyRecords}) {
        Spanned changed(kSpanGrid, count, Estimating::Background);
        changed.settle();
        const std::int64_t lines = changed.grid().lineCount();
        Parameters parameters = changed.live->document().parameters;
        parameters.at(0).number = 90;
        changed.live->setParameters(parameters);
        changed.settle();
        EXPECT_GT(changed.grid().lineCount(), lines) << "more are wide";
        parameters.at(0).number = 50;
        changed.live->setParameters(parameters);
        changed.settle();
        Spanned fresh(kSpanGrid, count, Estimating::Background);
        fresh.settle();
        expectAlike(changed, fresh);
    }
}

} // namespace
} // namespace scorrere::render
