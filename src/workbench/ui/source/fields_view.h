// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/source_reading.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/look/table_access.h"

#include <QAbstractScrollArea>
#include <memory>
#include <vector>

namespace scorrere::workbench {

/// One row a field: what it is called, its type and why, how often it is there, how long and how various its
/// values are, and three of them.
///
/// Keyboard    ↑ ↓ select, Enter opens the field's card, K makes it the key (Shift+K: a part of it), X leaves
///             it out or takes it back.
class FieldsView : public QAbstractScrollArea, public TableInWords {
    Q_OBJECT
public:
    struct Row {
        std::string name;
        std::string title;
        std::string locale; ///< its numbers and times are written in; empty: as JSON has them
        FieldType type = FieldType::Unknown;
        bool isChosen = false; ///< the type was chosen, not inferred
        bool isLeftOut = false;
        bool isKey = false;
        std::string why;                       ///< the type
        const FieldProfile* profile = nullptr; ///< null: not looked at yet
        int tableField = -1;                   ///< its index in the table; -1: left out
    };

    explicit FieldsView(Look& look, QWidget* parent = nullptr);
    /// The examination that rows point into is kept by the view.
    void setRows(std::vector<Row> rows, std::shared_ptr<const Examination> examination);
    const std::vector<Row>& rows() const { return rows_; }
    int selected() const { return selected_; }
    void select(int row);
    /// The middle of a row in this widget's coordinates; false when it is scrolled out of sight.
    bool rowMiddle(int row, double& y) const;

    int rowsInWords() const override { return static_cast<int>(rows_.size()); }
    int columnsInWords() const override { return 6; }
    QString columnInWords(int column) const override;
    QString cellInWords(int row, int column) const override;
    int rowChosen() const override { return selected_; }
    QRect placeOfRow(int row) const override;

Q_SIGNALS:
    void selectionChanged(int row);
    void keyWanted(int row, bool together);
    void localeWanted(int row, const QString& locale);
    void leftOutWanted(int row, bool leftOut);
    void typeWanted(int row, scorrere::FieldType type); ///< Unknown: as inferred
    void titleWanted(int row, const QString& title);
    void scrolled();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void scrollContentsBy(int dx, int dy) override;
    bool viewportEvent(QEvent* event) override;

private:
    void paintHeading(QPainter& painter);
    void paintRow(QPainter& painter, const Row& row, double y);
    void openCard(int row);
    void fit();
    int rowHeight() const;
    int headingHeight() const;
    bool isWide() const;
    int rowAt(double y) const;

    Look& look_;
    std::vector<Row> rows_;
    std::shared_ptr<const Examination> examination_;
    int selected_ = -1;
};

} // namespace scorrere::workbench
