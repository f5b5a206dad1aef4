// SPDX-License-Identifier: GPL-3.0-or-later
// Several windows on one collection: by the words of the sentence, by wheel and keys in each, over a file and over
// a service that is asked once.
#include "testing/program/flow_fixture.h"
#include "workbench/ui/flow/beside_words.h"

#include <QTest>
#include <QWheelEvent>
#include <map>

namespace scorrere::testing {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;
using workbench::Cutaway;
using workbench::SentenceWord;

class BesideTest : public FlowTest {
protected:
    void open(const char* said = "{}") {
        openCollection(std::string(R"("source": {"demo": {"count": 300}},
            "items": {"record": {"column": [{"text": "{species}", "lines": 0}, {"text": "{note}", "lines": 0}],
                                 "padding": 6}},
            "window": )") +
                       said);
    }
    render::LiveCollection& of(int which) {
        return *flow().runner().windows()[static_cast<std::size_t>(which)];
    }
    Cutaway& cutaway(int which) { return flow().cutawayOf(which); }
    void wheel(int which, int by) { FlowTest::wheel(cutaway(which), {0, by}); }
    /// Where the records that show in a window stand, by their place.
    std::map<std::int64_t, Length> shown(int which) {
        std::map<std::int64_t, Length> all;
        scorrere::Run& of_ = of(which).run();
        for (const Placement& placement : of_.placements()) {
            if (placement.showing) {
                all[of_.arrangement().slotAt(placement.position).place] = placement.box.start;
            }
        }
        return all;
    }
    /// They have an item at the same place of their windows.
    bool standTogether(int a, int b) {
        const auto one = shown(a);
        for (const auto& [place, start] : shown(b)) {
            if (one.contains(place) && one.at(place) == start) {
                return true;
            }
        }
        return false;
    }
};

TEST_F(BesideTest, IsAWordThatUndoTakesBackAndTheFileKeeps) {
    open();
    EXPECT_THAT(sentence(), HasSubstr("text at 100%, by hand nothing, beside no other."));
    choose("wordBeside", "a tablet and a tall handset at 200%, dark");
    EXPECT_THAT(sentence(),
                HasSubstr("beside a tablet and a tall handset at 200%, dark, scrolled together."));
    ASSERT_EQ(flow().runner().windows().size(), 3U);
    EXPECT_TRUE(cutaway(1).isVisible() && cutaway(2).isVisible());
    EXPECT_EQ(of(1).run().cross(), Length::px(820));
    EXPECT_EQ(of(2).textScale(), 2);
    EXPECT_GT(of(2).run().placements()[0].box.extent, of(0).run().placements()[0].box.extent * 3 / 2);
    EXPECT_NEAR(cutaway(0).scale(), cutaway(1).scale(), 1e-9) << "devices are drawn at one scale";
    // The dark one is dark, in the same workbench.
    const auto paperOf = [&](int which, const QColor& paper) {
        const QImage image = cutaway(which).grab().toImage();
        int found = 0;
        for (int y = 0; y < image.height(); ++y) {
            for (int x = 0; x < image.width(); ++x) {
                found += image.pixelColor(x, y) == paper ? 1 : 0;
            }
        }
        return found;
    };
    const QColor light = render::ItemColours::light().paper;
    const QColor dark = render::ItemColours::dark().paper;
    EXPECT_GT(paperOf(0, light), 20 * paperOf(0, dark));
    EXPECT_GT(paperOf(2, dark), 20 * paperOf(2, light));
    const std::string path = folder.filePath(QStringLiteral("three.collection.json")).toStdString();
    ASSERT_TRUE(isSaved(path));
    const auto again = CollectionDocument::load(path);
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_EQ(again->window, document()->window);
    window->workspace().undo().undo();
    ASSERT_TRUE(settle());
    EXPECT_EQ(flow().runner().windows().size(), 1U);
    EXPECT_FALSE(cutaway(1).isVisible());
}

TEST_F(BesideTest, WhoeverIsScrolledLeadsAndTheOthersStandAtTheSameRecord) {
    open(R"({"beside": [{"device": "narrow handset", "textScale": 1.5}, {"device": "tablet"}]})");
    wheel(0, -1200);
    EXPECT_GT(shown(0).begin()->first, 2);
    EXPECT_TRUE(standTogether(0, 1));
    EXPECT_TRUE(standTogether(0, 2));
    wheel(1, -900);
    EXPECT_EQ(flow().runner().lead(), 1);
    EXPECT_TRUE(cutaway(1).hasFocus());
    EXPECT_TRUE(standTogether(1, 0));
    QTest::keyClick(&cutaway(1), Qt::Key_End);
    ASSERT_TRUE(QTest::qWaitFor([&] { return areIdle() && shown(1).rbegin()->first == 299; }));
    EXPECT_EQ(shown(0).rbegin()->first, 299);
    EXPECT_EQ(shown(2).rbegin()->first, 299);
    for (int which = 0; which < 3; ++which) {
        of(which).run().checkInvariants();
    }
    choose("wordTogether", "apart");
    const auto before = shown(0);
    wheel(1, 3000);
    EXPECT_EQ(shown(0), before);
    EXPECT_LT(shown(1).begin()->first, 280);
}

TEST_F(BesideTest, InstrumentsAndTheStripMapTellOfTheOneThatHasTheFocus) {
    open(R"({"beside": [{"device": "tablet", "locale": "ar"}]})");
    EXPECT_EQ(flow().runner().looked(), &of(0));
    cutaway(1).setFocus(Qt::TabFocusReason);
    ASSERT_TRUE(QTest::qWaitFor([&] { return flow().runner().looked() == &of(1); }));
    EXPECT_TRUE(of(1).axis().isMirrored) << "it is read from the right";
    EXPECT_FALSE(of(0).axis().isMirrored);
    auto* map = find<workbench::StripMap>("stripMap");
    QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(30, map->height() / 2));
    ASSERT_TRUE(QTest::qWaitFor([&] { return areIdle() && shown(1).begin()->first > 60; }));
    EXPECT_TRUE(standTogether(1, 0));
}

