// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/look.h"

#include <QWidget>

namespace scorrere::workbench {

class AnswerTree;
class FieldsView;
struct Answer;

/// The strip between the answer and the fields: a thread from where each field stands in the answer to its
/// row.
class FieldThreads : public QWidget {
    Q_OBJECT
public:
    FieldThreads(Look& look, AnswerTree& tree, FieldsView& fields, QWidget* parent = nullptr);
    /// Where each table field stands in the tree.
    void setNodes(std::vector<std::int32_t> nodes);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& look_;
    AnswerTree& tree_;
    FieldsView& fields_;
    std::vector<std::int32_t> nodes_;
};

} // namespace scorrere::workbench
