// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/log.h"

#include <QUrl>
#include <QUrlQuery>
#include <algorithm>
#include <array>
#include <atomic>
#include <cstring>
#include <ctime>
#include <fmt/chrono.h>
#include <fmt/format.h>
#include <memory>
#include <spdlog/async.h>
#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>
#include <unistd.h>

namespace scorrere::workbench {

namespace {

constexpr std::size_t kFileBytes = std::size_t{1} << 20;
constexpr std::size_t kFilesBefore = 2;
constexpr std::size_t kWaiting = 4096; ///< lines; of more the oldest are left out rather than anybody waits
constexpr std::size_t kLineBytes = 240;

/// The last lines, where a handler of signals finds them. A line that is written while it is read may be torn.
struct Ring {
    std::array<std::array<char, kLineBytes>, kLastLines> lines{};
    std::atomic<std::uint64_t> told = 0;
};
Ring ring;
std::atomic<LogLevel> wanted = LogLevel::Info;
std::shared_ptr<spdlog::logger>
    writer; // NOLINT: made before there are threads, and never dropped while there are
std::atomic<bool> isWriting = false;

spdlog::level::level_enum levelOf(LogLevel level) {
    return level == LogLevel::Error     ? spdlog::level::err
           : level == LogLevel::Warning ? spdlog::level::warn
           : level == LogLevel::Info    ? spdlog::level::info
           : level == LogLevel::Debug   ? spdlog::level::debug
                                        : spdlog::level::off;
}

void keep(const std::string& line) {
    const std::uint64_t at = ring.told.fetch_add(1);
    auto& to = ring.lines[at % kLastLines];
    const std::string stamped =
        fmt::format("{:%H:%M:%S} {}", fmt::gmtime(std::time(nullptr)), line).substr(0, kLineBytes - 1);
    std::memcpy(to.data(), stamped.c_str(), stamped.size() + 1);
}

const char* codeName(ErrorCode code) {
    switch (code) {
    case ErrorCode::NotFound:
        return "not found";
    case ErrorCode::Unreadable:
        return "unreadable";
    case ErrorCode::Syntax:
        return "not the notation";
    case ErrorCode::Version:
        return "another version";
    case ErrorCode::Invalid:
        return "invalid";
    case ErrorCode::TooLarge:
        return "too large";
    case ErrorCode::Unwritable:
        return "unwritable";
    case ErrorCode::Cancelled:
        return "cancelled";
    case ErrorCode::Changed:
        return "changed meanwhile";
    }
    return "";
}

} // namespace

LogLevel logLevelNamed(const std::string& name) {
    return name == "off"       ? LogLevel::Off
           : name == "error"   ? LogLevel::Error
           : name == "warning" ? LogLevel::Warning
           : name == "debug"   ? LogLevel::Debug
                               : LogLevel::Info;
}

void startLog(const std::string& folder, LogLevel level) {
    wanted = level;
    if (level == LogLevel::Off) {
        return;
    }
    try { // spdlog tells of a folder that cannot be made so
        spdlog::init_thread_pool(kWaiting, 1);
        auto file = std::make_shared<spdlog::sinks::rotating_file_sink_mt>(folder + "/scorrere.log",
                                                                           kFileBytes, kFilesBefore);
        file->set_pattern("%Y-%m-%dT%H:%M:%S.%e%z %-7l %v");
        writer = std::make_shared<spdlog::async_logger>("scorrere", std::move(file), spdlog::thread_pool(),
                                                        spdlog::async_overflow_policy::overrun_oldest);
        writer->set_level(levelOf(level));
        writer->flush_on(spdlog::level::trace);
        isWriting = true;
    } catch (const spdlog::spdlog_ex&) {
        isWriting = false;
    }
}

void endLog() {
    isWriting = false; // a worker that is not ended yet may be telling something
    spdlog::shutdown();
}

void tellLog(LogLevel level, const std::string& line) {
    if (level > wanted || level == LogLevel::Off) {
        return;
    }
    keep(line);
    if (isWriting) {
        writer->log(levelOf(level), "{}", line);
    }
}

std::string withoutContents(const Error& error) {
    std::string text = codeName(error.code);
    const Place& place = error.place;
    if (!place.file.empty()) {
        const bool isWeb = place.file.find("://") != std::string::npos;
        text += ", " + (isWeb ? withoutContents(place.file) : place.file);
    }
    if (place.line > 0) {
        text += fmt::format(", line {}", place.line);
    }
    if (place.record >= 0) {
        text += fmt::format(", record {}", place.record + 1);
    }
    return place.field.empty() ? text : text + ", field " + place.field;
}

std::string withoutContents(const std::string& address) {
    const QUrl url(QString::fromStdString(address));
    const auto deep = url.path().split(QLatin1Char('/'), Qt::SkipEmptyParts).size();
    std::string text = fmt::format("{}://{}", url.scheme().toStdString(), url.host().toStdString());
    if (url.port() >= 0) {
        text += fmt::format(":{}", url.port());
    }
    text += fmt::format(", path of {}", deep);
    std::string names;
    for (const auto& [name, value] : QUrlQuery(url).queryItems()) {
        names += (names.empty() ? "" : ", ") + name.toStdString();
    }
    return names.empty() ? text : text + ", with " + names;
}

std::vector<std::string> lastLogLines() {
    const std::uint64_t told = ring.told;
    std::vector<std::string> lines;
    for (std::uint64_t at = told > kLastLines ? told - kLastLines : 0; at < told; ++at) {
        lines.emplace_back(ring.lines[at % kLastLines].data());
    }
    return lines;
}

void detail::writeLastLogLines(int fd) {
    const std::uint64_t told = ring.told;
    for (std::uint64_t at = told > kLastLines ? told - kLastLines : 0; at < told; ++at) {
        const char* line = ring.lines[at % kLastLines].data();
        (void)!::write(fd, line, ::strnlen(line, kLineBytes));
        (void)!::write(fd, "\n", 1);
    }
}

} // namespace scorrere::workbench
