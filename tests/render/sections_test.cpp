// SPDX-License-Identifier: GPL-3.0-or-later
// Sections of a collection that runs: who says where they begin, what their headers say, how they are gone to.
#include "engine/record/record_builder.h"
#include "render/live_collection.h"
#include "render/strip_widget.h"
#include "testing/program/paged_fixture.h"
#include "testing/program/settled.h"

#include <QImage>
#include <QPainter>
#include <QTest>
#include <gtest/gtest.h>

namespace scorrere::render {
namespace {

/// Groups of 1 to 40 records, one after the other.
std::shared_ptr<const RecordTable> groupedRecords(std::int64_t count) {
    RecordBuilder builder;
    int group = 0;
    for (std::int64_t i = 0, left = 0; i < count; ++i, --left) {
        if (left == 0) {
            left = 1 + ++group * 7919 % 40;
        }
        builder.setText(builder.fieldNamed("group"), "group " + std::to_string(group));
        builder.setText(builder.fieldNamed("note"), std::string(static_cast<std::size_t>(i % 83), 'm'));
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

CollectionDocument groupedDocument(const std::string& arrangement, const std::string& items = "") {
    auto document = CollectionDocument::parse(R"({"scorrere": 1, "source": {"demo": {}}, "items": {)" +
                                                  items +
                                                  R"("record": {"text": "{note}", "lines": 0}},
            "arrangement": )" + arrangement + "}",
                                              "");
    EXPECT_TRUE(document) << document.error().text();
    return *document;
}

const char* const kGroups = R"({"list": {"sections": {"by": "{group}", "jumpList": true}}})";

class Grouped : public testing::Settled {
public:
    Grouped(const std::string& arrangement, std::int64_t count, Estimating how, const std::string& items = "")
        : Settled(groupedDocument(arrangement, items), groupedRecords(count), how) {}
    std::vector<std::int32_t> counts() const {
        return live->sections()->recordsOf(0, live->sections()->count());
    }
    QImage painted() {
        QImage image(360, 700, QImage::Format_ARGB32_Premultiplied);
        image.fill(Qt::white); // the window may be smaller
        QPainter painter(&image);
        live->paintWindow(painter, ItemColours::light(), 1);
        return image;
    }
};

std::vector<std::int32_t> countsOf(const RecordTable& records) {
    std::vector<std::int32_t> counts;
    std::string before;
    for (std::int64_t record = 0; record < records.size(); ++record) {
        const std::string now = records.display(record, *records.find("group"));
        if (now != before) {
            counts.push_back(0);
        }
        ++counts.back();
        before = now;
    }
    return counts;
}

TEST(LiveSections, AreToldAtOnceOfFewAndByAWorkerOfMany) {
    for (const std::int64_t count : {500, 9000}) {
        for (const Estimating how : {Estimating::AtOnce, Estimating::Background}) {
            for (const char* arrangement : {kGroups, R"({"grid": {"columns": 3, "sections": "{group}"}})",
                                            R"({"columns": {"lanes": 3, "sections": "{group}"}})",
                                            R"({"pager": {"sections": "{group}"}})"}) {
                Grouped shown(arrangement, count, how);
                shown.settle();
                EXPECT_EQ(shown.counts(), countsOf(*groupedRecords(count))) << count << arrangement;
                EXPECT_EQ(shown.live->sectionName(1).toStdString(), "group 2");
                EXPECT_EQ(shown.live->run().offset(), Length{}) << "the first header shows at once";
            }
        }
    }
}

TEST(LiveSections, AHeadingThatComesAgainIsCountedOnce) {
    const std::string rules = R"x({"list": {"sections": {"rules": [
        {"name": "odd", "when": "match(@.group, '.*[13579]')"}, {"name": "even"}]}}})x";
    for (const std::int64_t count : {500, 9000}) {
        Grouped shown(rules, count, Estimating::AtOnce);
        EXPECT_EQ(shown.live->headings(), 2) << count;
        EXPECT_GT(shown.live->sections()->count(), 10);
    }
}

