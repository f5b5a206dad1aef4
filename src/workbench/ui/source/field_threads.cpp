// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/field_threads.h"

#include "workbench/ui/source/answer_tree.h"
#include "workbench/ui/source/fields_view.h"

#include <QPainter>
#include <QPainterPath>

namespace scorrere::workbench {

FieldThreads::FieldThreads(Look& look, AnswerTree& tree, FieldsView& fields, QWidget* parent)
    : QWidget(parent), look_(look), tree_(tree), fields_(fields) {
    setObjectName(QStringLiteral("fieldThreads"));
    for (const auto signal : {&AnswerTree::scrolled}) {
        connect(&tree_, signal, this, qOverload<>(&QWidget::update));
    }
    connect(&tree_, &AnswerTree::selectionChanged, this, qOverload<>(&QWidget::update));
    connect(&fields_, &FieldsView::scrolled, this, qOverload<>(&QWidget::update));
    connect(&fields_, &FieldsView::selectionChanged, this, qOverload<>(&QWidget::update));
    connect(&look_, &Look::changed, this, qOverload<>(&QWidget::update));
}

void FieldThreads::setNodes(std::vector<std::int32_t> nodes) {
    nodes_ = std::move(nodes);
    update();
}

void FieldThreads::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), look_.ground);
    if (!tree_.isVisible()) {
        return; // the text shows instead
    }
    painter.setRenderHint(QPainter::Antialiasing);
    for (std::size_t row = 0; row < fields_.rows().size(); ++row) {
        const FieldsView::Row& field = fields_.rows()[row];
        if (field.tableField < 0 || field.tableField >= static_cast<int>(nodes_.size())) {
            continue;
        }
        const int node = nodes_[static_cast<std::size_t>(field.tableField)];
        double from = 0;
        double to = 0;
        bool isItself = false;
        if (node < 0 || !tree_.rowOf(node, from, isItself) || !fields_.rowMiddle(static_cast<int>(row), to)) {
            continue;
        }
        from = mapFromGlobal(tree_.mapToGlobal(QPointF(0, from))).y();
        to = mapFromGlobal(fields_.mapToGlobal(QPointF(0, to))).y();
        const bool isSelected = static_cast<int>(row) == fields_.selected();
        QPainterPath path(QPointF(0, from));
        path.cubicTo(QPointF(width() * 0.55, from), QPointF(width() * 0.45, to), QPointF(width(), to));
        painter.setPen(QPen(isSelected    ? look_.accent
                            : field.isKey ? look_.accent
                                          : look_.loaded,
                            isSelected ? 2.4 : 1.1, isItself ? Qt::SolidLine : Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(path);
        painter.setPen(Qt::NoPen);
        painter.setBrush(isSelected || field.isKey ? look_.accent : look_.loaded);
        painter.drawEllipse(QPointF(width() - 2.5, to), 2.5, 2.5);
    }
}

} // namespace scorrere::workbench

#include "moc_field_threads.cpp"
