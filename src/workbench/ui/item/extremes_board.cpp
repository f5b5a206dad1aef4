// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/extremes_board.h"

#include "workbench/model/board_table.h"
#include "workbench/model/design_edit.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

namespace {

constexpr double kMargin = 18;
constexpr double kGap = 26;   ///< between columns
constexpr double kBelow = 18; ///< between specimens
constexpr double kHandle = BoardGeometry::kHandle;
constexpr double kDragAfter = 6; ///< px
constexpr std::array<double, 9> kZooms{0.35, 0.5, 0.65, 0.8, 1, 1.25, 1.5, 2, 3};
constexpr int kTrueSize = 4; ///< the zoom of 1

} // namespace

ExtremesBoard::ExtremesBoard(Look& look, BoardModel& model, QWidget* parent)
    : QAbstractScrollArea(parent), look_(look), model_(model) {
    setObjectName(QStringLiteral("extremesBoard"));
    setAccessibleName(tr("The item design on the records that break it"));
    setFocusPolicy(Qt::StrongFocus);
    setFrameShape(QFrame::NoFrame);
    viewport()->setMouseTracking(true);
    connect(&look_, &Look::changed, this, &ExtremesBoard::arrange);
}

void ExtremesBoard::setMessage(const QString& message) {
    message_ = message;
    viewport()->update();
}

void ExtremesBoard::select(const std::string& pointer) {
    if (pointer != selected_) {
        selected_ = pointer;
        viewport()->update();
        Q_EMIT selectionChanged(QString::fromStdString(selected_));
    }
}

void ExtremesBoard::setShowsBoxes(bool shows) {
    showsBoxes_ = shows;
    viewport()->update();
}

double ExtremesBoard::zoom() const {
    const int step = kTrueSize + zoomStep_;
    return kZooms[static_cast<std::size_t>(step)];
}

void ExtremesBoard::zoomBy(int steps) {
    zoomStep_ = std::clamp(zoomStep_ + steps, -kTrueSize, static_cast<int>(kZooms.size()) - 1 - kTrueSize);
    arrange();
}

double ExtremesBoard::captionHeight() const {
    return look_.scaled(22);
}

/// Columns side by side, from the shortest on; each setting by itself.
void ExtremesBoard::arrange() {
    headings_.clear();
    tableHeadings_.clear();
    auto& specimens = model_.specimens();
    const double room = viewport()->width() - 2 * kMargin;
    double top = 8;
    double widest = 0;
    const bool several = model_.settings().size() > 1;
    std::size_t first = 0;
    while (first < specimens.size()) {
        const BoardSetting& setting = model_.settings()[specimens[first].setting];
        std::size_t end = first;
        double total = 0;
        const auto heightOf = [&](const Specimen& s) {
            return captionHeight() + s.view->height().toPx() * zoom() +
                   look_.scaled(15) * static_cast<double>(std::min<std::size_t>(s.faults.size(), 3)) + kBelow;
        };
        while (end < specimens.size() && specimens[end].setting == specimens[first].setting) {
            total += heightOf(specimens[end++]);
        }
        if (several) {
            QString words =
                tr("%1 wide, text at %2%").arg(setting.width).arg(std::lround(setting.textScale * 100));
            if (setting.density != 1) {
                words += tr(", density %1").arg(setting.density);
            }
            headings_.push_back({{kMargin, top + look_.scaled(14)}, words});
            top += look_.scaled(24);
        }
        const double width = settingWidth(first) * zoom();
        if (BoardTable* table = model_.columnsOfTable()) {
            if (const render::ItemView* heading = table->heading(specimens[first].setting)) {
                const double height = heading->height().toPx() * zoom();
                tableHeadings_.push_back(
                    {specimens[first].setting, QRectF(kMargin, top + captionHeight(), width, height)});
                top += captionHeight() + height + 4;
            }
        }
        const int columns = std::max(1, static_cast<int>((room + kGap) / (width + kGap)));
        double x = kMargin;
        double y = top;
        double lowest = top;
        int column = 0;
        for (std::size_t i = first; i < end; ++i) {
            const double height = heightOf(specimens[i]);
            if (y > top && column + 1 < columns && y - top + height / 2 > total / columns) {
                ++column;
                x += width + kGap;
                y = top;
            }
            specimens[i].at =
                QRectF(x, y + captionHeight(), width, specimens[i].view->height().toPx() * zoom());
            y += height;
            lowest = std::max(lowest, y);
            widest = std::max(widest, x + width + kMargin);
        }
        top = lowest + 6;
        first = end;
    }
    size_ = QSizeF(widest, top);
    touched_ = touched_ < specimens.size() ? touched_ : 0;
    fit();
}

