// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "cli/telling.h"
#include "workbench/model/opener.h"

#include <QSize>
#include <string>

namespace scorrere::cli {

struct PlayOptions {
    std::string file; ///< empty: the demo
    std::int64_t demoCount = 20'000;
    std::string script;  ///< empty: the demo script
    std::string report;  ///< JSON; a text beside it
    std::string picture; ///< PNG of the whole window
    std::string trace;   ///< Trace Event JSON, or CSV by its ending
    QSize size{1280, 800};
    bool dark = false;
    double textScale = 1;
    workbench::Allowance allowance;
    std::int64_t latencyMs = 100; ///< what a page takes on the run's clock
};

/// Plays a script headless on a virtual clock; needs a QApplication. Gives the exit code.
int play(const PlayOptions& options, const Telling& telling);

} // namespace scorrere::cli
