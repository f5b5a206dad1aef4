// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/field_card.h"

#include <QDate>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace scorrere::workbench {

namespace {

constexpr std::array<FieldType, 7> kTypes{FieldType::Text,    FieldType::Integer, FieldType::Real,
                                          FieldType::Boolean, FieldType::Time,    FieldType::List,
                                          FieldType::Object};

/// The ways that differ and are met often; the file takes any other.
const QStringList kLocales = {QStringLiteral("de"),    QStringLiteral("de-CH"), QStringLiteral("en-GB"),
                              QStringLiteral("en-US"), QStringLiteral("es"),    QStringLiteral("fr"),
                              QStringLiteral("it"),    QStringLiteral("nl"),    QStringLiteral("pl"),
                              QStringLiteral("pt-BR"), QStringLiteral("ru"),    QStringLiteral("sv"),
                              QStringLiteral("tr"),    QStringLiteral("ja"),    QStringLiteral("zh")};

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
    auto* why =
        label(row.isLeftOut ? tr("left out")
                            : nameOf(row.type) + QStringLiteral(": ") + QString::fromStdString(row.why),
              12, 400);
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
    addLocales(look, row, column);
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

/// How numbers and times are written in texts: as JSON has them, or as people of a language do.
void FieldCard::addLocales(const Look& look, const FieldsView::Row& row, QVBoxLayout* column) {
    if (row.type >= FieldType::List || row.type == FieldType::Boolean) {
        return;
    }
    auto* label = new QLabel(tr("Its numbers and times are written"), this);
    label->setFont(look.font(11, 600));
    column->addWidget(label);
    auto* menu = new QMenu(this);
    const QString now = QString::fromStdString(row.locale);
    QString text;
    const auto add = [&](const QString& tag, const QString& said) {
        QAction* action = menu->addAction(said, this, [this, tag] {
            close();
            Q_EMIT localeChosen(tag);
        });
        action->setData(tag);
        action->setCheckable(true);
        action->setChecked(tag == now);
        text = tag == now ? said : text;
    };
    add(QString(), tr("as JSON has them: 2023-12-31, 1234.56"));
    QStringList tags = kLocales;
    if (!now.isEmpty() && !tags.contains(now)) {
        tags.prepend(now);
    }
    for (const QString& tag : std::as_const(tags)) {
        const QLocale locale(tag);
        add(tag, QStringLiteral("%1, %2: %3, %4")
                     .arg(locale.nativeLanguageName(), tag,
                          locale.toString(QDate(2023, 12, 31), QLocale::ShortFormat),
                          locale.toString(1234.56, 'f', 2)));
    }
    auto* button = new QPushButton(text, this);
    button->setObjectName(QStringLiteral("fieldLocale"));
    button->setFont(look.font(12.5));
    button->setAutoDefault(false);
    button->setMenu(menu);
    button->setStyleSheet(
        QStringLiteral("QPushButton { padding-right: 22px; } QPushButton::menu-indicator { "
                       "subcontrol-origin: padding; subcontrol-position: right center; right: 8px; }"));
    menu->setFont(look.font(12.5));
    auto* line = new QHBoxLayout;
    line->addWidget(button);
    line->addStretch(1);
    column->addLayout(line);
}

void FieldCard::openAt(QPoint global) {
    showCardAt(*this, global);
}

} // namespace scorrere::workbench

#include "moc_field_card.cpp"
