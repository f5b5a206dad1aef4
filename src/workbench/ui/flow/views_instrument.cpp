// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/views_instrument.h"
#include "workbench/ui/look/low_fills.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

namespace {
constexpr double kSpace = 8;  ///< between tiles
constexpr int kNumberGap = 6; ///< in a tile, beside its number
constexpr int kLaterMs = 34;  ///< in other room it is painted so much later
} // namespace

ViewsInstrument::ViewsInstrument(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("itemViews"));
    setAccessibleName(tr("Item views"));
    setMinimumHeight(110);
    connect(&look_, &Look::changed, this, &ViewsInstrument::follow);
    later_.setSingleShot(true);
    later_.setInterval(kLaterMs);
    connect(&later_, &QTimer::timeout, this, &ViewsInstrument::follow);
}

void ViewsInstrument::follow() {
    isDue_ = true;
    update();
}

void ViewsInstrument::setCollection(render::LiveCollection* live) {
    live_ = live;
    follow();
}

QString ViewsInstrument::summary() const {
    if (live_ == nullptr) {
        return {};
    }
    const Recycler& recycler = live_->run().recycler();
    const auto showing = std::ranges::count_if(live_->run().placements(), &Placement::showing);
    return tr("%1 built · %2 showing · %3 ready · %4 in the pool · %5 if none were recycled")
        .arg(recycler.views().size())
        .arg(showing)
        .arg(static_cast<qint64>(live_->run().placements().size()) - showing)
        .arg(recycler.pooled())
        .arg(grouped(live_->run().arrangement().recordCount()));
}

ViewsInstrument::Grid ViewsInstrument::gridFor(int tiles, const QRectF& room) const {
    // The largest tiles that all fit; the smallest where none do.
    static constexpr struct {
        double width, height;
        Detail detail;
    } kSizes[] = {{150, 74, Detail::Fills},
                  {116, 56, Detail::History},
                  {98, 40, Detail::Item},
                  {72, 23, Detail::Number}};
    Grid grid;
    for (const auto& size : kSizes) {
        grid.detail = size.detail;
        grid.columns =
            std::max(1, static_cast<int>((room.width() + kSpace) / (look_.scaled(size.width) + kSpace)));
        grid.width = (room.width() + kSpace) / grid.columns - kSpace;
        grid.height = look_.scaled(size.height);
        const int rows = (tiles + grid.columns - 1) / grid.columns;
        if (rows * (grid.height + kSpace) - kSpace <= room.height()) {
            break;
        }
    }
    return grid;
}

void ViewsInstrument::paintEvent(QPaintEvent*) {
    const double dpr = devicePixelRatioF();
    const QSize wanted = (QSizeF(size()) * dpr).toSize();
    if (isDue_ || kept_.isNull()) {
        if (kept_.size() != wanted) {
            kept_ = QPixmap(wanted);
        }
        kept_.setDevicePixelRatio(dpr);
        QPainter all(&kept_);
        paintAll(all);
        isDue_ = false;
    } else if (kept_.size() != wanted) {
        later_.start();
    }
    QPainter painter(this);
    painter.fillRect(rect(), look_.ground);
    painter.drawPixmap(0, 0, kept_);
}

void ViewsInstrument::paintAll(QPainter& painter) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), look_.ground);
    if (live_ == nullptr) {
        return;
    }
    const Type type{look_.font(11.5, 700), look_.font(11, 600), look_.font(11), look_.font(10)};
    const int tiles = static_cast<int>(live_->run().recycler().views().size());
    const QRectF room(rect());
    const Grid grid = gridFor(tiles, room);
    for (int i = 0; i < tiles; ++i) {
        const int row = i / grid.columns;
        const QRectF at(room.left() + (i % grid.columns) * (grid.width + kSpace),
                        room.top() + row * (grid.height + kSpace), grid.width, grid.height);
        const bool lastRow = at.bottom() + kSpace + grid.height > room.bottom() + 1;
        if (lastRow && i + grid.columns < tiles && i % grid.columns == 0) {
            painter.setPen(look_.quiet);
            painter.drawText(QRectF(0, at.top(), width(), look_.scaled(20)), Qt::AlignLeft | Qt::AlignVCenter,
                             tr("and %1 more").arg(tiles - i));
            break;
        }
        paintTile(painter, i, at, grid.detail, type);
    }
}

