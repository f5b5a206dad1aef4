// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/page/page_records.h"

#include <deque>

namespace scorrere {

/// Why a page was asked for.
enum class AskReason : std::uint8_t {
    FirstLoad,
    Shows, ///< its places are in the window
    Ahead, ///< they will be soon
    Again, ///< another try after a failure
    User,  ///< somebody asked for another try
    Refresh,
    Recheck, ///< another answer told that it may have changed
    Query,   ///< sort, filter or search text are others now
};
/// Why a page that is wanted was not asked for.
enum class PutOff : std::uint8_t {
    No, ///< it was
    AlreadyInFlight,
    EnoughInFlight,
    EndKnown,
    WaitsToTry,
    GivenUp,
    Offline,
};
enum class AskOutcome : std::uint8_t {
    InFlight,
    Came,
    Unchanged,
    Failed,
    Cancelled, ///< the window left it behind, or the view was closed
    Replaced,  ///< a newer generation took its place
    NotAsked,
};

/// One request, or one that was not made.
///
/// Units       Times in ms on the run's clock.
struct RequestRecord {
    std::int64_t number = 0; ///< from 1
    std::int64_t page = 0;
    std::int64_t generation = 1;
    AskReason why = AskReason::FirstLoad;
    double screensAhead = 0; ///< from the window's edge to the page, in windows
    PutOff putOff = PutOff::No;
    AskOutcome outcome = AskOutcome::InFlight;
    std::int64_t askedMs = 0;
    std::int64_t endedMs = -1;
    int tries = 1;
    CallTimes times;
    std::int64_t bytes = 0;
    int fresh = 0;
    int known = 0;
    int changed = 0;
    int gone = 0;
    std::string message;   ///< what went wrong
    bool fromDisk = false; ///< what an earlier day left was shown meanwhile
};

/// "1.5 screens ahead of the end", "already in flight", ...
std::string reasonText(const RequestRecord& record);
/// "18 new, 2 known", "nothing changed", "failed: ...", ...
std::string outcomeText(const RequestRecord& record);

/// The latest requests, and what was not asked for.
///
/// Complexity  O(1) an entry.
/// Threads     One thread.
class PageLog {
public:
    static constexpr std::size_t kKept = 1000;

    /// The entry stays where it is until it is too old to be kept.
    RequestRecord& add(RequestRecord record);
    /// Null when it is not kept any more.
    RequestRecord* find(std::int64_t number);
    /// The oldest first.
    const std::deque<RequestRecord>& entries() const { return entries_; }
    std::int64_t requestsEver() const { return requests_; }
    std::int64_t entriesEver() const { return ever_; }

private:
    std::deque<RequestRecord> entries_;
    std::int64_t ever_ = 0;
    std::int64_t requests_ = 0;
};

} // namespace scorrere
