// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/items_access.h"
#include "workbench/ui/look/low_fills.h"

#include "render/scroll_input.h"

#include <QContextMenuEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <utility>

namespace scorrere::workbench {

Cutaway::Cutaway(Look& look, render::FrameDriver& driver, QWidget* parent)
    : QWidget(parent), look_(look), driver_(driver) {
    exposeItems(); // before a name is given: from then on it is known to assistive tools as what it is
    setObjectName(QStringLiteral("cutaway"));
    setAccessibleName(tr("Cutaway: the live window and the strip beyond its edges"));
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_AcceptTouchEvents);
    setMouseTracking(true);
    setMinimumHeight(260);
    connect(&look_, &Look::changed, this, qOverload<>(&QWidget::update));
}

void Cutaway::setCollection(render::LiveCollection* live) {
    live_ = live;
    if (live_ != nullptr) {
        live_->hands().disconnect(this);
        live_->disconnect(this);
        connect(live_, &render::LiveCollection::recordsCame, this,
                [this](std::int64_t place, std::int64_t count) { tellRecordsCame(*this, place, count); });
        connect(&live_->hands(), &render::LiveHands::focusChanged, this, [this] { tellFocus(*this); });
        connect(&live_->hands(), &render::LiveHands::selectionChanged, this,
                [this] { tellSelection(*this); });
    }
    tellRecords(*this);
    update();
}

void Cutaway::setFingerShown(bool isShown) {
    isFingerShown_ = isShown;
    update();
}

void Cutaway::setBars(const Bars& bars, bool isOver) {
    bars_ = bars;
    areBarsOver_ = isOver;
    update();
}

void Cutaway::setWindow(const QString& name, std::optional<bool> dark) {
    name_ = name;
    items_.reset();
    if (dark) {
        items_ = *dark ? render::ItemColours::dark() : render::ItemColours::light();
    }
    setAccessibleDescription(name);
    update();
}

void Cutaway::setMostScale(double scale) {
    if (scale != mostScale_) {
        mostScale_ = scale;
        update();
    }
}

double Cutaway::ownScale() const {
    CutawayGeometry own = geometry();
    own.mostScale = 1;
    return own.scale();
}

void Cutaway::setMessage(const QString& message) {
    message_ = message;
    update();
}

void Cutaway::setZoom(int screens) {
    screens = std::clamp(screens, kNearest, kFarthest);
    if (screens != zoom_) {
        zoom_ = screens;
        update();
        Q_EMIT zoomChanged(zoom_);
    }
}

CutawayGeometry Cutaway::geometry() const {
    CutawayGeometry geometry;
    geometry.width = width();
    geometry.height = height();
    geometry.textScale = look_.textScale();
    geometry.mostScale = mostScale_;
    geometry.beyond = zoom_;
    const render::AxisMap axis = live_ == nullptr ? render::AxisMap{false, false, 420, 240} : live_->axis();
    geometry.across = axis.across;
    geometry.along = axis.along;
    if (live_ != nullptr && live_->detail().isOpen()) { // the device is as large as ever
        geometry.across = axis.isSideways ? live_->whole().height() : live_->whole().width();
    }
    geometry.isSideways = axis.isSideways;
    geometry.barTop = areBarsOver_ ? 0 : bars_.top;
    geometry.barBottom = areBarsOver_ ? 0 : bars_.bottom;
    return geometry;
}

void Cutaway::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    painter.fillRect(rect(), look_.ground);
    if (!name_.isEmpty()) {
        painter.setFont(look_.font(12, 600));
        painter.setPen(hasFocus() ? look_.accent : look_.quiet);
        const QRectF line(0, look_.scaled(4), width(), look_.scaled(26));
        painter.drawText(line, Qt::AlignCenter,
                         painter.fontMetrics().elidedText(name_, Qt::ElideRight, width() - 8));
    }
    if (live_ != nullptr && live_->run().arrangement().size() > 0) {
        if (zoom_ > 0) {
            paintBeyond(painter, false);
            paintBeyond(painter, true);
        }
        if (!isCutOpen_ || !live_->strips().areAny()) { // they stand where notes would
            paintNotes(painter);
        }
    }
    paintWindow(painter);
    if (isCutOpen_ && live_ != nullptr) {
        paintWithin(painter);
    }
}

