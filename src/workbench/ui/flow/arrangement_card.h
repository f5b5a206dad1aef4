// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/frame_driver.h"
#include "render/live_collection.h"
#include "workbench/ui/look/look.h"

#include <QFrame>
#include <QTimer>
#include <memory>
#include <vector>

namespace scorrere::workbench {

/// The arrangements one can begin with, each running small over the collection's own records: scroll in one,
/// choose one. Each is made in a turn of its own, so that none keeps the interface waiting.
class ArrangementCard : public QFrame {
    Q_OBJECT
public:
    struct Shown {
        CollectionDocument document;
        std::shared_ptr<const RecordTable> records;
        std::shared_ptr<const render::PictureSource> pictures;
    };
    ArrangementCard(Look& look, Shown shown, QWidget* parent);
    ~ArrangementCard() override;
    void openAt(const QWidget& word);

Q_SIGNALS:
    void chosen(const scorrere::ArrangementSpec& arrangement);

private:
    class Tile;
    void makeNext();
    void makeFrames(std::int64_t timeUs);

    Look& look_;
    Shown shown_;
    std::vector<ArrangementSpec> specs_;
    QList<Tile*> tiles_;
    qsizetype next_ = 0;
    QTimer turn_;
    render::FrameDriver driver_;
};

/// What the card offers, beginning from what there is: distances stay.
std::vector<ArrangementSpec> arrangementStarts(const ArrangementSpec& now);

} // namespace scorrere::workbench
