// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"

#include <QFont>
#include <QPoint>
#include <QWidget>
#include <functional>
#include <nlohmann/json.hpp>

namespace scorrere::workbench {

// What can be done beside a part, chosen from a menu that opens at a point of the screen. They return when the
// menu is closed, having called `chosen` when something was.

/// A part to add, with the fields of these records that suit it.
void openAddMenu(QWidget* owner, const QFont& font, QPoint global, const CollectionDocument& document,
                 const RecordTable& records,
                 const std::function<void(const nlohmann::ordered_json& part)>& chosen);
/// A box to put the part into.
void openBoxMenu(QWidget* owner, const QFont& font, QPoint global,
                 const std::function<void(PartType box)>& chosen);

} // namespace scorrere::workbench