TEST(LiveSections, StatesOnDemandAndNothingAtAllHaveNone) {
    const CollectionDocument document = groupedDocument(kGroups);
    for (const TailState state :
         {TailState::FirstLoad, TailState::Empty, TailState::Loading, TailState::End}) {
        auto made = LiveCollection::createStaged(document, groupedRecords(60), nullptr, state);
        ASSERT_TRUE(made);
        (*made)->setWindow(360, 700);
        (*made)->frame(0);
        const bool hasRecords = state == TailState::Loading || state == TailState::End;
        EXPECT_EQ((*made)->sectionAtTop() >= 0, hasRecords || state == TailState::FirstLoad);
        EXPECT_EQ((*made)->sections()->count() > 1, hasRecords) << "skeletons have no headings";
    }
    Grouped none(kGroups, 0, Estimating::Background);
    none.settle();
    EXPECT_EQ(none.live->sectionAtTop(), -1);
    none.live->setFolded(none.live->sectionAtTop(), true);
    none.settle();
}

TEST(LiveSections, CellsAreEstimatedAsTheyAreThoughTheFirstIsFolded) {
    const char* const kGrid = R"({"grid": {"columns": 3, "sections": "{group}"}})";
    Grouped shown(kGrid, 500, Estimating::Background);
    Grouped fresh(kGrid, 500, Estimating::Background);
    shown.live->setFolded(0, true);
    shown.live->setFolded(3, true);
    shown.live->setFolded(3, false); // all is estimated again
    fresh.live->setFolded(0, true);
    shown.settle();
    fresh.settle();
    const std::int64_t last = shown.live->run().arrangement().size() - 30;
    EXPECT_EQ(shown.live->run().arrangement().extentOf(last), fresh.live->run().arrangement().extentOf(last));
    EXPECT_EQ(shown.live->run().total(), fresh.live->run().total());
}

TEST(LiveSections, RecordsThatComeAndGoBeginAndEndThem) {
    Grouped shown(kGroups, 500, Estimating::Background);
    shown.settle();
    const auto before = shown.counts();
    shown.live->insertRecords(3, 400, 1); // of another group, in the first one's midst
    shown.settle();
    auto with = before;
    with[0] -= 3;
    with.insert(with.begin(), {3, 1});
    EXPECT_EQ(shown.counts(), with);
    shown.live->eraseRecords(3, 1);
    shown.settle();
    EXPECT_EQ(shown.counts(), before) << "what it parted is one again";
}

TEST(LiveSections, OfManyThatComeAtOnceAWorkerTells) {
    Grouped shown(kGroups, 9000, Estimating::Background);
    shown.live->eraseRecords(0, 9000);
    shown.settle();
    shown.live->insertRecords(0, 0, 9000);
    shown.settle();
    EXPECT_EQ(shown.counts(), countsOf(*groupedRecords(9000)));
}

TEST(LiveSections, AHeaderSaysItsNameAndHowMany) {
    Grouped shown(kGroups, 60, Estimating::Background, R"("sectionHeader": {"text": "{section}: {count}"},)");
    shown.settle();
    const auto carries = [&](std::int64_t position) {
        const ViewId view = shown.live->run().recycler().carrierOf(position);
        return shown.live->view(view).title().toStdString();
    };
    EXPECT_EQ(carries(0), "group 1: " + std::to_string(shown.counts()[0]));
    shown.live->insertRecords(1, 0, 2);
    shown.settle();
    EXPECT_EQ(carries(0), "group 1: " + std::to_string(shown.counts()[0])) << "two more";
}

TEST(LiveSections, OtherTextSizesAndWidthsLeaveThemAsTheyAre) {
    Grouped shown(kGroups, 9000, Estimating::Background);
    shown.settle();
    const auto before = shown.counts();
    shown.live->setFolded(2, true);
    shown.settle();
    shown.live->setTextScale(1.5);
    shown.live->setWindow(500, 600);
    EXPECT_EQ(shown.counts(), before) << "nobody has to tell them again";
    EXPECT_TRUE(shown.live->sections()->at(2).isFolded);
    shown.settle();
    EXPECT_EQ(shown.counts(), before);
    Grouped fresh(kGroups, 9000, Estimating::Background);
    fresh.live->setTextScale(1.5);
    fresh.live->setWindow(500, 600);
    fresh.settle();
    fresh.live->setFolded(2, true);
    fresh.settle();
    for (const std::int64_t section :
         {std::int64_t{0}, std::int64_t{3}, shown.live->sections()->count() - 1}) {
        shown.live->showSection(section);
        fresh.live->showSection(section);
        shown.settle();
        fresh.settle();
        EXPECT_EQ(shown.painted(), fresh.painted()) << section;
    }
}

