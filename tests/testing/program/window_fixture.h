// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "service/moths.h"
#include "testing/program/fake_secrets.h"
#include "workbench/model/keeper.h"
#include "workbench/model/opening.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/flow/strip_map.h"
#include "workbench/ui/flow/views_instrument.h"
#include "workbench/ui/item/item_station.h"
#include "workbench/ui/main_window.h"
#include "workbench/ui/source/source_station.h"

#include <QLineEdit>
#include <QTemporaryDir>
#include <QTest>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::testing {

/// The real window with a settings file of its own and dialogs that answer at once.
/// Presses somewhere on a widget, moves in steps and lets go.
inline void dragOn(QWidget* on, QPointF from, QPointF to) {
    QTest::mousePress(on, Qt::LeftButton, {}, from.toPoint());
    for (const double share : {0.3, 0.7, 1.0}) {
        const QPointF at = from + (to - from) * share;
        QMouseEvent move(QEvent::MouseMove, at, on->mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                         Qt::NoModifier);
        QCoreApplication::sendEvent(on, &move);
    }
    QTest::mouseRelease(on, Qt::LeftButton, {}, to.toPoint());
}

/// As many records as are tried where there must be many; a tenth under a sanitizer, whose findings are the same.
inline qint64 manyRecords() {
    return qEnvironmentVariableIsSet("SCORRERE_SANITIZED") ? 100'000 : 1'000'000;
}

class WindowTest : public ::testing::Test {
protected:
    WindowTest() { makeWindow(); }
    void makeWindow() {
        workbench::Surroundings surroundings;
        surroundings.secrets = std::make_unique<FakeSecrets>();
        secrets = static_cast<FakeSecrets*>(surroundings.secrets.get());
        surroundings.settings =
            std::make_unique<QSettings>(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
        surroundings.journalFolder = journal;
        surroundings.askWhatToOpen = [this](QWidget*) { return toOpen; };
        surroundings.askWhereToSave = [this](QWidget*, const QString&) { return toSave; };
        window = std::make_unique<workbench::MainWindow>(std::move(surroundings), makers);
        window->resize(1280, 800);
        window->show();
        window->activateWindow();
        (void)QTest::qWaitFor([this] { return window->isActiveWindow(); }); // shortcuts need it
    }
    template <typename T = QWidget>
    T* find(const char* name) {
        T* found = window->findChild<T*>(QString::fromLatin1(name));
        EXPECT_NE(found, nullptr) << name;
        return found;
    }
    workbench::FlowStation& flow() { return *window->findChild<workbench::FlowStation*>(); }
    workbench::ItemStation& item() { return *window->findChild<workbench::ItemStation*>(); }
    workbench::SourceStation& source() { return *window->findChild<workbench::SourceStation*>(); }
    static workbench::SentenceBar& sentenceOf(workbench::Station& station) {
        return *static_cast<workbench::SentenceBar*>(station.sentence());
    }
    /// Null before anything is open.
    const CollectionDocument* document() {
        return window->workspace().isOpen() ? &window->workspace().document() : nullptr;
    }
    render::LiveCollection& live() { return *flow().collection(); }
    scorrere::Run& run() { return live().run(); }
    bool settle() {
        return QTest::qWaitFor(
            [this] { return flow().collection() != nullptr && live().isIdle() && !live().isEstimating(); },
            300'000); // a million estimates, beside whatever else runs
    }
    void openDemo(qint64 count) {
        window->workspace().opening().openDemo(count);
        ASSERT_TRUE(QTest::qWaitFor(
            [&] { return !window->workspace().opening().isBusy() && live().records().size() == count; },
            300'000));
        ASSERT_TRUE(settle());
    }
    std::string write(const char* name, const std::string& text) {
        const std::string path = folder.filePath(QString::fromLatin1(name)).toStdString();
        std::ofstream(path, std::ios::binary) << text;
        return path;
    }
    void openFile(const std::string& path) {
        window->workspace().opening().open(QString::fromStdString(path));
        ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }, 60'000));
        QCoreApplication::processEvents();
    }
    /// Saves, and waits until it is known what came of it.
    bool isSaved(const QString& path) {
        std::optional<bool> outcome;
        window->workspace().keeper().save(path, false, [&outcome](bool saved) { outcome = saved; });
        EXPECT_TRUE(QTest::qWaitFor([&] { return outcome.has_value(); }, 60'000));
        return outcome.value_or(false);
    }
    bool isSaved(const std::string& path) { return isSaved(QString::fromStdString(path)); }
    /// What the finder lists when that is typed into it: "text" or "text, keys".
    QStringList found(const QString& typed) {
        auto* finder = find<workbench::Finder>("finder");
        if (!finder->isVisible()) {
            window->activateWindow(); // a popup that closed may have left none active
            EXPECT_TRUE(QTest::qWaitFor([this] { return window->isActiveWindow(); }));
            QTest::keyClick(window.get(), Qt::Key_F10);
        }
        EXPECT_TRUE(finder->isVisible());
        auto* line = find<QLineEdit>("finderLine");
        line->selectAll();
        QTest::keyClick(line, Qt::Key_Delete);
        QTest::keyClicks(line, typed);
        QStringList lines;
        auto* list = find<QTreeWidget>("finderList");
        for (int i = 0; i < list->topLevelItemCount(); ++i) {
            if (list->topLevelItem(i)->flags() & Qt::ItemIsSelectable) {
                lines << list->topLevelItem(i)->data(0, Qt::AccessibleTextRole).toString();
            }
        }
        return lines;
    }
    void wheel(QWidget* on, int delta) {
        const QPointF at = on->rect().center();
        QWheelEvent event(at, on->mapToGlobal(at), {}, {0, delta}, Qt::NoButton, Qt::NoModifier,
                          Qt::NoScrollPhase, false);
        QCoreApplication::sendEvent(on, &event);
    }

    FakeSecrets* secrets = nullptr;
    std::vector<workbench::StationMaker> makers = workbench::allStations();
    QTemporaryDir folder;
    QString journal; ///< where what is not saved is kept; empty: nowhere
    QString toOpen;
    QString toSave;
    std::unique_ptr<workbench::MainWindow> window;
};

} // namespace scorrere::testing
