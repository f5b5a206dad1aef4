// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/requests_instrument.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace scorrere::workbench {

namespace {

QString words(const std::string& text) {
    return QString::fromStdString(text);
}

QString pageWords(const RequestRecord& record) {
    return QObject::tr("page %1").arg(grouped(record.page + 1));
}

QString tookWords(const RequestRecord& record) {
    if (record.putOff != PutOff::No) {
        return {};
    }
    return record.endedMs < 0 ? QObject::tr("…") : QObject::tr("%1 ms").arg(record.endedMs - record.askedMs);
}

} // namespace

RequestsInstrument::RequestsInstrument(Look& look, const FramesInstrument& frames, QWidget* parent)
    : QWidget(parent), look_(look), frames_(frames) {
    setObjectName(QStringLiteral("requests"));
    setAccessibleName(tr("Requests"));
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(106);
    connect(&look_, &Look::changed, this, qOverload<>(&QWidget::update));
}

void RequestsInstrument::setCollection(render::LiveCollection* live) {
    live_ = live != nullptr && live->paged() != nullptr ? live : nullptr;
    chosen_ = 0;
    update();
}

const Pager* RequestsInstrument::pager() const {
    return live_ == nullptr ? nullptr : &live_->paged()->pager();
}

QString RequestsInstrument::summary() const {
    const Pager* known = pager();
    if (known == nullptr) {
        return {};
    }
    QStringList parts;
    parts << tr("%1 made").arg(grouped(known->log().requestsEver()));
    parts << tr("%1 in flight").arg(known->inFlight().size());
    if (known->generation() > 1) {
        parts << tr("generation %1").arg(known->generation());
    }
    if (known->isOffline()) {
        parts << tr("offline");
    }
    if (known->isFromDisk()) {
        parts << tr("as last seen");
    }
    using render::StreamState;
    const StreamState live = live_->paged()->streamState();
    if (live != StreamState::Off) {
        parts << (live == StreamState::On           ? tr("live")
                  : live == StreamState::Connecting ? tr("live: connecting")
                                                    : tr("live: cut, trying again"));
    }
    if (!known->findings().empty()) {
        parts << words(known->findings().back().text);
    }
    return parts.join(QStringLiteral(" · "));
}

QStringList RequestsInstrument::row(int index) const {
    const Pager* known = pager();
    if (known == nullptr || index < 0 || index >= static_cast<int>(known->log().entries().size())) {
        return {};
    }
    const auto& entries = known->log().entries();
    const RequestRecord& record = entries[entries.size() - 1 - static_cast<std::size_t>(index)];
    return {pageWords(record), words(reasonText(record)), tookWords(record),
            record.putOff == PutOff::No ? words(outcomeText(record)) : tr("held back")};
}

int RequestsInstrument::rowsInWords() const {
    return pager() == nullptr ? 0 : static_cast<int>(pager()->log().entries().size());
}

QString RequestsInstrument::columnInWords(int column) const {
    const QStringList names{tr("page"), tr("why"), tr("took"), tr("what came of it")};
    return names.value(column);
}

int RequestsInstrument::rowChosen() const {
    if (pager() == nullptr || chosen_ <= 0) {
        return -1;
    }
    const auto& entries = pager()->log().entries();
    const auto found = std::ranges::find(entries, chosen_, &RequestRecord::number);
    return found == entries.end() ? -1 : static_cast<int>(entries.end() - found) - 1;
}

QRect RequestsInstrument::placeOfRow(int at) const {
    const QRectF place(0, track().bottom() + look_.scaled(4) + at * rowHeight(), width(), rowHeight());
    return place.bottom() <= height() ? place.toRect() : QRect();
}

void RequestsInstrument::choose(qint64 number) {
    chosen_ = number;
    update();
}

QRectF RequestsInstrument::track() const {
    return {0, 0, static_cast<double>(width()), look_.scaled(40)};
}

QColor RequestsInstrument::colourOf(const RequestRecord& record) const {
    switch (record.outcome) {
    case AskOutcome::Failed:
        return look_.bad;
    case AskOutcome::Came:
        return look_.loaded;
    case AskOutcome::InFlight:
        return look_.accent;
    default:
        return look_.quiet;
    }
}

void RequestsInstrument::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), look_.ground);
    const Pager* known = pager();
    if (known == nullptr) {
        return;
    }
    paintTrack(painter, track());
    const auto& entries = known->log().entries();
    QRectF at(0, track().bottom() + look_.scaled(4), width(), rowHeight());
    const auto rows = static_cast<std::ptrdiff_t>(std::max((height() - at.top()) / rowHeight(), 0.0));
    const auto newest = entries.rbegin();
    const auto last = newest + std::min(rows, std::ssize(entries));
    double pageWidth = look_.scaled(54);
    const QFontMetricsF bold(look_.font(11.5, 600));
    std::for_each(newest, last, [&](const RequestRecord& entry) {
        pageWidth = std::max(pageWidth, bold.horizontalAdvance(pageWords(entry)));
    });
    std::for_each(newest, last, [&](const RequestRecord& entry) {
        paintRow(painter, entry, at, pageWidth);
        at.translate(0, rowHeight());
    });
    if (entries.empty()) {
        painter.setPen(look_.quiet);
        painter.drawText(at, Qt::AlignVCenter, tr("Nothing was asked for yet."));
    }
    if (hasFocus()) {
        painter.setPen(QPen(look_.accent, 1.5));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
    }
}