TEST_F(BesideTest, ADesignAndParametersChangeInAllAndRecordsComeToAll) {
    open(R"({"beside": [{"device": "tablet"}]})");
    wheel(0, -2400);
    const std::int64_t read = shown(0).begin()->first;
    CollectionDocument to = *document();
    to.arrangement.form = GridSpec();
    window->workspace().change(QStringLiteral("arrangement"), to);
    ASSERT_TRUE(settle());
    ASSERT_TRUE(QTest::qWaitFor([&] { return areIdle(); }));
    for (int each = 0; each < 2; ++each) {
        EXPECT_EQ(of(each).run().arrangement().mostInALine(), 3U);
        EXPECT_LE(shown(each).begin()->first, read + 3);
        EXPECT_GE(shown(each).rbegin()->first, read);
    }
}

TEST_F(BesideTest, TheyAreTurnedByHandTogether) {
    open(R"({"beside": [{"device": "tablet"}]})");
    choose("wordTurning", "20 at a time, turned by hand");
    QTest::keyClick(&cutaway(0), Qt::Key_BracketRight);
    ASSERT_TRUE(QTest::qWaitFor([&] { return areIdle() && of(1).leaf().first == 20; }));
    EXPECT_EQ(of(0).leaf().first, 20);
    choose("wordBeside", "a tablet and a narrow handset");
    EXPECT_EQ(of(2).leaf().first, 20) << "one that comes later opens where the others are";
    EXPECT_EQ(of(2).nameAt(0).toStdString(), "21");
}

