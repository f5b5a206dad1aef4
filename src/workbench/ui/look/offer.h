// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <functional>

namespace scorrere::workbench {

/// Something that can be found by typing, and what choosing it does.
struct Offer {
    QString group; ///< where it belongs: the name of a station, "Collection"
    QString text;
    QString keys; ///< its shortcut; may be empty
    std::function<void()> does;
    bool isOnlyFound = false; ///< not listed before something is typed: there are many like it
};

} // namespace scorrere::workbench
