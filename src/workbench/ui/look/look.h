// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/trace/trace.h"
#include "render/item_colours.h"

#include <QColor>
#include <QFont>
#include <QFontMetrics>
#include <QHash>
#include <QObject>
#include <QPainter>
#include <QWidget>
#include <array>
#include <map>
#include <utility>

namespace scorrere::workbench {

/// Paper and ink: the colours and type of the workbench, in its light or dark look, at its text scale.
///
/// Threads     The interface thread. One object, handed to every part; `changed` says when to paint again.
class Look : public QObject {
    Q_OBJECT
public:
    explicit Look(QObject* parent = nullptr);

    void setDark(bool dark);
    bool isDark() const { return dark_; }
    void setTextScale(double scale);
    double textScale() const { return textScale_; }

    QColor ground, card, edge, ink, quiet, accent, onAccent, known, loaded, bad, hatch;
    std::array<QColor, kPhases> phase;
    render::ItemColours items;

    /// Colour follows the item view, not the item it carries.
    QColor ofView(int view) const;
    /// `px` at text scale 1.
    QFont font(double px, int weight = 400) const;
    /// Of that font; made once.
    const QFontMetrics& metrics(double px, int weight = 400) const;
    /// How wide a line in that font is, kept: a sentence asks for each of its words several times a change.
    int widthOf(const QString& text, double px, int weight = 400) const;
    double scaled(double px) const { return px * textScale_; }

Q_SIGNALS:
    void changed();

private:
    void apply();
    bool dark_ = false;
    double textScale_ = 1;
    using FontKey = std::pair<int, int>; ///< px on screen, weight
    FontKey keyOf(double px, int weight) const;
    mutable std::map<FontKey, QFontMetrics> metrics_;
    mutable QHash<std::pair<FontKey, QString>, int> widths_;
};

/// Shows a card there, moved as far as it must be to lie on the screen.
void showCardAt(QWidget& card, QPoint global);
/// The frame of what has the focus, along the inner edge of `at`.
void paintFocus(QPainter& painter, const QRectF& at, const Look& look);
/// The style sheet of a tool button that has a frame only when something is done with it.
QString quietButtonSheet(const Look& look);
/// A text beside others, whatever direction it and they have (Unicode's first strong isolate).
QString isolated(const QString& text);
/// Groups digits: 20,000.
QString grouped(qint64 number);
/// "1.1" below 10, "11" above: milliseconds to compare.
QString shortMs(double ms);

} // namespace scorrere::workbench
