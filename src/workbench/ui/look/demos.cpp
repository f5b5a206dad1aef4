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

std::vector<DemoOffer> demoOffers() {
    using service::DemoForm;
    std::vector<DemoOffer> all;
    for (const qint64 count : demoCounts()) {
        all.push_back({QStringLiteral("demoAction%1").arg(count),
                       QObject::tr("Demo with %1").arg(demoWord(count)),
                       [count](Opening& opening) { opening.openDemo(count); }});
    }
    all.push_back({QStringLiteral("demoServiceAction"), QObject::tr("Demo from its service, in pages"),
                   &Opening::openDemoService});
    all.push_back({QStringLiteral("demoCardsAction"), QObject::tr("Demo as a grid"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Cards); }});
    all.push_back({QStringLiteral("demoBoardAction"), QObject::tr("Demo as ragged columns"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Board); }});
    all.push_back({QStringLiteral("demoStripAction"), QObject::tr("Demo as a strip that runs sideways"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Strip); }});
    all.push_back({QStringLiteral("demoPagerAction"), QObject::tr("Demo as a pager"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Pager); }});
    all.push_back({QStringLiteral("demoNightsAction"), QObject::tr("Demo in sections, night by night"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Nights); }});
    all.push_back({QStringLiteral("demoTimetableAction"), QObject::tr("Demo as a timetable"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Timetable); }});
    all.push_back({QStringLiteral("demoLedgerAction"), QObject::tr("Demo as a table"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Ledger); }});
    all.push_back({QStringLiteral("demoCompanyAction"), QObject::tr("Demo with strips within its items"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Company); }});
    all.push_back({QStringLiteral("demoHandsAction"), QObject::tr("Demo by hand: taps, swipes, lifting"),
                   [](Opening& opening) { opening.openDemoIn(DemoForm::Hands); }});
    return all;
}

} // namespace scorrere::workbench
