// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/fields_view.h"

#include "workbench/ui/source/field_card.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <algorithm>

namespace scorrere::workbench {

namespace {

/// Where the columns begin, as shares of the width.
struct Columns {
    double type, share, length, range, distinct;
};
constexpr Columns kWide{0.23, 0.405, 0.545, 0.705, 0.88};
/// Where there is no room for lengths and range, they are left to the card and the tip.
constexpr Columns kNarrow{0.34, 0.60, 0.80, 0.80, 0.80};

QString shortened(const QString& text, const QFontMetrics& metrics, double width) {
    return metrics.elidedText(text, Qt::ElideRight, static_cast<int>(width));
}

QString lengthText(const FieldProfile& profile) {
    if (profile.present == 0 || profile.type == FieldType::Boolean) {
        return QStringLiteral("–");
    }
    const QString most = grouped(profile.longest);
    return profile.shortest == profile.longest
               ? most
               : QStringLiteral("%1–%2 ⌀%3")
                     .arg(grouped(profile.shortest), most,
                          QString::number(profile.meanLength, 'f', profile.meanLength < 10 ? 1 : 0));
}

QString plainNumber(const std::string& written) {
    bool isNumber = false;
    const double value = QString::fromStdString(written).toDouble(&isNumber);
    return isNumber && std::abs(value) >= 10'000 && value == std::floor(value)
               ? grouped(static_cast<qint64>(value))
               : QString::fromStdString(written);
}

QString rangeText(const FieldProfile& profile) {
    if (profile.smallest.empty()) {
        return {};
    }
    if (profile.type == FieldType::Time) { // years, or months of one: the column is narrow
        const std::string& from = profile.smallest;
        const std::string& to = profile.largest;
        const bool sameYear = from.substr(0, 4) == to.substr(0, 4);
        return QString::fromStdString(
            sameYear ? from.substr(0, 7) + (from.substr(0, 7) == to.substr(0, 7) ? "" : "…" + to.substr(5, 2))
                     : from.substr(0, 4) + "…" + to.substr(0, 4));
    }
    return isolated(plainNumber(profile.smallest)) + QStringLiteral(" … ") +
           isolated(plainNumber(profile.largest));
}

/// Beside each other, whichever direction each has.
QString samplesText(const FieldProfile& profile, const QString& between) {
    QStringList samples;
    for (const std::string& sample : profile.samples) {
        samples << isolated(QString::fromStdString(sample).simplified());
    }
    return samples.join(between);
}

} // namespace

FieldsView::FieldsView(Look& look, QWidget* parent) : QAbstractScrollArea(parent), look_(look) {
    setObjectName(QStringLiteral("fieldsView"));
    setAccessibleName(tr("The fields of the records"));
    setFocusPolicy(Qt::StrongFocus);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(&look_, &Look::changed, this, &FieldsView::fit);
}

void FieldsView::setRows(std::vector<Row> rows, std::shared_ptr<const Examination> examination) {
    const std::string before =
        selected_ >= 0 ? rows_[static_cast<std::size_t>(selected_)].name : std::string();
    rows_ = std::move(rows);
    examination_ = std::move(examination);
    const auto same = std::ranges::find(rows_, before, &Row::name);
    selected_ = same == rows_.end() ? -1 : static_cast<int>(same - rows_.begin());
    fit();
}

int FieldsView::rowHeight() const {
    return static_cast<int>(look_.scaled(43));
}
bool FieldsView::isWide() const {
    return viewport()->width() > look_.scaled(480);
}
int FieldsView::headingHeight() const {
    return static_cast<int>(look_.scaled(22));
}

void FieldsView::fit() {
    const int shown = viewport()->height() - headingHeight();
    verticalScrollBar()->setSingleStep(rowHeight() / 2);
    verticalScrollBar()->setPageStep(shown);
    verticalScrollBar()->setRange(0, std::max(0, static_cast<int>(rows_.size()) * rowHeight() - shown));
    viewport()->update();
    Q_EMIT scrolled();
}

void FieldsView::resizeEvent(QResizeEvent*) {
    fit();
}

void FieldsView::scrollContentsBy(int, int) {
    viewport()->update();
    Q_EMIT scrolled();
}

bool FieldsView::rowMiddle(int row, double& y) const {
    y = headingHeight() + (row + 0.5) * rowHeight() - verticalScrollBar()->value();
    return y > headingHeight() && y < viewport()->height();
}

int FieldsView::rowAt(double y) const {
    const int row = static_cast<int>((y - headingHeight() + verticalScrollBar()->value()) / rowHeight());
    return y >= headingHeight() && row < static_cast<int>(rows_.size()) ? row : -1;
}

void FieldsView::select(int row) {
    if (row == selected_ || row >= static_cast<int>(rows_.size())) {
        return;
    }
    selected_ = row;
    if (row >= 0) {
        const int top = row * rowHeight();
        const int page = verticalScrollBar()->pageStep();
        verticalScrollBar()->setValue(std::clamp(verticalScrollBar()->value(), top + rowHeight() - page,
                                                 std::max(top, top + rowHeight() - page)));
    }
    viewport()->update();
    Q_EMIT selectionChanged(row);
}

void FieldsView::paintEvent(QPaintEvent*) {
    QPainter painter(viewport());
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(viewport()->rect(), look_.ground);
    if (rows_.empty()) {
        painter.setPen(look_.quiet);
        painter.setFont(look_.font(13));
        painter.drawText(viewport()->rect().adjusted(12, 12, -12, -12), Qt::AlignTop | Qt::TextWordWrap,
                         tr("The fields stand here as soon as there are records."));
        return;
    }
    painter.setClipRect(0, headingHeight(), viewport()->width(), viewport()->height());
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const double y =
            headingHeight() + static_cast<double>(i) * rowHeight() - verticalScrollBar()->value();
        if (y + rowHeight() < 0 || y > viewport()->height()) {
            continue;
        }
        if (static_cast<int>(i) == selected_) {
            QColor tint = look_.accent;
            tint.setAlphaF(hasFocus() ? 0.16f : 0.09f);
            painter.fillRect(QRectF(0, y, viewport()->width(), rowHeight()), tint);
        }
        paintRow(painter, rows_[i], y);
    }
    painter.setClipping(false);
    paintHeading(painter);
    if (hasFocus()) {
        paintFocus(painter, viewport()->rect(), look_);
    }
}