TEST(LiveSections, FooterDesignsCloseThem) {
    Grouped shown(kGroups, 60, Estimating::Background, R"("sectionFooter": {"text": "end of {section}"},)");
    shown.settle();
    const std::int64_t last = shown.counts()[0] + 1;
    EXPECT_EQ(shown.live->run().arrangement().slotAt(last).role, Role::SectionFooter);
    EXPECT_EQ(shown.live->nameAt(last).toStdString(), "footer of group 1");
}

TEST(LiveSections, ATapOnAHeaderThatStaysMeansItAndNotWhatIsBelow) {
    Grouped shown(
        kGroups, 300, Estimating::Background,
        R"("sectionHeader": {"text": "{section}", "tap": "fold", "ground": "paper", "padding": 8},)");
    shown.settle();
    shown.live->run().wheel(Length::px(60));
    shown.settle();
    const auto tap = shown.live->tapAt(100, 10);
    ASSERT_TRUE(tap);
    EXPECT_EQ(tap->action, "fold");
    EXPECT_EQ(tap->section, shown.live->run()
                                .arrangement()
                                .slotAt(shown.live->run().arrangement().indexAt(shown.live->run().offset()))
                                .section);
    const QImage before = shown.painted();
    shown.live->setFolded(tap->section, true);
    shown.settle();
    EXPECT_TRUE(shown.live->sections()->at(tap->section).isFolded);
    EXPECT_NE(shown.painted(), before);
}

