// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/base/result.h"

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace scorrere::service {

struct ServerSettings {
    int port = 0; ///< 0: any free one
    std::int64_t count = 20'000;
    std::uint64_t seed = 1;
    std::int64_t latencyMinMs = 0;
    std::int64_t latencyMaxMs = 0;
    double failRate = 0;             ///< of the calls for records, 0 to 1: answered with 503
    double lossRate = 0;             ///< of them, too: closed without a word, as when the answer got lost
    std::int64_t bytesPerSecond = 0; ///< 0: as fast as it goes
    std::string token{};             ///< when given, calls for records must bring it
};

/// One call as the service saw it.
struct ReceivedCall {
    std::int64_t number = 0; ///< from 1
    std::int64_t atMs = 0;   ///< since the service started
    std::string what;        ///< path and query
    int status = 0;
    std::int64_t bytes = 0; ///< of the body, as it was meant to be sent
    std::string note;       ///< "fault: truncated", "not changed", ...
};

/// The demo service: the made-up moth survey over HTTP on this machine, in every page style, with faults that
/// a call can ask for. GET / tells what there is.
///
/// Ownership   Owns its threads; destruction stops them.
/// Threads     All members may be called from any thread.
/// Errors      start: Unreadable when the port cannot be had.
class SurveyServer {
public:
    /// `picture(name)` gives the PNG of a picture's name, or nothing: then it is 404.
    using PictureMaker = std::function<std::optional<std::string>(const std::string& name)>;
    SurveyServer(ServerSettings settings, PictureMaker picture);
    ~SurveyServer();
    SurveyServer(const SurveyServer&) = delete;
    SurveyServer& operator=(const SurveyServer&) = delete;

    /// Listens on 127.0.0.1 and returns at once.
    Outcome start();
    void stop();
    int port() const;
    std::string address() const; ///< "http://127.0.0.1:41873"
    /// The calls with a number above `after`, at most the newest 1,000.
    std::vector<ReceivedCall> received(std::int64_t after = 0) const;
    /// Called on a thread of the service after each call.
    void onReceived(std::function<void(const ReceivedCall&)> told);

private:
    class Inside;
    std::unique_ptr<Inside> inside_;
};

} // namespace scorrere::service