QString FieldsView::columnInWords(int column) const {
    const QStringList names{tr("field"),  tr("type"),     tr("present"),
                            tr("length"), tr("distinct"), tr("samples")};
    return names.value(column);
}

QString FieldsView::cellInWords(int row, int column) const {
    const Row& found = rows_[static_cast<std::size_t>(row)];
    const FieldProfile* profile = found.profile;
    switch (column) {
    case 0: {
        QString name = QString::fromStdString(found.title.empty() ? found.name : found.title);
        name += found.isKey ? tr(", the key") : QString();
        return name + (found.isLeftOut ? tr(", left out") : QString());
    }
    case 1: {
        const std::string_view type = typeName(found.type);
        return QString::fromUtf8(type.data(), static_cast<qsizetype>(type.size())) + QStringLiteral(", ") +
               QString::fromStdString(found.why);
    }
    case 2:
        return profile == nullptr ? QString()
                                  : tr("%1 of %2").arg(grouped(profile->present), grouped(profile->records));
    case 3:
        return profile == nullptr ? QString() : tr("%1 to %2").arg(profile->shortest).arg(profile->longest);
    case 4:
        return profile == nullptr ? QString() : grouped(profile->distinct);
    default:
        return profile == nullptr ? QString() : samplesText(*profile, QStringLiteral(", "));
    }
}

QRect FieldsView::placeOfRow(int row) const {
    const QRect at(0, headingHeight() + row * rowHeight() - verticalScrollBar()->value(), viewport()->width(),
                   rowHeight());
    return at.intersects(viewport()->rect()) ? at : QRect();
}

