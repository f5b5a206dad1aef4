// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <QColor>
#include <string>

namespace scorrere::render {

/// What the colour roles of an item design stand for in one look.
struct ItemColours {
    QColor ink, quiet, accent, faint, good, caution, bad, paper;

    static ItemColours light();
    static ItemColours dark();
    /// A role's colour, or a CSS #rgb / #rrggbb; invalid when `name` is empty.
    QColor of(const std::string& name) const;
};

} // namespace scorrere::render
