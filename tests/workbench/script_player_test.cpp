// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/list_arrangement.h"
#include "workbench/model/script_player.h"

#include "engine/document/script_file.h"
#include "workbench/model/play_report.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace scorrere::workbench {
namespace {

class QuietHost final : public RunHost {
public:
    void build(ViewId, int) override {}
    Length fill(ViewId, const Slot&, const Given&, CostMeter&) override { return Length::px(100); }
};
class NoWatch final : public Stopwatch {
public:
    std::int64_t nowNs() override { return 0; }
};

/// Notes what a script asks for beyond the run.
class NotingTarget final : public ScriptTarget {
public:
    static constexpr Arrangement::Estimates kThought{Length::px(100), Length::px(100), Length::px(100)};
    NotingTarget()
        : run_(host_, watch_, std::make_unique<ListArrangement>(Spacing(), Ends(), 1000, kThought),
               kThought) {
        run_.resize(Length::px(700), Length::px(300));
    }
    Run& run() override { return run_; }
    void turn() override { notes.push_back("turn"); }
    void resizeWindow(double w, double h) override {
        notes.push_back("resize " + std::to_string(int(w)) + " " + std::to_string(int(h)));
    }
    void scaleText(double s) override { notes.push_back("scale " + std::to_string(s).substr(0, 3)); }
    void insertRecords(std::int64_t place, std::int64_t record, std::int64_t count) override {
        notes.push_back("insert " + std::to_string(place) + " " + std::to_string(record) + " " +
                        std::to_string(count));
        run_.insertRecords(place, count);
    }
    void removeRecords(std::int64_t place, std::int64_t count) override {
        notes.push_back("remove " + std::to_string(place) + " " + std::to_string(count));
        run_.eraseRecords(place, count);
    }
    void orderRecords(const OrderSpec& order) override { notes.push_back("order " + order.where); }
    void editRecord(const RecordEdit& edit) override {
        notes.push_back("edit " + edit.key + " " + edit.value);
    }
    render::LiveCollection* touched() override { return nullptr; }
    bool isIdle() override { return run_.isIdle(); }
    std::int64_t recordCount() override { return 1000; }

