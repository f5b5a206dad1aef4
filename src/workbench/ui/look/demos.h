// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <array>

namespace scorrere::workbench {

/// How many sightings the demos have, smallest first.
const std::array<qint64, 3>& demoCounts();
/// "20 sightings"
QString demoWord(qint64 count);

} // namespace scorrere::workbench
