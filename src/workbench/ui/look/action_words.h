// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/hands_spec.h"
#include "engine/record/record_table.h"

#include <QString>
#include <optional>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// "does it", of an action that has a name: "opens it at length", or its title.
QString actionInWords(const std::string& name, const Actions& actions);
/// Those that need no words in the document, and the document's.
std::vector<std::string> actionNames(const Actions& actions);
/// The action that words mean: one there is, by its title or its name whatever the case, or a new one that is then among
/// `actions`: "sets status to verified", "turns checked", "adds 2 to count", "moves it to the end", "copies {site}",
/// "goes to {next}", "tells Marked: {site}", "calls POST demo:records/{id}", and several with "then" between them. Nothing: they
/// mean none, or one of a field that there is not.
std::optional<std::string> actionFromWords(const QString& words, Actions& actions,
                                           const std::vector<Field>& fields);
/// What can be typed, as an example.
QString actionHint();

} // namespace scorrere::workbench
