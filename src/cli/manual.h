// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <CLI/CLI.hpp>
#include <string>

namespace scorrere::cli {

/// The manual page, in the words of --help, as man(7) has them.
std::string manualPage(const CLI::App& app);
/// What bash completes after its commands and options.
std::string bashCompletion(const CLI::App& app);

} // namespace scorrere::cli
