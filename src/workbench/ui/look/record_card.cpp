// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/record_card.h"

#include "workbench/ui/look/fitting_scroll.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

namespace {
constexpr double kWide = 420; ///< px at text scale 1
}

RecordCard::RecordCard(Look& look, RecordFacts facts, QWidget* parent)
    : QFrame(parent, Qt::Popup), look_(look), facts_(std::move(facts)) {
    setObjectName(QStringLiteral("recordCard"));
    setAttribute(Qt::WA_DeleteOnClose);
    setStyleSheet(QStringLiteral("#recordCard { background: %1; border: 1px solid %2; } #recordCard "
                                 "QWidget#recordFields { background: %1; }")
                      .arg(look.card.name(), look.edge.name()));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 12);
    column->setSpacing(8);
    heading_ = new QLabel(this);
    heading_->setFont(look.font(15, 700));
    heading_->setTextFormat(Qt::PlainText);
    column->addWidget(heading_);
    auto* why = new QLabel(this);
    why->setObjectName(QStringLiteral("recordWhy"));
    why->setFont(look.font(12));
    why->setStyleSheet(QStringLiteral("color: %1;").arg(look.quiet.name()));
    why->setWordWrap(true);
    why->setText(facts_.key.empty()
                     ? tr("It has no key, by which an edit could name it: choose one in Source.")
                 : facts_.isMadeUp ? tr("It is made up of others: those can be edited.")
                 : facts_.isOfPage
                     ? tr("Type over a value and press Enter. Its service has it as it was until the edit is "
                          "sent, under Edits; Ctrl+Z takes it back.")
                     : tr("Type over a value and press Enter. The source stays as it is; Ctrl+Z "
                          "takes it back."));
    column->addWidget(why);
    auto* scroll = new FittingScroll;
    auto* fields = new QWidget;
    fields->setObjectName(QStringLiteral("recordFields"));
    auto* grid = new QGridLayout(fields);
    grid->setContentsMargins(0, 0, 4, 0);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(1, 1);
    makeRows(*grid);
    scroll->setWidget(fields);
    column->addWidget(scroll, 1);
    makeActions(*column);
    take(RecordFacts(facts_));
}

void RecordCard::makeRows(QGridLayout& grid) {
    for (qsizetype i = 0; i < std::ssize(facts_.values); ++i) {
        const RecordFacts::Value& value = facts_.values[static_cast<std::size_t>(i)];
        const QString name = QString::fromStdString(value.field);
        auto* label = new QLabel(name);
        label->setFont(look_.font(12.5, 600));
        label->setTextFormat(Qt::PlainText);
        label->setMaximumWidth(static_cast<int>(look_.scaled(kWide * 0.4)));
        Row row;
        row.value = new QLineEdit;
        row.value->setObjectName(QStringLiteral("value_") + name);
        row.value->setAccessibleName(name);
        row.value->setFont(look_.font(12.5));
        row.value->setReadOnly(!isEditable());
        label->setBuddy(row.value);
        row.back = new QToolButton;
        row.back->setObjectName(QStringLiteral("back_") + name);
        row.back->setText(tr("take back"));
        row.back->setFont(look_.font(11.5));
        row.back->setStyleSheet(quietButtonSheet(look_));
        QSizePolicy kept = row.back->sizePolicy();
        kept.setRetainSizeWhenHidden(true); // values stay as wide as they are
        row.back->setSizePolicy(kept);
        row.said = new QLabel;
        row.said->setObjectName(QStringLiteral("said_") + name);
        row.said->setFont(look_.font(11.5));
        row.said->setTextFormat(Qt::PlainText);
        row.said->setWordWrap(true);
        const int at = static_cast<int>(i) * 2;
        grid.addWidget(label, at, 0, Qt::AlignLeft | Qt::AlignVCenter);
        grid.addWidget(row.value, at, 1);
        grid.addWidget(row.back, at, 2);
        grid.addWidget(row.said, at + 1, 1, 1, 2);
        connect(row.value, &QLineEdit::returnPressed, this, [this, i] { wantValue(i); });
        connect(row.value, &QLineEdit::editingFinished, this, [this, i] {
            if (rows_[i].value->isModified()) {
                wantValue(i);
            }
        });
        connect(row.back, &QToolButton::clicked, this, [this, i] {
            RecordEdit edit;
            edit.key = facts_.key;
            edit.field = facts_.values[static_cast<std::size_t>(i)].field;
            Q_EMIT editWanted(edit, true);
        });
        rows_ << row;
    }
    grid.setRowStretch(grid.rowCount(), 1);
}

