// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/record_builder.h"
#include "render/job.h"
#include "render/strip_widget.h"
#include "render/text_block.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/wing_pictures.h"

#include <QTemporaryDir>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::render {
namespace {

FontSet::Face face(double size = 15) {
    PartSpec part;
    part.type = PartType::Text;
    part.binding = "x";
    part.style.size = Length::fromPx(size);
    const auto design = ItemDesign::compile(part, {}, "en");
    return FontSet(*design, 1).faces[0];
}

TEST(TextBlock, IsShapedOnceForAnyNumberOfWidths) {
    TextBlock block;
    const auto one = face();
    const std::int64_t before = TextBlock::shapedEver();
    const TextSize wide = block.set("a few words to break", one, Length::px(500), 0);
    const TextSize narrow = block.set("a few words to break", one, Length::px(60), 0);
    EXPECT_EQ(TextBlock::shapedEver(), before + 1);
    EXPECT_GT(narrow.height, wide.height);
    EXPECT_EQ(wide.height, Length::px(21));
    block.set("other words", one, Length::px(60), 0);
    EXPECT_EQ(TextBlock::shapedEver(), before + 2);
}

TEST(TextBlock, WhatDoesNotFitIsCutAtItsLines) {
    TextBlock block;
    const TextSize size = block.set("a few words to break in a very narrow place", face(), Length::px(80), 2);
    EXPECT_EQ(size.height, Length::px(42));
    EXPECT_LE(size.width, Length::px(81));
}

TEST(TextBlock, LinesAreAsHighWhateverTheScript) {
    for (const char* text : {"Latin", "Λευκή", "عثة", "ヨシノ"}) {
        TextBlock block;
        EXPECT_EQ(block.set(text, face(), Length::px(300), 1).height, Length::px(21)) << text;
    }
}

TEST(TextBlock, EstimatesAgreeWithRealBreaking) {
    const auto document = CollectionDocument::parse(service::demoDocument(2000), "");
    const auto records = service::makeSightings(2000, 3);
    const auto design = ItemDesign::compile(document->item, document->scope(*records));
    const FontSet fonts(*design, 1);
    TextCache texts(1 << 24);
    const auto tables = fonts.advanceTables();
    ItemEstimator estimator(*design, tables);
    ItemView view;
    view.build(*design);
    SteadyWatch watch;
    CostMeter meter(watch);
    int exact = 0;
    int estimated = 0;
    for (std::int64_t i = 0; i < records->size(); ++i) {
        if (const auto extent =
                estimator.estimate(FillContext{*records, i, &document->parameters}, {Length::px(392)})) {
            ++estimated;
            exact += extent->height == view.fill(FillContext{*records, i, &document->parameters},
                                                 {fonts, texts}, {Length::px(392)}, meter)
                                           .height
                         ? 1
                         : 0;
        }
    }
    EXPECT_GT(estimated, 1700);
    EXPECT_GT(exact, estimated * 96 / 100);
}

TEST(PictureCache, StaysWithinItsBudgetAndNeverWaits) {
    PictureCache cache(std::make_shared<service::WingPictures>(), 64 * 64 * 4 * 10);
    for (int i = 1; i < 40; ++i) {
        const QString address = QStringLiteral("wings/%1-s11.png").arg(i);
        EXPECT_EQ(cache.find({address, {64, 64}}).state, PictureState::Loading);
        ASSERT_TRUE(QTest::qWaitFor([&] {
            return cache.find({address, {64, 64}}).state == PictureState::Ready;
        }));
        EXPECT_EQ(cache.find({address, {64, 64}}).image.size(), QSize(64, 64));
        EXPECT_LE(cache.bytesKept(), 64 * 64 * 4 * 10);
    }
}

TEST(PictureCache, ForgetsOldWishes) {
    PictureCache cache(std::make_shared<service::WingPictures>(), 1 << 26);
    for (int i = 1; i <= 500; ++i) {
        cache.find({QStringLiteral("wings/%1-l11.png").arg(i), {64, 64}});
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return cache.isQuiet(); }, 20'000));
    EXPECT_LT(cache.decodedEver(), 100);
}

TEST(Job, OnlyTheNewestResultArrives) {
    Job job;
    std::vector<int> arrived;
    for (int i = 0; i < 5; ++i) {
        job.start(
            [i](std::stop_token stop, const Job::Post&) {
                while (i < 4 && !stop.stop_requested()) {
                    std::this_thread::yield();
                }
                return i;
            },
            [&](int value) { arrived.push_back(value); });
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return !arrived.empty(); }));
    EXPECT_EQ(arrived, std::vector<int>{4});
}