void ExtremesBoard::fit() {
    verticalScrollBar()->setSingleStep(40);
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setRange(0, std::max(0, static_cast<int>(size_.height()) - viewport()->height()));
    horizontalScrollBar()->setSingleStep(40);
    horizontalScrollBar()->setPageStep(viewport()->width());
    horizontalScrollBar()->setRange(0, std::max(0, static_cast<int>(size_.width()) - viewport()->width()));
    viewport()->update();
}

void ExtremesBoard::resizeEvent(QResizeEvent*) {
    arrange();
}

void ExtremesBoard::scrollContentsBy(int, int) {
    viewport()->update();
}

QPointF ExtremesBoard::origin() const {
    return QPointF(-horizontalScrollBar()->value(), -verticalScrollBar()->value());
}

BoardGeometry ExtremesBoard::geometryOf(const Specimen& specimen) const {
    return {*model_.design(), specimen.view->boxes(), specimen.at.topLeft() + origin(), zoom()};
}

QRectF ExtremesBoard::rectOf(const Specimen& specimen, int part) const {
    return geometryOf(specimen).rectOf(part);
}

QRectF ExtremesBoard::partOnViewport(std::size_t specimen, const std::string& pointer) const {
    if (specimen >= model_.specimens().size()) {
        return {};
    }
    const Specimen& on = model_.specimens()[specimen];
    for (const int part : model_.partsOf(pointer)) {
        if (on.view->boxes()[static_cast<std::size_t>(part)].shown) {
            return rectOf(on, part);
        }
    }
    return {};
}

