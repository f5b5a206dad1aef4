// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>
#include <vector>

namespace scorrere::workbench {

/// What can be tabbed to inside `root`, as it is read: from above to below, what stands side by side from the
/// start of the line to its end, each thing whole before the next.
///
/// Complexity  O(n log n) in the visible widgets.
std::vector<QWidget*> inReadingOrder(const QWidget& root);

/// Tab goes through what it holds in reading order, whenever and in what order it was made.
class ReadingOrder : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;

protected:
    bool focusNextPrevChild(bool next) override;
};

} // namespace scorrere::workbench