TEST_F(BesideTest, AServiceIsAskedOnceForAll) {
    window->workspace().opening().openDemoService();
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return !window->workspace().opening().isBusy() && document() != nullptr; }, 30'000));
    window->goTo(QStringLiteral("flow"));
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return live().recordCount() > 0 && live().contextAt(0).has_value(); }, 30'000));
    Q_EMIT find<SentenceWord>("wordBeside")->wordChosen(QStringLiteral("a tablet"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return flow().runner().windows().size() == 2; }));
    const auto areHere = [&](int which) {
        // Not only the pages: what the views show is no placeholder any more.
        return std::ranges::none_of(of(which).run().placements(), [&](const Placement& placement) {
            return placement.showing && of(which).view(placement.view).isSkeleton();
        });
    };
    for (int i = 0; i < 6; ++i) {
        const Length from = of(i % 2).run().offset();
        QTest::keyClick(&cutaway(i % 2), Qt::Key_PageDown);
        ASSERT_TRUE(QTest::qWaitFor(
            [&] {
                return of(i % 2).run().offset() > from && areIdle() && areHere(0) && areHere(1) &&
                       standTogether(0, 1);
            },
            30'000));
    }
    EXPECT_GT(shown(1).rbegin()->first, 40);
    EXPECT_EQ(of(0).run().arrangement().recordCount(), of(1).run().arrangement().recordCount());
    std::map<std::string, int> asked;
    for (const auto& entry : live().paged()->pager().log().entries()) {
        if (entry.outcome == AskOutcome::Came || entry.outcome == AskOutcome::InFlight) {
            ++asked[std::to_string(entry.page)];
        }
    }
    for (const auto& [page, times] : asked) {
        EXPECT_EQ(times, 1) << page;
    }
    // Apart, pages come for the one that is scrolled.
    Q_EMIT find<SentenceWord>("wordTogether")->wordChosen(QStringLiteral("apart"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !document()->window.together && areIdle(); }));
    const auto stays = shown(0);
    cutaway(1).setFocus();
    QTest::keyClick(&cutaway(1), Qt::Key_End);
    ASSERT_TRUE(QTest::qWaitFor([&] { return shown(1).rbegin()->first > 19'000 && areHere(1); }, 30'000));
    EXPECT_EQ(shown(0), stays);
    // It goes back to one, and another file comes in the middle of it.
    window->workspace().undo().undo();
    window->workspace().undo().undo();
    ASSERT_TRUE(QTest::qWaitFor([&] { return flow().runner().windows().size() == 1; }));
    QTest::keyClick(&cutaway(0), Qt::Key_End);
    open(R"({"beside": [{"device": "tablet"}]})");
    EXPECT_EQ(flow().runner().windows().size(), 2U);
}

TEST(BesideWords, AreReadAsTheyAreWritten) {
    const auto back = [](const char* typed) {
        const auto read = workbench::besideFromWords(QString::fromUtf8(typed));
        return read ? workbench::besideInWords(*read).toStdString() : std::string();
    };
    EXPECT_EQ(back("none"), "no other");
    EXPECT_EQ(back("tablet on its side dark"), "a tablet on its side, dark");
    EXPECT_EQ(back("200%"), "a tall handset at 200%");
    EXPECT_EQ(back("a narrow handset in el under its bars and tablet, light"),
              "a narrow handset under its bars, in el and a tablet, light");
    EXPECT_EQ(back("a telescope"), "");
    EXPECT_EQ(back("tablet and tablet and tablet and tablet"), "") << "four windows at most";
    EXPECT_EQ(back("tablet at 900%"), "");
    for (const QString& choice : workbench::besideChoices({})) {
        EXPECT_EQ(back(choice.toUtf8().constData()), choice.toStdString());
    }
}

TEST(BesideFile, WhatIsWrongIsToldWhereItStands) {
    const auto errorOf = [](const char* window) {
        const auto document = CollectionDocument::parse(
            std::string(R"({"scorrere":1,"source":{"demo":{}},"items":{"record":{"text":"x"}},"window":)") +
                window + "}",
            "");
        return document ? std::string() : document.error().place.pointer + ": " + document.error().message;
    };
    EXPECT_EQ(errorOf(R"({"beside": []})"), "");
    EXPECT_EQ(errorOf(R"({"beside": [{"device": "tablet"}], "together": false})"), "");
    EXPECT_THAT(errorOf(R"({"beside": {}})"), HasSubstr("/window/beside"));
    EXPECT_THAT(errorOf(R"({"beside": [{}, {}, {}, {}]})"), HasSubstr("at most three"));
    EXPECT_THAT(errorOf(R"({"beside": [{"textScale": 9}]})"), HasSubstr("/window/beside/0/textScale"));
    EXPECT_THAT(errorOf(R"({"beside": [{}, {"look": "blue"}]})"), HasSubstr("/window/beside/1/look"));
}

} // namespace
} // namespace scorrere::testing
