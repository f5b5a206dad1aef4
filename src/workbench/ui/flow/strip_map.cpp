// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/strip_map.h"
#include "workbench/ui/look/low_fills.h"

#include "render/scroll_input.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

namespace scorrere::workbench {

namespace {

constexpr int kStretches = 120;
constexpr double kBand = 14;
constexpr double kGap = 4;
constexpr qint64 kThreadsMs = 1600; ///< they stand so long, and fade as long
constexpr int kFadeStepMs = 66;
constexpr std::size_t kThreads = 80; ///< about so many: more would hide the bands

} // namespace

StripMap::StripMap(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("stripMap"));
    setAccessibleName(tr("Strip map"));
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setToolTip(tr(
        "The whole collection. Drag to travel.\nFrom the left: loaded (narrow: dropped again; in flight and "
        "failed pages in their colours); measured (dark) or estimated from "
        "content (light); how dear frames were here."));
    // The bands change slowly; asking the index for them is kept out of frames.
    surveyTimer_.setSingleShot(true);
    surveyTimer_.setInterval(150);
    connect(&surveyTimer_, &QTimer::timeout, this, &StripMap::survey);
    fading_.setInterval(kFadeStepMs);
    connect(&fading_, &QTimer::timeout, this, [this] {
        if (threadsShow() <= 0) {
            fading_.stop();
            river_.clear();
        }
        update();
    });
    connect(&river_, &ThreadRiver::drawn, this, [this] {
        sinceOrder_.start();
        fading_.start();
        update();
    });
    connect(&look_, &Look::changed, this, [this] {
        updateGeometry();
        update();
    });
}

QSize StripMap::sizeHint() const {
    const QSize upright(static_cast<int>(96 + 10 * (look_.textScale() - 1) * 4), 200);
    return isSideways() ? QSize(200, static_cast<int>(bands().right()) + 12) : upright;
}

bool StripMap::isSideways() const {
    return live_ != nullptr && live_->axis().isSideways;
}

QTransform StripMap::toScreen() const {
    if (!isSideways()) {
        return {};
    }
    return live_->axis().isMirrored ? QTransform(0, 1, -1, 0, width(), 0) : QTransform(0, 1, 1, 0, 0, 0);
}

void StripMap::setCollection(render::LiveCollection* live) {
    live_ = live;
    setSizePolicy(isSideways() ? QSizePolicy::Expanding : QSizePolicy::Fixed,
                  isSideways() ? QSizePolicy::Fixed : QSizePolicy::Expanding);
    updateGeometry();
    stretches_.clear();
    river_.clear();
    riverOf_ = live_ == nullptr ? 0 : live_->ordersEver();
    survey();
}

/// How much of the threads is to be seen, 1 to 0.
double StripMap::threadsShow() const {
    return river_.hasAny()
               ? std::clamp(2.0 - static_cast<double>(sinceOrder_.elapsed()) / kThreadsMs, 0.0, 1.0)
               : 0;
}

/// Where they were as shares of the order before; where they are as they stand on the strip.
void StripMap::followOrder() {
    if (live_ == nullptr || live_->isOrdering() || live_->ordersEver() == riverOf_) {
        return;
    }
    riverOf_ = live_->ordersEver();
    Arrangement& list = live_->run().arrangement();
    const render::OrderTold& told = live_->orderTold();
    const QRectF box = bands();
    const double total = std::max(list.total().toPx(), 1.0);
    ThreadRiver::Threads threads;
    for (std::size_t i = 0; i < told.threads.size();
         i += std::max<std::size_t>(told.threads.size() / kThreads, 1)) {
        const auto& [before, after] = told.threads[i];
        const auto place = std::clamp<std::int64_t>(
            std::llround(static_cast<double>(after) * static_cast<double>(told.after)) - live_->leaf().first,
            0, std::max<std::int64_t>(list.recordCount() - 1, 0));
        const double to = list.recordCount() == 0 ? 0 : list.startOf(list.positionOf(place)).toPx() / total;
        threads.emplace_back(QPointF(0, box.height() * static_cast<double>(before)),
                             QPointF(box.width(), box.height() * to));
    }
    QColor colour = look_.accent;
    colour.setAlphaF(0.55f);
    river_.draw(std::move(threads), box.size(), Qt::Horizontal, colour, devicePixelRatioF());
}

void StripMap::setBudget(double budgetMs) {
    budgetMs_ = budgetMs;
    update();
}

void StripMap::follow() {
    if (!surveyTimer_.isActive()) {
        surveyTimer_.start();
    }
    update();
}

