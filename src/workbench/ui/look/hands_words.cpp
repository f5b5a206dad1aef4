// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/hands_words.h"

#include <QCoreApplication>
#include <QRegularExpression>
#include <cmath>
#include <utility>
#include <vector>

namespace scorrere::workbench {

namespace {

QString tell(const char* text) {
    return QCoreApplication::translate("scorrere::workbench::hands", text);
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

std::optional<std::string> tapFromWords(const QString& words, Actions& actions,
                                        const std::vector<Field>& fields) {
    return words.trimmed() == tapInWords({}, actions) ? std::optional(std::string())
                                                      : actionFromWords(words, actions, fields);
}

QStringList tapChoices(const std::string& chosen, const Actions& actions) {
    QStringList choices{tapInWords({}, actions)};
    for (const std::string& name : actionNames(actions)) {
        choices << actionInWords(name, actions);
    }
    if (const QString now = tapInWords(chosen, actions); !choices.contains(now)) {
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

std::optional<HandsSpec> asideFromWords(const QString& words, HandsSpec hands, Actions& actions,
                                        const std::vector<Field>& fields) {
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
            const auto name = actionFromWords(word, actions, fields);
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

QString liftInWords(const HandsSpec& hands) {
    const QString how = hands.lift == HandsSpec::Lift::Not    ? tell("not at all")
                        : hands.lift == HandsSpec::Lift::Held ? tell("by a long press")
                                                              : tell("by a handle");
    return hands.liftsAcross && hands.lift != HandsSpec::Lift::Not ? tell("%1, to any section").arg(how)
                                                                   : how;
}

std::optional<HandsSpec> liftFromWords(const QString& words, HandsSpec hands) {
    for (const auto lift : {HandsSpec::Lift::Not, HandsSpec::Lift::Held, HandsSpec::Lift::Handle}) {
        for (const bool isAcross : {false, true}) {
            hands.lift = lift;
            hands.liftsAcross = isAcross;
            if (words.trimmed() == liftInWords(hands)) {
                return hands;
            }
        }
    }
    return std::nullopt;
}

QStringList liftChoices() {
    QStringList choices;
    for (const auto& [lift, isAcross] : {std::pair(HandsSpec::Lift::Not, false),
                                         {HandsSpec::Lift::Held, false},
                                         {HandsSpec::Lift::Handle, false},
                                         {HandsSpec::Lift::Held, true},
                                         {HandsSpec::Lift::Handle, true}}) {
        HandsSpec one;
        one.lift = lift;
        one.liftsAcross = isAcross;
        choices << liftInWords(one);
    }
    return choices;
}

QString timesInWords(const HandsSpec& hands) {
    const auto time = [](std::int64_t ms) {
        return ms >= 1000 && ms % 1000 == 0 ? tell("%1 s").arg(ms / 1000) : tell("%1 ms").arg(ms);
    };
    return tell("slop %1 px, twice in %2, held %3, pulled %4%, seen %5")
        .arg(hands.times.slop.toPx())
        .arg(time(hands.times.doubleMs), time(hands.times.pressMs))
        .arg(std::lround(hands.pulled * 100))
        .arg(time(hands.seenMs));
}

std::optional<HandsSpec> timesFromWords(const QString& words, HandsSpec hands) {
    static const QRegularExpression one(QRegularExpression::anchoredPattern(
        QStringLiteral("([a-z]+)(?: [a-z]+)? (\\d+(?:\\.\\d+)?) ?(px|ms|s|%)?")));
    for (const QString& part : words.toLower().split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        const auto match = one.match(part.trimmed());
        const QString what = match.captured(1);
        const double said =
            match.captured(2).toDouble() * (match.captured(3) == QLatin1String("s") ? 1000 : 1);
        const auto number = static_cast<std::int64_t>(std::llround(said));
        const auto isWithin = [number, &match](std::int64_t least, std::int64_t most) {
            return match.hasMatch() && number >= least && number <= most;
        };
        if (what == QLatin1String("slop") && isWithin(0, 200)) {
            hands.times.slop = Length::fromPx(said);
        } else if (what == QLatin1String("twice") && isWithin(50, 5'000)) {
            hands.times.doubleMs = number;
        } else if (what == QLatin1String("held") && isWithin(50, 10'000)) {
            hands.times.pressMs = number;
        } else if (what == QLatin1String("pulled") && isWithin(20, 100)) {
            hands.pulled = said / 100;
        } else if (what == QLatin1String("seen") && isWithin(0, 600'000)) {
            hands.seenMs = number;
        } else {
            return std::nullopt;
        }
    }
    return hands;
}

QStringList timesChoices(const HandsSpec& hands) {
    HandsSpec slow;
    slow.times.slop = Length::px(16);
    slow.times.doubleMs = 500;
    slow.times.pressMs = 900;
    QStringList choices{timesInWords({}), timesInWords(slow)};
    if (const QString now = timesInWords(hands); !choices.contains(now)) {
        choices << now;
    }
    return choices;
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

} // namespace scorrere::workbench
