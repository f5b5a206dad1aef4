// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/part_formats.h"

#include "workbench/model/format_offers.h"

#include <QMenu>
#include <algorithm>

namespace scorrere::workbench {

PartFormats::PartFormats(Look& look, BoardModel& model, QWidget* parent)
    : QPushButton(tr("How it is written"), parent), look_(look), model_(model) {
    setObjectName(QStringLiteral("formatButton"));
    setToolTip(tr("What each way makes of the first specimen"));
    setFont(look_.font(12));
    connect(this, &QPushButton::clicked, this, &PartFormats::open);
}

/// Only numbers and times can be written in several ways.
void PartFormats::setSaid(const std::string& said) {
    said_ = said;
    const RecordTable* records = model_.records();
    const auto all = fieldArguments(said_);
    setVisible(records != nullptr && std::ranges::any_of(all, [records](const FieldArgument& argument) {
                   const auto field = records->find(argument.field);
                   const FieldType type = field ? records->field(*field).type : FieldType::Unknown;
                   return type == FieldType::Integer || type == FieldType::Real || type == FieldType::Time;
               }));
}

void PartFormats::open() {
    if (model_.isEmpty()) {
        return;
    }
    const NameScope scope{*model_.records(), model_.document().locale, &model_.document().parameters, nullptr,
                          false};
    const FillContext record = model_.context(model_.specimens().front());
    auto* menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("formatMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setFont(look_.font(12.5));
    const std::vector<FieldArgument> all = fieldArguments(said_);
    for (std::size_t i = 0; i < all.size(); ++i) {
        const std::vector<FormatOffer> offers = formatOffers(scope, all[i].field, record);
        if (!offers.empty() && all.size() > 1) {
            menu->addSection(QString::fromStdString(all[i].field));
        }
        for (const FormatOffer& offer : offers) {
            QAction* action = menu->addAction(
                tr("%1   –  %2")
                    .arg(QString::fromStdString(offer.outcome), QString::fromStdString(offer.name)));
            connect(action, &QAction::triggered, this,
                    [this, i, argument = offer.argument] { take(i, argument); });
        }
    }
    menu->popup(mapToGlobal(QPoint(0, height())));
}

void PartFormats::take(std::size_t index, const std::string& argument) {
    const std::vector<FieldArgument> all = fieldArguments(said_);
    if (index < all.size()) { // the text may have changed under the menu
        std::string text = said_;
        text.replace(all[index].from, all[index].until - all[index].from, argument);
        Q_EMIT textWanted(QString::fromStdString(text));
    }
}

} // namespace scorrere::workbench

#include "moc_part_formats.cpp"
