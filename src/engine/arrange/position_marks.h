// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <span>
#include <string>

namespace scorrere {

/// The row of small marks that says which item of a pager shows.
struct MarksSpec {
    enum class Shape : std::uint8_t { Round, Long, Square };
    Shape shape = Shape::Round;
    std::string present = "accent"; ///< colours as parts have them: of the mark of what shows,
    std::string others = "faint";   ///< and of the others
    bool isAtStart = false;         ///< along the window's first edge across the strip, else its last
    int most = 7;                   ///< of more items only the marks near what shows stand there
    bool operator==(const MarksSpec&) const = default;

    static constexpr int kLeast = 3;
    static constexpr int kMost = 31;
};

/// One mark: of which item, and how it stands in the row.
struct PositionMark {
    std::int64_t item = 0;
    double at = 0;      ///< of its middle, from the row's, in pitches
    double size = 1;    ///< smaller where the row goes on beyond it
    double present = 0; ///< 1: its item is what shows; between, while one goes to the other
};

/// The marks of so many items while what shows is at `position`, as a number of items from the first: they
/// follow the finger, also beyond the last to the first where they go round. Gives how many. Requires: room for MarksSpec::kMost + 2.
std::size_t positionMarks(std::int64_t count, double position, int most, std::span<PositionMark> room);

} // namespace scorrere
