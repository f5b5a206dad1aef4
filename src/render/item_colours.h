// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/part_spec.h"

#include <QColor>
#include <string>

namespace scorrere::render {

/// What the colour roles of an item design stand for in one look.
struct ItemColours {
    QColor ink, quiet, accent, faint, note, good, caution, bad, paper;

    static ItemColours light();
    static ItemColours dark();
    /// A role's colour, or a CSS #rgb / #rrggbb; invalid when `name` is empty.
    QColor of(const std::string& name) const;
    /// What is written or drawn in a tone, and the ground it stands on.
    QColor inkOf(Tone tone) const;
    QColor groundOf(Tone tone) const;
};

/// WCAG 2 contrast between two opaque colours, from 1 to 21.
double contrastBetween(const QColor& a, const QColor& b);

} // namespace scorrere::render
