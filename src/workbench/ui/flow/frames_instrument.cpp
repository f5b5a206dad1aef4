// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/frames_instrument.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

namespace scorrere::workbench {

namespace {

/// From the water line down: what costs most often lies nearest to it.
constexpr std::array<Phase, kPhases> kStack{Phase::Paint, Phase::Fill, Phase::Measure, Phase::Build,
                                            Phase::Decide};
constexpr std::size_t kJudged = 600; ///< frames the figures are taken over

} // namespace

FramesInstrument::FramesInstrument(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("frames"));
    setAccessibleName(tr("Frames"));
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(150);
    connect(&look_, &Look::changed, this, qOverload<>(&QWidget::update));
}

void FramesInstrument::setCollection(const render::LiveCollection* live) {
    live_ = live;
    trace_ = live == nullptr ? nullptr : &live->run().trace();
    chosen_ = 0;
    update();
}

void FramesInstrument::setBudget(double budgetMs) {
    budgetMs_ = budgetMs;
    update();
}

void FramesInstrument::choose(qint64 number) {
    if (trace_ != nullptr && trace_->find(number) == nullptr) {
        number = 0;
    }
    chosen_ = number;
    update();
    Q_EMIT frameChosen(number);
}

QRectF FramesInstrument::field() const {
    const double top = look_.scaled(24);
    return {0, top, static_cast<double>(width()), height() - top};
}

std::size_t FramesInstrument::shown() const {
    const auto fits = static_cast<std::size_t>(std::max(0.0, (field().width() - 16) / barWidth()));
    return trace_ == nullptr ? 0 : std::min(fits, trace_->size());
}

double FramesInstrument::xOf(qint64 timeUs) const {
    const std::size_t count = shown();
    const double left = field().left() + 8;
    if (count == 0) {
        return left;
    }
    const std::size_t from = trace_->size() - count;
    std::size_t low = 0;
    std::size_t high = count;
    while (low < high) {
        const std::size_t middle = (low + high) / 2;
        trace_->at(from + middle).timeUs < timeUs ? low = middle + 1 : high = middle;
    }
    if (low == 0 || low == count) {
        return left + static_cast<double>(low) * barWidth();
    }
    const double before = static_cast<double>(trace_->at(from + low - 1).timeUs);
    const double after = static_cast<double>(trace_->at(from + low).timeUs);
    const double share = (static_cast<double>(timeUs) - before) / std::max(after - before, 1.0);
    return left + (static_cast<double>(low) - 1 + share) * barWidth();
}

QString FramesInstrument::story() const {
    if (trace_ == nullptr || trace_->size() == 0) {
        return tr("No frame yet. Scroll the window.");
    }
    const FrameRecord* chosen = chosen_ > 0 ? trace_->find(chosen_) : nullptr;
    const FrameRecord& f = chosen != nullptr ? *chosen : trace_->at(trace_->size() - 1);
    QStringList parts;
    if (f.built > 0) {
        parts << (f.built == 1 ? tr("1 item view built") : tr("%1 item views built").arg(f.built));
    }
    if (f.filled > 0) {
        parts << (f.filledAhead > 0 ? tr("%1 filled, %2 of them ahead").arg(f.filled).arg(f.filledAhead)
                                    : tr("%1 filled").arg(f.filled));
    }
    if (f.released > 0) {
        parts << tr("%1 released").arg(f.released);
    }
    if (f.jump != Length{}) {
        parts << tr("what showed jumped %1 px").arg(f.jump.toPx());
    }
    if (f.bounded) {
        parts << tr("as many as a frame may fill; the rest comes in the next");
    }
    // The collection may have shrunk since.
    const auto nameOf = [this](std::int64_t position) {
        return position < live_->run().arrangement().size() ? live_->nameAt(position) : grouped(position + 1);
    };
    const QString what = parts.isEmpty() ? tr("nothing to fill") : parts.join(QStringLiteral(", "));
    const QString where =
        f.first < 0 ? tr("empty") : tr("items %1 to %2").arg(nameOf(f.first), nameOf(f.last));
    return tr("frame %1: %2 ms · %3 · %4")
        .arg(grouped(f.number), QString::number(static_cast<double>(f.totalNs()) / 1e6, 'f', 2), where, what);
}

QString FramesInstrument::summary() const {
    if (trace_ == nullptr || trace_->size() == 0) {
        return {};
    }
    const Statistics s = trace_->statistics(kJudged, budgetMs_);
    const QString over = s.overBudget > 0 ? tr("%1 of %2 over the budget").arg(s.overBudget).arg(s.frames)
                                          : tr("none of %1 over the budget").arg(s.frames);
    return tr("median %1 ms · 99 of 100 within %2 ms · %3 of %4 ms")
        .arg(shortMs(s.medianMs), shortMs(s.p99Ms), over, shortMs(budgetMs_));
}

