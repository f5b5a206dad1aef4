// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

namespace scorrere::render {
class ItemView;
}

namespace scorrere::workbench {

class Cutaway;

/// From now on the live window of every Cutaway is a table to assistive tools: of as many rows as there are records, with an object for
/// each item view, made when it is asked for, that goes when the view carries another. Again does nothing.
void exposeItems();
/// What they are told happened: the item that has the keys is another; others are selected; records came, went or stand elsewhere.
void tellFocus(Cutaway& cutaway);
void tellSelection(Cutaway& cutaway);
void tellRecords(Cutaway& cutaway);
/// So many came at a place, or went from there where that is negative; 0: all may stand otherwise.
void tellRecordsCame(Cutaway& cutaway, std::int64_t place, std::int64_t count);

/// All that an item says, in the order it is read: texts, what pictures are of, how far meters and scales are.
QString itemInWords(const render::ItemView& view);

} // namespace scorrere::workbench
