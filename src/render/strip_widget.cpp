// SPDX-License-Identifier: Apache-2.0
#include "render/strip_widget.h"

#include "render/scroll_input.h"

#include <QMouseEvent>

namespace scorrere::render {

StripWidget::StripWidget(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_OpaquePaintEvent);
    connect(&driver_, &FrameDriver::frameDue, this, &StripWidget::makeFrame);
}

Outcome StripWidget::setCollection(const CollectionDocument& document,
                                   std::shared_ptr<const RecordTable> records,
                                   std::shared_ptr<const PictureSource> pictures) {
    auto made =
        LiveCollection::create(document, std::move(records), std::move(pictures), Estimating::Background);
    if (!made) {
        return std::move(made.error());
    }
    live_ = std::move(*made);
    connect(live_.get(), &LiveCollection::frameWanted, &driver_, &FrameDriver::want);
    connect(&live_->hands(), &LiveHands::tapped, this, &StripWidget::takeTap);
    live_->setWindow(width(), height());
    makeFrame(driver_.nowUs());
    driver_.want();
    return done();
}

void StripWidget::setColours(const ItemColours& colours) {
    colours_ = colours;
    update();
}

void StripWidget::makeFrame(std::int64_t timeUs) {
    if (!live_) {
        driver_.rest();
        return;
    }
    live_->frame(timeUs);
    if (live_->isIdle()) {
        driver_.rest();
    }
    update();
}

void StripWidget::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    if (live_) {
        live_->paintWindow(painter, colours_, devicePixelRatioF());
    } else {
        painter.fillRect(rect(), colours_.paper);
    }
    if (hasFocus()) {
        painter.setPen(QPen(palette().highlight(), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(rect()).adjusted(1, 1, -1, -1));
    }
}

void StripWidget::resizeEvent(QResizeEvent*) {
    if (live_) {
        live_->setWindow(width(), height());
        makeFrame(driver_.nowUs());
    }
}

void StripWidget::wheelEvent(QWheelEvent* event) {
    if (live_) {
        ScrollInput::wheel(*event, *live_, 1, event->position());
        driver_.want();
    }
}

void StripWidget::keyPressEvent(QKeyEvent* event) {
    if (live_ && ScrollInput::key(*event, *live_)) {
        driver_.want();
    } else {
        QWidget::keyPressEvent(event);
    }
}

void StripWidget::mousePressEvent(QMouseEvent* event) {
    if (live_ && event->button() == Qt::LeftButton) {
        live_->press(driver_.nowUs(), event->position(), reachOf(event->modifiers()));
        driver_.want();
    }
}

void StripWidget::mouseMoveEvent(QMouseEvent* event) {
    if (live_) {
        live_->move(driver_.nowUs(), event->position());
        driver_.want();
    }
}

void StripWidget::mouseReleaseEvent(QMouseEvent* event) {
    if (live_ && event->button() == Qt::LeftButton) {
        live_->release(driver_.nowUs());
        driver_.want();
    }
}

void StripWidget::takeTap(QPointF at, LiveHands::Reach reach) {
    if (!live_->tapMark(at, driver_.nowUs()) && live_->actionAt(at).empty()) {
        live_->hands().tapItem(at, reach);
    }
}

} // namespace scorrere::render

#include "moc_strip_widget.cpp"
