// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/changes_instrument.h"

#include "workbench/ui/look/low_fills.h"
#include "workbench/ui/look/order_words.h"

#include <QPainter>
#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr double kBank = 7; ///< px, of a whole order at the river's banks
constexpr double kRiver = 62;
constexpr double kNames = 58; ///< beside the banks

QString ms(double value) {
    return value < 1 ? QStringLiteral("%1 ms").arg(value, 0, 'f', 2)
                     : QStringLiteral("%1 ms").arg(value, 0, 'f', 1);
}

} // namespace

QString choiceInWords(const ChangeChoice& choice) {
    const QString afresh = ms(choice.afreshMs);
    const QString inPlace = ms(choice.inPlaceMs);
    const bool isAfresh = choice.way == ChangeWay::Afresh;
    if (choice.isForced) {
        return isAfresh ? QObject::tr("started afresh, as asked: by the model %1, in place %2")
                              .arg(afresh, inPlace)
                        : QObject::tr("changed in place, as asked: by the model %1, afresh %2")
                              .arg(inPlace, afresh);
    }
    if (isAfresh) {
        return (choice.shown == 0
                    ? QObject::tr("started afresh: nothing showed")
                    : QObject::tr("started afresh: of the %1 that showed none stays beside what is read")
                          .arg(choice.shown)) +
               QObject::tr("; by the model %1, in place %2").arg(afresh, inPlace);
    }
    return QObject::
        tr("changed in place: of the %1 that showed %2 stay beside what is read; by the model %3, afresh %4")
            .arg(choice.shown)
            .arg(choice.together)
            .arg(inPlace, afresh);
}

ChangesInstrument::ChangesInstrument(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("changes"));
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    connect(&look_, &Look::changed, this, [this] {
        fit();
        drawRiver();
    });
    connect(&river_, &ThreadRiver::drawn, this, qOverload<>(&QWidget::update));
    fit();
}

/// As high as what it says is, which wraps.
void ChangesInstrument::fit() {
    double words = look_.scaled(8);
    for (const QString& line : lines()) {
        words += heightOf(line);
    }
    setFixedHeight(static_cast<int>(look_.scaled(kRiver) + words));
}

double ChangesInstrument::heightOf(const QString& line) const {
    const QRect room(0, 0, std::max(width(), 100), 1000);
    return QFontMetrics(look_.font(12)).boundingRect(room, Qt::TextWordWrap, line).height() + look_.scaled(3);
}

void ChangesInstrument::follow() {
    fit();
    if (live_ != nullptr && live_->ordersEver() != riverOf_) {
        drawRiver();
    }
    update();
}

void ChangesInstrument::resizeEvent(QResizeEvent*) {
    fit();
    drawRiver();
}

void ChangesInstrument::setCollection(const render::LiveCollection* shown) {
    live_ = shown;
    river_.clear();
    riverOf_ = 0;
    follow();
}

bool ChangesInstrument::hasAny() const {
    return live_ != nullptr && (live_->ordersEver() > 0 || live_->isOrdering());
}

QString ChangesInstrument::summary() const {
    if (!hasAny()) {
        return {};
    }
    if (live_->isOrdering()) {
        return tr("another order is on its way: %1%").arg(static_cast<int>(live_->orderDone() * 100));
    }
    const render::OrderTold& told = live_->orderTold();
    return tr("%1 shown · %2 aside · %3 in the frame")
        .arg(grouped(told.after), ms(told.rankMs + told.compareMs + told.arrangeMs), ms(told.landMs));
}

