// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/telling.h"

#include "cli/commands.h"
#include "engine/base/pace.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <unistd.h>
#include <utility>

namespace scorrere::cli {

namespace {

constexpr std::int64_t kFirstMs = 500; ///< what is done within this needs no progress
constexpr std::int64_t kEachMs = 100;  ///< between two lines

std::atomic<bool> stopAsked = false;

std::int64_t nowMs() {
    using namespace std::chrono;
    return duration_cast<milliseconds>(steady_clock::now().time_since_epoch()).count();
}

} // namespace

int cannot(const Telling& telling, const Error& error) {
    if (telling.isJson) {
        nlohmann::json told{{"what", error.message}};
        const auto put = [&told](const char* name, const nlohmann::json& value, bool isKnown) {
            if (isKnown) {
                told[name] = value;
            }
        };
        const Place& place = error.place;
        put("advice", error.advice, !error.advice.empty());
        put("file", place.file, !place.file.empty());
        put("line", place.line, place.line > 0);
        put("column", place.column, place.column > 0);
        put("record", place.record + 1, place.record >= 0); // counted from 1, as people do
        put("field", place.field, !place.field.empty());
        put("pointer", place.pointer, !place.pointer.empty());
        fmt::print(stderr, "{}\n", nlohmann::json{{"error", told}}.dump());
    } else {
        fmt::print(stderr, "scorrere: {}\n", error.text());
    }
    return kCannot;
}

int cannot(const Telling& telling, const std::string& what) {
    return cannot(telling, Error{ErrorCode::Invalid, what, {}, {}});
}

void listenForStop() {
    const auto stop = [](int) { stopAsked = true; };
    std::signal(SIGINT, stop);
    std::signal(SIGTERM, stop);
}

bool isStopAsked() {
    return stopAsked;
}

std::string progressLine(const std::string& what, double share, std::int64_t passedMs) {
    share = std::clamp(share, 0.0, 1.0);
    const int percent = static_cast<int>(std::floor(share * 100));
    std::string left;
    if (const auto seconds = secondsLeft(share, passedMs)) {
        left = *seconds >= 120 ? fmt::format(", {} min left", (*seconds + 59) / 60)
                               : fmt::format(", {} s left", *seconds);
    }
    return fmt::format("{} {}%{} (Ctrl+C stops)", what, percent, left);
}

Progress::Progress(std::string what, const Telling& telling)
    : what_(std::move(what)), isShown_(!telling.isQuiet && !telling.isJson && ::isatty(STDERR_FILENO) == 1),
      beganMs_(nowMs()), toldMs_(beganMs_) {}

Progress::~Progress() {
    if (isThere_) {
        fmt::print(stderr, "\r\033[K");
        (void)std::fflush(stderr);
    }
}

void Progress::at(double share) {
    const std::int64_t now = isShown_ ? nowMs() : 0;
    if (!isShown_ || now - beganMs_ < kFirstMs || now - toldMs_ < kEachMs) {
        return;
    }
    toldMs_ = now;
    isThere_ = true;
    fmt::print(stderr, "\r{}\033[K", progressLine(what_, share, now - beganMs_));
    (void)std::fflush(stderr);
}

} // namespace scorrere::cli
