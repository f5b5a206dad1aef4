// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/base/result.h"
#include "engine/record/reading.h"
#include "engine/record/record_builder.h"

#include <cstdint>
#include <functional>
#include <ostream>
#include <stop_token>
#include <string>
#include <vector>

namespace scorrere::service {

/// One record of the made-up night-moth survey of the Hollowmere marsh.
struct Sighting {
    std::int64_t id = 0;
    std::string species;
    std::string site;
    std::string seen; ///< RFC 3339; empty until transcribed
    std::int64_t count = 1;
    std::int64_t wingspanMm = 0;
    double temperatureC = 0;
    std::string status;
    std::int64_t rarity = 1;
    std::string note; ///< empty: none
    std::vector<std::string> traits;
    std::string picture; ///< an address; empty: none
    std::string night;   ///< an ISO date; empty: in no order of nights
    std::string from;    ///< RFC 3339, of a watch at the site; empty: it is none
    std::string until;
    std::vector<Sighting> company; ///< what else came to the light then
};

/// The sighting of that number: the same for the same seed on every machine.
Sighting makeSighting(std::int64_t number, std::uint64_t seed);
void appendJson(std::string& out, const Sighting& sighting);
void addTo(RecordBuilder& builder, const Sighting& sighting);

/// What orders sightings, beside their numbers.
struct SightingsIn {
    bool byNight = false; ///< night by night, 10 to 1,000 in each, which they name then
    bool watches = false; ///< each is a watch of some hours; they overlap, and there are none by day
    bool company = false; ///< each has some twenty others in a list
};

/// `count` sightings as a table. Blocks: for workers. Errors: Cancelled.
Result<RecordTable> makeSightings(std::int64_t count, std::uint64_t seed, std::stop_token stop = {},
                                  const ReadProgressHandler& progress = {}, const SightingsIn& in = {});

enum class DataForm { Json, Ndjson };
/// Writes `count` sightings as one JSON array or one JSON object a line. Errors: Unwritable.
/// `goOn` hears now and then how many are made; false: no more are wanted (Cancelled).
Outcome writeSightings(std::ostream& out, std::int64_t count, std::uint64_t seed, DataForm form,
                       const std::function<bool(std::int64_t made)>& goOn = {});

} // namespace scorrere::service
