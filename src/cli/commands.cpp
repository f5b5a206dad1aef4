// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "cli/arguments.h"
#include "cli/manual.h"
#include "cli/play.h"
#include "cli/telling.h"
#include "engine/base/result.h"
#include "examples/stairs.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/survey_server.h"
#include "service/wing_pictures.h"
#include "service/wing_png.h"
#include "workbench/model/chronicle.h"
#include "workbench/model/crash_note.h"
#include "workbench/model/log.h"
#include "workbench/model/opening.h"
#include "workbench/ui/main_window.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QIcon>
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <iostream>
#include <mutex>
#include <nlohmann/json.hpp>
#include <thread>

namespace scorrere::cli {

namespace {

/// Without a display nothing can be shown; headless commands draw without one.
void chooseDisplay(bool headless) {
    if (headless && qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) {
        qputenv("QT_QPA_PLATFORM", "offscreen");
    }
}

int writePictures(const DataOptions& options, const Telling& telling) {
    Progress progress("drawing pictures", telling);
    QDir().mkpath(QString::fromStdString(options.pictures));
    const service::WingPictures wings;
    for (std::int64_t i = 0; i < options.count; ++i) {
        if (isStopAsked()) {
            return kStopped;
        }
        progress.at(static_cast<double>(i) / static_cast<double>(options.count));
        const auto sighting = service::makeSighting(i, options.seed);
        if (sighting.picture.empty()) {
            continue;
        }
        const auto image = wings.load(QString::fromStdString("wings/" + sighting.picture), {}, {});
        if (!image) {
            continue; // one of the few that are missing
        }
        const auto path = (std::filesystem::path(options.pictures) / sighting.picture).string();
        if (!image->image.save(QString::fromStdString(path), "PNG")) {
            return cannot(telling, path + ": the picture cannot be written");
        }
    }
    return kFine;
}

/// The demo's collection file over the records that were written.
int writeCollection(const DataOptions& options, const Telling& telling) {
    std::string text = service::demoDocument(options.count, options.seed);
    const auto records = std::filesystem::path(options.out).filename().string();
    const std::size_t from = text.find("{ \"demo\"");
    const std::size_t until = text.find("} }", from) + 3;
    text.replace(from, until - from, fmt::format("{{ \"file\": \"{}\" }}", records));
    std::ofstream out(options.collection, std::ios::binary | std::ios::trunc);
    out << text;
    out.close();
    return out ? kFine : cannot(telling, options.collection + ": it cannot be written");
}

int demoData(const DataOptions& options, const Telling& telling) {
    listenForStop();
    const auto form = options.form == "json" ? service::DataForm::Json : service::DataForm::Ndjson;
    const bool isFile = !options.out.empty() && options.out != "-";
    bool isStopped = false;
    {
        Progress progress("writing records", telling);
        const auto goOn = [&](std::int64_t made) {
            progress.at(static_cast<double>(made) / static_cast<double>(options.count));
            return !isStopAsked();
        };
        std::ofstream file;
        if (isFile) {
            file.open(options.out, std::ios::binary | std::ios::trunc);
            if (!file) {
                return cannot(telling, options.out + ": it cannot be written. Check that its folder exists.");
            }
        }
        const Outcome written =
            service::writeSightings(isFile ? file : std::cout, options.count, options.seed, form, goOn);
        isStopped = !written && written.error().code == ErrorCode::Cancelled;
        if (!written && !isStopped) {
            return cannot(telling, (isFile ? options.out + ": " : std::string()) + written.error().text());
        }
    }
    if (isStopped) {
        if (isFile && !telling.isQuiet) {
            fmt::print(stderr, "scorrere: stopped; {} is not whole\n", options.out);
        }
        return kStopped;
    }
    if (isFile && !options.collection.empty()) {
        if (const int code = writeCollection(options, telling); code != kFine) {
            return code;
        }
    }
    if (!options.pictures.empty()) {
        if (const int code = writePictures(options, telling); code != kFine) {
            return code;
        }
    }
    if (isFile && telling.isJson) {
        fmt::print("{}\n", nlohmann::json{{"records", options.count}, {"file", options.out}}.dump());
    }
    return kFine;
}

/// "120" or "50..400", in ms.
bool readLatency(const std::string& text, service::ServerSettings& settings) {
    long long least = 0;
    long long most = 0;
    char rest = 0;
    const int found = std::sscanf(text.c_str(), "%lld..%lld%c", &least, &most, &rest);
    if (found == 1 && text.find_first_not_of("0123456789") == std::string::npos) {
        most = least;
    } else if (found != 2) {
        return false;
    }
    settings.latencyMinMs = least;
    settings.latencyMaxMs = most;
    return least >= 0 && least <= most && most <= 600'000;
}

/// Serves until it is interrupted, and tells what it received.
int serve(const ServeOptions& options, const Telling& telling) {
    service::SurveyServer server(options.settings, service::wingPng);
    std::mutex printing;
    server.onReceived([&printing, &telling](const service::ReceivedCall& call) {
        const std::lock_guard lock(printing);
        if (telling.isJson) {
            fmt::print("{}\n", nlohmann::json{{"atMs", call.atMs},
                                              {"status", call.status},
                                              {"bytes", call.bytes},
                                              {"call", call.what},
                                              {"note", call.note}}
                                   .dump());
        } else if (!telling.isQuiet) {
            fmt::print("{:>8} ms  {}  {:>9} bytes  {}{}\n", call.atMs, call.status, call.bytes, call.what,
                       call.note.empty() ? "" : "  (" + call.note + ")");
        }
        std::fflush(stdout);
    });
    if (const Outcome started = server.start(); !started) {
        return cannot(telling, started.error());
    }
    if (telling.isJson) {
        fmt::print("{}\n",
                   nlohmann::json{{"address", server.address()}, {"records", options.settings.count}}.dump());
    } else {
        fmt::print("The moth survey, {} sightings, at {}\nGET {}/ tells what there is. Ctrl+C stops.\n",
                   options.settings.count, server.address(), server.address());
    }
    std::fflush(stdout);
    listenForStop();
    while (!isStopAsked()) {
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
    return kFine; // that is how it is ended
}

/// Ends the process at once where a worker does not notice that it should end: what it reads may never come.
int ended(int code) {
    constexpr int kPatienceMs = 500;
    const bool areFinished = render::finishWorkers(kPatienceMs);
    workbench::endLog();
    if (!areFinished) {
        (void)std::fflush(nullptr);
        std::_Exit(code);
    }
    return code;
}

std::string inOneLine(std::string text) {
    std::ranges::replace(text, '\n', ' ');
    return text;
}

/// To the desktop, which finds icon and entry by it.
void sayWhoWeAre() {
    QApplication::setStyle(QStringLiteral("fusion"));
    QApplication::setApplicationName(QStringLiteral("scorrere"));
    QApplication::setApplicationDisplayName(QStringLiteral("Scorrere"));
    QApplication::setApplicationVersion(QStringLiteral(SCORRERE_VERSION));
    QGuiApplication::setDesktopFileName(QStringLiteral("org.scorrere.scorrere"));
    QGuiApplication::setWindowIcon(QIcon::fromTheme(QStringLiteral("scorrere")));
}

void keepLog(const Arguments& given) {
    const QString folder = workbench::Surroundings::stateFolder() + QStringLiteral("/log");
    workbench::startLog(QFile::encodeName(folder).toStdString(), workbench::logLevelNamed(given.log));
    workbench::Chronicle::listenToCalls();
    workbench::tellLog(workbench::LogLevel::Info, "started: " + inOneLine(versionText()));
}

int showWindow(int argc, char** argv, const Arguments& given) {
    if (qEnvironmentVariableIsEmpty("DISPLAY") && qEnvironmentVariableIsEmpty("WAYLAND_DISPLAY") &&
        qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) {
        return cannot(given.telling,
                      "there is no display to show a window on. Headless: scorrere play --help");
    }
    keepLog(given);
    workbench::leaveNoteWhenFalling(workbench::Surroundings::stateFolder() + QStringLiteral("/crash"),
                                    SCORRERE_VERSION);
    QApplication app(argc, argv);
    sayWhoWeAre();
    auto window = std::make_unique<workbench::MainWindow>(workbench::Surroundings::real());
    window->show();
    if (!given.place.empty()) {
        window->workspace().opening().openPlace(QString::fromStdString(given.place));
    } else if (given.fromService) {
        window->workspace().opening().openDemoService();
    } else if (*given.demo) {
        window->workspace().opening().openDemo(given.demoCount);
    }
    const int code = QApplication::exec();
    window.reset();
    workbench::tellLog(workbench::LogLevel::Info, "ended");
    return ended(code);
}

bool readSize(const std::string& text, QSize& size) {
    int width = 0;
    int height = 0;
    char rest = 0;
    if (std::sscanf(text.c_str(), "%dx%d%c", &width, &height, &rest) != 2 || width < 400 || height < 300 ||
        width > 8000 || height > 8000) {
        return false;
    }
    size = {width, height};
    return true;
}

} // namespace

int run(int argc, char** argv) {
    examples::addStairs();
    Arguments given;
    const Telling& telling = given.telling;
    try {
        given.app.parse(argc, argv);
    } catch (const CLI::ParseError& problem) {
        return given.app.exit(problem) == 0 ? kFine : kCannot;
    }
    if (!given.place.empty() && !given.app.get_subcommands().empty()) {
        return cannot(telling, "\"" + given.place + "\" is nothing that " +
                                   given.app.get_subcommands().front()->get_name() + " takes");
    }
    if (*given.manualMaking) {
        fmt::print("{}", given.manual == "man" ? manualPage(given.app) : bashCompletion(given.app));
        return kFine;
    }
    if (!given.data.collection.empty() && given.data.out.empty()) {
        return cannot(telling, "--collection needs -o: a collection file names the file its records are in");
    }
    if (*given.serving) {
        if (!given.serve.latency.empty() && !readLatency(given.serve.latency, given.serve.settings)) {
            return cannot(telling, "--latency takes MS or MS..MS, as in 120 or 50..400; it got " +
                                       given.serve.latency);
        }
        return serve(given.serve, telling);
    }
    if (*given.making) {
        if (given.data.pictures.empty()) {
            return demoData(given.data, telling);
        }
        chooseDisplay(true);
        const QGuiApplication gui(argc, argv);
        return demoData(given.data, telling);
    }
    if (*given.playing) {
        if (!readSize(given.size, given.play.size)) {
            return cannot(telling,
                          "--size takes WxH from 400x300 to 8000x8000, as in 1280x800; it got " + given.size);
        }
        chooseDisplay(true);
        keepLog(given);
        const QApplication gui(argc, argv);
        sayWhoWeAre();
        return ended(play(given.play, telling));
    }
    return showWindow(argc, argv, given);
}

} // namespace scorrere::cli
