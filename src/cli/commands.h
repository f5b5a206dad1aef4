// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace scorrere::cli {

/// Exit codes of every command.
inline constexpr int kFine = 0;
inline constexpr int kOverBudget = 1;
inline constexpr int kCannot = 2;

/// Reads the arguments and does what they say; gives the exit code.
int run(int argc, char** argv);

} // namespace scorrere::cli
