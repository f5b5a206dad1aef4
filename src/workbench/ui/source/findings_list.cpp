// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/findings_list.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <algorithm>
#include <memory>

namespace scorrere::workbench {

FindingsList::FindingsList(Look& look, QWidget* parent) : QScrollArea(parent), look_(look) {
    setObjectName(QStringLiteral("findings"));
    setAccessibleName(tr("Findings"));
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(&look_, &Look::changed, this, &FindingsList::fill);
    fill();
}

int FindingsList::warnings() const {
    return static_cast<int>(std::ranges::count(findings_, true, &SourceFinding::isWarning));
}

void FindingsList::setFindings(const std::vector<SourceFinding>& findings) {
    findings_ = findings;
    fill();
}

void FindingsList::fill() {
    auto* whole = new QWidget;
    whole->setObjectName(QStringLiteral("findingsWhole"));
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 2, 8, 2);
    column->setSpacing(3);
    for (const SourceFinding& finding : findings_) {
        auto* row = new QHBoxLayout;
        auto* mark = new QLabel(finding.isWarning ? QStringLiteral("▲") : QStringLiteral("●"));
        mark->setFont(look_.font(10));
        mark->setStyleSheet(
            QStringLiteral("color: %1;").arg((finding.isWarning ? look_.bad : look_.known).name()));
        auto* text = new QLabel(QString::fromStdString(finding.text + ". " + finding.advice));
        text->setTextFormat(Qt::PlainText);
        text->setWordWrap(true);
        text->setFont(look_.font(12.5));
        text->setTextInteractionFlags(Qt::TextSelectableByMouse);
        row->addWidget(mark, 0, Qt::AlignTop);
        row->addWidget(text, 1);
        const auto button = [&](const QString& name, const QString& said, auto does) {
            auto* made = new QPushButton(said);
            made->setObjectName(name);
            made->setFont(look_.font(12));
            connect(made, &QPushButton::clicked, this, does);
            row->addWidget(made, 0, Qt::AlignTop);
        };
        if (!finding.records.empty()) {
            // Pressed again and again it goes through them all.
            const bool many = finding.records.size() > 1;
            auto next = std::make_shared<std::size_t>(0);
            button(
                QStringLiteral("seeFinding"),
                many ? tr("see 1 of %1").arg(finding.records.size()) : tr("see it"),
                [this, many, next, records = finding.records, field = QString::fromStdString(finding.field)] {
                    const std::size_t at = *next % records.size();
                    *next = at + 1;
                    if (auto* pressed = qobject_cast<QPushButton*>(sender()); many && pressed != nullptr) {
                        pressed->setText(
                            tr("see %1 of %2").arg(*next % records.size() + 1).arg(records.size()));
                    }
                    Q_EMIT seeWanted(records[at], field);
                });
        }
        if (finding.mend != SourceFinding::Mend::Nothing) {
            button(QStringLiteral("mendFinding"),
                   finding.mend == SourceFinding::Mend::ReadAsUtf8    ? tr("read it as UTF-8")
                   : finding.mend == SourceFinding::Mend::ReadInPages ? tr("read it in pages")
                                                                      : tr("decode them back"),
                   [this, mend = finding.mend] { Q_EMIT mendWanted(mend); });
        }
        column->addLayout(row);
    }
    column->addStretch(1);
    delete takeWidget();
    setWidget(whole);
    const int wanted = whole->sizeHint().height() + 6;
    setFixedHeight(std::min(wanted, static_cast<int>(look_.scaled(110))));
    setVisible(!findings_.empty());
}

} // namespace scorrere::workbench

#include "moc_findings_list.cpp"
