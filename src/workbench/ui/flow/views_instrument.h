// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/live_collection.h"
#include "workbench/ui/look/look.h"

#include <QFont>
#include <QPixmap>
#include <QTimer>
#include <QWidget>

namespace scorrere::workbench {

/// The pool: each item view as a tile in a place of its own, with what it carries and how often it was
/// refilled.
class ViewsInstrument : public QWidget {
    Q_OBJECT
public:
    ViewsInstrument(Look& look, QWidget* parent = nullptr);
    void setCollection(render::LiveCollection* live);
    /// What views carry may differ: they are painted anew. Any other time what was painted last shows: where another instrument takes
    /// room, theirs is painted a turn later, so that not all is painted in one.
    void follow();
    /// The pool in a line, and what it would take without one.
    QString summary() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    enum class Detail { Number, Item, History, Fills }; ///< how much a tile has room to tell
    struct Grid {
        int columns = 1;
        double width = 0;
        double height = 0;
        Detail detail = Detail::Fills;
    };
    void paintAll(QPainter& painter);
    Grid gridFor(int tiles, const QRectF& room) const;
    struct Type {
        QFont name, state, item, history;
    };
    void paintTile(QPainter& painter, int view, const QRectF& at, Detail detail, const Type& type);

    Look& look_;
    render::LiveCollection* live_ = nullptr;
    QPixmap kept_;
    bool isDue_ = true;
    QTimer later_;
};

} // namespace scorrere::workbench