TEST(Job, NothingArrivesAfterItIsGone) {
    bool arrived = false;
    {
        Job job;
        job.start(
            [](std::stop_token stop, const Job::Post&) {
                while (!stop.stop_requested()) {
                    std::this_thread::yield();
                }
                return 1;
            },
            [&](int) { arrived = true; });
    }
    QCoreApplication::processEvents();
    EXPECT_FALSE(arrived);
}

std::shared_ptr<const RecordTable> mothRecords(std::int64_t count) {
    return std::make_shared<const RecordTable>(*service::makeSightings(count, 1));
}

TEST(StripWidget, ShowsACollectionAndScrolls) {
    StripWidget widget;
    widget.resize(392, 600);
    const auto document = CollectionDocument::parse(service::demoDocument(500), "");
    ASSERT_TRUE(widget.setCollection(*document, mothRecords(500), std::make_shared<service::WingPictures>()));
    widget.show();
    QTest::keyClick(&widget, Qt::Key_PageDown);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return widget.collection()->isIdle() && widget.collection()->run().offset() > Length{}; }));
    EXPECT_EQ(widget.collection()->run().offset(), Length::px(552));
    widget.resize(300, 500);
    (void)widget.grab();
    EXPECT_EQ(widget.collection()->run().cross(), Length::px(300));
}

TEST(StripWidget, APagerIsSwipedAndItsMarksAreTapped) {
    StripWidget widget;
    widget.resize(392, 600);
    const auto document = CollectionDocument::parse(service::demoDocument(service::DemoForm::Pager), "");
    ASSERT_TRUE(document) << document.error().text();
    ASSERT_TRUE(widget.setCollection(*document, mothRecords(50), std::make_shared<service::WingPictures>()));
    widget.show();
    LiveCollection& live = *widget.collection();
    const auto restsOn = [&](std::int64_t position) {
        return live.isIdle() && live.run().offset() == live.run().arrangement().restOf(position);
    };
    ASSERT_TRUE(QTest::qWaitFor([&] { return restsOn(0); }));
    QTest::mousePress(&widget, Qt::LeftButton, {}, QPoint(350, 300));
    QTest::mouseMove(&widget, QPoint(200, 300));
    QTest::mouseMove(&widget, QPoint(60, 300));
    QTest::mouseRelease(&widget, Qt::LeftButton, {}, QPoint(60, 300));
    ASSERT_TRUE(QTest::qWaitFor([&] { return restsOn(1); })) << "more than half of the way is on";
    const QPointF mark = live.marks()->markOf(3).center();
    QTest::mouseClick(&widget, Qt::LeftButton, {}, mark.toPoint());
    ASSERT_TRUE(QTest::qWaitFor([&] { return restsOn(3); }));
    QTest::mouseClick(&widget, Qt::LeftButton, {}, QPoint(200, 300));
    EXPECT_TRUE(QTest::qWaitFor([&] { return restsOn(3); })) << "a tap elsewhere goes nowhere";
    widget.resize(300, 500);
    ASSERT_TRUE(QTest::qWaitFor([&] { return restsOn(3); })) << "and so it does at another size";
}

TEST(StripWidget, ADesignThatDoesNotFitTheRecordsIsRefusedWithItsPlace) {
    StripWidget widget;
    RecordBuilder builder;
    builder.setText(builder.fieldNamed("other"), "x");
    builder.endRecord();
    const auto document = CollectionDocument::parse(service::demoDocument(1), "demo.json");
    const Outcome set = widget.setCollection(*document, std::make_shared<const RecordTable>(builder.finish()),
                                             std::make_shared<service::WingPictures>());
    ASSERT_FALSE(set);
    EXPECT_GT(set.error().place.line, 0);
    EXPECT_EQ(widget.collection(), nullptr);
}

