// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/play.h"

#include "cli/commands.h"
#include "engine/document/script_file.h"
#include "engine/trace/trace_export.h"
#include "service/demo_document.h"
#include "workbench/model/play_report.h"
#include "workbench/model/script_player.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/main_window.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QPainter>
#include <QTemporaryDir>
#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace scorrere::cli {

namespace {

using workbench::MainWindow;

Outcome writeFile(const std::string& path, const std::string& text) {
    std::ofstream out(path, std::ios::binary | std::ios::trunc);
    out << text;
    out.close();
    if (!out) {
        Place place;
        place.file = path;
        return Error{ErrorCode::Unwritable, "it cannot be written", "Check that its folder exists.", place};
    }
    return done();
}

/// A settings file of its own: a play neither reads nor changes what the user's window remembers.
workbench::Surroundings apart(const QTemporaryDir& folder) {
    workbench::Surroundings surroundings;
    surroundings.settings =
        std::make_unique<QSettings>(folder.filePath(QStringLiteral("settings.ini")), QSettings::IniFormat);
    surroundings.askWhatToOpen = [](QWidget*) { return QString(); };
    surroundings.askWhereToSave = [](QWidget*, const QString&) { return QString(); };
    surroundings.secrets = std::make_unique<workbench::DesktopSecrets>();
    return surroundings;
}

workbench::FlowStation& flowOf(const MainWindow& window) {
    return *window.findChild<workbench::FlowStation*>();
}

/// One frame on. What is due in it by the run's clock is waited for in real time.
void nextFrame(workbench::FlowStation& flow) {
    render::FrameDriver& driver = flow.runner().driver();
    render::PagedRecords* pages = flow.collection()->paged();
    while (pages != nullptr && !isStopAsked() &&
           pages->awaits((driver.nowUs() + driver.framePeriodUs()) / 1000)) {
        QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
    }
    driver.advance(driver.framePeriodUs());
}

/// A collection that is read in pages begins to be read.
Outcome readFirstPage(MainWindow& window) {
    window.goTo(flowOf(window).id());
    render::PagedRecords* pages = flowOf(window).collection()->paged();
    while (pages != nullptr && pages->pager().tail() == TailState::FirstLoad) {
        nextFrame(flowOf(window));
    }
    if (pages != nullptr && pages->pager().tail() == TailState::FirstFailed) {
        const PageFailure& failure = pages->pager().failure();
        return Error{ErrorCode::Unreadable, failure.message, failure.advice, {}};
    }
    return done();
}

/// Plays the whole script; every frame is painted, as it would be on a screen. False: it was stopped.
bool playFrames(MainWindow& window, const Script& script, const std::string& name, const Telling& telling) {
    listenForStop(); // until then it ends as any program does
    Progress progress("playing " + name, telling);
    workbench::FlowStation& flow = flowOf(window);
    render::LiveCollection& live = *flow.collection();
    workbench::ScriptPlayer player(script, flow.runner().scriptTarget());
    QImage screen;
    while (!player.isOver()) {
        if (isStopAsked()) {
            return false;
        }
        progress.at(player.share());
        player.advanceTo(flow.runner().driver().nowUs());
        nextFrame(flow);
        const QSize size = live.axis().window().toSize();
        if (screen.size() != size) {
            screen = QImage(size, QImage::Format_ARGB32_Premultiplied);
        }
        QPainter painter(&screen);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        live.paintWindow(painter, window.look().items, 1);
        painter.end();
        render::takeMail(); // decoded pictures arrive as they would
    }
    return true;
}

/// The picture shows what a user would see: pictures that are on their way are waited for.
Outcome takePicture(MainWindow& window, const std::string& path) {
    QCoreApplication::processEvents(); // a look that was set is taken on with the next events
    (void)window.grab();
    render::PictureCache& pictures = flowOf(window).collection()->pictures();
    QElapsedTimer waited;
    waited.start();
    while (!pictures.isQuiet() && waited.elapsed() < 5000) {
        QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
        (void)window.grab();
    }
    if (!window.grab().save(QString::fromStdString(path), "PNG")) {
        Place place;
        place.file = path;
        return Error{ErrorCode::Unwritable, "the picture cannot be written", "Check that its folder exists.",
                     place};
    }
    return done();
}

Outcome writeResults(const PlayOptions& options, const workbench::PlayReport& report, const Trace& trace) {
    if (!options.report.empty()) {
        if (Outcome written = writeFile(options.report, report.toJson()); !written) {
            return written;
        }
        const auto text = std::filesystem::path(options.report).replace_extension(".txt").string();
        if (Outcome written = writeFile(text, report.toText()); !written) {
            return written;
        }
    }
    if (!options.trace.empty()) {
        return writeFile(options.trace,
                         options.trace.ends_with(".csv") ? toCsv(trace) : toTraceEventJson(trace));
    }
    return done();
}

} // namespace

int play(const PlayOptions& options, const Telling& telling) {
    const auto cannot = [&telling](const Error& error) { return cli::cannot(telling, error); };
    auto script = options.script.empty() ? parseScript(service::demoScript(), "demo.script.json")
                                         : loadScript(options.script);
    if (!script) {
        return cannot(script.error());
    }
    auto opened = options.file.empty() ? workbench::openDemo(options.demoCount, {}, {})
                                       : workbench::openCollection(options.file, options.allowance, {}, {});
    if (!opened) {
        return cannot(opened.error());
    }
    const QTemporaryDir folder;
    MainWindow window(apart(folder));
    window.look().setDark(options.dark);
    window.look().setTextScale(options.textScale);
    window.resize(options.size);
    flowOf(window).runner().setHeadless(options.latencyMs);
    if (Outcome shown = window.workspace().replace(*opened); !shown) {
        return cannot(shown.error());
    }
    window.show();
    window.resize(options.size);
    if (Outcome read = readFirstPage(window); !read) {
        return cannot(read.error());
    }
    const std::string name = script->name.empty() ? options.script : script->name;
    if (!playFrames(window, *script, name, telling)) {
        return kStopped;
    }
    render::LiveCollection& live = *flowOf(window).collection();
    auto report =
        workbench::makeReport(opened->document, name, live.run(),
                              live.paged() != nullptr ? live.recordCount() : opened->records->size(),
                              flowOf(window).runner().device().budgetMs());
    report.requests = live.paged() != nullptr ? live.paged()->pager().log().requestsEver() : 0;
    if (telling.isJson) {
        fmt::print("{}\n", report.toJson());
    } else if (!telling.isQuiet) {
        fmt::print("{}", report.toText());
    }
    if (Outcome written = writeResults(options, report, flowOf(window).collection()->run().trace());
        !written) {
        return cannot(written.error());
    }
    if (!options.picture.empty()) {
        if (Outcome taken = takePicture(window, options.picture); !taken) {
            return cannot(taken.error());
        }
    }
    return report.withinBudgets() ? kFine : kOverBudget;
}

} // namespace scorrere::cli
