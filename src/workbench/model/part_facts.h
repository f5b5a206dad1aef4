// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/item_colours.h"
#include "workbench/model/board_model.h"

#include <QColor>
#include <optional>
#include <string>

namespace scorrere::workbench {

/// How a part of a design stands on the specimens of a board.
///
/// Units       px.
struct PartFacts {
    // WCAG 2.2: success criteria 1.4.3, 2.5.8 and 2.5.5.
    static constexpr double kLeastContrast = 4.5;
    static constexpr double kLeastTarget = 24;
    static constexpr double kAdvisedTarget = 44;

    int shownOn = 0; ///< specimens
    int cutOn = 0;   ///< of those, where its text has less room than it needs
    double narrowest = 0, widest = 0, lowest = 0, highest = 0;
    std::optional<double> contrast; ///< the least there is between its text and what it stands on
    std::optional<int> readAs;      ///< its number when the item is read aloud; nothing: it is not read
    bool lacksWords = false;        ///< a picture that says nothing to those who do not see it
    double target() const { return std::min(narrowest, lowest); } ///< the smaller side
};

/// Complexity  O(specimens x parts).
PartFacts factsOf(const BoardModel& board, const std::string& pointer, const render::ItemColours& colours);

/// The colour that a part of a filled design stands on: the nearest ground around it.
QColor groundUnder(const ItemDesign& design, const ItemContent& content, int part,
                   const render::ItemColours& colours);

} // namespace scorrere::workbench
