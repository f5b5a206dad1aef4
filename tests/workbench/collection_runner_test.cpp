// SPDX-License-Identifier: GPL-3.0-or-later
// What runs what is open, without a window: it follows the document, and works for a source only while it is
// seen.
#include "testing/program/fake_secrets.h"
#include "workbench/model/collection_runner.h"
#include "workbench/model/opening.h"

#include <QTemporaryDir>
#include <QTest>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace scorrere::testing {
namespace {

using workbench::CollectionRunner;
using workbench::Workspace;

class CollectionRunnerTest : public ::testing::Test {
protected:
    CollectionRunnerTest() {
        workbench::WorkspaceNeeds needs;
        needs.secrets = std::make_unique<FakeSecrets>();
        needs.settings = &settings;
        workspace = std::make_unique<Workspace>(std::move(needs));
        runner = std::make_unique<CollectionRunner>(*workspace, "");
        QObject::connect(runner.get(), &CollectionRunner::goes, [this] { told += "goes "; });
        QObject::connect(runner.get(), &CollectionRunner::came,
                         [this](bool isOther) { told += isOther ? "other " : "same "; });
    }
    void openDemo(qint64 count) {
        workspace->opening().openDemo(count);
        settle();
    }
    void settle() {
        ASSERT_TRUE(QTest::qWaitFor([&] { return !workspace->opening().isBusy(); }, 60'000));
        QCoreApplication::processEvents();
    }
    void turn() { runner->turn(); }
    void design(const char* text) {
        workspace->changeDesign(QStringLiteral("edit"), QString::fromUtf8(text), {});
    }
    scorrere::Run& run() { return runner->collection()->run(); }

    QTemporaryDir folder;
    QSettings settings{folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat};
    std::unique_ptr<Workspace> workspace;
    std::unique_ptr<CollectionRunner> runner;
    std::string told;
};

constexpr const char* kOneLine = R"({"items": {"record": {"text": "{species}"}}})";

TEST_F(CollectionRunnerTest, RunsWhatWasOpenedAndTellsWhoShowsIt) {
    EXPECT_EQ(runner->collection(), nullptr);
    openDemo(20);
    ASSERT_NE(runner->collection(), nullptr);
    EXPECT_EQ(told, "goes other ");
    EXPECT_EQ(runner->shown(), runner->collection());
    EXPECT_EQ(runner->collection()->records().size(), 20);
    EXPECT_FALSE(run().placements().empty()) << "a frame was made";
}

TEST_F(CollectionRunnerTest, TurningTheDeviceIsAStepThatTurnsTheWindow) {
    openDemo(20);
    const Length cross = run().cross();
    const Length along = run().window();
    turn();
    EXPECT_EQ(run().cross(), along);
    EXPECT_EQ(run().window(), cross);
    workspace->undo().undo();
    EXPECT_EQ(run().cross(), cross);
    EXPECT_EQ(told, "goes other ") << "it is the same collection";
}

TEST_F(CollectionRunnerTest, ADesignIsTakenOverWhenSomebodySeesIt) {
    openDemo(200);
    run().jumpTo(50);
    runner->makeFrameNow();
    const render::LiveCollection* const before = runner->collection();
    design(kOneLine);
    EXPECT_EQ(runner->collection(), before) << "nobody looks";
    runner->setSeen(true);
    EXPECT_NE(runner->collection()->document().designText(), "");
    EXPECT_EQ(told, "goes other goes other ");
    EXPECT_EQ(run().arrangement().slotAt(run().hold().position).place, 49)
        << "the record that was read, though no header stands before it any more";
    design(R"({"items": {"record": {"text": "{count}"}}})");
    EXPECT_EQ(told, "goes other goes other goes other ") << "at once, while it is seen";
}

TEST_F(CollectionRunnerTest, OtherValuesOfParametersAreTakenOverInPlace) {
    openDemo(200);
    double odd = 0;
    QObject::connect(runner.get(), &CollectionRunner::parametersTaken,
                     [&](const Parameters& parameters) { odd = parameters[0].number; });
    std::string text = workspace->document().designText();
    auto json = nlohmann::ordered_json::parse(text);
    json["parameters"].front()["value"] = 77;
    design(json.dump().c_str());
    EXPECT_EQ(odd, 77);
    EXPECT_EQ(runner->collection()->document().parameters[0].number, 77);
    EXPECT_EQ(told, "goes other ");
}

TEST_F(CollectionRunnerTest, AStateOnDemandIsShownInItsStead) {
    workspace->opening().openDemoService();
    settle();
    ASSERT_NE(runner->paged(), nullptr);
    render::LiveCollection* const live = runner->collection();
    told.clear();
    runner->stage(TailState::Empty);
    EXPECT_NE(runner->shown(), live);
    EXPECT_EQ(runner->shown()->recordCount(), 0);
    EXPECT_EQ(told, "goes same ");
    runner->stage(std::nullopt);
    EXPECT_EQ(runner->shown(), live);
    EXPECT_EQ(runner->collection(), live);
}

TEST_F(CollectionRunnerTest, AServiceIsAskedOnlyWhileItIsSeen) {
    workspace->opening().openDemoService();
    settle();
    ASSERT_NE(runner->paged(), nullptr);
    const auto asked = [&] { return runner->paged()->pager().log().requestsEver(); };
    for (int i = 0; i < 20; ++i) {
        runner->makeFrameNow();
        QCoreApplication::processEvents();
    }
    EXPECT_EQ(asked(), 0);
    runner->setSeen(true);
    EXPECT_TRUE(QTest::qWaitFor(
        [&] {
            runner->makeFrameNow();
            return asked() > 0;
        },
        20'000));
    runner->setSeen(false);
    EXPECT_FALSE(runner->paged()->pager().isRunning());
}

TEST_F(CollectionRunnerTest, AScriptEditsRecordsOfAFileAndNotThoseOfAService) {
    openDemo(20);
    runner->scriptTarget().removeRecords(0, 5);
    EXPECT_EQ(runner->collection()->recordCount(), 15);
    runner->scriptTarget().insertRecords(3, 0, 2);
    EXPECT_EQ(runner->collection()->recordCount(), 17);
    workspace->opening().openDemoService();
    settle();
    const std::int64_t before = runner->collection()->recordCount();
    runner->scriptTarget().removeRecords(0, 1);
    EXPECT_EQ(runner->collection()->recordCount(), before);
}

} // namespace
} // namespace scorrere::testing