void RecordCard::makeActions(QLayout& column) {
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    const auto button = [&](const char* name, const QString& text) {
        auto* made = new QPushButton(text, this);
        made->setObjectName(QLatin1String(name));
        made->setFont(look_.font(12.5));
        made->setAutoDefault(false);
        made->setEnabled(!facts_.key.empty());
        line->addWidget(made);
        return made;
    };
    connect(button("removeRecord", tr("&Remove it")), &QPushButton::clicked, this, [this] {
        close();
        Q_EMIT removeWanted();
    });
    connect(button("likeRecord", tr("&Add one like it")), &QPushButton::clicked, this, [this] {
        close();
        Q_EMIT likeWanted();
    });
    line->addStretch(1);
    auto* move = new QLabel(tr("&Move to no."), this);
    move->setObjectName(QStringLiteral("moveLabel"));
    move->setFont(look_.font(12.5));
    auto* number = new QLineEdit(this);
    number->setObjectName(QStringLiteral("moveRecord"));
    number->setFont(look_.font(12.5));
    number->setFixedWidth(static_cast<int>(look_.scaled(70)));
    number->setEnabled(!facts_.key.empty());
    move->setBuddy(number);
    connect(number, &QLineEdit::returnPressed, this, [this, number] {
        bool isNumber = false;
        const qint64 to = number->text().remove(QLatin1Char(',')).toLongLong(&isNumber);
        if (isNumber && to >= 1) {
            close();
            Q_EMIT moveWanted(to);
        }
    });
    move->setVisible(!facts_.isOfPage);
    number->setVisible(!facts_.isOfPage);
    line->addWidget(move);
    line->addWidget(number);
    static_cast<QVBoxLayout&>(column).addLayout(line);
}

void RecordCard::take(RecordFacts facts) {
    facts_ = std::move(facts);
    const QString key = QString::fromStdString(facts_.key);
    const QString number = grouped(facts_.number + 1);
    heading_->setText(
        facts_.isMadeUp ? tr("Record %1").arg(number)
        : facts_.key.empty()
            ? tr("Record %1 has no key by which an edit could name it: choose one in Source").arg(number)
        : facts_.isInserted ? tr("A record of your own, %1").arg(key)
                            : tr("Record %1, key %2").arg(number, key));
    for (qsizetype i = 0; i < std::min(rows_.size(), static_cast<qsizetype>(std::ssize(facts_.values)));
         ++i) {
        tell(i);
    }
}

void RecordCard::tell(qsizetype row) {
    const RecordFacts::Value& value = facts_.values[static_cast<std::size_t>(row)];
    Row& shown = rows_[row];
    if (!(shown.value->hasFocus() && shown.value->isModified())) {
        shown.value->setText(value.text);
        shown.value->setCursorPosition(0);
        shown.value->setModified(false);
    }
    shown.value->setPlaceholderText(value.isThere ? QString() : tr("none"));
    shown.value->setFont(look_.font(12.5, value.isEdited ? 700 : 400));
    shown.back->setVisible(value.isEdited);
    shown.said->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    shown.said->setText(!value.isEdited     ? QString()
                        : facts_.isInserted ? QString()
                        : value.before.isEmpty()
                            ? facts_.isOfPage ? tr("the service has none") : tr("none in the source")
                        : facts_.isOfPage ? tr("the service has %1").arg(value.before)
                                          : tr("%1 in the source").arg(value.before));
    shown.said->setVisible(!shown.said->text().isEmpty());
}

void RecordCard::wantValue(qsizetype row) {
    const RecordFacts::Value& value = facts_.values[static_cast<std::size_t>(row)];
    Row& shown = rows_[row];
    if (shown.value->text() == value.text && (value.isThere || value.text.isEmpty())) {
        shown.value->setModified(false);
        return;
    }
    const TypedValue typed = valueTyped(shown.value->text(), value.type);
    shown.value->setModified(false);
    if (!typed.json) {
        shown.said->setStyleSheet(QStringLiteral("color: %1;").arg(look_.bad.name()));
        shown.said->setText(typed.fault);
        shown.said->show();
        return;
    }
    RecordEdit edit;
    edit.key = facts_.key;
    edit.field = value.field;
    edit.value = *typed.json;
    edit.hint = facts_.number;
    Q_EMIT editWanted(edit, value.isEdited && !facts_.isInserted && shown.value->text() == value.before &&
                                !value.before.isEmpty());
}

void RecordCard::focusOn(const std::string& field) {
    const auto at = std::ranges::find(facts_.values, field, &RecordFacts::Value::field);
    if (at != facts_.values.end()) {
        QLineEdit* line = rows_[at - facts_.values.begin()].value;
        line->setFocus();
        line->selectAll();
    }
}

void RecordCard::setOnlyValues() {
    for (const char* name : {"likeRecord", "moveRecord", "moveLabel"}) {
        findChild<QWidget*>(QLatin1String(name))->hide();
    }
}

void RecordCard::openAt(const QPoint& at, const QRect& room) {
    ensurePolished();
    const QSize needed = sizeHint();
    const int width =
        std::min(std::max(needed.width(), static_cast<int>(look_.scaled(kWide))), room.width() - 16);
    int rows = 0;
    for (const Row& row : std::as_const(rows_)) {
        rows +=
            row.value->sizeHint().height() + 6 + (row.said->isHidden() ? 0 : row.said->sizeHint().height());
    }
    resize(width, std::min(rows + static_cast<int>(look_.scaled(150)), room.height() - 16));
    move(std::clamp(at.x(), room.left() + 8, std::max(room.left() + 8, room.right() - width - 8)),
         std::clamp(at.y(), room.top() + 8, std::max(room.top() + 8, room.bottom() - height() - 8)));
    show();
    if (!rows_.isEmpty()) {
        rows_.front().value->setFocus();
    }
}

} // namespace scorrere::workbench

#include "moc_record_card.cpp"