void ExtremesBoard::paintEvent(QPaintEvent*) {
    QPainter painter(viewport());
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    painter.fillRect(viewport()->rect(), look_.ground);
    if (model_.isEmpty()) {
        painter.setFont(look_.font(15));
        painter.setPen(look_.quiet);
        painter.drawText(viewport()->rect().adjusted(40, 0, -40, 0),
                         static_cast<int>(Qt::AlignCenter) | Qt::TextWordWrap, message_);
        return;
    }
    painter.setFont(look_.font(12.5, 650));
    painter.setPen(look_.ink);
    for (const auto& [at, words] : headings_) {
        painter.drawText(at + origin(), words);
    }
    for (const HeadingAt& heading : tableHeadings_) {
        paintHeading(painter, heading);
    }
    const QRectF seen = viewport()->rect();
    for (std::size_t i = 0; i < model_.specimens().size(); ++i) {
        const QRectF around =
            model_.specimens()[i].at.translated(origin()).adjusted(-8, -captionHeight(), 8, 60);
        if (around.intersects(seen)) {
            paintSpecimen(painter, i);
        }
    }
    paintEdges(painter);
    if (hasFocus()) {
        paintFocus(painter, viewport()->rect(), look_);
    }
    if (const auto landing = dragging_ && grip_ == Grip::Part ? landingAt(now_) : std::nullopt) {
        painter.setPen(QPen(look_.accent, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(landing->around.adjusted(-1, -1, 1, 1), 3, 3);
        painter.setPen(Qt::NoPen);
        painter.setBrush(look_.accent);
        painter.drawRoundedRect(landing->bar, 2, 2);
    }
}

void ExtremesBoard::paintSpecimen(QPainter& painter, std::size_t index) {
    const Specimen& specimen = model_.specimens()[index];
    const BoardSetting& setting = model_.settings()[specimen.setting];
    const QRectF at = specimen.at.translated(origin());
    paintCaption(painter, specimen);
    painter.fillRect(at, look_.items.paper);
    painter.save();
    painter.setClipRect(at);
    painter.translate(at.topLeft());
    painter.scale(zoom(), zoom());
    const render::ItemView::PaintNeeds needs{
        .colours = look_.items, .pictures = *pictures_, .shapes = shapes_, .density = setting.density};
    specimen.view->paint(painter, needs);
    model_.paintWithin(painter, specimen, needs);
    painter.restore();
    painter.setPen(QPen(look_.edge, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(at.adjusted(-0.5, -0.5, 0.5, 0.5));
    if (showsBoxes_ || static_cast<int>(index) == hovered_) {
        paintBoxes(painter, specimen);
    }
    if (showsTouch_) {
        paintTouch(painter, specimen);
    }
    paintFaults(painter, specimen);
    paintSelection(painter, index);
}

void ExtremesBoard::paintCaption(QPainter& painter, const Specimen& specimen) {
    const QRectF at = specimen.at.translated(origin());
    const BoardSetting& setting = model_.settings()[specimen.setting];
    const double wide = std::min(at.width(), setting.width * zoom()); // else it would end out of sight
    const QRectF line(at.left(), at.top() - captionHeight(), wide, captionHeight() - 4);
    const Length height = specimen.view->height();
    QString size = QString::number(std::round(height.toPx() * 10) / 10);
    if (setting.density != 1) {
        size += tr(" · %1 px").arg(std::lround(height.toPx() * setting.density));
    }
    painter.setFont(look_.font(12, 700));
    painter.setPen(look_.ink);
    painter.drawText(line, Qt::AlignLeft | Qt::AlignBottom, size);
    const double taken = QFontMetricsF(painter.font()).horizontalAdvance(size) + 12;
    QStringList words;
    for (std::size_t i = 0; i < specimen.why.size(); ++i) {
        words << reasonInWords(specimen.why[i], i == 0 ? specimen.measure : 0);
    }
    if (specimen.isPinned) {
        words << tr("pinned");
    }
    if (specimen.record >= 0) {
        words << (model_.areSections() ? tr("a section")
                  : specimen.entry >= 0
                      ? tr("entry %1 of no. %2").arg(specimen.entry + 1).arg(grouped(specimen.record + 1))
                      : tr("no. %1").arg(grouped(specimen.record + 1)));
    }
    painter.setFont(look_.font(11.5));
    painter.setPen(look_.quiet);
    const QRectF right = line.adjusted(taken, 0, 0, 0);
    painter.drawText(right, Qt::AlignRight | Qt::AlignBottom,
                     QFontMetricsF(painter.font())
                         .elidedText(words.join(QStringLiteral(" · ")), Qt::ElideRight, right.width()));
}

/// The boxes as fine nested outlines: how the parts are put together, where they stand.
void ExtremesBoard::paintBoxes(QPainter& painter, const Specimen& specimen) {
    QColor line = look_.known;
    line.setAlphaF(0.38F);
    const auto& parts = model_.design()->parts();
    for (std::size_t i = 1; i < parts.size(); ++i) {
        if (!specimen.view->boxes()[i].shown) {
            i = static_cast<std::size_t>(parts[i].subtreeEnd) - 1;
        } else if (isBox(parts[i].type)) {
            const QRect at = rectOf(specimen, static_cast<int>(i)).toRect();
            painter.fillRect(at.left(), at.top(), at.width(), 1, line);
            painter.fillRect(at.left(), at.bottom(), at.width(), 1, line);
            painter.fillRect(at.left(), at.top() + 1, 1, at.height() - 2, line);
            painter.fillRect(at.right(), at.top() + 1, 1, at.height() - 2, line);
        }
    }
}

void ExtremesBoard::paintFaults(QPainter& painter, const Specimen& specimen) {
    const QRectF at = specimen.at.translated(origin());
    painter.setPen(QPen(look_.bad, 1.4, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    for (const LayoutFault& fault : specimen.faults) {
        painter.drawRect(rectOf(specimen, fault.part));
    }
    double y = at.bottom() + 2;
    painter.setFont(look_.font(11, 650));
    const QFontMetricsF metrics(painter.font());
    for (std::size_t i = 0; i < std::min<std::size_t>(specimen.faults.size(), 3); ++i) {
        const QString words = i == 2 && specimen.faults.size() > 3
                                  ? tr("and %1 more").arg(specimen.faults.size() - 2)
                                  : faultInWords(specimen.faults[i], *model_.design());
        const double width = metrics.horizontalAdvance(words) + 6;
        const QRectF line(at.right() - width, y, width, look_.scaled(15));
        painter.fillRect(line, look_.ground); // over what falls out of the item
        painter.setPen(look_.bad);
        painter.drawText(line, Qt::AlignCenter, words);
        y += look_.scaled(15);
    }
}

int ExtremesBoard::focused() const {
    if (!partOnViewport(touched_, selected_).isNull()) {
        return static_cast<int>(touched_);
    }
    for (std::size_t i = 0; i < model_.specimens().size(); ++i) {
        if (!partOnViewport(i, selected_).isNull()) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

bool ExtremesBoard::standsInRow(const std::string& pointer) const {
    const auto standing = DesignDraft::standingOf(pointer);
    return standing && (standing->word == "row" || standing->word == "wrap");
}

void ExtremesBoard::paintSelection(QPainter& painter, std::size_t index) {
    if (selected_.empty()) {
        return;
    }
    const Specimen& specimen = model_.specimens()[index];
    for (const int part : model_.partsOf(selected_)) {
        if (!specimen.view->boxes()[static_cast<std::size_t>(part)].shown) {
            continue;
        }
        QRectF at = rectOf(specimen, part);
        if (dragging_ && grip_ == Grip::Size) {
            at.setSize(at.size() + QSizeF(now_.x() - pressed_.x(), now_.y() - pressed_.y()));
        }
        painter.setPen(QPen(look_.accent, 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(at.adjusted(-2, -2, 2, 2), 3, 3);
        if (static_cast<int>(index) != focused() || dragging_) {
            continue;
        }
        painter.setBrush(look_.card);
        painter.drawRect(BoardGeometry::sizeHandle(at));
        if (const auto gap = geometryOf(specimen).gapHandle(part)) {
            painter.save();
            painter.translate(gap->center());
            painter.rotate(45);
            painter.drawRect(QRectF(-kHandle + 1, -kHandle + 1, 2 * kHandle - 2, 2 * kHandle - 2));
            painter.restore();
        }
        if (hasFocus() || underMouse()) {
            painter.setPen(Qt::NoPen);
            for (const QRectF& plus : BoardGeometry::plusPlaces(at, standsInRow(selected_))) {
                painter.setBrush(look_.accent);
                painter.drawEllipse(plus);
                painter.setPen(QPen(look_.onAccent, 1.6));
                const QPointF c = plus.center();
                painter.drawLine(c - QPointF(4, 0), c + QPointF(4, 0));
                painter.drawLine(c - QPointF(0, 4), c + QPointF(0, 4));
                painter.setPen(Qt::NoPen);
            }
        }
        return;
    }
}

std::optional<ExtremesBoard::Hit> ExtremesBoard::hitAt(QPointF point) const {
    if (model_.isEmpty()) {
        return std::nullopt;
    }
    for (std::size_t i = 0; i < model_.specimens().size(); ++i) {
        const Specimen& specimen = model_.specimens()[i];
        if (!specimen.at.translated(origin()).contains(point)) {
            continue;
        }
        return Hit{i, geometryOf(specimen).partAt(point)};
    }
    return std::nullopt;
}

std::optional<BoardGeometry::Landing> ExtremesBoard::landingAt(QPointF point) const {
    if (const auto heading = headingAt(point)) { // between the cells that stand below
        const auto below = std::ranges::find(model_.specimens(), heading->setting, &Specimen::setting);
        point.setY(below->at.center().y() + origin().y());
    }
    const auto hit = hitAt(point);
    return hit ? geometryOf(model_.specimens()[hit->specimen]).landingAt(point, selected_) : std::nullopt;
}

void ExtremesBoard::mousePressEvent(QMouseEvent* event) {
    pressed_ = now_ = event->position();
    dragging_ = false;
    grip_ = Grip::None;
    if (event->button() != Qt::LeftButton || model_.isEmpty()) {
        return;
    }
    const int on = selected_.empty() ? -1 : focused();
    edge_ = edgeAt(pressed_);
    if (edge_) {
        grip_ = Grip::Column;
        return;
    }
    if (const auto cell = headingAt(pressed_)) {
        if (const std::string pointer = cellPointer(cell->column); !pointer.empty()) {
            select(pointer);
            grip_ = Grip::Part;
        }
        return;
    }
    if (on >= 0) {
        const Specimen& specimen = model_.specimens()[static_cast<std::size_t>(on)];
        const QRectF at = partOnViewport(static_cast<std::size_t>(on), selected_);
        const std::vector<QRectF> plus = BoardGeometry::plusPlaces(at, standsInRow(selected_));
        for (std::size_t i = 0; i < plus.size(); ++i) {
            if (plus[i].contains(pressed_)) {
                Q_EMIT addWanted(QString::fromStdString(selected_), i == 1,
                                 event->globalPosition().toPoint());
                return;
            }
        }
        if (BoardGeometry::sizeHandle(at).adjusted(-2, -2, 2, 2).contains(pressed_)) {
            grip_ = Grip::Size;
            sizeBefore_ = at.size() / zoom();
            return;
        }
        for (const int part : model_.partsOf(selected_)) {
            const auto gap = specimen.view->boxes()[static_cast<std::size_t>(part)].shown
                                 ? geometryOf(specimen).gapHandle(part)
                                 : std::nullopt;
            if (gap && gap->adjusted(-2, -2, 2, 2).contains(pressed_)) {
                grip_ = Grip::Gap;
                gapBefore_ = model_.design()->parts()[static_cast<std::size_t>(part)].gap.toPx();
                return;
            }
        }
    }
    const auto hit = hitAt(pressed_);
    if (!hit) {
        select({});
        return;
    }
    touched_ = hit->specimen;
    const std::string& pointer = model_.design()->parts()[static_cast<std::size_t>(hit->part)].pointer;
    // Alt: the box around what is chosen, further out with each click.
    select(event->modifiers() & Qt::AltModifier && isPartOf(pointer, selected_) &&
                   !boxAround(selected_).empty()
               ? boxAround(selected_)
               : pointer);
    grip_ = Grip::Part;
    viewport()->update();
}

void ExtremesBoard::mouseMoveEvent(QMouseEvent* event) {
    now_ = event->position();
    if (grip_ != Grip::None && event->buttons() & Qt::LeftButton &&
        (now_ - pressed_).manhattanLength() > kDragAfter) {
        dragging_ = true;
    }
    const int on = selected_.empty() || grip_ != Grip::None ? -1 : focused();
    const bool overHandle =
        on >= 0 &&
        BoardGeometry::sizeHandle(partOnViewport(static_cast<std::size_t>(on), selected_)).contains(now_);
    const auto edge = grip_ == Grip::None ? edgeAt(now_) : edge_;
    const bool isOtherEdge = edge.has_value() != edge_.has_value() || (edge && edge->column != edge_->column);
    edge_ = edge;
    viewport()->setCursor(dragging_ && grip_ == Grip::Part ? Qt::ClosedHandCursor
                          : edge_                          ? Qt::SplitHCursor
                          : headingAt(now_)                ? Qt::OpenHandCursor
                          : overHandle                     ? Qt::SizeFDiagCursor
                                                           : Qt::ArrowCursor);
    const auto over = hitAt(now_);
    const int hovered = over ? static_cast<int>(over->specimen) : -1;
    if (std::exchange(hovered_, hovered) != hovered || dragging_ || isOtherEdge) {
        viewport()->update();
    }
}

void ExtremesBoard::mouseReleaseEvent(QMouseEvent* event) {
    const bool dragged = std::exchange(dragging_, false);
    const Grip grip = std::exchange(grip_, Grip::None);
    now_ = event->position();
    viewport()->setCursor(Qt::ArrowCursor);
    viewport()->update();
    if (!dragged) {
        return;
    }
    const QString pointer = QString::fromStdString(selected_);
    const QPointF by = (now_ - pressed_) / zoom();
    if (grip == Grip::Part) {
        if (const auto landing = landingAt(now_)) {
            Q_EMIT moveWanted(pointer, QString::fromStdString(landing->box), landing->place);
        }
    } else if (grip == Grip::Column) {
        const Length was =
            model_.columnsOfTable()->columns(edge_->setting).widthOf(static_cast<std::size_t>(edge_->column));
        const double way = model_.design()->isMirrored() ? -by.x() : by.x();
        Q_EMIT columnWidthWanted(edge_->column, std::max(8.0, std::round(was.toPx() + way)));
    } else if (grip == Grip::Size) {
        Q_EMIT sizeWanted(pointer, std::max(1.0, std::round(sizeBefore_.width() + by.x())),
                          std::max(1.0, std::round(sizeBefore_.height() + by.y())));
    } else if (grip == Grip::Gap) {
        const auto standing = model_.partsOf(selected_);
        const bool column =
            !standing.empty() &&
            model_.design()->parts()[static_cast<std::size_t>(standing[0])].type == PartType::Column;
        Q_EMIT gapWanted(pointer, std::max(0.0, std::round(gapBefore_ + (column ? by.y() : by.x()))));
    }
}

void ExtremesBoard::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const auto edge = edgeAt(event->position())) {
        Q_EMIT columnWidthWanted(edge->column, std::nullopt);
    }
}

void ExtremesBoard::wheelEvent(QWheelEvent* event) {
    if (event->modifiers() & Qt::ControlModifier) {
        zoomBy(event->angleDelta().y() > 0 ? 1 : -1);
        event->accept();
        return;
    }
    QAbstractScrollArea::wheelEvent(event);
}

bool ExtremesBoard::viewportEvent(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        if (const auto hit = hitAt(help->pos())) {
            const PlanPart& part = model_.design()->parts()[static_cast<std::size_t>(hit->part)];
            const PartBox& box =
                model_.specimens()[hit->specimen].view->boxes()[static_cast<std::size_t>(hit->part)];
            QToolTip::showText(help->globalPos(),
                               tr("%1, %2 × %3 at %4, %5")
                                   .arg(QString::fromLatin1(partWord(part.type)))
                                   .arg(box.width.toPx())
                                   .arg(box.height.toPx())
                                   .arg(box.x.toPx())
                                   .arg(box.y.toPx()),
                               this);
        }
        return true;
    }
    if (event->type() == QEvent::Enter || event->type() == QEvent::Leave) {
        hovered_ = -1;
        viewport()->update();
    }
    return QAbstractScrollArea::viewportEvent(event);
}

bool ExtremesBoard::event(QEvent* event) {
    // Esc is the window's, too: while a part is chosen it is let go first.
    if (event->type() == QEvent::ShortcutOverride && !selected_.empty() &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    return QAbstractScrollArea::event(event);
}

/// The parts of the design in reading order, each once.
std::vector<std::string> ExtremesBoard::order() const {
    std::vector<std::string> all;
    for (std::size_t i = 0; model_.design() != nullptr && i < model_.design()->parts().size(); ++i) {
        const std::string& pointer = model_.design()->parts()[i].pointer;
        if (std::ranges::find(all, pointer) == all.end()) {
            all.push_back(pointer);
        }
    }
    return all;
}

std::string ExtremesBoard::boxAround(const std::string& pointer) const {
    std::string found;
    for (const std::string& other : order()) {
        if (other != pointer && isPartOf(pointer, other) && other.size() > found.size()) {
            found = other;
        }
    }
    return found;
}

std::string ExtremesBoard::firstIn(const std::string& pointer) const {
    for (const std::string& other : order()) {
        if (other != pointer && isPartOf(other, pointer)) {
            return other;
        }
    }
    return {};
}

void ExtremesBoard::keyPressEvent(QKeyEvent* event) {
    const std::vector<std::string> all = order();
    if (all.empty()) {
        return QAbstractScrollArea::keyPressEvent(event);
    }
    const auto here = std::ranges::find(all, selected_);
    const QString pointer = QString::fromStdString(selected_);
    const bool alt = event->modifiers() & Qt::AltModifier;
    const auto reveal = [this] {
        const int on = focused();
        const QRectF at = on < 0 ? QRectF() : partOnViewport(static_cast<std::size_t>(on), selected_);
        if (!at.isNull() && (at.top() < 0 || at.bottom() > viewport()->height())) {
            verticalScrollBar()->setValue(verticalScrollBar()->value() + static_cast<int>(at.top()) - 40);
        }
    };
    const QPoint corner = [&] {
        const int on = selected_.empty() ? -1 : focused();
        const QRectF at = on < 0 ? QRectF() : partOnViewport(static_cast<std::size_t>(on), selected_);
        return viewport()->mapToGlobal(at.bottomLeft().toPoint());
    }();
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right: {
        const int by = event->key() == Qt::Key_Right ? 1 : -1;
        if (alt) {
            Q_EMIT stepWanted(pointer, by);
        } else if (here == all.end()) {
            select(by > 0 ? all.front() : all.back());
        } else if (by > 0 ? here + 1 != all.end() : here != all.begin()) {
            select(*(here + by));
        }
        return reveal();
    }
    case Qt::Key_Up:
    case Qt::Key_Down: {
        const bool up = event->key() == Qt::Key_Up;
        if (alt) {
            Q_EMIT stepWanted(pointer, up ? -1 : 1);
        } else if (const std::string to = selected_.empty() ? all.front()
                                          : up              ? boxAround(selected_)
                                                            : firstIn(selected_);
                   !to.empty()) {
            select(to);
        }
        return reveal();
    }
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        Q_EMIT removeWanted(pointer);
        return;
    case Qt::Key_Plus:
    case Qt::Key_Insert:
        Q_EMIT addWanted(selected_.empty() ? QString::fromStdString(all.front()) : pointer, true, corner);
        return;
    case Qt::Key_B:
        Q_EMIT wrapWanted(pointer, corner);
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        Q_EMIT editWanted();
        return;
    case Qt::Key_Escape:
        if (!selected_.empty()) {
            select({});
            return;
        }
        break;
    default:
        break;
    }
    QAbstractScrollArea::keyPressEvent(event);
}

} // namespace scorrere::workbench

#include "moc_extremes_board.cpp"
