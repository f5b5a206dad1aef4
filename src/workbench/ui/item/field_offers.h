// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/record/record_table.h"

class QLineEdit;

namespace scorrere::workbench {

/// Typing { in the line offers the fields with a sample of each; the one that is chosen is put in. The records are
/// read now and not later.
void offerFields(QLineEdit* line, const RecordTable& records);

} // namespace scorrere::workbench