void StripMap::survey() {
    stretches_.assign(kStretches, {});
    if (live_ == nullptr || live_->run().arrangement().size() == 0) {
        update();
        return;
    }
    Arrangement& list = live_->run().arrangement();
    std::int64_t first = 0;
    std::int64_t measured = 0;
    std::int64_t known = 0;
    for (int i = 0; i < kStretches; ++i) {
        const std::int64_t until = i + 1 == kStretches
                                       ? list.size()
                                       : std::max(first, list.indexAt(list.total() * (i + 1) / kStretches));
        const std::int64_t measuredUntil = list.measuredBefore(until);
        const std::int64_t knownUntil = list.knownBefore(until);
        if (until > first) {
            const float items = static_cast<float>(until - first);
            stretches_[static_cast<std::size_t>(i)] = {static_cast<float>(measuredUntil - measured) / items,
                                                       static_cast<float>(knownUntil - known) / items};
        } else if (i > 0) {
            stretches_[static_cast<std::size_t>(i)] = stretches_[static_cast<std::size_t>(i - 1)];
        }
        first = until;
        measured = measuredUntil;
        known = knownUntil;
    }
    surveyPages();
    surveySections();
    update();
}

/// The first section that begins in each piece of the map that a name has room in.
void StripMap::surveySections() {
    sections_.clear();
    const auto* sections = live_->sections();
    if (sections == nullptr) {
        return;
    }
    Arrangement& list = live_->run().arrangement();
    const double total = std::max(list.total().toPx(), 1.0);
    const int pieces = std::max(1, static_cast<int>(bands().height() / look_.scaled(15)));
    std::int64_t last = -1;
    for (int i = 0; i <= pieces; ++i) {
        const Slot slot = list.slotAt(list.indexAt(list.total() * i / pieces));
        if (slot.section <= last) {
            continue;
        }
        // What begins behind the last one named, and no further than here.
        const auto stand = sections->at(std::min(last + 1, slot.section));
        if (const double at = list.startOf(list.startOfSection(stand.section)).toPx() / total;
            sections_.empty() || (at - sections_.back().at) * bands().height() >= look_.scaled(13)) {
            sections_.push_back({at, live_->sectionShortName(stand.section)});
        }
        last = slot.section;
    }
}

/// A line where each begins, and its name where costs are drawn, over them.
void StripMap::paintSections(QPainter& painter, const QRectF& box, double x) const {
    painter.setFont(look_.font(10));
    for (const auto& [at, name] : sections_) {
        const double y = box.top() + box.height() * at;
        painter.setPen(QPen(look_.edge, 1));
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right() + 3, y));
        if (isSideways()) {
            continue; // a name along the map would stand on its head or in another's way
        }
        const QRectF room(x - 3, y, width() - x, look_.scaled(13));
        if (room.bottom() > box.bottom() + 3) {
            continue;
        }
        painter.setPen(look_.ink);
        painter.drawText(
            room, Qt::AlignLeft | Qt::AlignVCenter,
            painter.fontMetrics().elidedText(name, Qt::ElideRight, static_cast<int>(room.width())));
    }
}

/// The middle of each stretch speaks for it; pages in flight and failed ones are few, and drawn exactly.
void StripMap::surveyPages() {
    if (live_->paged() == nullptr) {
        return;
    }
    Arrangement& list = live_->run().arrangement();
    Pager& pager = live_->paged()->pager();
    const std::int64_t places = pager.strip().places();
    const std::int64_t leaf = live_->leaf().first;
    for (int i = 0; i < kStretches && places > 0; ++i) {
        const std::int64_t position =
            list.indexAt(list.total() * (std::int64_t{2} * i + 1) / (std::int64_t{2} * kStretches));
        const std::int64_t place =
            std::clamp<std::int64_t>(leaf + list.slotAt(position).place, 0, places - 1);
        stretches_[static_cast<std::size_t>(i)].state = pager.stateOfPage(pager.strip().pageAt(place));
    }
}