TEST(LiveSections, OneThatStaysIsPaintedOverWhatPasses) {
    Grouped shown(R"({"list": {"sections": "{group}"}})", 300, Estimating::Background,
                  R"("sectionHeader": {"text": "{section}", "ground": "#ff00ff", "padding": 8},)");
    shown.settle();
    shown.live->run().wheel(Length::px(90));
    shown.settle();
    EXPECT_EQ(shown.painted().pixelColor(300, 4), QColor(0xff, 0, 0xff));
    Grouped passing(R"({"list": {"sections": {"by": "{group}", "stay": false}}})", 300,
                    Estimating::Background,
                    R"("sectionHeader": {"text": "{section}", "ground": "#ff00ff", "padding": 8},)");
    passing.settle();
    passing.live->run().wheel(Length::px(90));
    passing.settle();
    EXPECT_NE(passing.painted().pixelColor(300, 4), QColor(0xff, 0, 0xff)) << "it scrolled away";
}

class PagedSections : public testing::PagedFixture {
protected:
    void openInSections() {
        open(2000, [](CollectionDocument& document, WireSetup&) {
            SectionsSpec sections;
            sections.by.is = SectionBy::Text{"{status}"}; // each comes many times
            document.arrangement.sections = sections;
            document.paging.keep = 3;
        });
    }
    std::string statusAt(std::int64_t place) {
        const PageRecord* record = pager().strip().recordAt(place);
        return record == nullptr ? "" : record->table->display(record->row, *record->table->find("status"));
    }
    /// Whoever stands beside one that is here begins a section where it says something else, and only there.
    void check() {
        const Sections& sections = *live->sections();
        ASSERT_EQ(sections.records(), pager().strip().places());
        for (std::int64_t place = 1; place < sections.records(); ++place) {
            const std::string before = statusAt(place - 1);
            if (const std::string is = statusAt(place); !is.empty() && !before.empty()) {
                const Sections::Stand stand = sections.ofPlace(place);
                ASSERT_EQ(stand.first == place && stand.isHeaded, is != before) << place;
            }
        }
        live->run().checkInvariants();
    }
};

TEST_F(PagedSections, GrowAndJoinAsPagesComeAndGo) {
    openInSections();
    ASSERT_TRUE(until([&] { return pager().strip().places() > 0 && quiet(); }));
    check();
    EXPECT_TRUE(live->sections()->at(0).isHeaded);
    const std::int64_t first = live->sections()->count();
    for (const std::int64_t place : {1500, 700, 0, 1990}) {
        live->showRecord(place);
        ASSERT_TRUE(until([&] { return pager().strip().recordAt(place) != nullptr && quiet(); })) << place;
        check();
    }
    EXPECT_GT(live->sections()->count(), first);
    // What the header that stays heads is looked up in what shows, though its first page may be gone.
    const Slot top =
        live->run().arrangement().slotAt(live->run().arrangement().indexAt(live->run().offset()));
    EXPECT_EQ(live->sectionName(top.section).toStdString(), statusAt(1990));
}

TEST(JumpList, NamesWhatHasRoomAndReachesTheRest) {
    EXPECT_EQ(namedSections(5, 20), (std::vector<std::int64_t>{0, 1, 2, 3, 4}));
    EXPECT_EQ(namedSections(100, 5), (std::vector<std::int64_t>{0, 24, 49, 74, 99}));
    EXPECT_EQ(namedSections(7, 1), std::vector<std::int64_t>{0});
    Grouped shown(kGroups, 9000, Estimating::Background);
    shown.settle();
    const auto list = shown.live->jumpList();
    ASSERT_TRUE(list);
    const std::int64_t count = shown.live->sections()->count();
    std::set<std::int64_t> reached;
    for (double y = list->box().top(); y < list->box().bottom(); y += 0.25) {
        reached.insert(*list->sectionAt({list->box().center().x(), y}, false));
    }
    EXPECT_EQ(*reached.begin(), 0);
    EXPECT_EQ(*reached.rbegin(), count - 1);
    EXPECT_FALSE(list->sectionAt({100, 300}, false)) << "beside it";
    EXPECT_EQ(list->sectionAt({100, 5000}, true), count - 1) << "dragged past its end";
}

TEST(JumpList, IsPaintedAtThePlaceAndSizeItHasWhateverTheDensity) {
    Grouped shown(kGroups, 500, Estimating::Background);
    shown.settle();
    const auto inked = [&](double scale) { // what of the list's room is inked, by its rows in tenths
        QImage image(QSize(static_cast<int>(360 * scale), static_cast<int>(700 * scale)),
                     QImage::Format_ARGB32_Premultiplied);
        QPainter painter(&image);
        painter.scale(scale, scale);
        shown.live->paintWindow(painter, ItemColours::light(), scale);
        painter.end();
        const QRectF box = shown.live->jumpList()->box();
        double dark = 0;
        for (int y = static_cast<int>(box.top() * scale); y < static_cast<int>(box.bottom() * scale); ++y) {
            for (int x = static_cast<int>((box.right() - 12) * scale);
                 x < static_cast<int>(box.right() * scale); ++x) {
                dark += (255 - image.pixelColor(x, y).lightness()) / 255.0;
            }
        }
        return dark / (scale * scale);
    };
    // Names are centred in the list: at whatever size it is painted about as much of them reaches its last 12 px.
    const double usual = inked(1);
    EXPECT_NEAR(inked(0.6), usual, usual * 0.4);
    EXPECT_NEAR(inked(2), usual, usual * 0.4);
}

TEST(JumpList, GoesWhereOneTapsAndFollowsADrag) {
    const auto records = groupedRecords(9000);
    StripWidget strip;
    strip.resize(360, 700);
    ASSERT_TRUE(strip.setCollection(groupedDocument(kGroups), records, nullptr));
    strip.show();
    ASSERT_TRUE(QTest::qWaitFor([&] { return !strip.collection()->isEstimating(); }, 20'000));
    const auto at = [&](double share) {
        const QRectF box = strip.collection()->jumpList()->box();
        return QPointF(box.center().x(), box.top() + box.height() * share).toPoint();
    };
    const auto section = [&] {
        scorrere::Run& run = strip.collection()->run();
        return run.arrangement().slotAt(run.hold().position).section;
    };
    const std::int64_t count = strip.collection()->sections()->count();
    QTest::mousePress(&strip, Qt::LeftButton, Qt::NoModifier, at(0.5));
    ASSERT_TRUE(QTest::qWaitFor([&] { return std::abs(section() - count / 2) <= count / 20; }));
    QTest::mouseMove(&strip, at(0.9));
    ASSERT_TRUE(QTest::qWaitFor([&] { return section() > count * 8 / 10; }));
    QTest::mouseRelease(&strip, Qt::LeftButton, Qt::NoModifier, at(0.9));
    EXPECT_FALSE(strip.collection()->run().motion().isPressed());
}

} // namespace
} // namespace scorrere::render
