// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/item_view.h"

#include <QRectF>
#include <QString>
#include <vector>

namespace scorrere::workbench {

/// A part that takes taps, as large as it really is on a filled item.
struct TouchArea {
    /// By WCAG 2.2, success criteria 2.5.8 and 2.5.5: 24 px at least, 44 px advised.
    enum class Size : std::uint8_t { TooSmall, Enough, Fine };
    int part = 0;
    QRectF at; ///< px of the item
    Size size = Size::Fine;
    int overlaps = -1; ///< another that a finger may mean there, beside it in the design; -1: none
};

/// Complexity  O(parts that take taps, squared).
std::vector<TouchArea> touchAreas(const render::ItemView& view);
/// "44 x 40 px: enough, 44 is advised".
QString touchInWords(const TouchArea& area);

} // namespace scorrere::workbench
