// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/table_access.h"

#include "workbench/ui/look/access_cell.h"

#include <QWidget>
#include <algorithm>
#include <map>

namespace scorrere::workbench {

namespace {

class TableAccess;

/// One cell, as long as its table is known to assistive tools.
class CellAccess final : public AccessCell {
public:
    CellAccess(TableAccess& table, int row, int column);
    bool isValid() const override;
    QString text(QAccessible::Text which) const override;
    QRect rect() const override;
    QAccessible::State state() const override;
    bool isSelected() const override;
    int columnIndex() const override { return column_; }
    int rowIndex() const override { return row_; }

private:
    TableAccess& table_;
    int row_;
    int column_;
};

class TableAccess final : public AccessTable {
public:
    TableAccess(QWidget* widget, TableInWords& table) : AccessTable(widget), table_(table) {}
    ~TableAccess() override {
        for (const auto& [place, id] : cells_) {
            QAccessible::deleteAccessibleInterface(id);
        }
    }
    const TableInWords& inWords() const { return table_; }
    QWidget* shown() const { return widget(); }

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
    QString columnDescription(int column) const override { return table_.columnInWords(column); }
    QString rowDescription(int row) const override { return table_.cellInWords(row, 0); }
    int columnCount() const override { return table_.columnsInWords(); }
    int rowCount() const override { return table_.rowsInWords(); }
    int selectedCellCount() const override { return table_.rowChosen() < 0 ? 0 : columnCount(); }
    int selectedRowCount() const override { return table_.rowChosen() < 0 ? 0 : 1; }
    QList<QAccessibleInterface*> selectedCells() const override {
        QList<QAccessibleInterface*> cells;
        for (int column = 0; table_.rowChosen() >= 0 && column < columnCount(); ++column) {
            cells << cellAt(table_.rowChosen(), column);
        }
        return cells;
    }
    QList<int> selectedRows() const override {
        return table_.rowChosen() < 0 ? QList<int>() : QList<int>{table_.rowChosen()};
    }
    bool isRowSelected(int row) const override { return row == table_.rowChosen(); }

private:
    TableInWords& table_;
    mutable std::map<std::pair<int, int>, QAccessible::Id> cells_;
};

CellAccess::CellAccess(TableAccess& table, int row, int column)
    : AccessCell(table), table_(table), row_(row), column_(column) {}

bool CellAccess::isValid() const {
    return table_.isValid() && row_ < table_.rowCount() && column_ < table_.columnCount();
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
