// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/design/values.h"
#include "engine/extent/length.h"

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace scorrere {

/// What of a record says where its item stands along the strip, how long it is, and in which lane.
struct PlacedBy {
    /// Of times; a number is in units as it is.
    enum class Unit : std::uint8_t { Second, Minute, Hour, Day };

    std::string start = {};  ///< a field: a number or a time
    std::string end = {};    ///< a field of the same sort; or
    std::string extent = {}; ///< a field: a number of units; or
    double units = 0;        ///< so many each; 0: as long as the least
    std::string lane = {};   ///< a field; empty: there is one lane
    Unit unit = Unit::Minute;
    double scale = 1;              ///< px that a unit is long
    Length least = Length::px(24); ///< no item is shorter
    bool operator==(const PlacedBy&) const = default;
};

/// Where an item is to stand, on a scale of its own.
struct GivenPlace {
    Length start;
    Length extent;
    std::uint8_t lane = 0;
    bool operator==(const GivenPlace&) const = default;
};

/// Reads where items are to stand. Lanes are numbered as they are met; a whole number that may be a lane's is one.
///
/// Threads     One thread at a time: it numbers lanes.
/// Errors      compile: NotFound for a field that is not there, Invalid for one that says no place.
class PlaceReader {
public:
    static constexpr std::size_t kMostLanes = 32; ///< what is in another than these is in the last

    static Result<PlaceReader> compile(const PlacedBy& by, const NameScope& scope,
                                       const std::string& pointer);

    /// Nothing: it has no start.
    std::optional<GivenPlace> read(const RecordTable& records, std::int64_t record);
    /// So many were met so far, one at least.
    int lanes() const { return lanes_; }
    /// The lanes met so far, by name; empty where they are numbers.
    const std::vector<std::string>& laneNames() const { return names_; }
    /// Goes on with lanes that another reader of the same records has met.
    void goOnWith(const PlaceReader& other) {
        lanes_ = other.lanes_;
        names_ = other.names_;
    }

private:
    explicit PlaceReader(const PlacedBy& by) : by_(by) {}
    std::optional<double> unitsAt(const RecordTable& records, std::int64_t record, FieldHandle field) const;
    std::uint8_t laneOf(const RecordTable& records, std::int64_t record);

    PlacedBy by_;
    FieldHandle start_;
    FieldHandle end_;
    FieldHandle extent_;
    FieldHandle lane_;
    int lanes_ = 1;
    std::vector<std::string> names_;
};

} // namespace scorrere
