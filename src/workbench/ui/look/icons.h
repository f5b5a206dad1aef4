// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/look.h"

#include <QAbstractButton>
#include <QIcon>

namespace scorrere::workbench {

/// The signs on buttons: one set, drawn with one pen, in the colour of the text beside them.
enum class Sign : std::uint8_t {
    Pause,
    Go,
    Step,
    Nearer,
    Further,
    Open,
    Folded,
    Choose,
    Remove,
    Up,
    Down,
    Warn,
    Note
};

/// `size` at text scale 1, px.
QPixmap signOf(const Look& look, Sign sign, const QColor& colour, double size = 14);
/// Puts a sign before the text of a button, as large as its text.
void setSign(QAbstractButton& button, const Look& look, Sign sign, const QColor& colour);

} // namespace scorrere::workbench
