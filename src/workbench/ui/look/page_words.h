// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/source_spec.h"
#include "workbench/model/page_hints.h"

#include <QString>
#include <QStringList>

namespace scorrere::workbench {

/// How a service gives pages out, in words: "pages by number"; all of them; and a source with another one.
QString pageStyleWord(PageStyle style);
QStringList pageStyleWords();
SourceSpec withPageStyle(SourceSpec source, const QString& word, const PageHints& hints = {});

} // namespace scorrere::workbench