void FieldsView::paintHeading(QPainter& painter) {
    const double width = viewport()->width();
    const bool wide = isWide();
    const Columns& columns = wide ? kWide : kNarrow;
    painter.setFont(look_.font(11));
    painter.setPen(look_.quiet);
    const auto head = [&](double from, double until, const QString& text) {
        painter.drawText(QRectF(width * from + 8, 0, width * (until - from) - 10, headingHeight()),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         shortened(text, painter.fontMetrics(), width * (until - from) - 10));
    };
    head(0, columns.type, tr("field"));
    head(columns.type, columns.share, tr("type"));
    head(columns.share, columns.length, tr("present"));
    if (wide) {
        head(columns.length, columns.range, tr("length, ⌀ mean"));
        head(columns.range, columns.distinct, tr("from … to"));
    }
    head(columns.distinct, 1, tr("distinct"));
    painter.setPen(look_.edge);
    painter.drawLine(QPointF(0, headingHeight() - 0.5), QPointF(width, headingHeight() - 0.5));
}

void FieldsView::paintRow(QPainter& painter, const Row& row, double y) {
    const double width = viewport()->width();
    const bool wide = isWide();
    const Columns& columns = wide ? kWide : kNarrow;
    const double line = look_.scaled(20);
    const double top = y + look_.scaled(3);
    const QColor ink = row.isLeftOut ? look_.quiet : look_.ink;
    const auto cell = [&](double from, double until, const QString& text) {
        painter.drawText(QRectF(width * from + 8, top, width * (until - from) - 10, line),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         shortened(text, painter.fontMetrics(), width * (until - from) - 10));
    };
    QFont name = look_.font(13.5, 650);
    name.setStrikeOut(row.isLeftOut);
    painter.setFont(name);
    painter.setPen(ink);
    const double shift = row.isKey ? look_.scaled(36) : 0;
    if (row.isKey) {
        const QRectF mark(6, top + look_.scaled(3), look_.scaled(32), line - look_.scaled(5));
        painter.setPen(Qt::NoPen);
        painter.setBrush(look_.accent);
        painter.drawRoundedRect(mark, mark.height() / 2, mark.height() / 2);
        painter.setFont(look_.font(11, 650));
        painter.setPen(look_.onAccent);
        painter.drawText(mark, Qt::AlignCenter, tr("key"));
        painter.setFont(name);
        painter.setPen(ink);
    }
    painter.drawText(QRectF(8 + shift, top, width * columns.type - 12 - shift, line),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     shortened(QString::fromStdString(row.title.empty() ? row.name : row.title),
                               painter.fontMetrics(), width * columns.type - 12 - shift));
    painter.setFont(look_.font(12.5, row.isChosen ? 650 : 400));
    painter.setPen(row.isLeftOut ? look_.quiet : row.isChosen ? look_.accent : look_.ink);
    const std::string_view type = typeName(row.type);
    cell(columns.type, columns.share,
         row.isLeftOut ? tr("left out")
                       : QString::fromUtf8(type.data(), static_cast<qsizetype>(type.size())));
    painter.setFont(look_.font(12));
    if (row.profile != nullptr) {
        const FieldProfile& profile = *row.profile;
        // The share present: a filled strip with its number; missing stays hatched.
        const QRectF strip(width * columns.share + 8, top + line * 0.5 - look_.scaled(3), width * 0.045,
                           look_.scaled(6));
        painter.fillRect(strip, QBrush(look_.hatch, Qt::BDiagPattern));
        painter.fillRect(QRectF(strip.topLeft(), QSizeF(strip.width() * profile.share(), strip.height())),
                         look_.loaded);
        painter.setPen(look_.ink);
        const double share = profile.share() * 100;
        const QString percent =
            profile.present == profile.records ? tr("all")
            : share < 0.1 && profile.present > 0
                ? tr("<0.1%")
                : QStringLiteral("%1%").arg(std::min(share, 99.9), 0, 'f', share < 10 || share > 99 ? 1 : 0);
        painter.drawText(QRectF(strip.right() + 5, top, width * (columns.length - columns.share), line),
                         Qt::AlignLeft | Qt::AlignVCenter, percent);
        if (wide) {
            cell(columns.length, columns.range, lengthText(profile));
            cell(columns.range, columns.distinct, rangeText(profile));
        }
        cell(columns.distinct, 1, grouped(profile.distinct));
    }
    // Below: why this type, and what values look like.
    QString below = QString::fromStdString(row.why);
    const QString samples =
        row.profile == nullptr ? QString() : samplesText(*row.profile, QStringLiteral("  ·  "));
    const double second = top + line - look_.scaled(1);
    painter.setFont(look_.font(11.5));
    painter.setPen(look_.quiet);
    const double whyWidth = width * columns.share - 12;
    painter.drawText(QRectF(8, second, whyWidth, line - 2), Qt::AlignLeft | Qt::AlignVCenter,
                     shortened(below, painter.fontMetrics(), whyWidth));
    painter.setPen(look_.ink);
    painter.drawText(QRectF(width * columns.share + 8, second, width * (1 - columns.share) - 14, line - 2),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     shortened(samples, painter.fontMetrics(), width * (1 - columns.share) - 14));
    painter.setPen(look_.edge);
    painter.drawLine(QPointF(0, y + rowHeight() - 0.5), QPointF(width, y + rowHeight() - 0.5));
}