/// What the window says where nothing stands in it.
QString Cutaway::nothingHere() {
    Run& run = live_->run();
    Arrangement& list = run.arrangement();
    const Length bottom = run.offset() + run.window();
    const std::int64_t next = list.indexAt(run.offset()) + 1;
    return next < list.size() && list.startOf(next) >= bottom
               ? tr("nothing here\nthe next in %1 px")
                     .arg(grouped(std::llround((list.startOf(next) - run.offset()).toPx())))
               : tr("nothing here");
}

void Cutaway::paintWindow(QPainter& painter) {
    const QRectF window = windowRect();
    painter.setPen(hasFocus() ? QPen(look_.accent, 2) : QPen(Qt::NoPen));
    painter.setBrush(look_.isDark() ? QColor(0x0e, 0x11, 0x14) : QColor(0x27, 0x2d, 0x35));
    drawLowBox(painter,
               screenRect().adjusted(-CutawayGeometry::kBezel, -CutawayGeometry::kBezel,
                                     CutawayGeometry::kBezel, CutawayGeometry::kBezel),
               9);
    if (live_ == nullptr || live_->run().arrangement().size() == 0) {
        painter.fillRect(window, items().paper);
        painter.setPen(items().quiet);
        painter.setFont(look_.font(13));
        const bool isNowhere = live_ != nullptr && live_->placed() != nullptr && live_->recordCount() > 0;
        painter.drawText(window.adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap,
                         isNowhere ? tr("No record says where it stands") : message_);
        return;
    }
    const double k = scale();
    painter.save();
    painter.setClipRect(window);
    painter.translate(window.topLeft());
    painter.scale(k, k);
    live_->paintWindow(painter, items(), k * devicePixelRatioF());
    painter.restore();
    if (isFingerShown_) {
        painter.save();
        painter.setClipRect(window);
        paintFinger(painter);
        painter.restore();
    }
    if (std::ranges::none_of(live_->run().placements(), &Placement::showing) &&
        live_->run().leaving().empty()) {
        painter.setPen(items().quiet);
        painter.setFont(look_.font(12));
        painter.drawText(window, Qt::AlignCenter, nothingHere());
    }
    paintBars(painter);
    for (const Placement& placement : live_->run().placements()) {
        if (placement.showing && isCell(placement)) {
            paintTag(painter, placement);
        }
    }
}

/// What the system has of the screen: the strip goes on under it, or stops there.
void Cutaway::paintBars(QPainter& painter) {
    const QRectF window = windowRect();
    const QRectF screen = screenRect();
    const double k = scale();
    QColor paper = items().paper;
    QColor mark = items().quiet;
    if (areBarsOver_) {
        paper.setAlphaF(0.72f);
    } else {
        paper = paper.darker(look_.isDark() ? 80 : 106);
    }
    painter.setPen(Qt::NoPen);
    if (bars_.top > 0) {
        const QRectF bar(screen.left(), screen.top(), screen.width(),
                         areBarsOver_ ? bars_.top * k : window.top() - screen.top());
        painter.fillRect(bar, paper);
        painter.setBrush(mark);
        const double r = std::min(3.0, bar.height() / 5);
        painter.drawEllipse(QPointF(bar.left() + 4 * r, bar.center().y()), r, r);
        painter.drawRoundedRect(QRectF(bar.right() - 11 * r, bar.center().y() - r, 7 * r, 2 * r), r / 2,
                                r / 2);
    }
    if (bars_.bottom > 0) {
        const double high = areBarsOver_ ? bars_.bottom * k : screen.bottom() - window.bottom();
        const QRectF bar(screen.left(), screen.bottom() - high, screen.width(), high);
        painter.fillRect(bar, paper);
        painter.setBrush(mark);
        const double r = std::min(2.0, bar.height() / 6);
        painter.drawRoundedRect(
            QRectF(bar.center().x() - bar.width() / 8, bar.center().y() - r, bar.width() / 4, 2 * r), r, r);
    }
}

