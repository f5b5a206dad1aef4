// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/live_collection.h"
#include "workbench/ui/flow/frames_instrument.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/look/table_access.h"

#include <QWidget>
#include <functional>

namespace scorrere::workbench {

/// What hands did, on the time axis of Frames: where the pointer was, and what was made of it; below it, the newest first, what it
/// was, of whom, and why. Arrow keys or a click choose one, Return plays it again.
class GesturesInstrument : public QWidget, public TableInWords {
    Q_OBJECT
public:
    /// `nameOf`: what people call who takes drags.
    GesturesInstrument(Look& look, const FramesInstrument& frames, std::function<QString(int)> nameOf,
                       QWidget* parent = nullptr);
    void setCollection(render::LiveCollection* live);
    QString summary() const;
    bool hasAny() const { return log() != nullptr && !log()->entries().empty(); }
    /// What stands in a row; 0 is the newest. The last cell, what else it might have been, stands below the chosen one.
    QStringList row(int index) const;

    int rowsInWords() const override {
        return log() == nullptr ? 0 : static_cast<int>(log()->entries().size());
    }
    int columnsInWords() const override { return 4; }
    QString columnInWords(int column) const override;
    QString cellInWords(int at, int column) const override { return row(at).value(column); }
    int rowChosen() const override { return chosen_; }
    QRect placeOfRow(int at) const override;
    void choose(int row);
    /// There may be more of them.
    void follow();

Q_SIGNALS:
    /// That gesture is to be made again.
    void againWanted(const scorrere::GestureEntry& entry);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    const GestureLog* log() const { return live_ == nullptr ? nullptr : &live_->hands().log(); }
    const GestureEntry* entry(int row) const;
    QStringList losses(const GestureEntry& of) const;
    double rowHeight() const { return look_.scaled(19); }
    QRectF track() const { return {0, 0, static_cast<double>(width()), look_.scaled(34)}; }
    void paintTrack(QPainter& painter) const;

    Look& look_;
    const FramesInstrument& frames_;
    std::function<QString(int)> nameOf_;
    render::LiveCollection* live_ = nullptr;
    int chosen_ = -1;
    std::int64_t ever_ = 0; ///< so many there had been when it was chosen or last looked at
};

} // namespace scorrere::workbench
