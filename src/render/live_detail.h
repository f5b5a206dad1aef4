// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/run/scroll_motion.h"
#include "render/item_view.h"
#include "render/live_designs.h"
#include "render/live_hands.h"
#include "render/steady_watch.h"

#include <QObject>
#include <QRectF>
#include <memory>
#include <optional>

namespace scorrere::render {

class LiveCollection;

/// A record at length, in a design of its own, over the window it was opened from, or beside it where there is room for both: what
/// stands below stays as it is, so that going back leads to the same place whatever came or went meanwhile.
///
/// Units       px of the whole window.
/// Complexity  A frame: one fill of one view, while it is open.
/// Ownership   Refers to the collection, whose part it is.
/// Threads     The interface thread.
/// Errors      None: where its record is not there any more it closes.
class LiveDetail : public QObject {
    Q_OBJECT
public:
    static constexpr double kWideFrom = 600; ///< px across; from there on both stand side by side
    static constexpr std::int64_t kSlideUs = 220'000;

    explicit LiveDetail(LiveCollection& live);

    /// False where the collection has no design for it.
    bool mayOpen() const;
    void open(const HandItem& item, std::int64_t timeUs);
    void close(std::int64_t timeUs);
    /// To the record behind the one it shows, or in front of it, as they stand now; false: there is none.
    bool step(bool on, std::int64_t timeUs);
    bool isOpen() const { return isOpen_; }
    const std::string& key() const { return key_; }
    /// So much of the window's breadth is left to what it was opened from; 1 where it stands over it.
    double shareLeft(double across) const;

    /// Design or fonts are others.
    void put();
    void frame(std::int64_t timeUs);
    bool isBusy() const { return isSliding_ || motion_.isMoving(); }
    void paint(QPainter& painter, const ItemView::PaintNeeds& needs, bool isRightToLeft);

    // A pointer, px of the whole window. False: it is not on it.
    bool press(std::int64_t timeUs, QPointF at);
    bool move(std::int64_t timeUs, QPointF at);
    bool release(std::int64_t timeUs);
    void scroll(Length by) { motion_.push(by); }
    /// Where it stands when it does not slide.
    QRectF box() const;
    /// The view that shows it; null: it is not open.
    const ItemView* view() const { return isOpen_ || isSliding_ ? view_.get() : nullptr; }

Q_SIGNALS:
    void acted(const QString& action, const scorrere::render::HandItem& item);
    void changed();

private:
    std::optional<HandItem> item();
    double shown(std::int64_t timeUs) const;
    void takeTap(QPointF at, std::int64_t timeUs);

    LiveCollection& live_;
    std::unique_ptr<ItemView> view_;
    SteadyWatch watch_;
    CostMeter meter_{watch_};
    std::string key_;
    std::int64_t record_ = -1;
    std::int64_t place_ = -1;
    bool isOpen_ = false;
    bool isSliding_ = false;
    std::int64_t slideUs_ = 0;
    double slid_ = 0; ///< share of it that shows, as of the last frame
    double slidFrom_ = 0;
    ScrollMotion motion_;
    Length offset_; ///< scrolled so far
    std::optional<QPointF> pressed_;
    bool isTap_ = false;
};

} // namespace scorrere::render