/// Waiting is hollow, transfer is filled; what was held back is a tick. Bars that overlap in time stand in
/// rows of their own.
void RequestsInstrument::paintTrack(QPainter& painter, const QRectF& box) const {
    painter.setPen(look_.edge);
    painter.setBrush(look_.card);
    painter.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5));
    constexpr int kRows = 4;
    const double high = (box.height() - 8) / kRows;
    std::array<double, kRows> busyUntil{};
    busyUntil.fill(-1e9);
    for (const RequestRecord& record : pager()->log().entries()) {
        const double from = frames_.xOf(record.askedMs * 1000);
        const double until = record.endedMs < 0 ? frames_.xOf(INT64_MAX) : frames_.xOf(record.endedMs * 1000);
        if (until <= frames_.xOf(0) && record.endedMs >= 0) {
            continue; // before the frames that are shown
        }
        int row = 0;
        while (row + 1 < kRows && busyUntil[static_cast<std::size_t>(row)] > from) {
            ++row;
        }
        const double y = box.top() + 4 + row * high;
        const QColor colour = colourOf(record);
        if (record.putOff != PutOff::No) {
            painter.setPen(QPen(colour, 1.4));
            painter.drawLine(QPointF(from, box.bottom() - 7), QPointF(from, box.bottom() - 2));
            continue;
        }
        const double right = std::max(until, from + 4);
        busyUntil[static_cast<std::size_t>(row)] = right + 1;
        const QRectF bar(from, y, right - from, high - 2);
        painter.setPen(
            QPen(record.number == chosen_ ? look_.accent : colour, record.number == chosen_ ? 2.4 : 1.2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(bar, 2, 2);
        if (record.outcome == AskOutcome::Failed) {
            painter.drawLine(bar.topLeft(), bar.bottomRight());
        } else if (record.outcome == AskOutcome::Came) {
            const double share =
                record.times.transfer / std::max(record.times.wait + record.times.transfer, 0.1);
            painter.fillRect(bar.adjusted(bar.width() * (1 - std::clamp(share, 0.15, 1.0)), 0, 0, 0), colour);
        }
    }
}

void RequestsInstrument::paintRow(QPainter& painter, const RequestRecord& record, const QRectF& at,
                                  double pageWidth) const {
    if (record.number == chosen_) {
        painter.fillRect(at, look_.card);
        painter.setPen(look_.accent);
        painter.drawLine(at.topLeft(), at.bottomLeft());
    }
    const bool wasAsked = record.putOff == PutOff::No;
    const double page = pageWidth + look_.scaled(12);
    const double took = look_.scaled(64);
    const double rest = at.width() - page - took - 8;
    painter.setFont(look_.font(11.5, wasAsked ? 600 : 400));
    painter.setPen(wasAsked ? look_.ink : look_.quiet);
    const auto put = [&](const QRectF& box, const QString& text, Qt::Alignment side) {
        painter.drawText(
            box, static_cast<int>(side | Qt::AlignVCenter),
            painter.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(box.width())));
    };
    put({at.left() + 4, at.top(), page - 4, at.height()}, pageWords(record), Qt::AlignLeft);
    painter.setFont(look_.font(11.5));
    painter.setPen(look_.quiet);
    put({at.left() + page, at.top(), rest * 0.5, at.height()}, words(reasonText(record)), Qt::AlignLeft);
    painter.setPen(wasAsked ? colourOf(record) == look_.quiet ? look_.quiet : look_.ink : look_.quiet);
    put({at.left() + page + rest * 0.5, at.top(), took, at.height()}, tookWords(record), Qt::AlignRight);
    painter.setPen(record.outcome == AskOutcome::Failed ? look_.bad : wasAsked ? look_.ink : look_.quiet);
    put({at.left() + page + rest * 0.5 + took + 8, at.top(), rest * 0.5, at.height()},
        wasAsked ? words(outcomeText(record)) : tr("held back"), Qt::AlignLeft);
}

void RequestsInstrument::mousePressEvent(QMouseEvent* event) {
    const Pager* known = pager();
    const double y = event->position().y() - track().bottom() - look_.scaled(4);
    if (known == nullptr || y < 0) {
        return choose(0);
    }
    const auto& entries = known->log().entries();
    const auto index = static_cast<std::size_t>(y / rowHeight());
    choose(index < entries.size() ? entries[entries.size() - 1 - index].number : 0);
}

void RequestsInstrument::keyPressEvent(QKeyEvent* event) {
    const Pager* known = pager();
    if (known == nullptr || known->log().entries().empty()) {
        return QWidget::keyPressEvent(event);
    }
    const auto& entries = known->log().entries();
    const qint64 newest = entries.back().number;
    const qint64 oldest = entries.front().number;
    if (event->key() == Qt::Key_Down) {
        choose(chosen_ == 0 ? newest : std::max(oldest, chosen_ - 1));
    } else if (event->key() == Qt::Key_Up) {
        choose(chosen_ == 0 ? newest : std::min(newest, chosen_ + 1));
    } else if (event->key() == Qt::Key_Escape && chosen_ != 0) {
        choose(0);
    } else {
        QWidget::keyPressEvent(event);
    }
}

} // namespace scorrere::workbench

#include "moc_requests_instrument.cpp"
