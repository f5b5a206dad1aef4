// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/base/result.h"

#include <cstdint>
#include <string>

namespace scorrere::cli {

/// How a command tells what comes of it.
struct Telling {
    bool isQuiet = false;
    bool isJson = false; ///< for other programs
};

/// Tells why it cannot be done, on standard error; gives the exit code.
int cannot(const Telling& telling, const Error& error);
int cannot(const Telling& telling, const std::string& what);

/// From now on Ctrl+C, and being asked to end, only say so here.
void listenForStop();
bool isStopAsked();

/// "playing evening 45%, 12 s left (Ctrl+C stops)"; without a time while too little is known of it.
std::string progressLine(const std::string& what, double share, std::int64_t passedMs);

/// How far something is, as a line of a terminal on standard error that is written over; nothing of what is done within half
/// a second, where nobody wants it, and where it goes into a pipe.
///
/// Threads  The one that made it.
class Progress {
public:
    Progress(std::string what, const Telling& telling);
    ~Progress();
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;
    /// `share`: 0 to 1.
    void at(double share);

private:
    std::string what_;
    bool isShown_;
    bool isThere_ = false; ///< a line stands
    std::int64_t beganMs_;
    std::int64_t toldMs_;
};

} // namespace scorrere::cli