QStringList ChangesInstrument::lines() const {
    if (!hasAny() || live_->ordersEver() == 0) {
        return {};
    }
    const render::OrderTold& told = live_->orderTold();
    const QString moved = told.choice.way == ChangeWay::InPlace
                              ? tr("%1 stayed, %2 moved").arg(grouped(told.stayed), grouped(told.moved))
                              : tr("%1 are in both").arg(grouped(told.before - told.went));
    QStringList all{tr("%1, %2 came, %3 went").arg(moved, grouped(told.came), grouped(told.went)),
                    choiceInWords(told.choice),
                    tr("put in order %1, compared %2, arranged %3, landed %4 in frame %5")
                        .arg(ms(told.rankMs), ms(told.compareMs), ms(told.arrangeMs), ms(told.landMs),
                             grouped(told.frame))};
    if (live_->isComparing()) {
        all << tr("comparing the ways: each is made once more, off to the side");
    } else if (const render::OrderCosts* costs = live_->orderCosts()) {
        const QString singly =
            costs->isSinglyCut
                ? tr("given up after %1 and %2 moves").arg(ms(costs->singlyMs), grouped(costs->moves))
                : tr("%1 for %2 moves").arg(ms(costs->singlyMs), grouped(costs->moves));
        all << tr("compared: in place %1 and afresh %2, both aside; record by record on the interface thread "
                  "%3, %4 frames missed")
                   .arg(ms(costs->inPlaceMs), ms(costs->afreshMs), singly,
                        grouped(static_cast<qint64>(costs->singlyMs / budgetMs_)));
    }
    return all;
}

void ChangesInstrument::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), look_.ground);
    if (!hasAny() || live_->ordersEver() == 0) {
        return;
    }
    painter.setFont(look_.font(11));
    const double river = look_.scaled(kRiver);
    paintBanks(painter, riverBox());
    river_.paint(painter, riverBox().topLeft());
    painter.setFont(look_.font(12));
    double y = river + look_.scaled(2);
    const QStringList all = lines();
    for (int i = 0; i < all.size(); ++i) {
        painter.setPen(i == 0 ? look_.ink : look_.quiet);
        painter.drawText(QRectF(0, y, width(), heightOf(all.at(i))),
                         Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, all.at(i));
        y += heightOf(all.at(i));
    }
}

QRectF ChangesInstrument::riverBox() const {
    return {0, 2, static_cast<double>(width()), look_.scaled(kRiver) - 4};
}

/// The order before above, the one after below.
void ChangesInstrument::paintBanks(QPainter& painter, const QRectF& box) const {
    const render::OrderTold& told = live_->orderTold();
    const double left = look_.scaled(kNames);
    const double most = static_cast<double>(std::max<std::int64_t>({told.before, told.after, 1}));
    const auto bank = [&](double y, std::int64_t count, const QString& name) {
        painter.setPen(look_.quiet);
        painter.drawText(QRectF(box.left(), y - look_.scaled(5), left - 6, look_.scaled(16)),
                         Qt::AlignLeft | Qt::AlignVCenter, name);
        painter.fillRect(
            QRectF(box.left() + left, y, (box.width() - left - 2) * static_cast<double>(count) / most, kBank),
            look_.loaded);
    };
    bank(box.top() + 1, told.before, tr("before"));
    bank(box.bottom() - kBank - 1, told.after, tr("after"));
}

/// Threads of some records between the banks.
void ChangesInstrument::drawRiver() {
    if (live_ == nullptr || live_->ordersEver() == 0) {
        return;
    }
    riverOf_ = live_->ordersEver();
    const render::OrderTold& told = live_->orderTold();
    const QSizeF size = riverBox().size();
    const double left = look_.scaled(kNames);
    const double most = static_cast<double>(std::max<std::int64_t>({told.before, told.after, 1}));
    const double room = size.width() - left - 2;
    ThreadRiver::Threads threads;
    for (const auto& [before, after] : told.threads) {
        threads.emplace_back(
            QPointF(left + room * static_cast<double>(before) * static_cast<double>(told.before) / most,
                    kBank + 2),
            QPointF(left + room * static_cast<double>(after) * static_cast<double>(told.after) / most,
                    size.height() - kBank - 2));
    }
    QColor colour = look_.accent;
    colour.setAlphaF(0.4f);
    river_.draw(std::move(threads), size, Qt::Vertical, colour, devicePixelRatioF());
}

} // namespace scorrere::workbench

#include "moc_changes_instrument.cpp"
