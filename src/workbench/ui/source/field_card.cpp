// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/field_card.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScreen>
#include <QVBoxLayout>

namespace scorrere::workbench {

namespace {

constexpr std::array<FieldType, 7> kTypes{FieldType::Text,    FieldType::Integer, FieldType::Real,
                                          FieldType::Boolean, FieldType::Time,    FieldType::List,
                                          FieldType::Object};

QString nameOf(FieldType type) {
    const std::string_view name = typeName(type);
    return QString::fromUtf8(name.data(), static_cast<qsizetype>(name.size()));
}

} // namespace

FieldCard::FieldCard(Look& look, const FieldsView::Row& row, QWidget* parent) : QFrame(parent, Qt::Popup) {
    setObjectName(QStringLiteral("fieldCard"));
    setAttribute(Qt::WA_DeleteOnClose);
    setStyleSheet(QStringLiteral("#fieldCard { background: %1; border: 1px solid %2; }")
                      .arg(look.card.name(), look.edge.name()));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 12);
    column->setSpacing(7);
    const auto label = [&](const QString& text, double px, int weight) {
        auto* made = new QLabel(text, this);
        made->setFont(look.font(px, weight));
        made->setTextFormat(Qt::PlainText);
        column->addWidget(made);
        return made;
    };
    label(QString::fromStdString(row.name), 15, 700);
    auto* why = label(QString::fromStdString(row.why), 12, 400);
    why->setWordWrap(true);
    auto* title = new QLineEdit(QString::fromStdString(row.title), this);
    title->setObjectName(QStringLiteral("fieldTitle"));
    title->setFont(look.font(13));
    title->setPlaceholderText(tr("a name for people"));
    column->addWidget(title);
    connect(title, &QLineEdit::returnPressed, this, [this, title] {
        const QString text = title->text().trimmed();
        close();
        Q_EMIT titleChosen(text);
    });
    label(tr("Read it as"), 11, 600);
    QHBoxLayout* line = nullptr;
    const auto button = [&](const QString& name, const QString& text, bool on, auto does) {
        auto* made = new QPushButton(text, this);
        made->setObjectName(name);
        made->setFont(look.font(12.5, on ? 700 : 400));
        made->setCheckable(true);
        made->setChecked(on);
        made->setAutoDefault(false);
        connect(made, &QPushButton::clicked, this, [this, does] {
            close();
            does();
        });
        line->addWidget(made);
    };
    int inLine = 0;
    const auto typeButton = [&](FieldType type, const QString& text, bool on) {
        if (inLine++ % 4 == 0) {
            line = new QHBoxLayout;
            line->setSpacing(6);
            column->addLayout(line);
        }
        button(QStringLiteral("type%1").arg(static_cast<int>(type)), text, on,
               [this, type] { Q_EMIT typeChosen(type); });
    };
    typeButton(FieldType::Unknown, tr("as it is (%1)").arg(row.isChosen ? tr("find out") : nameOf(row.type)),
               !row.isChosen);
    for (const FieldType type : kTypes) {
        typeButton(type, nameOf(type), row.isChosen && row.type == type);
    }
    line->addStretch(1);
    line = new QHBoxLayout;
    line->setSpacing(6);
    column->addLayout(line);
    if (!row.isLeftOut) {
        button(QStringLiteral("makeKey"), row.isKey ? tr("no longer the key") : tr("make it the key  K"),
               false, [this] { Q_EMIT keyChosen(false); });
        if (!row.isKey) {
            button(QStringLiteral("addToKey"), tr("add it to the key  Shift+K"), false,
                   [this] { Q_EMIT keyChosen(true); });
        }
    }
    button(QStringLiteral("leaveOut"), row.isLeftOut ? tr("take it back  X") : tr("leave it out  X"), false,
           [this, out = !row.isLeftOut] { Q_EMIT leftOutChosen(out); });
    line->addStretch(1);
    setMinimumWidth(static_cast<int>(look.scaled(380)));
}

void FieldCard::openAt(QPoint global) {
    adjustSize();
    if (const QScreen* on = screen()) {
        const QRect room = on->availableGeometry();
        global.setX(std::clamp(global.x(), room.left(), std::max(room.left(), room.right() - width())));
        global.setY(std::clamp(global.y(), room.top(), std::max(room.top(), room.bottom() - height())));
    }
    move(global);
    show();
}

} // namespace scorrere::workbench
