// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>

namespace scorrere::cli {

/// Exit codes, the same of every command.
inline constexpr int kFine = 0;
inline constexpr int kOverBudget = 1;
inline constexpr int kCannot = 2;
inline constexpr int kStopped = 3;

struct ExitCode {
    int code;
    const char* means;
};
/// What help and manual say of them.
inline constexpr std::array<ExitCode, 4> kExitCodes{
    {{kFine, "it was done"},
     {kOverBudget, "it was done, and went over a budget of the collection (play)"},
     {kCannot, "it cannot be done; why stands on standard error"},
     {kStopped, "it was stopped with Ctrl+C before it was done"}}};

/// Reads the arguments and does what they say; gives the exit code.
int run(int argc, char** argv);

} // namespace scorrere::cli
