// SPDX-License-Identifier: GPL-3.0-or-later
// What a running collection is made of, each alone: what is estimated lands at its record whatever was edited
// meanwhile; which record stands where, and what stands where none is.
#include "engine/record/record_builder.h"
#include "render/live_designs.h"
#include "render/live_estimates.h"
#include "render/live_records.h"
#include "render/text_block.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "testing/program/settled.h"

#include <QImage>
#include <QPainter>
#include <QTest>
#include <cmath>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <numeric>
#include <rapidcheck/gtest.h>

namespace scorrere::testing {
namespace {

using render::EstimateTask;
using render::Estimating;
using render::LiveEstimates;
using render::LiveRecords;

constexpr std::int64_t kRecords = 9000; // more than two slices

std::shared_ptr<const RecordTable> notes(std::int64_t count) {
    RecordBuilder builder;
    for (std::int64_t i = 0; i < count; ++i) {
        builder.setText(builder.fieldNamed("note"), std::string(static_cast<std::size_t>(i % 211), 'm'));
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

CollectionDocument noteDocument() {
    auto document = CollectionDocument::parse(
        R"({"scorrere":1,"source":{"demo":{}},"items":{"record":{"text":"{note}","lines":0}}})", "");
    return *document;
}

std::shared_ptr<EstimateTask> estimateNotes() {
    static const auto records = notes(kRecords);
    auto task = std::make_shared<EstimateTask>();
    task->document = noteDocument();
    task->records = records;
    task->order = RecordOrder(kRecords);
    task->room = {Length::px(240)};
    task->from = kRecords / 2;
    return task;
}

const std::vector<std::int32_t>& extentsOfNotes() {
    static const std::vector<std::int32_t> extents = [] {
        std::vector<std::int32_t> all(kRecords, -1);
        LiveEstimates(Estimating::AtOnce)
            .start(estimateNotes(), {[&](const LiveEstimates::Estimated& slice) {
                                         std::ranges::copy(slice.extents, all.begin() + slice.place);
                                     },
                                     {},
                                     {}});
        return all;
    }();
    return extents;
}

RC_GTEST_PROP(LiveEstimatesProperty, EachLandsAtItsRecordWhateverWasEdited, ()) {
    std::vector<std::int64_t> order(kRecords); // -1: came meanwhile
    std::iota(order.begin(), order.end(), 0);
    std::vector<int> landed(kRecords, 0);
    LiveEstimates estimates(Estimating::Background);
    const LiveEstimates::Take take{
        [&](const LiveEstimates::Estimated& slice) {
            for (std::size_t i = 0; i < slice.extents.size(); ++i) {
                const std::int64_t record = order.at(static_cast<std::size_t>(slice.place) + i);
                RC_ASSERT(record >= 0);
                RC_ASSERT(slice.extents[i] == extentsOfNotes()[static_cast<std::size_t>(record)]);
                ++landed[static_cast<std::size_t>(record)];
            }
        },
        {},
        {}};
    estimates.start(estimateNotes(), take);
    const auto edits = *rc::gen::container<std::vector<std::pair<int, int>>>(
        6, rc::gen::pair(rc::gen::inRange(0, 8000), rc::gen::inRange(-900, 900)));
    for (const auto& [wanted, count] : edits) {
        const auto place = std::min<std::int64_t>(wanted, static_cast<std::int64_t>(order.size()));
        if (count >= 0) {
            order.insert(order.begin() + place, static_cast<std::size_t>(count), -1);
            estimates.noteEdit(place, count);
        } else {
            const auto end = std::min<std::int64_t>(place - count, static_cast<std::int64_t>(order.size()));
            if (end > place) {
                order.erase(order.begin() + place, order.begin() + end);
                estimates.noteEdit(place, place - end);
            }
        }
        if (estimates.hasSlices()) {
            estimates.takeSlice(take);
        }
        QCoreApplication::processEvents();
    }
    RC_ASSERT(QTest::qWaitFor(
        [&] {
            while (estimates.hasSlices()) {
                estimates.takeSlice(take);
            }
            return !estimates.isBusy();
        },
        30'000));
    for (const std::int64_t record : order) {
        if (record >= 0) {
            RC_ASSERT(landed[static_cast<std::size_t>(record)] == 1);
        }
    }
}

TEST(LiveEstimates, ThoseNearestToTheWindowComeFirst) {
    std::vector<std::int64_t> firsts;
    LiveEstimates(Estimating::AtOnce)
        .start(estimateNotes(),
               {[&](const LiveEstimates::Estimated& slice) { firsts.push_back(slice.place); }, {}, {}});
    EXPECT_EQ(firsts, (std::vector<std::int64_t>{4096, 0, 8192}));
}

TEST(LiveEstimates, WhatIsCancelledNeverComes) {
    LiveEstimates estimates(Estimating::Background);
    int came = 0;
    QObject::connect(&estimates, &LiveEstimates::came, [&] { ++came; });
    estimates.start(estimateNotes(), {});
    estimates.cancel();
    EXPECT_FALSE(estimates.isBusy());
    LiveEstimates other(Estimating::Background); // begun later: when it is here, the first would be, too
    other.start(estimateNotes(), {});
    ASSERT_TRUE(QTest::qWaitFor([&] { return other.hasSlices(); }, 30'000));
    EXPECT_EQ(came, 0);
}

TEST(LiveRecords, AStateOnDemandStandsInTheRecordsStead) {
    const CollectionDocument document = noteDocument();
    const auto records = notes(50);
    const LiveRecords loading(document, records, nullptr, TailState::FirstLoad);
    EXPECT_EQ(loading.places(), 30);
    EXPECT_TRUE(loading.isPlaceholder({Role::Record, 3}));
    EXPECT_NE(loading.contextOf({Role::Record, 3}).record, loading.contextOf({Role::Record, 4}).record)
        << "shapes vary";
    EXPECT_EQ(LiveRecords(document, records, nullptr, TailState::Empty).places(), 0);
    EXPECT_EQ(LiveRecords(document, records, nullptr, TailState::FirstFailed).places(), 0);
    const LiveRecords more(document, records, nullptr, TailState::Loading);
    EXPECT_EQ(more.places(), 50);
    EXPECT_FALSE(more.isPlaceholder({Role::Record, 3}));
    EXPECT_TRUE(more.hasTail());
}

TEST(LiveRecords, TheRowAtTheEndSaysWhatIsSoAndTellsWhenThatChanges) {
    const CollectionDocument document = noteDocument();
    LiveRecords failed(document, notes(5), nullptr, TailState::Failed);
    EXPECT_TRUE(failed.takeTail(5));
    EXPECT_FALSE(failed.takeTail(5)) << "it said so already";
    const FillContext says = failed.contextOf({Role::Footer, -1});
    const auto text = [&](const char* field) {
        return std::string(says.records.text(says.record, *says.records.find(field)));
    };
    EXPECT_NE(text("message").find("503"), std::string::npos) << text("message");
    EXPECT_FALSE(text("advice").empty());
    EXPECT_EQ(says.records.integer(says.record, *says.records.find("count")), 5);
    EXPECT_TRUE(failed.takeTail(6)) << "there is one more";
}

TEST(LiveRecords, EditsOfTheOrderMoveWhichRecordStandsWhere) {
    const CollectionDocument document = noteDocument();
    LiveRecords records(document, notes(10), nullptr, std::nullopt);
    records.order().erase(2, 3);
    EXPECT_EQ(records.places(), 7);
    EXPECT_EQ(records.recordAt(2), 5);
    EXPECT_EQ(records.contextOf({Role::Record, 2}).record, 5);
    EXPECT_EQ(records.keyAt(2), "") << "it is of no page";
    EXPECT_FALSE(records.isFailedAt(2));
}

TEST(LiveWindow, WhatIsReadyIsPaintedAsTheWindowWillShowIt) {
    Settled shown(noteDocument(), notes(200), Estimating::Never);
    shown.settle();
    const auto& all = shown.live->run().placements();
    const auto ready =
        std::ranges::find_if(all, [](const Placement& p) { return p.box.start > Length::px(700); });
    ASSERT_NE(ready, all.end());
    const std::int64_t position = ready->position;
    const auto blank = [](double height) {
        QImage image(360, static_cast<int>(height), QImage::Format_RGB32);
        image.fill(Qt::white);
        return image;
    };
    QImage before = blank(std::floor(ready->box.extent.toPx()));
    QPainter beforePainter(&before);
    beforePainter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    shown.live->paintReady(beforePainter, *ready, render::ItemColours::light(), 1);
    beforePainter.end();
    ASSERT_NE(before, blank(before.height())) << "it says something";

    shown.live->run().jumpTo(position);
    shown.settle();
    const auto now = std::ranges::find(all, position, &Placement::position);
    ASSERT_NE(now, all.end());
    ASSERT_TRUE(now->showing);
    QImage window = blank(700);
    QPainter painter(&window);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    shown.live->paintWindow(painter, render::ItemColours::light(), 1);
    painter.end();
    EXPECT_EQ(window.copy(0, static_cast<int>(std::lround(now->box.start.toPx())), 360, before.height()),
              before);
}

TEST(LiveDesigns, OtherFieldsKeepTheAddressesThatViewsReferTo) {
    const CollectionDocument document = noteDocument();
    auto compiled = render::compileDesigns(document, *notes(1), true);
    ASSERT_TRUE(compiled);
    render::LiveDesigns designs(std::move(*compiled), true, 1);
    const ItemDesign* const before = &designs.of(Arrangement::kRecordKind).design;
    const ItemDesign* const placeholder = &designs.of(designs.placeholderKind()).design;
    EXPECT_NE(before, placeholder);
    auto again = render::compileDesigns(document, *notes(2), true);
    designs.put(std::move(*again));
    EXPECT_EQ(&designs.of(Arrangement::kRecordKind).design, before);
    EXPECT_EQ(&designs.of(designs.placeholderKind()).design, placeholder);
}

TEST(LiveDesigns, FirstEstimatesGrowWithTheTextScale) {
    const CollectionDocument document = noteDocument();
    const auto records = notes(1);
    auto compiled = render::compileDesigns(document, *records, false);
    render::LiveDesigns designs(std::move(*compiled), false, 1);
    const FillContext nothing{*records, -1, &document.parameters, 0, nullptr, -1, 0};
    const Length once = designs.firstEstimates(nothing, -1)[0];
    EXPECT_GT(once, Length::px(20)) << "two lines of text";
    designs.setTextScale(2);
    EXPECT_GT(designs.firstEstimates(nothing, -1)[0].toPx(), once.toPx() * 1.7);
}

} // namespace
} // namespace scorrere::testing