void ViewsInstrument::paintTile(QPainter& painter, int id, const QRectF& at, Detail detail,
                                const Type& type) {
    const Recycler::View& view = live_->run().recycler().view(ViewId{id});
    const auto& histories = live_->run().trace().views();
    const ViewHistory history = static_cast<std::size_t>(id) < histories.size()
                                    ? histories[static_cast<std::size_t>(id)]
                                    : ViewHistory{};
    const auto& placements = live_->run().placements();
    const auto placed = std::ranges::find(placements, ViewId{id}, &Placement::view);
    const bool waits = view.position < 0 || placed == placements.end();
    const bool shows = !waits && placed->showing;
    QColor colour = look_.ofView(id);
    painter.setOpacity(waits ? 0.55 : 1);
    painter.setPen(QPen(colour, shows ? 1.6 : 1.2, waits ? Qt::DashLine : Qt::SolidLine));
    painter.setBrush(waits ? look_.ground : look_.card);
    drawLowBox(painter, at.adjusted(1, 1, -1, -1), 5);
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    drawLowBox(painter, QRectF(at.left() + 1, at.top() + 1, 6, at.height() - 2), 3);

    const QRectF inner = at.adjusted(13, look_.scaled(detail == Detail::Fills ? 5 : 2), -8, -4);
    const double line = look_.scaled(16);
    const auto put = [&](int row, Qt::Alignment side, const QString& text) {
        const QRectF box(inner.left(), inner.top() + row * line, inner.width(), line);
        painter.drawText(box, static_cast<int>(side | Qt::AlignVCenter) | Qt::TextSingleLine, text);
    };
    painter.setFont(type.name);
    painter.setPen(look_.ink);
    put(0, Qt::AlignLeft, detail <= Detail::Item ? QString::number(id + 1) : tr("view %1").arg(id + 1));
    painter.setFont(type.state);
    painter.setPen(shows ? look_.loaded : waits ? look_.quiet : look_.accent);
    if (detail == Detail::Number) {
        const int beside = static_cast<int>(inner.width()) -
                           painter.fontMetrics().horizontalAdvance(QString::number(id + 1)) - kNumberGap;
        put(0, Qt::AlignRight,
            painter.fontMetrics().elidedText(waits ? tr("pool") : live_->nameAt(view.position),
                                             Qt::ElideRight, beside));
        painter.setOpacity(1);
        return;
    }
    put(0, Qt::AlignRight, shows ? tr("showing") : waits ? tr("pool") : tr("ready"));
    painter.setPen(look_.ink);
    painter.setFont(type.item);
    const QString item = waits ? tr("waiting")
                               : live_->nameAt(view.position) + QStringLiteral("  ") +
                                     (live_->view(ViewId{id}).isSkeleton() ? tr("not here yet")
                                                                           : live_->view(ViewId{id}).title());
    const auto cut = [&](const QString& text) {
        return painter.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(inner.width()));
    };
    put(1, Qt::AlignLeft, cut(item));
    if (detail != Detail::Item) {
        painter.setPen(look_.quiet);
        painter.setFont(type.history);
        put(2, Qt::AlignLeft,
            cut(detail == Detail::Fills ? tr("%1 carried · built in %2")
                                              .arg(grouped(history.carried), grouped(history.builtInFrame))
                                        : tr("%1 carried").arg(grouped(history.carried))));
    }
    if (detail == Detail::Fills) {
        // The latest fills, as they cost.
        const double floor = at.bottom() - 6;
        const double high = at.bottom() - (inner.top() + 3 * line) - 6;
        std::int32_t most = 200;
        for (const std::int32_t us : history.recentFillUs) {
            most = std::max(most, us);
        }
        colour.setAlphaF(0.55f);
        const std::int64_t count = std::min<std::int64_t>(history.carried, ViewHistory::kRecent);
        const double step = inner.width() / static_cast<double>(ViewHistory::kRecent);
        for (std::int64_t i = 0; i < count; ++i) {
            const auto index = static_cast<std::size_t>(history.carried - count + i) % ViewHistory::kRecent;
            const double bar = std::max(1.0, high * history.recentFillUs[index] / most);
            painter.fillRect(
                QRectF(inner.left() + static_cast<double>(i) * step, floor - bar, step - 1.5, bar), colour);
        }
    }
    painter.setOpacity(1);
}

} // namespace scorrere::workbench

#include "moc_views_instrument.cpp"
