// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/hands_spec.h"

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
std::optional<std::string> tapFromWords(const QString& words, const Actions& actions);
QStringList tapChoices(const HandsSpec& hands, const Actions& actions);

/// What swiping an item aside does: "nothing", "to the start: remove; to the end: mark verified, open".
QString asideInWords(const HandsSpec& hands, const Actions& actions);
/// The same hands with other sides; nothing: the words say no such thing.
std::optional<HandsSpec> asideFromWords(const QString& words, HandsSpec hands, const Actions& actions);
QStringList asideChoices(const HandsSpec& hands, const Actions& actions);

QString liftInWords(HandsSpec::Lift lift);
std::optional<HandsSpec::Lift> liftFromWords(const QString& words);
QStringList liftChoices();

/// Where hands do nothing yet: one word, and what there is to begin with.
QStringList firstHandsChoices();
std::optional<HandsSpec> firstHandsFromWords(const QString& words);

} // namespace scorrere::workbench