void FramesInstrument::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), look_.ground);
    const QRectF box = field();
    paintLegend(painter, box);
    painter.setPen(look_.edge);
    painter.setBrush(look_.card);
    painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5));
    painter.setFont(look_.font(11.5));
    painter.setPen(chosen_ > 0 ? look_.ink : look_.quiet);
    const QRectF line(box.left() + 8, box.top() + 2, box.width() - 16, look_.scaled(22));
    painter.drawText(
        line, Qt::AlignVCenter,
        painter.fontMetrics().elidedText(story(), Qt::ElideRight, static_cast<int>(line.width())));
    paintBars(painter, box);
    if (hasFocus()) {
        painter.setPen(QPen(look_.accent, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(box.adjusted(1, 1, -1, -1));
    }
}

void FramesInstrument::paintLegend(QPainter& painter, const QRectF& box) {
    painter.setFont(look_.font(11));
    double x = 0;
    const double y = box.top() - look_.scaled(24);
    for (const Phase phase : kStack) {
        const QString name =
            QString::fromUtf8(phaseName(phase).data(), static_cast<qsizetype>(phaseName(phase).size()));
        painter.fillRect(QRectF(x, y + look_.scaled(5), look_.scaled(9), look_.scaled(9)),
                         look_.phase[static_cast<std::size_t>(phase)]);
        painter.setPen(look_.quiet);
        const double wide = painter.fontMetrics().horizontalAdvance(name);
        painter.drawText(QRectF(x + look_.scaled(13), y, wide + 4, look_.scaled(19)), Qt::AlignVCenter, name);
        x += wide + look_.scaled(32);
    }
}

void FramesInstrument::paintBars(QPainter& painter, const QRectF& box) {
    const double water = box.top() + look_.scaled(27);
    const double depth = box.bottom() - water - 8;
    const int lens = lensFor(shown());
    const double budgetDepth = depth * 0.72 * lens;
    painter.setPen(QPen(look_.ink, 1));
    painter.drawLine(QPointF(box.left() + 8, water), QPointF(box.right() - 8, water));
    const std::size_t count = shown();
    if (count > 0) {
        painter.setRenderHint(QPainter::Antialiasing, false);
        const std::size_t from = trace_->size() - count;
        for (std::size_t i = 0; i < count; ++i) {
            const FrameRecord& frame = trace_->at(from + i);
            const double x = box.left() + 8 + static_cast<double>(i) * barWidth();
            double y = water;
            for (const Phase phase : kStack) {
                const double ms = static_cast<double>(frame.costNs[static_cast<std::size_t>(phase)]) / 1e6;
                const double high = std::min(ms / budgetMs_ * budgetDepth, water + depth - y);
                if (high > 0) {
                    painter.fillRect(QRectF(x, y, barWidth() - 1, std::max(high, 0.3)),
                                     look_.phase[static_cast<std::size_t>(phase)]);
                    y += high;
                }
            }
            if (frame.totalNs() > static_cast<std::int64_t>(budgetMs_ * 1e6)) {
                painter.fillRect(QRectF(x, std::min(y, water + depth - 3), barWidth() - 1, 3), look_.bad);
            }
            if (frame.number == chosen_) {
                painter.setPen(QPen(look_.accent, 2));
                painter.setBrush(Qt::NoBrush);
                painter.drawRect(QRectF(x - 2.5, water - 3, barWidth() + 3, std::max(y - water, 6.0) + 6));
            }
        }
        painter.setRenderHint(QPainter::Antialiasing);
    }
    painter.setPen(QPen(look_.bad, 1.2, Qt::DashLine));
    const double line = lens == 1 ? water + budgetDepth : box.bottom() - 5;
    painter.drawLine(QPointF(box.left() + 8, line), QPointF(box.right() - 8, line));
    painter.setFont(look_.font(10.5));
    painter.setPen(look_.bad);
    const QString label =
        lens == 1 ? tr("budget %1 ms").arg(shortMs(budgetMs_))
                  : tr("drawn ×%1 · the budget of %2 ms lies further down").arg(lens).arg(shortMs(budgetMs_));
    const bool fitsBelow = lens == 1 && line + look_.scaled(16) <= box.bottom();
    if (!fitsBelow && line - look_.scaled(17) < water) {
        return; // no room beside the bars: the line above says the budget, too
    }
    painter.drawText(QRectF(box.left() + 8, fitsBelow ? line + 1 : line - look_.scaled(17), box.width() - 16,
                            look_.scaled(15)),
                     Qt::AlignRight, label);
}

/// Frames far below the budget are drawn larger, so that their phases can be told apart; it says so.
int FramesInstrument::lensFor(std::size_t count) const {
    double worst = 0;
    for (std::size_t i = trace_ == nullptr ? 0 : trace_->size() - count;
         trace_ != nullptr && i < trace_->size(); ++i) {
        worst = std::max(worst, static_cast<double>(trace_->at(i).totalNs()) / 1e6);
    }
    return worst <= 0 ? 1 : worst < budgetMs_ / 12 ? 16 : worst < budgetMs_ / 3 ? 4 : 1;
}

void FramesInstrument::mousePressEvent(QMouseEvent* event) {
    const double index = (event->position().x() - field().left() - 8) / barWidth();
    const std::size_t count = shown();
    if (event->position().y() < field().top() || index < 0 || index >= static_cast<double>(count)) {
        choose(0);
        return;
    }
    choose(trace_->at(trace_->size() - count + static_cast<std::size_t>(index)).number);
}

void FramesInstrument::keyPressEvent(QKeyEvent* event) {
    if (trace_ == nullptr || trace_->size() == 0) {
        return;
    }
    const qint64 latest = trace_->at(trace_->size() - 1).number;
    const qint64 earliest = trace_->at(trace_->size() - shown()).number;
    switch (event->key()) {
    case Qt::Key_Left:
        choose(std::max(earliest, (chosen_ > 0 ? chosen_ : latest + 1) - 1));
        break;
    case Qt::Key_Right:
        choose(std::min(latest, (chosen_ > 0 ? chosen_ : latest - 1) + 1));
        break;
    case Qt::Key_Home:
        choose(earliest);
        break;
    case Qt::Key_End:
        choose(latest);
        break;
    case Qt::Key_Escape:
        choose(0);
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace scorrere::workbench

#include "moc_frames_instrument.cpp"