TEST(LiveCollection, EstimatesComeInSlicesAndSurviveEdits) {
    const auto document = CollectionDocument::parse(service::demoDocument(30'000), "");
    auto made = LiveCollection::create(*document, mothRecords(30'000),
                                       std::make_shared<service::WingPictures>(), Estimating::Background);
    ASSERT_TRUE(made);
    LiveCollection& live = **made;
    live.setWindow(392, 780);
    std::int64_t now = 0;
    std::int64_t edit = 0;
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            if (++edit < 20) {
                live.insertRecords(edit * 997, 5, 3);
                live.eraseRecords(edit * 1511, 2);
            }
            live.frame(now += 8333);
            return !live.isEstimating();
        },
        30'000));
    live.run().checkInvariants();
    // Where an estimate landed it is the right record's: the strip is as long as its records are.
    auto fresh = LiveCollection::create(*document, mothRecords(30'000),
                                        std::make_shared<service::WingPictures>(), Estimating::AtOnce);
    (*fresh)->setWindow(392, 780);
    (*fresh)->frame(0);
    const double ratio = live.run().total().toPx() / (*fresh)->run().total().toPx();
    EXPECT_NEAR(ratio, 1.0, 0.01);
}

TEST(LiveCollection, ScriptsWithoutATableAreShapedByTheWorker) {
    RecordBuilder builder;
    for (int i = 0; i < 3000; ++i) {
        std::string note;
        for (int word = 0; word < i % 40; ++word) {
            note += word % 3 == 0 ? "שלום " : "ตะวันออก ";
        }
        builder.setText(builder.fieldNamed("note"), note + ".");
        builder.endRecord();
    }
    const auto document = CollectionDocument::parse(
        R"({"scorrere":1,"source":{"demo":{}},"items":{"record":{"text":"{note}","lines":0}}})", "");
    auto made = LiveCollection::create(*document, std::make_shared<const RecordTable>(builder.finish()),
                                       std::make_shared<service::WingPictures>(), Estimating::Background);
    ASSERT_TRUE(made) << made.error().text();
    LiveCollection& live = **made;
    live.setWindow(392, 780);
    std::int64_t now = 0;
    ASSERT_TRUE(QTest::qWaitFor([&] { return (live.frame(now += 8333), !live.isEstimating()); }, 30'000));
    EXPECT_EQ(live.run().arrangement().knownBefore(3000), 3000);
    live.run().jumpTo(2500);
    EXPECT_EQ(live.frame(now += 8333).misestimate, Length{}) << "what the worker measured is what is painted";
}

TEST(LiveCollection, KeptPicturesShowWhatIsPaintedFromLayouts) {
    const auto document = CollectionDocument::parse(service::demoDocument(100), "");
    auto made = LiveCollection::create(*document, mothRecords(100), std::make_shared<service::WingPictures>(),
                                       Estimating::AtOnce);
    LiveCollection& live = **made;
    live.setWindow(392, 780);
    const auto paint = [&](const ItemColours& colours) {
        QImage image(392, 780, QImage::Format_RGB32);
        QPainter painter(&image);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        live.paintWindow(painter, colours, 1);
        painter.end();
        return image;
    };
    std::int64_t now = 0;
    for (int i = 0; i < 30; ++i) {
        live.frame(now += 8333);
    }
    (void)paint(ItemColours::light());
    ASSERT_TRUE(QTest::qWaitFor([&] { return live.pictures().isQuiet(); }));
    const QImage direct = paint(ItemColours::light());
    const QImage keeping = paint(ItemColours::light());
    const QImage kept = paint(ItemColours::light());
    EXPECT_EQ(direct, keeping);
    EXPECT_EQ(direct, kept);
    EXPECT_NE(paint(ItemColours::dark()), kept);
}

} // namespace
} // namespace scorrere::render
