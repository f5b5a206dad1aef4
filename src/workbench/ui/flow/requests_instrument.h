// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/live_collection.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/look/table_access.h"

#include <QWidget>

namespace scorrere::workbench {

/// Every page request as a bar on the time axis of Frames, and below it, the newest first, why it was sent or
/// held back, how long it took, and what came. Arrow keys or a click choose one.
class RequestsInstrument : public QWidget, public TableInWords {
    Q_OBJECT
public:
    RequestsInstrument(Look& look, const FramesInstrument& frames, QWidget* parent = nullptr);
    /// Null, or a collection without pages: nothing to show.
    void setCollection(render::LiveCollection* live);
    /// The line that sums up.
    QString summary() const;
    /// What stands in a row; 0 is the newest.
    QStringList row(int index) const;

    int rowsInWords() const override;
    int columnsInWords() const override { return 4; }
    QString columnInWords(int column) const override;
    QString cellInWords(int at, int column) const override { return row(at).value(column); }
    int rowChosen() const override;
    QRect placeOfRow(int at) const override;
    qint64 chosen() const { return chosen_; }
    void choose(qint64 number);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    const Pager* pager() const;
    QRectF track() const;
    double rowHeight() const { return look_.scaled(19); }
    QColor colourOf(const RequestRecord& record) const;
    void paintTrack(QPainter& painter, const QRectF& box) const;
    void paintRow(QPainter& painter, const RequestRecord& record, const QRectF& at, double pageWidth) const;

    Look& look_;
    const FramesInstrument& frames_;
    render::LiveCollection* live_ = nullptr;
    qint64 chosen_ = 0;
};

} // namespace scorrere::workbench