void FieldsView::openCard(int row) {
    const Row& found = rows_[static_cast<std::size_t>(row)];
    auto* card = new FieldCard(look_, found, this);
    connect(card, &FieldCard::typeChosen, this,
            [this, row](FieldType type) { Q_EMIT typeWanted(row, type); });
    connect(card, &FieldCard::localeChosen, this,
            [this, row](const QString& locale) { Q_EMIT localeWanted(row, locale); });
    connect(card, &FieldCard::titleChosen, this,
            [this, row](const QString& title) { Q_EMIT titleWanted(row, title); });
    connect(card, &FieldCard::leftOutChosen, this, [this, row](bool out) { Q_EMIT leftOutWanted(row, out); });
    connect(card, &FieldCard::keyChosen, this,
            [this, row](bool together) { Q_EMIT keyWanted(row, together); });
    double y = 0;
    rowMiddle(row, y);
    card->openAt(viewport()->mapToGlobal(
        QPoint(static_cast<int>(look_.scaled(20)), static_cast<int>(y) + rowHeight() / 2)));
}

void FieldsView::keyPressEvent(QKeyEvent* event) {
    const int last = static_cast<int>(rows_.size()) - 1;
    const bool on = selected_ >= 0 && event->modifiers() <= Qt::ShiftModifier;
    switch (event->key()) {
    case Qt::Key_Up:
        return select(std::clamp(selected_ - 1, 0, last));
    case Qt::Key_Down:
        return select(std::clamp(selected_ + 1, 0, last));
    case Qt::Key_Home:
        return select(std::min(0, last));
    case Qt::Key_End:
        return select(last);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (on && event->modifiers() == Qt::NoModifier) {
            return openCard(selected_);
        }
        break;
    case Qt::Key_K:
        if (on) {
            Q_EMIT keyWanted(selected_, event->modifiers() == Qt::ShiftModifier);
            return;
        }
        break;
    case Qt::Key_X:
        if (on) {
            Q_EMIT leftOutWanted(selected_, !rows_[static_cast<std::size_t>(selected_)].isLeftOut);
            return;
        }
        break;
    default:
        break;
    }
    QAbstractScrollArea::keyPressEvent(event);
}

void FieldsView::mousePressEvent(QMouseEvent* event) {
    const int row = rowAt(event->position().y());
    if (row >= 0 && row == selected_) {
        openCard(row);
    } else if (row >= 0) {
        select(row);
    }
}

void FieldsView::mouseDoubleClickEvent(QMouseEvent*) {}

bool FieldsView::viewportEvent(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const int row = rowAt(help->pos().y());
        if (row >= 0) {
            const Row& found = rows_[static_cast<std::size_t>(row)];
            QString text = QString::fromStdString(found.name + ": " + std::string(typeName(found.type)) +
                                                  "\n" + found.why);
            if (found.profile != nullptr) {
                text += tr("\nlength %1\n%2").arg(lengthText(*found.profile), rangeText(*found.profile));
                text += tr("\n%1 of %2 records have it; %3 distinct values")
                            .arg(grouped(found.profile->present), grouped(found.profile->records),
                                 grouped(found.profile->distinct));
            }
            QToolTip::showText(help->globalPos(), text, this);
        }
        return true;
    }
    return QAbstractScrollArea::viewportEvent(event);
}

} // namespace scorrere::workbench

#include "moc_fields_view.cpp"
