// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/record_table.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace scorrere {

/// One record of a page: what identifies it, what it holds, and where that is.
struct PageRecord {
    std::string key;
    std::uint64_t content = 0; ///< a hash of its values: differs when any of them does
    std::shared_ptr<const RecordTable> table;
    std::int64_t row = 0;
    /// As its service has it, where an edit is laid over it; null: it is shown as it is.
    std::shared_ptr<const PageRecord> served = {};
    bool isLocal = false; ///< an edit made it: its service has none of that key
};

/// How long the parts of a call took, ms.
struct CallTimes {
    double connect = 0;
    double wait = 0;     ///< from the request being sent to the first byte
    double transfer = 0; ///< from the first byte to the last
};

/// What one call brought.
struct PageAnswer {
    std::vector<PageRecord> records;
    std::optional<std::int64_t> total; ///< of the whole collection, if the service tells
    std::string next;                  ///< where the following page is (Cursor, Next, Link); empty: none
    std::string previous;              ///< where the one before is; empty: not told
    bool unchanged = false;            ///< what was asked for is as it was: `records` is empty
    bool fromDisk = false;             ///< kept from an earlier day; the service has not answered yet
    std::int64_t bytes = 0;
    CallTimes times;
};

/// Why a call brought nothing.
struct PageFailure {
    enum class Kind : std::uint8_t {
        Offline, ///< the service cannot be reached at all
        Passing, ///< a timeout, 5xx, 429: another try may bring it
        NoSuch,  ///< 404, 410, 416: there is no such page
        Lasting, ///< another try would bring the same: 401, an answer that cannot be read
    };
    Kind kind = Kind::Passing;
    std::string message;
    std::string advice;
    std::int64_t retryAfterMs = 0; ///< as the service says; 0: it does not
    CallTimes times;
};

/// A change of which records stand where.
struct PlaceEdit {
    enum class Kind : std::uint8_t {
        Insert, ///< `count` places before `place`
        Erase,  ///< places [place, place + count)
        Move,   ///< the one at `place` stands at `count` afterwards
        Refill, ///< places [place, place + count) hold something else now
        Far,    ///< [place, place + count) are so far away that their length in all is enough to remember
    };
    Kind kind = Kind::Insert;
    std::int64_t place = 0;
    std::int64_t count = 0;
    bool operator==(const PlaceEdit&) const = default;
};

} // namespace scorrere
