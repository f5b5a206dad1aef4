// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/arguments.h"

#include "cli/commands.h"

#include <QtGlobal>
#include <fmt/format.h>
#include <simdjson.h>
#include <spdlog/version.h>
#include <sqlite3.h>
#include <unicode/uversion.h>

namespace scorrere::cli {

namespace {

constexpr std::int64_t kMostRecords = 20'000'000;

void defineServe(CLI::App& command, ServeOptions& options) {
    service::ServerSettings& settings = options.settings;
    command.add_option("--port", settings.port, "The port; any free one when left out")
        ->check(CLI::Range(0, 65'535));
    command.add_option("--count", settings.count, "How many sightings")
        ->check(CLI::Range(std::int64_t{0}, kMostRecords));
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

void definePlay(CLI::App& command, PlayOptions& options, std::string& size) {
    command.add_option("file", options.file, "Collection file; the demo when left out")->type_name("FILE");
    command.add_option("--script", options.script, "Script file; the demo script when left out")
        ->type_name("FILE");
    command.add_option("--count", options.demoCount, "Demo: how many records")
        ->check(CLI::Range(std::int64_t{0}, kMostRecords));
    command
        .add_option("--latency", options.latencyMs,
                    "What each page of a service takes on the run's clock, ms")
        ->check(CLI::Range(0, 60'000));
    command.add_option("--report", options.report, "Where the report goes: JSON, and a .txt beside it")
        ->type_name("FILE");
    command.add_option("--picture", options.picture, "Where a PNG of the whole window goes")
        ->type_name("FILE");
    command.add_option("--trace", options.trace, "Where the trace goes: Trace Event JSON, or CSV for a .csv")
        ->type_name("FILE");
    command.add_option("--size", size, "The window's size, WxH")->default_val("1280x800");
    command.add_option("--allow-host", options.allowance.hosts,
                       "A host that a collection from elsewhere may ask; '*' for any that its records name");
    command.add_option("--allow-secret", options.allowance.secrets, "A secret it may sign its calls with");
    command
        .add_option("--allow-path", options.allowance.paths,
                    "A file or folder outside its own that it may read")
        ->type_name("FILE");
    command.add_flag("--dark", options.dark, "The dark look");
    command.add_option("--text-scale", options.textScale, "The workbench's text scale")
        ->check(CLI::Range(0.75, 2.0));
}

void defineData(CLI::App& command, DataOptions& data) {
    command.add_option("--count", data.count, "How many")->check(CLI::Range(std::int64_t{0}, kMostRecords));
    command.add_option("--form", data.form, "json or ndjson")->check(CLI::IsMember({"json", "ndjson"}));
    command.add_option("-o,--out", data.out, "File; standard output when left out")->type_name("FILE");
    command.add_option("--seed", data.seed, "Another seed, other sightings");
    command
        .add_option("--collection", data.collection,
                    "Write a collection file over them, too; in the same folder")
        ->type_name("FILE");
    command.add_option("--pictures", data.pictures, "Draw their pictures into this folder, too")
        ->type_name("FILE");
}

std::string exitCodes() {
    std::string text = "Exit codes:";
    for (const ExitCode& one : kExitCodes) {
        text += fmt::format("{} {} {}", one.code == kFine ? "" : ";", one.code, one.means);
    }
    return text + ".";
}

} // namespace

Arguments::Arguments() {
    app.footer(exitCodes());
    app.set_version_flag("--version", versionText(), "What it is, and what it was built with");
    app.fallthrough(); // what is said of all may stand behind a command, too
    app.add_option("place", place,
                   "Collection file, file of records (JSON, NDJSON, CSV, XML, SQLite, lines), or address")
        ->type_name("FILE");
    app.add_option("--log", log, "How much is kept in the log: off, error, warning, info or debug")
        ->check(CLI::IsMember({"off", "error", "warning", "info", "debug"}));
    app.add_flag("--quiet", telling.isQuiet, "Say nothing of how far something is, nor what came of it");
    app.add_flag("--json", telling.isJson, "Tell results and errors as JSON, for other programs");

    demo = app.add_subcommand("demo", "Open the demo: a made-up night-moth survey");
    demo->add_option("--count", demoCount, "How many records")
        ->check(CLI::Range(std::int64_t{0}, kMostRecords));
    demo->add_flag("--service", fromService, "From the demo service, in pages");
    serving = app.add_subcommand("serve",
                                 "Serve the moth survey over HTTP on this machine, with faults to ask for");
    defineServe(*serving, serve);
    playing = app.add_subcommand("play", "Play a script headless on a virtual clock and report");
    definePlay(*playing, play, size);
    making = app.add_subcommand("demo-data", "Write made-up sightings");
    defineData(*making, data);
    manualMaking = app.add_subcommand("manual", "Write the manual page, or what bash completes")->group("");
    manualMaking->add_option("form", manual, "man or bash")
        ->required()
        ->check(CLI::IsMember({"man", "bash"}));
    for (CLI::App* command : {demo, serving, playing, making}) {
        command->fallthrough();
    }
}

std::string versionText() {
    return fmt::format("scorrere {}\n"
                       "built with g++ {}, Qt {} (running with {}), ICU {}, simdjson {}.{}.{}, SQLite {}, "
                       "spdlog {}.{}.{}",
                       SCORRERE_VERSION, __VERSION__, QT_VERSION_STR, qVersion(), U_ICU_VERSION,
                       static_cast<int>(simdjson::SIMDJSON_VERSION_MAJOR),
                       static_cast<int>(simdjson::SIMDJSON_VERSION_MINOR),
                       static_cast<int>(simdjson::SIMDJSON_VERSION_REVISION), SQLITE_VERSION,
                       SPDLOG_VER_MAJOR, SPDLOG_VER_MINOR, SPDLOG_VER_PATCH);
}

} // namespace scorrere::cli
