// SPDX-License-Identifier: GPL-3.0-or-later
// The owner of what is open, without a station: what is one step, what it tells, what is undone.
#include "testing/program/fake_secrets.h"
#include "workbench/model/keeper.h"
#include "workbench/model/opening.h"

#include <QDir>
#include <QTemporaryDir>
#include <QTest>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {
namespace {

using ::testing::ElementsAre;
using ::testing::HasSubstr;
using ::testing::Not;
using workbench::Notice;
using workbench::Question;
using workbench::Section;
using workbench::Sections;
using workbench::Workspace;

class WorkspaceTest : public ::testing::Test {
protected:
    WorkspaceTest() {
        workbench::WorkspaceNeeds needs;
        needs.secrets = std::make_unique<FakeSecrets>();
        needs.settings = &settings;
        workspace = std::make_unique<Workspace>(std::move(needs));
        QObject::connect(workspace.get(), &Workspace::changed,
                         [this](Sections what) { told.push_back(static_cast<int>(what)); });
        QObject::connect(workspace.get(), &Workspace::replaced,
                         [this](bool again) { replaced.push_back(again); });
        QObject::connect(workspace.get(), &Workspace::asks,
                         [this](const Question& question) { asked.push_back(question); });
        QObject::connect(workspace.get(), &Workspace::noticed, [this](const Notice& notice) {
            if (notice.kind == Notice::Kind::Failed) {
                failures << notice.text;
            }
        });
    }
    std::string write(const QString& name, const std::string& text) {
        const std::string path = folder.filePath(name).toStdString();
        std::ofstream(path) << text;
        return path;
    }
    void open(const std::string& path) {
        workspace->opening().open(QString::fromStdString(path));
        settle();
    }
    void settle() {
        ASSERT_TRUE(QTest::qWaitFor([&] { return !workspace->opening().isBusy(); }, 60'000));
        QCoreApplication::processEvents();
    }
    void setNoun(const std::string& noun, const QString& merge = {}) {
        CollectionDocument to = workspace->document();
        to.noun = noun;
        workspace->change(QStringLiteral("noun"), std::move(to), merge);
    }
    bool save(const QString& path) {
        std::optional<bool> saved;
        workspace->keeper().save(path, false, [&](bool is) { saved = is; });
        EXPECT_TRUE(QTest::qWaitFor([&] { return saved.has_value(); }, 60'000));
        return saved.value_or(false);
    }

    QTemporaryDir folder;
    QSettings settings{folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat};
    std::unique_ptr<Workspace> workspace;
    std::vector<int> told;
    std::vector<bool> replaced;
    std::vector<Question> asked;
    QStringList failures;
};

TEST_F(WorkspaceTest, AChangeIsOneStepAndSaysWhatIsNotTheSame) {
    open(write(QStringLiteral("r.csv"), "id;n\n1;2\n2;3\n"));
    EXPECT_THAT(replaced, ElementsAre(false));
    EXPECT_EQ(workspace->records()->size(), 2);
    setNoun("things");
    setNoun("things"); // nothing
    EXPECT_EQ(workspace->undo().count(), 1);
    CollectionDocument to = workspace->document();
    to.window.upright = false;
    to.viewLead = 2;
    workspace->change(QStringLiteral("two"), std::move(to));
    workspace->undo().undo();
    EXPECT_THAT(told, ElementsAre(static_cast<int>(Section::Noun),
                                  static_cast<int>(Section::Window) | static_cast<int>(Section::Lead),
                                  static_cast<int>(Section::Window) | static_cast<int>(Section::Lead)));
    EXPECT_TRUE(workspace->document().window.upright);
    EXPECT_EQ(workspace->document().noun, "things");
}

TEST_F(WorkspaceTest, StepsThatSayTheSameAreOne) {
    open(write(QStringLiteral("r.csv"), "id;n\n1;2\n"));
    setNoun("t", QStringLiteral("typing"));
    setNoun("th", QStringLiteral("typing"));
    setNoun("thi", QStringLiteral("typing"));
    setNoun("other");
    setNoun("more");
    EXPECT_EQ(workspace->undo().count(), 3);
    workspace->undo().setIndex(0);
    EXPECT_EQ(workspace->document().noun, "records");
}

TEST_F(WorkspaceTest, UndoneAfterItWasSavedElsewhereItStillReadsItsRecords) {
    open(write(QStringLiteral("r.csv"), "id;n\n1;2\n2;3\n"));
    setNoun("things");
    QDir(folder.path()).mkdir(QStringLiteral("deep"));
    ASSERT_TRUE(save(folder.filePath(QStringLiteral("deep/c.collection.json"))));
    EXPECT_EQ(workspace->document().source.file, "../r.csv");
    workspace->undo().undo();
    EXPECT_EQ(workspace->document().source.file, "../r.csv") << "where it is kept is not undone";
    workspace->opening().readAgain();
    settle();
    EXPECT_EQ(workspace->records()->size(), 2);
    EXPECT_TRUE(failures.isEmpty()) << failures.join(QLatin1Char('\n')).toStdString();
}

TEST_F(WorkspaceTest, ADesignThatFollowsTheFieldsDoesSoWhenAFieldGoesComesBackAndGoesAgain) {
    open(write(QStringLiteral("r.csv"), "id;extra\n1;2\n2;3\n"));
    ASSERT_THAT(workspace->document().designText(), HasSubstr("extra"));
    FieldChoice choice;
    choice.name = "extra";
    choice.leftOut = true;
    SourceSpec to = workspace->document().source;
    to.reading.fields = {choice};
    workspace->changeSource(QStringLiteral("leave out"), to);
    settle();
    for (int i = 0; i < 2; ++i) {
        EXPECT_FALSE(workspace->records()->find("extra"));
        EXPECT_THAT(workspace->document().designText(), Not(HasSubstr("extra")));
        workspace->undo().undo();
        settle();
        EXPECT_TRUE(workspace->records()->find("extra"));
        EXPECT_THAT(workspace->document().designText(), HasSubstr("extra"));
        workspace->undo().redo();
        settle();
    }
    EXPECT_FALSE(workspace->records()->find("extra"));
    EXPECT_TRUE(failures.isEmpty()) << failures.join(QLatin1Char('\n')).toStdString();
}

TEST_F(WorkspaceTest, ReadingAgainKeepsWhatWasChangedMeanwhile) {
    open(write(QStringLiteral("r.csv"), "id;n\n1;2\n"));
    workspace->opening().readAgain();
    setNoun("mine");
    settle();
    EXPECT_THAT(replaced, ElementsAre(false, true));
    EXPECT_EQ(workspace->document().noun, "mine");
    EXPECT_EQ(workspace->undo().count(), 1);
    EXPECT_TRUE(asked.empty());
}

TEST_F(WorkspaceTest, ADesignThatDoesNotFitIsRefusedAndWhatWasThereStays) {
    open(write(QStringLiteral("r.csv"), "id;n\n1;2\n"));
    open(write(QStringLiteral("c.collection.json"),
               R"({"scorrere": 1, "name": "odd", "source": {"list": "a\nb"},
                   "items": {"record": {"text": "{nothing.like.it, number}"}}})"));
    ASSERT_EQ(failures.size(), 1);
    EXPECT_THAT(replaced, ElementsAre(false));
    EXPECT_EQ(workspace->records()->size(), 1);
    EXPECT_EQ(workspace->opening().phase(), workbench::OpeningState::Phase::Idle);
}

TEST_F(WorkspaceTest, WhatIsUnsavedIsAskedAboutAndStaysUntilItIsAnswered) {
    open(write(QStringLiteral("r.csv"), "id;n\n1;2\n"));
    setNoun("mine");
    const std::string other = write(QStringLiteral("o.csv"), "id\n1\n2\n3\n");
    open(other);
    ASSERT_EQ(asked.size(), 1U);
    EXPECT_THAT(asked.front().text.toStdString(), HasSubstr("not saved"));
    EXPECT_EQ(workspace->records()->size(), 1);
    asked.front().answered(QStringLiteral("cancel"), {});
    settle();
    EXPECT_EQ(workspace->document().noun, "mine");
    asked.front().answered(QStringLiteral("discard"), {});
    settle();
    EXPECT_EQ(workspace->records()->size(), 3);
    EXPECT_FALSE(workspace->undo().canUndo());
}

} // namespace
} // namespace scorrere::testing
