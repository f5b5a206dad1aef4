// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/gestures_instrument.h"

#include "workbench/ui/flow/gesture_words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <utility>

namespace scorrere::workbench {

namespace {

constexpr int kLeastRows = 3;
constexpr int kMostRows = 8; ///< that room is asked for, with the chosen one

} // namespace

GesturesInstrument::GesturesInstrument(Look& look, const FramesInstrument& frames,
                                       std::function<QString(int)> nameOf, QWidget* parent)
    : QWidget(parent), look_(look), frames_(frames), nameOf_(std::move(nameOf)) {
    setObjectName(QStringLiteral("gestures"));
    setAccessibleName(tr("Gestures"));
    setFocusPolicy(Qt::StrongFocus);
    connect(&look_, &Look::changed, this, &GesturesInstrument::follow);
}

void GesturesInstrument::setCollection(render::LiveCollection* live) {
    live_ = live;
    chosen_ = -1;
    follow();
}

const GestureEntry* GesturesInstrument::entry(int row) const {
    const GestureLog* known = log();
    const bool isThere = known != nullptr && row >= 0 && row < static_cast<int>(known->entries().size());
    return isThere ? &known->entries()[known->entries().size() - 1 - static_cast<std::size_t>(row)] : nullptr;
}

QString GesturesInstrument::summary() const {
    const GestureEntry* last = entry(0);
    return last == nullptr ? QString()
                           : tr("%1 so far · %2 · Return plays it again")
                                 .arg(grouped(log()->ever()), entryInWords(*last, nameOf_));
}

QStringList GesturesInstrument::row(int index) const {
    const GestureEntry* found = entry(index);
    if (found == nullptr) {
        return {};
    }
    return {kindInWords(found->kind), QString::fromStdString(found->name.empty() ? found->key : found->name),
            entryInWords(*found, nameOf_), losses(*found).join(QStringLiteral("; "))};
}

QStringList GesturesInstrument::losses(const GestureEntry& of) const {
    QStringList words;
    for (const GestureLoss& loss : of.losses) {
        words << lossInWords(loss, nameOf_);
    }
    return words;
}

QString GesturesInstrument::columnInWords(int column) const {
    const QStringList names{tr("what"), tr("of"), tr("why"), tr("and nothing else because")};
    return names.value(column);
}

QRect GesturesInstrument::placeOfRow(int at) const {
    const GestureEntry* open = at > chosen_ ? entry(chosen_) : nullptr;
    const auto above = at + (open == nullptr ? 0 : static_cast<qsizetype>(open->losses.size()));
    const QRectF place(0, track().bottom() + look_.scaled(4) + static_cast<double>(above) * rowHeight(),
                       width(), rowHeight());
    return place.bottom() <= height() ? place.toRect() : QRect();
}

void GesturesInstrument::choose(int row) {
    chosen_ = entry(row) == nullptr ? -1 : row;
    ever_ = log() == nullptr ? 0 : log()->ever();
    follow();
}

void GesturesInstrument::follow() {
    // The newest stands first: the one that is open goes down with those that came.
    const std::int64_t ever = log() == nullptr ? 0 : log()->ever();
    const auto came = static_cast<int>(ever - std::exchange(ever_, ever));
    chosen_ = chosen_ >= 0 && entry(chosen_ + came) != nullptr ? chosen_ + came : -1;
    const GestureEntry* open = entry(chosen_);
    const auto lines = std::max(std::min(kLeastRows, rowsInWords()), std::min(kMostRows, chosen_ + 1)) +
                       (open == nullptr ? 0 : static_cast<int>(open->losses.size()));
    setMinimumHeight(static_cast<int>(track().height() + look_.scaled(6) + lines * rowHeight()));
    update();
}

/// Where the pointer was, as a line from the top of the window to its bottom, and what was made of it.
void GesturesInstrument::paintTrack(QPainter& painter) const {
    const QRectF box = track();
    painter.setPen(Qt::NoPen);
    painter.setBrush(look_.card);
    painter.drawRect(box);
    const double high = std::max(live_->whole().height(), 1.0);
    painter.setPen(QPen(look_.quiet, 1.4));
    QPointF last;
    bool isDown = false;
    for (const PointerSample& sample : log()->samples()) {
        const QPointF at(frames_.xOf(sample.timeUs),
                         box.top() + 3 + std::clamp(sample.y / high, 0.0, 1.0) * (box.height() - 6));
        if (isDown && at.x() >= 0) {
            painter.drawLine(last, at);
        }
        isDown = sample.what != PointerSample::What::Up;
        last = at;
    }
    const auto& entries = log()->entries();
    painter.setFont(look_.font(10, 600));
    double saidUntil = 0;
    for (std::size_t i = 0; i < entries.size(); ++i) {
        const double x = frames_.xOf(entries[i].timeUs);
        if (x < 0 || x > width()) {
            continue;
        }
        const bool isChosen = static_cast<int>(entries.size() - 1 - i) == chosen_;
        const QColor colour = isChosen ? look_.accent : look_.ink;
        painter.setPen(QPen(colour, isChosen ? 2 : 1));
        painter.drawLine(QPointF(x, box.top() + 2), QPointF(x, box.bottom() - 2));
        const QString kind = kindInWords(entries[i].kind);
        if (x >= saidUntil) { // where there is room for it: the rows below say all
            painter.drawText(QRectF(x + 3, box.top(), look_.scaled(90), look_.scaled(14)),
                             Qt::AlignLeft | Qt::AlignVCenter, kind);
            saidUntil = x + 8 + painter.fontMetrics().horizontalAdvance(kind);
        }
    }
}

void GesturesInstrument::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), look_.ground);
    if (live_ == nullptr) {
        return;
    }
    paintTrack(painter);
    painter.setFont(look_.font(12));
    const double first = look_.scaled(86);
    const double second = look_.scaled(78);
    for (int at = 0; at < rowsInWords(); ++at) {
        const QRectF place(placeOfRow(at));
        if (place.isEmpty()) {
            break;
        }
        if (at == chosen_) {
            painter.fillRect(place, look_.card);
        }
        const QStringList cells = row(at);
        painter.setPen(at == chosen_ ? look_.accent : look_.ink);
        const auto put = [&](double left, double wide, const QString& text) {
            painter.drawText(QRectF(left, place.top(), wide, place.height()),
                             Qt::AlignLeft | Qt::AlignVCenter,
                             painter.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(wide)));
        };
        put(4, first - 8, cells.value(0));
        put(first, second - 6, cells.value(1));
        painter.setPen(look_.quiet);
        put(first + second, width() - first - second, cells.value(2));
        if (at == chosen_) {
            double below = place.bottom();
            for (const QString& loss : losses(*entry(at))) {
                const QRectF line(first, below, width() - first, place.height());
                painter.drawText(
                    line, Qt::AlignLeft | Qt::AlignVCenter,
                    painter.fontMetrics().elidedText(loss, Qt::ElideRight, static_cast<int>(line.width())));
                below += place.height();
            }
        }
    }
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(look_.accent, 1));
        painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

void GesturesInstrument::mousePressEvent(QMouseEvent* event) {
    for (int at = 0; at < rowsInWords(); ++at) {
        if (placeOfRow(at).contains(event->pos())) {
            return choose(at);
        }
    }
    if (!track().contains(event->position())) {
        return;
    }
    int nearest = -1;
    double least = 12;
    for (int at = 0; at < rowsInWords(); ++at) {
        const double away = std::abs(frames_.xOf(entry(at)->timeUs) - event->position().x());
        if (away < least) {
            least = away;
            nearest = at;
        }
    }
    choose(nearest);
}

void GesturesInstrument::mouseDoubleClickEvent(QMouseEvent*) {
    if (const GestureEntry* found = entry(chosen_)) {
        Q_EMIT againWanted(*found);
    }
}

void GesturesInstrument::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Down:
        return choose(std::min(chosen_ + 1, rowsInWords() - 1));
    case Qt::Key_Up:
        return choose(std::max(chosen_ - 1, 0));
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (const GestureEntry* found = entry(std::max(chosen_, 0))) {
            Q_EMIT againWanted(*found);
        }
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace scorrere::workbench

#include "moc_gestures_instrument.cpp"
