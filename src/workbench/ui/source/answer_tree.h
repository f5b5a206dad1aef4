// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/answer.h"
#include "workbench/ui/look/look.h"

#include <QAbstractScrollArea>
#include <QHash>
#include <memory>
#include <vector>

namespace scorrere::workbench {

/// The answer as a foldable tree that knows which array holds the items and which members are fields.
///
/// Complexity  Paints what shows; folding walks the tree's nodes, which Answer bounds.
/// Keyboard    ↑ ↓ select, ← → fold, I makes the selected array the items, K makes the selected member the
///             key, C makes it a column, E edits a value of a record.
class AnswerTree : public QAbstractScrollArea {
    Q_OBJECT
public:
    explicit AnswerTree(Look& look, QWidget* parent = nullptr);

    void setAnswer(std::shared_ptr<const Answer> answer);
    /// What is to be otherwise, by the node that says it in the source.
    void setEdits(const QHash<int, QString>& edits);
    int selected() const { return selected_; }
    void select(int node);
    /// Where a node's row stands, in this widget's coordinates; of its innermost shown ancestor when it is
    /// folded away. False when that is scrolled out of sight.
    bool rowOf(int node, double& y, bool& isItself) const;
    bool isShown(int node) const;
    QString rowText(int node) const;

Q_SIGNALS:
    void selectionChanged(int node);
    void itemsWanted(const QString& path);
    void keyWanted(int node);
    void columnWanted(int node);
    /// A value is to be typed over.
    void editWanted(int node);
    void scrolled();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void scrollContentsBy(int dx, int dy) override;

private:
    enum class Offer { Items, Key, Column };
    struct Pill {
        QRectF rect;
        Offer offer;
    };
    void showAgain();
    void fold(int node, bool open);
    void act(Offer offer);
    std::vector<Offer> offersFor(int node) const;
    void paintRow(QPainter& painter, int row, double y);
    QString valueText(int node) const;
    int rowHeight() const;
    int rowAt(int node) const;
    const JsonOutline::Node& node(int index) const {
        return answer_->tree.nodes[static_cast<std::size_t>(index)];
    }

    Look& look_;
    std::shared_ptr<const Answer> answer_;
    std::vector<std::uint8_t> open_;
    std::vector<std::int32_t> rows_; ///< nodes that are not folded away, in order
    std::vector<Pill> pills_;        ///< of the selected row, as last painted
    int selected_ = -1;
    QHash<int, QString> edits_;
};

} // namespace scorrere::workbench