    std::vector<std::string> notes;

private:
    QuietHost host_;
    NoWatch watch_;
    Run run_;
};

struct Played {
    NotingTarget target;
    std::int64_t frames = 0;
    std::int64_t endUs = 0;
};

void play(const std::string& steps, Played& played, int lasts = 0) {
    const auto script = parseScript(
        "{\"scorrereScript\":1,\"lasts\":" + std::to_string(lasts) + ",\"steps\":[" + steps + "]}", "s");
    ASSERT_TRUE(script) << script.error().text();
    ScriptPlayer player(*script, played.target);
    while (!player.isOver() && played.frames < 20'000) {
        player.advanceTo(played.endUs);
        played.endUs += 8333;
        played.target.run().frame(played.endUs);
        ++played.frames;
    }
    EXPECT_TRUE(player.isOver());
}

TEST(ScriptPlayer, DoesStepsWhenTheyAreDue) {
    Played played;
    play(
        R"({"at":0,"wheel":300},{"at":100,"rotate":true},{"at":120,"textScale":1.5},{"at":120,"resize":{"width":300,"height":400}})",
        played);
    EXPECT_EQ(played.target.run().offset(), Length::px(300));
    EXPECT_EQ(played.target.notes, (std::vector<std::string>{"turn", "scale 1.5", "resize 300 400"}));
    EXPECT_GE(played.endUs, 120'000);
}

TEST(ScriptPlayer, RecordsArePutInAnotherOrderAndEdited) {
    Played played;
    play(
        R"({"at":0,"order":{"where":"@.count > 5","shuffled":3}},{"at":9,"edit":{"set":"42","field":"count","value":7}},{"at":20,"order":{}})",
        played);
    EXPECT_EQ(played.target.notes, (std::vector<std::string>{"order @.count > 5", "edit 42 7", "order "}));
}

TEST(ScriptPlayer, ADragTakesItsTimeAndFliesOn) {
    Played slow;
    play(R"({"at":0,"drag":{"by":-200,"for":5000}})", slow);
    Played quick;
    play(R"({"at":0,"drag":{"by":-200,"for":100}})", quick);
    EXPECT_NEAR(slow.target.run().offset().toPx(), 200, 40);
    EXPECT_GT(quick.target.run().offset().toPx(), 600);
}

TEST(ScriptPlayer, WaitingCountsTimeAnew) {
    Played played;
    play(R"({"at":0,"fling":3000},{"wait":"idle"},{"at":50,"key":"toStart"})", played);
    EXPECT_EQ(played.target.run().offset(), Length{});
    EXPECT_GT(played.endUs, 2'000'000);
}

TEST(ScriptPlayer, PlacesAndCountsBeyondTheEndAreCut) {
    Played played;
    play(R"({"at":0,"insert":{"at":5000,"record":990,"count":50}},{"at":10,"remove":{"at":1005,"count":99}},
            {"at":20,"remove":{"at":9999,"count":1}},{"at":30,"insert":{"at":0,"record":5000,"count":1}},{"at":40,"jump":99999})",
         played);
    EXPECT_EQ(played.target.notes, (std::vector<std::string>{"insert 1000 990 10", "remove 1005 5"}));
    EXPECT_EQ(played.target.run().offset() + played.target.run().window(), played.target.run().total());
}

TEST(ScriptPlayer, LastsAtLeastAsLongAsItSays) {
    Played played;
    play(R"({"at":0,"wheel":1})", played, 900);
    EXPECT_GE(played.endUs, 900'000);
}

TEST(PlayReport, JudgesByTheBudgetsThatAreSet) {
    Played played;
    play(R"({"at":0,"fling":5000})", played);
    CollectionDocument document;
    document.name = "n";
    document.budgets.built = 3;
    const PlayReport report = makeReport(document, "s", played.target.run(), 1000, 8.3);
    ASSERT_EQ(report.budgets.size(), 1u);
    EXPECT_FALSE(report.withinBudgets());
    const auto json = nlohmann::json::parse(report.toJson());
    EXPECT_EQ(json["withinBudgets"], false);
    EXPECT_EQ(json["work"]["frames"], played.frames);
    EXPECT_EQ(json["work"]["worstJumpPx"], 0);
    EXPECT_THAT(report.toText(), ::testing::HasSubstr("OVER "));
    document.budgets.built = 300;
    EXPECT_TRUE(makeReport(document, "s", played.target.run(), 1000, 8.3).withinBudgets());
}

TEST(ScriptPlayer, HowFarItIsGoesByTimeAndItsWaitsAreGuessed) {
    const auto script = parseScript(R"({"scorrereScript": 1, "lasts": 3000, "steps": [
        {"at": 0, "wheel": 10}, {"at": 4000, "wheel": 10}, {"wait": "idle"}, {"at": 1000, "wheel": 10}]})",
                                    "s");
    ASSERT_TRUE(script) << script.error().text();
    NotingTarget target;
    ScriptPlayer player(*script, target);
    const auto at = [&](std::int64_t ms) {
        player.advanceTo(ms * 1000);
        target.run().frame(ms * 1000);
        return player.share();
    };
    // 4 s, a wait of about 1, 3 s, and another.
    EXPECT_EQ(at(0), 0);
    EXPECT_DOUBLE_EQ(at(900), 0.1);
    EXPECT_DOUBLE_EQ(at(3600), 0.4);
    EXPECT_NEAR(at(4000), 4.0 / 9, 1e-9);
    EXPECT_NEAR(at(4010), 5.0 / 9, 1e-9) << "nothing moved: the wait is over at once";
    EXPECT_NEAR(at(4910), 5.9 / 9, 1e-9);
    EXPECT_NEAR(at(6910), 7.9 / 9, 1e-9);
    EXPECT_FALSE(player.isOver());
    EXPECT_EQ(at(8000), 1);
    EXPECT_TRUE(player.isOver());
}

} // namespace
} // namespace scorrere::workbench
