// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/look.h"

#include "render/text_block.h"
#include "workbench/ui/look/house_style.h"
#include "workbench/ui/look/table_access.h"

#include <QApplication>
#include <QLocale>
#include <QPalette>
#include <QScreen>

namespace scorrere::workbench {

namespace {
constexpr qsizetype kMostWidths = 4096;
}

namespace {

constexpr std::array<QRgb, 12> kViewsLight{0xff7d5844, 0xff7a6a9e, 0xff9c7a55, 0xffa65a4b,
                                           0xff8e5f8a, 0xff3f7f86, 0xff6b8a3d, 0xff4f9070,
                                           0xffbb7a2c, 0xff4d6fa8, 0xff9a9148, 0xff5f7d93};
constexpr std::array<QRgb, 12> kViewsDark{0xffb98d75, 0xffa898d0, 0xffc4a27a, 0xffd38a79,
                                          0xffbf8fba, 0xff70b5bc, 0xff9dbf6a, 0xff7cc29f,
                                          0xffe0a357, 0xff82a3dc, 0xffc7bd70, 0xff90afc6};

} // namespace

Look::Look(QObject* parent) : QObject(parent) {
    QApplication::setStyle(new HouseStyle); // the application's own
    exposeTables();
    apply();
}

void Look::setDark(bool dark) {
    dark_ = dark;
    apply();
    Q_EMIT changed();
}

void Look::setTextScale(double scale) {
    textScale_ = std::clamp(scale, 0.75, 2.0);
    apply();
    Q_EMIT changed();
}

void Look::apply() {
    items = dark_ ? render::ItemColours::dark() : render::ItemColours::light();
    if (dark_) {
        ground = QColor(0x22, 0x27, 0x2d);
        card = QColor(0x2a, 0x30, 0x37);
        edge = QColor(0x47, 0x4e, 0x57);
        ink = QColor(0xee, 0xea, 0xe1);
        quiet = QColor(0xae, 0xae, 0xab);
        accent = QColor(0xee, 0xa2, 0x55);
        onAccent = QColor(0x22, 0x1a, 0x10);
        known = QColor(0x86, 0x90, 0xa0);
        loaded = QColor(0x5f, 0xae, 0xb4);
        bad = QColor(0xf0, 0x8f, 0x82);
        hatch = QColor(0x6c, 0x70, 0x73);
        phase = {QColor(0x86, 0x90, 0xa0), QColor(0x9c, 0xb2, 0xe6), QColor(0xee, 0xa2, 0x55),
                 QColor(0x5f, 0xae, 0xb4), QColor(0x8d, 0x86, 0x79)};
    } else {
        ground = QColor(0xf4, 0xef, 0xe4);
        card = QColor(0xfd, 0xfa, 0xf2);
        edge = QColor(0xda, 0xd2, 0xc0);
        ink = QColor(0x23, 0x29, 0x31);
        quiet = QColor(0x68, 0x66, 0x60);
        accent = QColor(0xa6, 0x54, 0x0c);
        onAccent = QColor(0xff, 0xfb, 0xf4);
        known = QColor(0x80, 0x84, 0x90);
        loaded = QColor(0x2f, 0x78, 0x7e);
        bad = QColor(0x9c, 0x33, 0x2a);
        hatch = QColor(0xb5, 0xab, 0x97);
        phase = {QColor(0x70, 0x75, 0x82), QColor(0x2b, 0x38, 0x55), QColor(0xc0, 0x6c, 0x1c),
                 QColor(0x1c, 0x6a, 0x70), QColor(0xbd, 0xb0, 0x98)};
    }
    QPalette palette;
    palette.setColor(QPalette::Window, ground);
    palette.setColor(QPalette::Base, card);
    palette.setColor(QPalette::AlternateBase, ground);
    palette.setColor(QPalette::Button, card);
    palette.setColor(QPalette::ToolTipBase, card);
    palette.setColor(QPalette::Light, card);
    palette.setColor(QPalette::Mid, edge);
    palette.setColor(QPalette::Dark, edge);
    palette.setColor(QPalette::Shadow, edge);
    for (const auto role :
         {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText}) {
        palette.setColor(role, ink);
    }
    palette.setColor(QPalette::Disabled, QPalette::Text, quiet);
    palette.setColor(QPalette::Disabled, QPalette::ButtonText, quiet);
    palette.setColor(QPalette::Highlight, accent);
    palette.setColor(QPalette::HighlightedText, onAccent);
    palette.setColor(QPalette::PlaceholderText, quiet);
    QApplication::setPalette(palette);
    QApplication::setFont(font(13));
}

QColor Look::ofView(int view) const {
    const auto& colours = dark_ ? kViewsDark : kViewsLight;
    return QColor::fromRgb(colours[static_cast<std::size_t>(view) % colours.size()]);
}

Look::FontKey Look::keyOf(double px, int weight) const {
    return {std::max(6, static_cast<int>(std::lround(px * textScale_))), weight};
}

const QFontMetrics& Look::metrics(double px, int weight) const {
    const FontKey key = keyOf(px, weight);
    const auto found = metrics_.find(key);
    return found != metrics_.end() ? found->second : metrics_.emplace(key, font(px, weight)).first->second;
}

int Look::widthOf(const QString& text, double px, int weight) const {
    const std::pair key(keyOf(px, weight), text);
    if (const auto found = widths_.constFind(key); found != widths_.constEnd()) {
        return *found;
    }
    if (widths_.size() >= kMostWidths) {
        widths_.clear();
    }
    return *widths_.insert(key, metrics(px, weight).horizontalAdvance(text));
}

QFont Look::font(double px, int weight) const {
    QFont font(render::textFamily());
    font.setPixelSize(keyOf(px, weight).first);
    font.setWeight(static_cast<QFont::Weight>(weight));
    font.setHintingPreference(QFont::PreferNoHinting);
    return font;
}

void showCardAt(QWidget& card, QPoint global) {
    card.adjustSize();
    if (const QScreen* on = card.screen()) {
        const QRect room = on->availableGeometry();
        global.setX(std::clamp(global.x(), room.left(), std::max(room.left(), room.right() - card.width())));
        global.setY(std::clamp(global.y(), room.top(), std::max(room.top(), room.bottom() - card.height())));
    }
    card.move(global);
    card.show();
}

void paintFocus(QPainter& painter, const QRectF& at, const Look& look) {
    painter.setPen(QPen(look.accent, 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(at.adjusted(1, 1, -1, -1));
}

QString quietButtonSheet(const Look& look) {
    return QStringLiteral(
               "QToolButton { border: 1px solid transparent; border-radius: 4px; padding: 3px 7px; "
               "color: %1; }"
               "QToolButton:hover { background: %2; border-color: %3; }"
               "QToolButton:focus { border-color: %4; }"
               "QToolButton:checked { background: %4; color: %5; }"
               "QToolButton:disabled { color: %3; }"
               "QToolButton::menu-indicator { image: none; }")
        .arg(look.ink.name(), look.card.name(), look.edge.name(), look.accent.name(), look.onAccent.name());
}

QString isolated(const QString& text) {
    return QChar(0x2068) + text + QChar(0x2069);
}

QString grouped(qint64 number) {
    return QLocale(QLocale::English).toString(number);
}

QString shortMs(double ms) {
    return QString::number(ms, 'f', ms < 9.95 ? 1 : 0);
}

} // namespace scorrere::workbench

#include "moc_look.cpp"
