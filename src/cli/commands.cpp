// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "cli/play.h"
#include "engine/base/result.h"
#include "examples/stairs.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/survey_server.h"
#include "service/wing_pictures.h"
#include "service/wing_png.h"
#include "workbench/model/opening.h"
#include "workbench/ui/main_window.h"

#include <CLI/CLI.hpp>
#include <QApplication>
#include <QDir>
#include <atomic>
#include <csignal>
#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <iostream>
#include <mutex>
#include <thread>

namespace scorrere::cli {

namespace {

struct DataOptions {
    std::int64_t count = 20'000;
    std::string form = "ndjson";
    std::string out;
    std::string collection;
    std::string pictures;
    std::uint64_t seed = 1;
};

int cannot(const std::string& what) {
    fmt::print(stderr, "scorrere: {}\n", what);
    return kCannot;
}

/// Without a display nothing can be shown; headless commands draw without one.
void chooseDisplay(bool headless) {
    if (headless && qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) {
        qputenv("QT_QPA_PLATFORM", "offscreen");
    }
}

int writePictures(const DataOptions& options) {
    QDir().mkpath(QString::fromStdString(options.pictures));
    const service::WingPictures wings;
    for (std::int64_t i = 0; i < options.count; ++i) {
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
            return cannot(path + ": the picture cannot be written");
        }
    }
    return kFine;
}

/// The demo's collection file over the records that were written.
int writeCollection(const DataOptions& options) {
    std::string text = service::demoDocument(options.count, options.seed);
    const auto records = std::filesystem::path(options.out).filename().string();
    const std::size_t from = text.find("{ \"demo\"");
    const std::size_t until = text.find("} }", from) + 3;
    text.replace(from, until - from, fmt::format("{{ \"file\": \"{}\" }}", records));
    std::ofstream out(options.collection, std::ios::binary | std::ios::trunc);
    out << text;
    out.close();
    return out ? kFine : cannot(options.collection + ": it cannot be written");
}

int demoData(const DataOptions& options) {
    const auto form = options.form == "json" ? service::DataForm::Json : service::DataForm::Ndjson;
    if (options.out.empty() || options.out == "-") {
        const Outcome written = service::writeSightings(std::cout, options.count, options.seed, form);
        return written ? kFine : cannot(written.error().text());
    }
    std::ofstream out(options.out, std::ios::binary | std::ios::trunc);
    if (!out) {
        return cannot(options.out + ": it cannot be written. Check that its folder exists.");
    }
    if (const Outcome written = service::writeSightings(out, options.count, options.seed, form); !written) {
        return cannot(options.out + ": " + written.error().text());
    }
    if (!options.collection.empty()) {
        if (const int code = writeCollection(options); code != kFine) {
            return code;
        }
    }
    return options.pictures.empty() ? kFine : writePictures(options);
}

struct ServeOptions {
    service::ServerSettings settings;
    std::string latency;
};

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

std::atomic<bool> stopAsked = false;

/// Serves until it is interrupted, and tells what it received.
int serve(const ServeOptions& options) {
    service::SurveyServer server(options.settings, service::wingPng);
    std::mutex printing;
    server.onReceived([&printing](const service::ReceivedCall& call) {
        const std::lock_guard lock(printing);
        fmt::print("{:>8} ms  {}  {:>9} bytes  {}{}\n", call.atMs, call.status, call.bytes, call.what,
                   call.note.empty() ? "" : "  (" + call.note + ")");
        std::fflush(stdout);
    });
    if (const Outcome started = server.start(); !started) {
        return cannot(started.error().text());
    }
    fmt::print("The moth survey, {} sightings, at {}\nGET {}/ tells what there is. Ctrl+C stops.\n",
               options.settings.count, server.address(), server.address());
    std::fflush(stdout);
    std::signal(SIGINT, [](int) { stopAsked = true; });
    std::signal(SIGTERM, [](int) { stopAsked = true; });
    while (!stopAsked) {
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
    return kFine;
}

void defineServe(CLI::App& command, ServeOptions& options) {
    service::ServerSettings& settings = options.settings;
    command.add_option("--port", settings.port, "The port; any free one when left out")
        ->check(CLI::Range(0, 65'535));
    command.add_option("--count", settings.count, "How many sightings")->check(CLI::Range(0, 20'000'000));
    command.add_option("--latency", options.latency, "Wait before each answer: MS, or MS..MS");
    command.add_option("--fail", settings.failRate, "Share of the calls for records that fail")
        ->check(CLI::Range(0.0, 1.0));
    command.add_option("--loss", settings.lossRate, "Share of the calls for records whose answer gets lost")
        ->check(CLI::Range(0.0, 1.0));
    command.add_option("--rate", settings.bytesPerSecond, "Bytes a second; 0: as fast as it goes")
        ->check(CLI::Range(std::int64_t{0}, std::int64_t{1'000'000'000}));
    command.add_option("--token", settings.token, "Calls for records must bring it as a bearer token");
    command.add_option("--seed", settings.seed, "Another seed, other sightings");
}

/// Ends the process at once where a worker does not notice that it should end: what it reads may never come.
int ended(int code) {
    constexpr int kPatienceMs = 500;
    if (!render::finishWorkers(kPatienceMs)) {
        (void)std::fflush(nullptr);
        std::_Exit(code);
    }
    return code;
}

int showWindow(int argc, char** argv, const std::string& place, std::int64_t demoCount, bool service) {
    if (qEnvironmentVariableIsEmpty("DISPLAY") && qEnvironmentVariableIsEmpty("WAYLAND_DISPLAY") &&
        qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) {
        return cannot("there is no display to show a window on. Headless: scorrere play --help");
    }
    QApplication app(argc, argv);
    QApplication::setStyle(QStringLiteral("fusion"));
    auto window = std::make_unique<workbench::MainWindow>(workbench::Surroundings::real());
    window->show();
    if (!place.empty()) {
        window->workspace().opening().openPlace(QString::fromStdString(place));
    } else if (service) {
        window->workspace().opening().openDemoService();
    } else if (demoCount >= 0) {
        window->workspace().opening().openDemo(demoCount);
    }
    const int code = QApplication::exec();
    window.reset();
    return ended(code);
}

void definePlay(CLI::App& command, PlayOptions& options, std::string& size) {
    command.add_option("file", options.file, "Collection file; the demo when left out");
    command.add_option("--script", options.script, "Script file; the demo script when left out");
    command.add_option("--count", options.demoCount, "Demo: how many records")
        ->check(CLI::Range(0, 20'000'000));
    command
        .add_option("--latency", options.latencyMs,
                    "What each page of a service takes on the run's clock, ms")
        ->check(CLI::Range(0, 60'000));
    command.add_option("--report", options.report, "Where the report goes: JSON, and a .txt beside it");
    command.add_option("--picture", options.picture, "Where a PNG of the whole window goes");
    command.add_option("--trace", options.trace, "Where the trace goes: Trace Event JSON, or CSV for a .csv");
    command.add_option("--size", size, "The window's size, WxH")->default_val("1280x800");
    command.add_option("--allow-host", options.allowance.hosts,
                       "A host that a collection from elsewhere may ask; '*' for any that its records name");
    command.add_option("--allow-secret", options.allowance.secrets, "A secret it may sign its calls with");
    command.add_option("--allow-path", options.allowance.paths,
                       "A file or folder outside its own that it may read");
    command.add_flag("--dark", options.dark, "The dark look");
    command.add_option("--text-scale", options.textScale, "The workbench's text scale")
        ->check(CLI::Range(0.75, 2.0));
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
    CLI::App app("Scorrere: a workbench for long and endless scrolling collections.", "scorrere");
    app.footer("Exit codes: 0 fine, 1 over budget (play), 2 cannot.");
    app.set_version_flag("--version", "scorrere " SCORRERE_VERSION);
    std::string file;
    app.add_option("place", file,
                   "Collection file, file of records (JSON, NDJSON, CSV, XML, SQLite, lines), or address");

    std::int64_t demoCount = 20'000;
    auto* demo = app.add_subcommand("demo", "Open the demo: a made-up night-moth survey");
    demo->add_option("--count", demoCount, "How many records")->check(CLI::Range(0, 20'000'000));
    bool fromService = false;
    demo->add_flag("--service", fromService, "From the demo service, in pages");

    ServeOptions serveOptions;
    auto* serving = app.add_subcommand(
        "serve", "Serve the moth survey over HTTP on this machine, with faults to ask for");
    defineServe(*serving, serveOptions);

    PlayOptions playOptions;
    std::string size;
    auto* playing = app.add_subcommand("play", "Play a script headless on a virtual clock and report");
    definePlay(*playing, playOptions, size);

    DataOptions data;
    auto* making = app.add_subcommand("demo-data", "Write made-up sightings");
    making->add_option("--count", data.count, "How many")->check(CLI::Range(0, 20'000'000));
    making->add_option("--form", data.form, "json or ndjson")->check(CLI::IsMember({"json", "ndjson"}));
    making->add_option("-o,--out", data.out, "File; standard output when left out");
    making->add_option("--seed", data.seed, "Another seed, other sightings");
    making->add_option("--collection", data.collection,
                       "Write a collection file over them, too; in the same folder");
    making->add_option("--pictures", data.pictures, "Draw their pictures into this folder, too");

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& problem) {
        return app.exit(problem) == 0 ? kFine : kCannot;
    }
    if (!data.collection.empty() && data.out.empty()) {
        return cannot("--collection needs -o: a collection file names the file its records are in");
    }
    if (*serving) {
        if (!serveOptions.latency.empty() && !readLatency(serveOptions.latency, serveOptions.settings)) {
            return cannot("--latency takes MS or MS..MS, as in 120 or 50..400; it got " +
                          serveOptions.latency);
        }
        return serve(serveOptions);
    }
    if (*making) {
        if (data.pictures.empty()) {
            return demoData(data);
        }
        chooseDisplay(true);
        const QGuiApplication gui(argc, argv);
        return demoData(data);
    }
    if (*playing) {
        if (!readSize(size, playOptions.size)) {
            return cannot("--size takes WxH from 400x300 to 8000x8000, as in 1280x800; it got " + size);
        }
        chooseDisplay(true);
        const QApplication gui(argc, argv);
        QApplication::setStyle(QStringLiteral("fusion"));
        return ended(play(playOptions));
    }
    return showWindow(argc, argv, file, *demo ? demoCount : -1, fromService);
}

} // namespace scorrere::cli
