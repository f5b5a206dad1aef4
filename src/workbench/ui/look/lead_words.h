// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <QStringList>
#include <optional>

namespace scorrere::workbench {

/// A view lead in words, and back: "half a screen", "1.5 screens", "nothing".
QString leadInWords(double windows);
std::optional<double> leadFromWords(const QString& words);
QStringList leadChoices();
/// A text scale in words, and back: "150%".
QString scaleInWords(double scale);
std::optional<double> scaleFromWords(const QString& words);

} // namespace scorrere::workbench
