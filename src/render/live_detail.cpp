// SPDX-License-Identifier: Apache-2.0
#include "render/live_detail.h"

#include "render/live_collection.h"

#include <QLocale>
#include <algorithm>
#include <cmath>

namespace scorrere::render {

namespace {

constexpr double kBar =
    44; ///< px: the bar above it, whose signs are as large as fingers need them (WCAG 2.2)
constexpr double kSharedLeft = 0.42;

} // namespace

LiveDetail::LiveDetail(LiveCollection& live) : live_(live) {}

bool LiveDetail::mayOpen() const {
    return live_.designs_.detail() != nullptr;
}

void LiveDetail::put() {
    view_.reset();
    if (const LiveDesigns::Design* design = live_.designs_.detail()) {
        view_ = std::make_unique<ItemView>();
        view_->build(design->design);
    } else if (isOpen_) {
        isOpen_ = isSliding_ = false;
        live_.applyWindow();
        Q_EMIT changed();
    }
}

void LiveDetail::open(const HandItem& item, std::int64_t timeUs) {
    if (!mayOpen() || item.key.empty()) {
        return;
    }
    if (view_ == nullptr) {
        put();
    }
    key_ = item.key;
    record_ = item.record;
    place_ = item.place;
    offset_ = {};
    motion_.stop();
    if (!isOpen_) {
        isOpen_ = isSliding_ = true;
        slideUs_ = timeUs;
        slidFrom_ = slid_;
        live_.applyWindow();
    }
    Q_EMIT changed();
    Q_EMIT live_.frameWanted();
}

void LiveDetail::close(std::int64_t timeUs) {
    if (!isOpen_) {
        return;
    }
    isOpen_ = false;
    isSliding_ = true;
    slideUs_ = timeUs;
    slidFrom_ = slid_;
    pressed_.reset();
    motion_.stop();
    live_.applyWindow();
    Q_EMIT changed();
    Q_EMIT live_.frameWanted();
}

std::optional<HandItem> LiveDetail::item() {
    const std::int64_t place = live_.hands().placeOfKey(key_, record_);
    return place < 0 ? std::nullopt
                     : std::optional(live_.hands().itemOf(live_.run().arrangement().positionOf(place)));
}

bool LiveDetail::step(bool on, std::int64_t timeUs) {
    const auto now = item();
    if (!isOpen_ || !now) {
        return false;
    }
    const std::int64_t place = now->place + (on ? 1 : -1);
    if (place < 0 || place >= live_.records_.places()) {
        return false;
    }
    const HandItem next = live_.hands().itemOf(live_.run().arrangement().positionOf(place));
    if (next.key.empty()) {
        return false; // its page is not here
    }
    open(next, timeUs);
    return true;
}

double LiveDetail::shareLeft(double across) const {
    return isOpen_ && across >= kWideFrom ? kSharedLeft : 1;
}

QRectF LiveDetail::box() const {
    const QSizeF whole = live_.whole();
    const bool isWide = !live_.axis().isSideways && whole.width() >= kWideFrom;
    const double left = isWide ? std::round(whole.width() * kSharedLeft) : 0;
    return {left, 0, whole.width() - left, whole.height()};
}

double LiveDetail::shown(std::int64_t timeUs) const {
    const double to = isOpen_ ? 1 : 0;
    const bool isAtOnce = live_.document().animation.moveMs == 0; // less motion
    const double done =
        isAtOnce
            ? 1
            : std::clamp(static_cast<double>(timeUs - slideUs_) / static_cast<double>(kSlideUs), 0.0, 1.0);
    const double left = (1 - done) * (1 - done) * (1 - done);
    return to + (slidFrom_ - to) * left;
}

void LiveDetail::frame(std::int64_t timeUs) {
    if (isSliding_) {
        slid_ = shown(timeUs);
        isSliding_ = slid_ != (isOpen_ ? 1 : 0);
    }
    const LiveDesigns::Design* design = live_.designs_.detail();
    if (!isOpen_ || design == nullptr || view_ == nullptr) {
        return;
    }
    const auto now = item();
    if (!now) { // no item any more
        return close(timeUs);
    }
    place_ = now->place;
    FillContext context = live_.records_.contextOf({Role::Record, now->place});
    context.state = live_.hands().stateOf(*now);
    ItemRoom room;
    room.width = Length::fromPx(box().width());
    meter_.start();
    const ItemSize size =
        view_->fill(context, {design->fonts, live_.texts_, live_.pictures_.get()}, room, meter_);
    (void)meter_.stop();
    if (live_.density_ > 0) {
        view_->wantPictures(*live_.pictures_, live_.density_);
    }
    const Length room_ = Length::fromPx(box().height() - kBar);
    offset_ =
        std::clamp(offset_ + motion_.advance(timeUs), Length{}, std::max(size.height - room_, Length{}));
}

void LiveDetail::paint(QPainter& painter, const ItemView::PaintNeeds& needs, bool isRightToLeft) {
    if (view_ == nullptr || slid_ <= 0) {
        return;
    }
    const QRectF stands = box();
    QRectF at = stands;
    if (live_.hands().spec().detailAlong) {
        at.translate(0, (1 - slid_) * stands.height());
    } else {
        at.translate((isRightToLeft ? -1 : 1) * (1 - slid_) * stands.width(), 0);
    }
    painter.save();
    painter.setClipRect(stands, Qt::IntersectClip);
    painter.fillRect(at, needs.colours.paper);
    painter.save();
    painter.setClipRect(QRectF(at.left(), at.top() + kBar, at.width(), at.height() - kBar),
                        Qt::IntersectClip);
    painter.translate(at.left(), at.top() + kBar - offset_.toPx());
    view_->paint(painter, needs);
    painter.restore();
    // The bar: back, where it stands, to the one before and behind.
    painter.fillRect(QRectF(at.left(), at.top(), at.width(), kBar), needs.colours.paper);
    painter.setPen(QPen(needs.colours.faint, 1));
    painter.drawLine(QPointF(at.left(), at.top() + kBar - 0.5), QPointF(at.right(), at.top() + kBar - 0.5));
    painter.drawLine(QPointF(at.left() + 0.5, at.top()), QPointF(at.left() + 0.5, at.bottom()));
    const auto sign = [&](double centre, int points, const QColor& ink) { // 0: back, 1: up, 2: down
        const QPointF c(centre, at.top() + kBar / 2);
        painter.setPen(QPen(ink, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        const double side = isRightToLeft ? -1 : 1;
        const QPolygonF line =
            points == 0
                ? QPolygonF({c + QPointF(3 * side, -7), c + QPointF(-4 * side, 0), c + QPointF(3 * side, 7)})
            : points == 1 ? QPolygonF({c + QPointF(-7, 3), c + QPointF(0, -4), c + QPointF(7, 3)})
                          : QPolygonF({c + QPointF(-7, -3), c + QPointF(0, 4), c + QPointF(7, -3)});
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(line);
    };
    const auto x = [&](double fromStart) {
        return isRightToLeft ? at.right() - fromStart : at.left() + fromStart;
    };
    sign(x(kBar / 2), 0, needs.colours.accent);
    sign(x(at.width() - kBar * 1.5), 1, needs.colours.accent);
    sign(x(at.width() - kBar / 2), 2, needs.colours.accent);
    QFont font(textFamily());
    font.setPixelSize(13);
    painter.setFont(font);
    painter.setPen(needs.colours.quiet);
    const QLocale english(QLocale::English);
    painter.drawText(QRectF(at.left() + kBar * 2, at.top(), at.width() - kBar * 4, kBar), Qt::AlignCenter,
                     tr("%1 of %2").arg(english.toString(place_ + 1), english.toString(live_.recordCount())));
    painter.restore();
}

bool LiveDetail::press(std::int64_t timeUs, QPointF at) {
    if (!isOpen_ || !box().contains(at)) {
        return false;
    }
    pressed_ = at;
    isTap_ = true;
    motion_.press(timeUs, Length::fromPx(at.y()));
    return true;
}

bool LiveDetail::move(std::int64_t timeUs, QPointF at) {
    if (!pressed_) {
        return false;
    }
    const Length slop = live_.hands().spec().times.slop;
    isTap_ = isTap_ && std::abs(at.y() - pressed_->y()) <= slop.toPx() &&
             std::abs(at.x() - pressed_->x()) <= slop.toPx();
    if (!isTap_) {
        motion_.drag(timeUs, Length::fromPx(at.y()));
    }
    return true;
}

bool LiveDetail::release(std::int64_t timeUs) {
    if (!pressed_) {
        return false;
    }
    motion_.letGo(timeUs);
    const QPointF at = *std::exchange(pressed_, std::nullopt);
    if (isTap_) {
        takeTap(at, timeUs);
    }
    return true;
}

void LiveDetail::takeTap(QPointF at, std::int64_t timeUs) {
    const QRectF stands = box();
    const double fromStart = live_.axis().isMirrored ? stands.right() - at.x() : at.x() - stands.left();
    if (at.y() < stands.top() + kBar) {
        if (fromStart < kBar * 1.5) {
            close(timeUs);
        } else if (fromStart > stands.width() - kBar * 2) {
            (void)step(fromStart > stands.width() - kBar, timeUs);
        }
        return;
    }
    const auto now = item();
    const int part = view_ == nullptr ? -1
                                      : view_->tapTarget(at.x() - stands.left(),
                                                         at.y() - stands.top() - kBar + offset_.toPx());
    if (part >= 0 && now) {
        const std::string& action = view_->design().parts()[static_cast<std::size_t>(part)].tap;
        if (action == "back") {
            close(timeUs);
        } else {
            Q_EMIT acted(QString::fromStdString(action), *now);
        }
    }
}

} // namespace scorrere::render

#include "moc_live_detail.cpp"
