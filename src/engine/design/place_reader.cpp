// SPDX-License-Identifier: Apache-2.0
#include "engine/design/place_reader.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace scorrere {

namespace {

/// Beyond this nothing is told apart: 2^50 of 1/64 px.
constexpr double kFurthest = 1e15 / 64;
/// As an extent index allows.
constexpr Length kLongest = Length::px(1 << 20);

double msOf(PlacedBy::Unit unit) {
    switch (unit) {
    case PlacedBy::Unit::Second:
        return 1000;
    case PlacedBy::Unit::Minute:
        return 60'000;
    case PlacedBy::Unit::Hour:
        return 3'600'000;
    case PlacedBy::Unit::Day:
        break;
    }
    return 86'400'000;
}

} // namespace

Result<PlaceReader> PlaceReader::compile(const PlacedBy& by, const NameScope& scope,
                                         const std::string& pointer) {
    PlaceReader reader(by);
    std::optional<Error> error;
    const auto find = [&](const std::string& name, const char* member, bool mayBeTime) {
        const auto handle = name.empty() ? std::nullopt : scope.records.find(name);
        if (name.empty() || error) {
            return FieldHandle();
        }
        Place place;
        place.field = name;
        place.pointer = pointer + member;
        if (!handle) {
            std::string names;
            for (const Field& field : scope.records.fields()) {
                names += (names.empty() ? "" : ", ") + field.name;
            }
            error = Error{ErrorCode::NotFound, fmt::format("there is no field \"{}\"", name),
                          "There are " + names + ".", std::move(place)};
            return FieldHandle();
        }
        const FieldType type = scope.records.field(*handle).type;
        const bool isNumber = type == FieldType::Integer || type == FieldType::Real;
        if (!isNumber && type != FieldType::Unknown && !(mayBeTime && type == FieldType::Time)) {
            error = Error{ErrorCode::Invalid,
                          fmt::format("\"{}\" is {}, and says no {}", name, typeName(type),
                                      mayBeTime ? "place" : "length"),
                          mayBeTime ? "Name a field of numbers or of times." : "Name a field of numbers.",
                          std::move(place)};
        }
        return *handle;
    };
    reader.start_ = find(by.start, "/start", true);
    reader.end_ = find(by.end, "/end", true);
    reader.extent_ = find(by.extent, "/extent", false);
    if (!error && !by.lane.empty()) {
        auto lane = scope.resolve(by.lane);
        const auto handle = scope.records.find(by.lane);
        if (!lane || !handle) {
            error = lane ? Error{ErrorCode::NotFound,
                                 fmt::format("\"{}\" is no field", by.lane),
                                 "Name a field, as it is.",
                                 {}}
                         : std::move(lane.error());
            error->place.pointer = pointer + "/lane";
        } else {
            reader.lane_ = *handle;
        }
    }
    if (!error && reader.end_.index >= 0 &&
        (scope.records.field(reader.start_).type == FieldType::Time) !=
            (scope.records.field(reader.end_).type == FieldType::Time)) {
        error = Error{ErrorCode::Invalid,
                      fmt::format("\"{}\" and \"{}\" are not of one sort", by.start, by.end),
                      "Both are times, or both are numbers.",
                      {}};
        error->place.pointer = pointer + "/end";
    }
    if (error) {
        return std::move(*error);
    }
    return reader;
}

std::optional<double> PlaceReader::unitsAt(const RecordTable& records, std::int64_t record,
                                           FieldHandle field) const {
    if (!records.has(record, field)) {
        return std::nullopt;
    }
    switch (records.field(field).type) {
    case FieldType::Time: {
        const auto ms = parseTime(records.text(record, field));
        return ms ? std::optional(static_cast<double>(*ms) / msOf(by_.unit)) : std::nullopt;
    }
    case FieldType::Integer:
    case FieldType::Real:
        return records.real(record, field);
    default:
        return std::nullopt;
    }
}

std::uint8_t PlaceReader::laneOf(const RecordTable& records, std::int64_t record) {
    if (lane_.index < 0) {
        return 0;
    }
    std::size_t lane = 0;
    const bool isNumber = records.field(lane_).type == FieldType::Integer && names_.empty();
    if (isNumber && records.has(record, lane_)) {
        lane = static_cast<std::size_t>(
            std::clamp<std::int64_t>(records.integer(record, lane_), 0, kMostLanes - 1));
    } else if (!isNumber) {
        const std::string name = records.display(record, lane_);
        lane = static_cast<std::size_t>(std::ranges::find(names_, name) - names_.begin());
        if (lane == names_.size() && lane < kMostLanes) {
            names_.push_back(name);
        }
        lane = std::min(lane, kMostLanes - 1);
    }
    lanes_ = std::max(lanes_, static_cast<int>(lane) + 1);
    return static_cast<std::uint8_t>(lane);
}

std::optional<GivenPlace> PlaceReader::read(const RecordTable& records, std::int64_t record) {
    const std::optional<double> start = unitsAt(records, record, start_);
    if (!start || !std::isfinite(*start)) {
        return std::nullopt;
    }
    double units = by_.units;
    if (end_.index >= 0) {
        units = unitsAt(records, record, end_).value_or(*start) - *start;
    } else if (extent_.index >= 0) {
        units = unitsAt(records, record, extent_).value_or(0);
    }
    const double at = std::clamp(*start * by_.scale, -kFurthest, kFurthest);
    const double extent = std::isfinite(units) ? std::clamp(units * by_.scale, 0.0, kLongest.toPx()) : 0;
    return GivenPlace{Length::fromPx(at), std::clamp(Length::fromPx(extent), by_.least, kLongest),
                      laneOf(records, record)};
}

} // namespace scorrere