QRectF Cutaway::drawnBox(const Box& box) const {
    const QRectF at = live_->axis().onScreen(box);
    const double k = scale();
    return {windowRect().topLeft() + at.topLeft() * k, at.size() * k};
}

void Cutaway::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    Q_EMIT focused();
}

void Cutaway::wheelEvent(QWheelEvent* event) {
    if (event->modifiers() & Qt::ControlModifier) {
        setZoom(zoom_ + (event->angleDelta().y() > 0 ? -1 : 1));
    } else if (live_ != nullptr) {
        render::ScrollInput::wheel(*event, *live_, scale(), inWindow(event->position()));
        Q_EMIT gestured();
    }
    event->accept();
}

void Cutaway::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Minus && event->modifiers() == Qt::NoModifier) {
        setZoom(zoom_ + 1);
    } else if ((event->key() == Qt::Key_Plus || event->key() == Qt::Key_Equal) &&
               !(event->modifiers() & Qt::ControlModifier)) {
        setZoom(zoom_ - 1);
    } else if (live_ != nullptr &&
               (keyOverDetail(*event) || keyInItems(*event) || render::ScrollInput::key(*event, *live_))) {
        Q_EMIT gestured();
    } else {
        QWidget::keyPressEvent(event);
    }
}

void Cutaway::leaveEvent(QEvent*) {
    if (live_ != nullptr) {
        live_->hands().hover(std::nullopt);
    }
}

void Cutaway::mousePressEvent(QMouseEvent* event) {
    if (live_ != nullptr && event->button() == Qt::LeftButton) {
        live_->press(driver_.nowUs(), inWindow(event->position()), render::reachOf(event->modifiers()));
        Q_EMIT gestured();
    }
}

void Cutaway::mouseMoveEvent(QMouseEvent* event) {
    if (live_ == nullptr) {
        return;
    }
    if (event->buttons() & Qt::LeftButton) {
        live_->move(driver_.nowUs(), inWindow(event->position()));
        Q_EMIT gestured();
    } else if (live_->hands().wantsHover()) {
        live_->hands().hover(inWindow(event->position()));
    }
}

void Cutaway::mouseReleaseEvent(QMouseEvent* event) {
    if (live_ != nullptr && event->button() == Qt::LeftButton) {
        live_->release(driver_.nowUs());
        Q_EMIT gestured();
    }
}

void Cutaway::contextMenuEvent(QContextMenuEvent* event) {
    const QRectF window = windowRect();
    if (live_ == nullptr) {
        return;
    }
    if (event->reason() == QContextMenuEvent::Keyboard) {
        Q_EMIT menuWanted(std::nullopt, mapToGlobal(window.topLeft().toPoint()));
    } else if (window.contains(event->pos())) {
        Q_EMIT menuWanted(inWindow(event->pos()), event->globalPos());
    }
}

void Cutaway::mouseDoubleClickEvent(QMouseEvent* event) {
    const bool isOurs =
        live_ != nullptr && live_->hands().spec().doubleTap.empty() && !live_->detail().isOpen();
    if (live_ != nullptr && event->button() == Qt::LeftButton) {
        live_->press(driver_.nowUs(), inWindow(event->position()), render::reachOf(event->modifiers()));
        Q_EMIT gestured();
    }
    if (isOurs && event->button() == Qt::LeftButton && windowRect().contains(event->position())) {
        Q_EMIT doubleTapped(inWindow(event->position()));
    }
}

} // namespace scorrere::workbench

#include "moc_cutaway.cpp"