/// Loaded is full, dropped is thin, in flight stands out to the right, failed is crossed; the rest is empty.
void StripMap::paintPages(QPainter& painter, const QRectF& box, double band) const {
    fillLow(painter, QRectF(box.left(), box.top(), band, box.height()),
            QBrush(look_.edge, Qt::Dense6Pattern));
    const double each = box.height() / kStretches;
    for (int i = 0; i < static_cast<int>(stretches_.size()); ++i) {
        const QRectF at(box.left(), box.top() + i * each, band, each + 0.6);
        const PlaceState state = stretches_[static_cast<std::size_t>(i)].state;
        if (state == PlaceState::Dropped) {
            painter.fillRect(at.adjusted(0, 0, -band * 0.65, 0), look_.loaded);
        }
    }
    Pager& pager = live_->paged()->pager();
    Arrangement& list = live_->run().arrangement();
    const double total = std::max(list.total().toPx(), 1.0);
    const auto mark = [&](std::int64_t page, const QColor& colour, double share) {
        PageStrip& strip = pager.strip();
        const bool isIn =
            page >= strip.firstPage() && page < strip.endPage() && strip.countOf(page) > 0 && list.size() > 0;
        const std::int64_t leaf = live_->leaf().first;
        const std::int64_t first = isIn ? std::max<std::int64_t>(strip.placeOf(page) - leaf, 0) : 0;
        const std::int64_t last =
            isIn ? std::min(strip.placeOf(page) + strip.countOf(page) - leaf, list.recordCount()) - 1 : 0;
        if (isIn && last < first) {
            return; // on another leaf
        }
        const double top = isIn ? list.startOf(list.positionOf(first)).toPx() : total;
        const double end = isIn ? list.startOf(list.positionOf(last)).toPx() : total;
        const double y = box.top() + box.height() * top / total;
        painter.fillRect(QRectF(box.left(), std::min(y, box.bottom() - 3), band * share,
                                std::max(3.0, box.height() * (end - top) / total)),
                         colour);
    };
    for (const auto& [page, records] : pager.strip().loaded()) {
        mark(page, look_.loaded, 1);
    }
    for (const auto& [page, request] : pager.inFlight()) {
        mark(page, look_.accent, 1);
    }
    for (int i = 0; i < static_cast<int>(stretches_.size()); ++i) {
        if (stretches_[static_cast<std::size_t>(i)].state == PlaceState::Failed) {
            painter.fillRect(QRectF(box.left() + 3, box.top() + i * each, band - 6, std::max(each, 2.0)),
                             look_.bad);
        }
    }
}

/// Where the bands are, as if they stood upright.
QRectF StripMap::bands() const {
    const double across = 3 * kBand + 2 * kGap + 12;
    if (isSideways()) {
        const double aside = look_.scaled(84);
        return {10, aside, across, std::max(width() - 2 * aside, 1.0)};
    }
    const double top = look_.scaled(46);
    return {14, top, across, height() - top - look_.scaled(44)};
}

/// What it is, where it begins, and what of how much shows.
void StripMap::paintLabels(QPainter& painter) const {
    const bool isSideways = this->isSideways();
    const bool isMirrored = isSideways && live_->axis().isMirrored;
    const QRectF box = toScreen().mapRect(bands());
    const auto line = [&](double x, double y, double wide, Qt::AlignmentFlag across, const QString& text) {
        const int side = static_cast<int>(across) | static_cast<int>(Qt::AlignVCenter);
        painter.drawText(QRectF(x, y, wide, look_.scaled(17)), side, text);
    };
    const double left = box.left() - 12;
    const double right = width() - box.right() - 12;
    painter.setFont(look_.font(12, 600));
    painter.setPen(look_.quiet);
    if (!isSideways) {
        line(14, look_.scaled(8), width() - 14, Qt::AlignLeft, tr("Strip"));
    } else if (isMirrored) {
        line(box.right() + 12, box.top(), right, Qt::AlignLeft, tr("Strip"));
    } else {
        line(0, box.top(), left, Qt::AlignRight, tr("Strip"));
    }
    if (live_ == nullptr || live_->run().arrangement().size() == 0) {
        return;
    }
    const Run& run = live_->run();
    const FrameRecord* last = run.trace().find(run.trace().framesEver());
    const QString first = tr("first");
    QString name;
    if (last != nullptr && last->first >= 0 && last->first < run.arrangement().size()) {
        const Slot slot = run.arrangement().slotAt(last->first);
        name = slot.section >= 0 ? grouped(live_->leaf().first + slot.place + 1) : live_->nameAt(last->first);
    } else if (const std::int64_t at = live_->run().arrangement().indexAt(live_->run().offset()); at >= 0) {
        name = tr("after %1").arg(live_->nameAt(at));
    }
    const QString count = grouped(run.arrangement().recordCount());
    const QString of = live_->paged() == nullptr || live_->paged()->pager().endKnown()
                           ? tr("of %1").arg(count)
                           : tr("of %1 so far").arg(count);
    const double below = box.top() + look_.scaled(17);
    painter.setFont(look_.font(11));
    if (!isSideways) {
        line(14, look_.scaled(24), width() - 14, Qt::AlignLeft, first);
        line(8, box.bottom() + look_.scaled(21), width() - 8, Qt::AlignLeft, of);
    } else if (isMirrored) {
        line(box.right() + 12, below, right, Qt::AlignLeft, first);
        line(0, below, left, Qt::AlignRight, of);
    } else {
        line(0, below, left, Qt::AlignRight, first);
        line(box.right() + 12, below, right, Qt::AlignLeft, of);
    }
    painter.setPen(look_.ink);
    painter.setFont(look_.font(12, 600));
    if (!isSideways) {
        line(8, box.bottom() + look_.scaled(6), width() - 8, Qt::AlignLeft, name);
    } else if (isMirrored) {
        line(0, box.top(), left, Qt::AlignRight, name);
    } else {
        line(box.right() + 12, box.top(), right, Qt::AlignLeft, name);
    }
}

