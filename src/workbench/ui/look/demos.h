// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/opening.h"

#include <QString>
#include <array>
#include <functional>
#include <vector>

namespace scorrere::workbench {

/// How many sightings the demos have, smallest first.
const std::array<qint64, 3>& demoCounts();
/// "20 sightings"
QString demoWord(qint64 count);

/// A demo as an action: its name for tests, what it says, and how it is opened.
struct DemoOffer {
    QString name;
    QString text;
    std::function<void(Opening&)> open;
};
/// All of them; the first has the key Ctrl+1.
std::vector<DemoOffer> demoOffers();

} // namespace scorrere::workbench
