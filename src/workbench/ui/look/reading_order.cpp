// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/reading_order.h"

#include <QApplication>
#include <algorithm>

namespace scorrere::workbench {

namespace {

/// Children in lines: a line goes on while the next begins above the middle of what stands in it.
std::vector<QWidget*> childrenInLines(const QWidget& parent) {
    std::vector<QWidget*> children;
    for (QObject* child : parent.children()) {
        auto* widget = qobject_cast<QWidget*>(child);
        if (widget != nullptr && widget->isVisible() && !widget->isWindow()) {
            children.push_back(widget);
        }
    }
    std::ranges::stable_sort(children, {}, [](const QWidget* w) { return w->y(); });
    const bool mirrored = parent.isRightToLeft();
    for (auto line = children.begin(); line != children.end();) {
        const int middle = (*line)->y() + (*line)->height() / 2;
        const auto end =
            std::find_if(line, children.end(), [middle](const QWidget* w) { return w->y() > middle; });
        std::stable_sort(line, end, [mirrored](const QWidget* a, const QWidget* b) {
            return mirrored ? a->geometry().right() > b->geometry().right() : a->x() < b->x();
        });
        line = end;
    }
    return children;
}

void collect(const QWidget& parent, std::vector<QWidget*>& found) {
    for (QWidget* child : childrenInLines(parent)) {
        const bool takes = (child->focusPolicy() & Qt::TabFocus) != 0 && child->isEnabled() &&
                           child->focusProxy() == nullptr;
        if (takes) {
            found.push_back(child);
        }
        collect(*child, found);
    }
}

} // namespace

std::vector<QWidget*> inReadingOrder(const QWidget& root) {
    std::vector<QWidget*> found;
    collect(root, found);
    return found;
}

bool ReadingOrder::focusNextPrevChild(bool next) {
    const std::vector<QWidget*> all = inReadingOrder(*this);
    if (all.empty()) {
        return false;
    }
    const auto here = std::ranges::find(all, QApplication::focusWidget());
    const auto count = static_cast<std::ptrdiff_t>(all.size());
    const std::ptrdiff_t at = here == all.end() ? (next ? -1 : 0) : here - all.begin();
    all[static_cast<std::size_t>((at + (next ? 1 : count - 1)) % count)]->setFocus(
        next ? Qt::TabFocusReason : Qt::BacktabFocusReason);
    return true;
}

} // namespace scorrere::workbench

#include "moc_reading_order.cpp"
