// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "cli/play.h"
#include "service/survey_server.h"

#include <CLI/CLI.hpp>
#include <cstdint>
#include <string>

namespace scorrere::cli {

struct DataOptions {
    std::int64_t count = 20'000;
    std::string form = "ndjson";
    std::string out; ///< empty or "-": standard output
    std::string collection;
    std::string pictures;
    std::uint64_t seed = 1;
};

struct ServeOptions {
    service::ServerSettings settings;
    std::string latency;
};

/// All that can be said on the command line. Help, manual and completion are made of the same definitions.
struct Arguments {
    std::string place;
    std::string log = "info";
    Telling telling;
    std::int64_t demoCount = 20'000;
    bool fromService = false;
    ServeOptions serve;
    PlayOptions play;
    std::string size;
    DataOptions data;
    std::string manual; ///< "man", "bash"

    CLI::App app{"Scorrere: a workbench for long and endless scrolling collections.", "scorrere"};
    CLI::App* demo = nullptr;
    CLI::App* serving = nullptr;
    CLI::App* playing = nullptr;
    CLI::App* making = nullptr;
    CLI::App* manualMaking = nullptr; ///< for packages; help does not name it

    Arguments();
};

/// "scorrere 0.1.0", and what it was built with.
std::string versionText();

} // namespace scorrere::cli
