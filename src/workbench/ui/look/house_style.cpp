// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/house_style.h"

#include <QPainter>
#include <QStyleOptionSlider>

namespace scorrere::workbench {

namespace {

constexpr int kBar = 11;        ///< px across a scroll bar
constexpr int kLeastThumb = 32; ///< px along its thumb

/// Where the thumb stands: the whole bar is its groove, from end to end.
QRect thumbOf(const QStyleOptionSlider& bar) {
    const bool across = bar.orientation == Qt::Horizontal;
    const int length = across ? bar.rect.width() : bar.rect.height();
    const qint64 range = qint64{bar.maximum} - bar.minimum;
    const qint64 whole = range + bar.pageStep;
    const int thumb =
        range <= 0 ? length
                   : std::clamp(static_cast<int>(qint64{length} * bar.pageStep / std::max<qint64>(whole, 1)),
                                std::min(kLeastThumb, length), length);
    const int at = QStyle::sliderPositionFromValue(bar.minimum, bar.maximum, bar.sliderPosition,
                                                   length - thumb, bar.upsideDown);
    return across ? QRect(bar.rect.left() + at, bar.rect.top(), thumb, bar.rect.height())
                  : QRect(bar.rect.left(), bar.rect.top() + at, bar.rect.width(), thumb);
}

} // namespace

HouseStyle::HouseStyle() : QProxyStyle(QStringLiteral("Fusion")) {}

int HouseStyle::pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const {
    switch (metric) {
    case PM_ScrollBarExtent:
        return kBar;
    case PM_ScrollBarSliderMin:
        return kLeastThumb;
    case PM_ScrollView_ScrollBarSpacing:
        return 0;
    default:
        return QProxyStyle::pixelMetric(metric, option, widget);
    }
}

QRect HouseStyle::subControlRect(ComplexControl control, const QStyleOptionComplex* option, SubControl sub,
                                 const QWidget* widget) const {
    const auto* bar = qstyleoption_cast<const QStyleOptionSlider*>(option);
    if (control != CC_ScrollBar || bar == nullptr) {
        return QProxyStyle::subControlRect(control, option, sub, widget);
    }
    const QRect thumb = thumbOf(*bar);
    const QRect all = bar->rect;
    const bool across = bar->orientation == Qt::Horizontal;
    switch (sub) {
    case SC_ScrollBarGroove:
        return all;
    case SC_ScrollBarSlider:
        return thumb;
    case SC_ScrollBarSubPage:
        return across ? QRect(all.left(), all.top(), thumb.left() - all.left(), all.height())
                      : QRect(all.left(), all.top(), all.width(), thumb.top() - all.top());
    case SC_ScrollBarAddPage:
        return across ? QRect(thumb.right() + 1, all.top(), all.right() - thumb.right(), all.height())
                      : QRect(all.left(), thumb.bottom() + 1, all.width(), all.bottom() - thumb.bottom());
    default:
        return {}; // no arrows
    }
}

void HouseStyle::drawComplexControl(ComplexControl control, const QStyleOptionComplex* option,
                                    QPainter* painter, const QWidget* widget) const {
    const auto* bar = qstyleoption_cast<const QStyleOptionSlider*>(option);
    if (control != CC_ScrollBar || bar == nullptr) {
        return QProxyStyle::drawComplexControl(control, option, painter, widget);
    }
    painter->fillRect(bar->rect, bar->palette.window());
    if (bar->maximum <= bar->minimum) {
        return;
    }
    const bool meant = bar->state.testFlag(State_MouseOver) || bar->activeSubControls != SC_None;
    QColor colour = bar->palette.color(QPalette::WindowText);
    colour.setAlphaF(meant ? 0.55F : 0.28F);
    const QRectF thumb = QRectF(thumbOf(*bar)).adjusted(2.5, 2.5, -2.5, -2.5);
    const double round = std::min(thumb.width(), thumb.height()) / 2;
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    painter->setPen(Qt::NoPen);
    painter->setBrush(colour);
    painter->drawRoundedRect(thumb, round, round);
    painter->restore();
}

void HouseStyle::drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter,
                               const QWidget* widget) const {
    if (element != PE_FrameFocusRect) {
        return QProxyStyle::drawPrimitive(element, option, painter, widget);
    }
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    painter->setPen(QPen(option->palette.highlight(), 2));
    painter->setBrush(Qt::NoBrush);
    painter->drawRoundedRect(QRectF(option->rect).adjusted(1, 1, -1, -1), 4, 4);
    painter->restore();
}

} // namespace scorrere::workbench

#include "moc_house_style.cpp"
