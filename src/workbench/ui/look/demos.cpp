// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/demos.h"

#include "workbench/ui/look/look.h"

#include <QObject>

namespace scorrere::workbench {

const std::array<qint64, 3>& demoCounts() {
    static constexpr std::array<qint64, 3> counts{20, 20'000, 1'000'000};
    return counts;
}

QString demoWord(qint64 count) {
    return QObject::tr("%1 sightings").arg(grouped(count));
}

} // namespace scorrere::workbench
