// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/field_offers.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QLineEdit>
#include <QStandardItemModel>
#include <algorithm>

namespace scorrere::workbench {

void offerFields(QLineEdit* line, const RecordTable& records) {
    auto* completer = new QCompleter(line);
    auto* offered = new QStandardItemModel(completer);
    for (int i = 0; i < static_cast<int>(records.fields().size()); ++i) {
        std::string sample;
        for (std::int64_t r = 0; r < std::min<std::int64_t>(records.size(), 20) && sample.empty(); ++r) {
            sample = records.display(r, FieldHandle{i});
        }
        const QString name = QString::fromStdString(records.field(FieldHandle{i}).name);
        auto* item =
            new QStandardItem(name + QStringLiteral("   ") + QString::fromStdString(sample).left(28));
        item->setData(name, Qt::UserRole);
        offered->appendRow(item);
    }
    completer->setModel(offered);
    completer->setCompletionRole(Qt::UserRole);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    completer->setWidget(line);
    const auto opening = [line] { // the brace the cursor stands behind, or -1
        const QString before = line->text().left(line->cursorPosition());
        const qsizetype open = before.lastIndexOf(QLatin1Char('{'));
        return open > before.lastIndexOf(QLatin1Char('}')) ? open : -1;
    };
    QObject::connect(line, &QLineEdit::textEdited, completer, [line, completer, opening] {
        const qsizetype open = opening();
        const QString typed =
            open < 0 ? QString() : line->text().mid(open + 1, line->cursorPosition() - open - 1);
        if (open < 0 || typed.contains(QLatin1Char(',')) || typed.contains(QLatin1Char(' '))) {
            completer->popup()->hide();
            return;
        }
        completer->setCompletionPrefix(typed);
        if (completer->completionCount() > 0) {
            completer->complete();
        } else {
            completer->popup()->hide();
        }
    });
    QObject::connect(completer, qOverload<const QString&>(&QCompleter::activated), line,
                     [line, opening](const QString& name) {
                         const qsizetype open = opening();
                         if (open < 0) {
                             return;
                         }
                         QString text = line->text();
                         text.replace(open + 1, line->cursorPosition() - open - 1, name);
                         const qsizetype end = open + 1 + name.size();
                         if (end >= text.size() || text.at(end) != QLatin1Char('}')) {
                             text.insert(end, QLatin1Char('}'));
                         }
                         line->setText(text);
                         line->setCursorPosition(static_cast<int>(end) + 1);
                         Q_EMIT line->textEdited(text);
                     });
}

} // namespace scorrere::workbench
