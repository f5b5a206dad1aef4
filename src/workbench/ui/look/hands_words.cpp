// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/hands_words.h"

#include <QCoreApplication>
#include <algorithm>
#include <array>
#include <vector>

namespace scorrere::workbench {

namespace {

QString tell(const char* text) {
    return QCoreApplication::translate("scorrere::workbench::hands", text);
}

/// Those that need no words in the document.
constexpr std::array<const char*, 3> kKnownActions{"detail", "select", "remove"};

QString actionInWords(const std::string& name, const Actions& actions) {
    if (actions.contains(name)) {
        return QString::fromStdString(titleOf(actions, name));
    }
    return name == "detail"   ? tell("opens it at length")
           : name == "select" ? tell("selects it")
           : name == "remove" ? tell("removes it")
                              : QString::fromStdString(name);
}

std::vector<std::string> actionNames(const Actions& actions) {
    std::vector<std::string> names(kKnownActions.begin(), kKnownActions.end());
    for (const auto& [name, action] : actions) {
        if (std::ranges::find(names, name) == names.end()) {
            names.push_back(name);
        }
    }
    return names;
}

/// By its title or its name, whatever the case; nothing: there is none.
std::optional<std::string> actionFromWords(const QString& words, const Actions& actions) {
    for (const std::string& name : actionNames(actions)) {
        const QString wanted = words.trimmed();
        if (wanted.compare(actionInWords(name, actions), Qt::CaseInsensitive) == 0 ||
            wanted.compare(QString::fromStdString(name), Qt::CaseInsensitive) == 0) {
            return name;
        }
    }
    return std::nullopt;
}

QString sideInWords(const std::vector<std::string>& names, const Actions& actions) {
    QStringList words;
    for (const std::string& name : names) {
        words << actionInWords(name, actions);
    }
    return words.join(QStringLiteral(", "));
}

} // namespace

QString selectInWords(SelectMode mode) {
    return mode == SelectMode::None ? tell("none") : mode == SelectMode::One ? tell("one") : tell("many");
}

std::optional<SelectMode> selectFromWords(const QString& words) {
    for (const SelectMode mode : {SelectMode::None, SelectMode::One, SelectMode::Many}) {
        if (words.trimmed() == selectInWords(mode)) {
            return mode;
        }
    }
    return std::nullopt;
}

QStringList selectChoices() {
    return {selectInWords(SelectMode::None), selectInWords(SelectMode::One), selectInWords(SelectMode::Many)};
}

QString tapInWords(const std::string& action, const Actions& actions) {
    return action.empty() ? tell("does nothing") : actionInWords(action, actions);
}

std::optional<std::string> tapFromWords(const QString& words, const Actions& actions) {
    return words.trimmed() == tapInWords({}, actions) ? std::optional(std::string())
                                                      : actionFromWords(words, actions);
}

QStringList tapChoices(const HandsSpec& hands, const Actions& actions) {
    QStringList choices{tapInWords({}, actions)};
    for (const std::string& name : actionNames(actions)) {
        choices << actionInWords(name, actions);
    }
    if (const QString now = tapInWords(hands.tap, actions); !choices.contains(now)) {
        choices << now;
    }
    return choices;
}

QString asideInWords(const HandsSpec& hands, const Actions& actions) {
    QStringList sides;
    if (!hands.atEnd.empty()) { // swiped to the start, the item uncovers what is at its end
        sides << tell("to the start: %1").arg(sideInWords(hands.atEnd, actions));
    }
    if (!hands.atStart.empty()) {
        sides << tell("to the end: %1").arg(sideInWords(hands.atStart, actions));
    }
    return sides.isEmpty() ? tell("nothing") : sides.join(QStringLiteral("; "));
}

std::optional<HandsSpec> asideFromWords(const QString& words, HandsSpec hands, const Actions& actions) {
    hands.atStart.clear();
    hands.atEnd.clear();
    if (words.trimmed() == tell("nothing")) {
        return hands;
    }
    for (const QString& side : words.split(QLatin1Char(';'), Qt::SkipEmptyParts)) {
        const QString way = side.section(QLatin1Char(':'), 0, 0).trimmed();
        const bool isToStart = way == QLatin1String("to the start") || way == QLatin1String("start");
        if (!isToStart && way != QLatin1String("to the end") && way != QLatin1String("end")) {
            return std::nullopt;
        }
        std::vector<std::string>& to = isToStart ? hands.atEnd : hands.atStart;
        for (const QString& word :
             side.section(QLatin1Char(':'), 1).split(QLatin1Char(','), Qt::SkipEmptyParts)) {
            const auto name = actionFromWords(word, actions);
            if (!name || to.size() == HandsSpec::kMostAside) {
                return std::nullopt;
            }
            to.push_back(*name);
        }
    }
    return hands.atStart.empty() && hands.atEnd.empty() ? std::nullopt : std::optional(hands);
}

QStringList asideChoices(const HandsSpec& hands, const Actions& actions) {
    HandsSpec one;
    QStringList choices{asideInWords(one, actions)};
    for (const std::string& name : actionNames(actions)) {
        one.atStart.clear();
        one.atEnd = {name};
        choices << asideInWords(one, actions);
    }
    if (!actions.empty()) {
        one.atStart = {actions.begin()->first};
        one.atEnd = {"remove"};
        choices << asideInWords(one, actions);
    }
    if (const QString now = asideInWords(hands, actions); !choices.contains(now)) {
        choices << now;
    }
    return choices;
}

QString liftInWords(HandsSpec::Lift lift) {
    return lift == HandsSpec::Lift::Not    ? tell("not at all")
           : lift == HandsSpec::Lift::Held ? tell("by a long press")
                                           : tell("by a handle");
}

std::optional<HandsSpec::Lift> liftFromWords(const QString& words) {
    for (const auto lift : {HandsSpec::Lift::Not, HandsSpec::Lift::Held, HandsSpec::Lift::Handle}) {
        if (words.trimmed() == liftInWords(lift)) {
            return lift;
        }
    }
    return std::nullopt;
}

QStringList firstHandsChoices() {
    return {tell("nothing"),
            tell("one can be selected"),
            tell("many can be selected"),
            tell("a tap opens an item at length"),
            tell("a swipe to the start removes an item"),
            tell("an item is lifted by a long press")};
}

std::optional<HandsSpec> firstHandsFromWords(const QString& words) {
    HandsSpec hands;
    switch (firstHandsChoices().indexOf(words)) {
    case 0:
        return hands;
    case 1:
        hands.select = SelectMode::One;
        return hands;
    case 2:
        hands.select = SelectMode::Many;
        return hands;
    case 3:
        hands.tap = "detail";
        return hands;
    case 4:
        hands.atEnd = {"remove"};
        return hands;
    case 5:
        hands.lift = HandsSpec::Lift::Held;
        return hands;
    default:
        return std::nullopt;
    }
}

QStringList liftChoices() {
    return {liftInWords(HandsSpec::Lift::Not), liftInWords(HandsSpec::Lift::Held),
            liftInWords(HandsSpec::Lift::Handle)};
}

} // namespace scorrere::workbench
