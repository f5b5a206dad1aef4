// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"

#include <QStringList>
#include <optional>
#include <vector>

namespace scorrere::workbench {

/// The windows beside the first, in the words of the sentence, and back: "no other", "a tablet", "a tall handset
/// on its side, dark, and a tablet at 200%, in ar".
QStringList besideChoices(const DeviceSpec& first);
QString besideInWords(const std::vector<BesideSpec>& beside);
std::optional<std::vector<BesideSpec>> besideFromWords(const QString& typed);

} // namespace scorrere::workbench
