// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/arrange/placed_arrangement.h"

#include <cstdint>
#include <optional>
#include <vector>

namespace scorrere::testing {

/// Where a record's item stands, by the record: bunches that overlap, in two lanes, and nothing between them.
inline std::optional<GivenPlace> placeOf(std::int64_t record) {
    const std::uint64_t dice = static_cast<std::uint64_t>(record + 3) * 0x9e3779b97f4a7c15ULL;
    if (dice >> 60 == 0) {
        return std::nullopt;
    }
    const auto within = static_cast<std::int64_t>((dice >> 40) % 2000);
    return GivenPlace{Length::px(record / 40 * 3000 + within),
                      Length::px(30 + static_cast<std::int64_t>((dice >> 20) % 300)),
                      static_cast<std::uint8_t>(dice >> 10 & 1)};
}

inline PlacedArrangement::Told toldOf(std::int64_t records) {
    std::vector<std::optional<GivenPlace>> places;
    for (std::int64_t record = 0; record < records; ++record) {
        places.push_back(placeOf(record));
    }
    return PlacedArrangement::Told(places, 2);
}

} // namespace scorrere::testing
