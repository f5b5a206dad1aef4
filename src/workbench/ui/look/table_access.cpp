// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/table_access.h"

#include <QAccessible>
#include <QAccessibleWidget>
#include <QWidget>
#include <algorithm>
#include <map>

namespace scorrere::workbench {

namespace {

class TableAccess;

/// One cell, as long as its table is known to assistive tools.
class CellAccess final : public QAccessibleInterface, public QAccessibleTableCellInterface {
public:
    CellAccess(TableAccess& table, int row, int column) : table_(table), row_(row), column_(column) {}
    bool isValid() const override;
    QObject* object() const override { return nullptr; }
    QWindow* window() const override;
    QAccessibleInterface* childAt(int, int) const override { return nullptr; }
    QAccessibleInterface* parent() const override;
    QAccessibleInterface* child(int) const override { return nullptr; }
    int childCount() const override { return 0; }
    int indexOfChild(const QAccessibleInterface*) const override { return -1; }
    QString text(QAccessible::Text which) const override;
    void setText(QAccessible::Text, const QString&) override {}
    QRect rect() const override;
    QAccessible::Role role() const override { return QAccessible::Cell; }
    QAccessible::State state() const override;
    void* interface_cast(QAccessible::InterfaceType type) override {
        return type == QAccessible::TableCellInterface ? static_cast<QAccessibleTableCellInterface*>(this)
                                                       : nullptr;
    }
    bool isSelected() const override;
    QList<QAccessibleInterface*> columnHeaderCells() const override { return {}; }
    QList<QAccessibleInterface*> rowHeaderCells() const override { return {}; }
    int columnIndex() const override { return column_; }
    int rowIndex() const override { return row_; }
    int columnExtent() const override { return 1; }
    int rowExtent() const override { return 1; }
    QAccessibleInterface* table() const override { return parent(); }

private:
    TableAccess& table_;
    int row_;
    int column_;
};

class TableAccess final : public QAccessibleWidget, public QAccessibleTableInterface {
public:
    TableAccess(QWidget* widget, TableInWords& table)
        : QAccessibleWidget(widget, QAccessible::Table), table_(table) {}
    ~TableAccess() override {
        for (const auto& [place, id] : cells_) {
            QAccessible::deleteAccessibleInterface(id);
        }
    }
    const TableInWords& inWords() const { return table_; }
    QWidget* shown() const { return widget(); }

    void* interface_cast(QAccessible::InterfaceType type) override {
        return type == QAccessible::TableInterface ? static_cast<QAccessibleTableInterface*>(this)
                                                   : QAccessibleWidget::interface_cast(type);
    }
    int childCount() const override { return rowCount() * columnCount(); }
    QAccessibleInterface* child(int index) const override {
        return columnCount() > 0 ? cellAt(index / columnCount(), index % columnCount()) : nullptr;
    }
    int indexOfChild(const QAccessibleInterface* child) const override {
        const auto* cell = dynamic_cast<const CellAccess*>(child);
        return cell == nullptr ? -1 : cell->rowIndex() * columnCount() + cell->columnIndex();
    }
    QAccessibleInterface* cellAt(int row, int column) const override {
        if (row < 0 || row >= rowCount() || column < 0 || column >= columnCount()) {
            return nullptr;
        }
        const auto [found, isNew] = cells_.try_emplace({row, column}, 0);
        if (isNew) {
            found->second = QAccessible::registerAccessibleInterface(new CellAccess(
                const_cast<TableAccess&>(*this), row, column)); // NOLINT: the toolkit's are const
        }
        return QAccessible::accessibleInterface(found->second);
    }
    QAccessibleInterface* caption() const override { return nullptr; }
    QAccessibleInterface* summary() const override { return nullptr; }
    QString columnDescription(int column) const override { return table_.columnInWords(column); }
    QString rowDescription(int row) const override { return table_.cellInWords(row, 0); }
    int columnCount() const override { return table_.columnsInWords(); }
    int rowCount() const override { return table_.rowsInWords(); }
    int selectedCellCount() const override { return table_.rowChosen() < 0 ? 0 : columnCount(); }
    int selectedColumnCount() const override { return 0; }
    int selectedRowCount() const override { return table_.rowChosen() < 0 ? 0 : 1; }
    QList<QAccessibleInterface*> selectedCells() const override {
        QList<QAccessibleInterface*> cells;
        for (int column = 0; table_.rowChosen() >= 0 && column < columnCount(); ++column) {
            cells << cellAt(table_.rowChosen(), column);
        }
        return cells;
    }
    QList<int> selectedColumns() const override { return {}; }
    QList<int> selectedRows() const override {
        return table_.rowChosen() < 0 ? QList<int>() : QList<int>{table_.rowChosen()};
    }
    bool isColumnSelected(int) const override { return false; }
    bool isRowSelected(int row) const override { return row == table_.rowChosen(); }
    bool selectRow(int) override { return false; }
    bool selectColumn(int) override { return false; }
    bool unselectRow(int) override { return false; }
    bool unselectColumn(int) override { return false; }
    void modelChange(QAccessibleTableModelChangeEvent*) override {}

private:
    TableInWords& table_;
    mutable std::map<std::pair<int, int>, QAccessible::Id> cells_;
};

bool CellAccess::isValid() const {
    return table_.isValid() && row_ < table_.rowCount() && column_ < table_.columnCount();
}

QWindow* CellAccess::window() const {
    return table_.window();
}

QAccessibleInterface* CellAccess::parent() const {
    return &table_;
}

QString CellAccess::text(QAccessible::Text which) const {
    return which == QAccessible::Name && isValid() ? table_.inWords().cellInWords(row_, column_)
           : which == QAccessible::Description     ? table_.inWords().columnInWords(column_)
                                                   : QString();
}

QRect CellAccess::rect() const {
    const QRect row = table_.inWords().placeOfRow(row_);
    const int wide = row.width() / std::max(table_.columnCount(), 1);
    return row.isEmpty() ? QRect()
                         : QRect(table_.shown()->mapToGlobal(row.topLeft()) + QPoint(wide * column_, 0),
                                 QSize(wide, row.height()));
}

QAccessible::State CellAccess::state() const {
    QAccessible::State state;
    state.selectable = true;
    state.selected = isSelected();
    state.readOnly = true;
    return state;
}

bool CellAccess::isSelected() const {
    return table_.inWords().rowChosen() == row_;
}

QAccessibleInterface* makeAccess(const QString&, QObject* object) {
    auto* widget = qobject_cast<QWidget*>(object);
    auto* table = dynamic_cast<TableInWords*>(object);
    return widget != nullptr && table != nullptr ? new TableAccess(widget, *table) : nullptr;
}

} // namespace

void exposeTables() {
    static const bool once = [] {
        QAccessible::installFactory(makeAccess);
        return true;
    }();
    Q_UNUSED(once)
}

} // namespace scorrere::workbench
