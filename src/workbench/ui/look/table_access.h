// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QRect>
#include <QString>

namespace scorrere::workbench {

/// What a widget that paints a table itself tells those who do not see it: its columns, and each cell in
/// words. A widget that is one of these is exposed with its rows and cells once exposeTables() was called.
class TableInWords {
public:
    virtual ~TableInWords() = default;
    virtual int rowsInWords() const = 0;
    virtual int columnsInWords() const = 0;
    virtual QString columnInWords(int column) const = 0;
    virtual QString cellInWords(int row, int column) const = 0;
    /// The chosen row; -1: none.
    virtual int rowChosen() const = 0;
    /// A row in the widget's coordinates; empty when it is out of sight.
    virtual QRect placeOfRow(int row) const = 0;
};

/// From now on. Again does nothing.
void exposeTables();

} // namespace scorrere::workbench
