// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "render/frame_driver.h"
#include "render/live_collection.h"

#include <QWidget>
#include <memory>

namespace scorrere::render {

/// The embeddable widget: give it a document and records, and it scrolls.
///
/// Threads     The interface thread.
/// Errors      setCollection: see LiveCollection::create; what showed before stays.
class StripWidget : public QWidget {
    Q_OBJECT
public:
    explicit StripWidget(QWidget* parent = nullptr);

    Outcome setCollection(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                          std::shared_ptr<const PictureSource> pictures);
    /// Null before setCollection.
    LiveCollection* collection() { return live_.get(); }
    FrameDriver& driver() { return driver_; }
    void setColours(const ItemColours& colours);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    void makeFrame(std::int64_t timeUs);
    void takeTap(QPointF at, LiveHands::Reach reach);

    std::unique_ptr<LiveCollection> live_;
    FrameDriver driver_;
    ItemColours colours_ = ItemColours::light();
};

} // namespace scorrere::render
