// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/hands_spec.h"
#include "workbench/ui/look/action_words.h"

#include <QString>
#include <QStringList>
#include <optional>

namespace scorrere::workbench {

/// What a collection's hands do, in words of its sentence, and back from such words.
QString selectInWords(SelectMode mode);
std::optional<SelectMode> selectFromWords(const QString& words);
QStringList selectChoices();

/// What a tap does: "does nothing", or an action's title.
QString tapInWords(const std::string& action, const Actions& actions);
/// A new action is then among `actions`: see actionFromWords.
std::optional<std::string> tapFromWords(const QString& words, Actions& actions,
                                        const std::vector<Field>& fields);
QStringList tapChoices(const std::string& chosen, const Actions& actions);

/// What swiping an item aside does: "nothing", "to the start: remove; to the end: mark verified, open".
QString asideInWords(const HandsSpec& hands, const Actions& actions);
/// The same hands with other sides; nothing: the words say no such thing. New actions are then among `actions`.
std::optional<HandsSpec> asideFromWords(const QString& words, HandsSpec hands, Actions& actions,
                                        const std::vector<Field>& fields);
QStringList asideChoices(const HandsSpec& hands, const Actions& actions);

QString liftInWords(const HandsSpec& hands);
std::optional<HandsSpec> liftFromWords(const QString& words, HandsSpec hands);
QStringList liftChoices();

/// Distances and times: "slop 8 px, twice in 300 ms, held 500 ms, pulled 55%, seen 1 s"; back from
/// some of them.
QString timesInWords(const HandsSpec& hands);
std::optional<HandsSpec> timesFromWords(const QString& words, HandsSpec hands);
QStringList timesChoices(const HandsSpec& hands);

/// Where hands do nothing yet: one word, and what there is to begin with.
QStringList firstHandsChoices();
std::optional<HandsSpec> firstHandsFromWords(const QString& words);

} // namespace scorrere::workbench