void StripMap::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), look_.ground);
    paintLabels(painter);
    painter.setTransform(toScreen(), true);
    const QRectF box = bands();
    painter.setPen(look_.edge);
    painter.setBrush(look_.card);
    drawLowBox(painter, box.adjusted(-3.5, -3.5, 3.5, 3.5), 0);
    if (live_ == nullptr || live_->run().arrangement().size() == 0) {
        return;
    }
    if (live_->paged() != nullptr) {
        paintPages(painter, box, kBand);
    } else {
        painter.fillRect(QRectF(box.left(), box.top(), kBand, box.height()), look_.loaded);
    }
    paintKnown(painter, box, box.left() + kBand + kGap);
    paintCosts(painter, box, box.left() + 2 * (kBand + kGap));
    paintSections(painter, box, box.left() + 2 * (kBand + kGap));
    if (const double show = threadsShow(); show > 0) {
        painter.setOpacity(show);
        river_.paint(painter, box.topLeft());
        painter.setOpacity(1);
    }
    Run& run = live_->run();
    const double total = std::max(run.total().toPx(), 1.0);
    const double top = box.top() + box.height() * std::clamp(run.offset().toPx() / total, 0.0, 1.0);
    const double high = std::max(8.0, box.height() * std::min(1.0, run.window().toPx() / total));
    QPen pen(look_.accent, hasFocus() ? 3 : 2);
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
    const double at = std::min(top, box.bottom() - high);
    drawLowBox(painter, QRectF(box.left() - 6, at, box.width() + 12, high), 3);
}

/// What is measured, and what is estimated from its content.
void StripMap::paintKnown(QPainter& painter, const QRectF& box, double x) const {
    QColor light = look_.known;
    light.setAlphaF(0.32f);
    fillLow(painter, QRectF(x, box.top(), kBand, box.height()), QBrush(look_.edge, Qt::Dense6Pattern));
    const double each = box.height() / kStretches;
    for (int i = 0; i < static_cast<int>(stretches_.size()); ++i) {
        const Stretch& s = stretches_[static_cast<std::size_t>(i)];
        const QRectF at(x, box.top() + i * each, kBand, each + 0.6);
        if (s.known > 0) {
            painter.fillRect(QRectF(at.left(), at.top(), kBand * std::min(1.0f, s.known), at.height()),
                             light);
        }
        if (s.measured > 0) { // a measured item in a million must still be seen
            painter.fillRect(QRectF(at.left(), at.top(),
                                    std::max(3.0, kBand * static_cast<double>(s.measured)), at.height()),
                             look_.ink);
        }
    }
}

/// Where frames were dear.
void StripMap::paintCosts(QPainter& painter, const QRectF& box, double x) const {
    const auto& costs = live_->run().trace().placeCosts();
    const double room = box.right() - x;
    const double budgetNs = budgetMs_ * 1e6;
    const double tall = box.height() / static_cast<double>(costs.size());
    for (std::size_t i = 0; i < costs.size(); ++i) {
        if (costs[i] > 0) {
            const double share = static_cast<double>(costs[i]) / budgetNs;
            painter.fillRect(QRectF(x, box.top() + static_cast<double>(i) * tall,
                                    std::clamp(room * std::sqrt(share), 2.0, room),
                                    std::max(1.0, tall - 0.4)),
                             share > 1 ? look_.bad : look_.phase[static_cast<std::size_t>(Phase::Paint)]);
        }
    }
}

void StripMap::travelTo(QPointF at) {
    if (live_ == nullptr) {
        return;
    }
    Run& run = live_->run();
    const QRectF box = bands();
    const double y = toScreen().inverted().map(at).y();
    const double share = std::clamp((y - box.top()) / std::max(box.height(), 1.0), 0.0, 1.0);
    run.travelTo(Length::fromPx(share * run.total().toPx() - run.window().toPx() / 2));
    Q_EMIT travelled();
}

void StripMap::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) {
        travelTo(event->position());
    }
}

void StripMap::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton) {
        travelTo(event->position());
    }
}

void StripMap::wheelEvent(QWheelEvent* event) {
    if (live_ != nullptr) {
        render::ScrollInput::wheel(*event, *live_, 1, QPointF(-1, -1));
        Q_EMIT travelled();
    }
}

void StripMap::keyPressEvent(QKeyEvent* event) {
    if (live_ != nullptr && render::ScrollInput::key(*event, *live_)) {
        Q_EMIT travelled();
    } else {
        QWidget::keyPressEvent(event);
    }
}

} // namespace scorrere::workbench

#include "moc_strip_map.cpp"
