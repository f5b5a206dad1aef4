// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/action_words.h"

#include <QCoreApplication>
#include <QRegularExpression>
#include <QStringList>
#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>
#include <utility>

namespace scorrere::workbench {

namespace {

QString actionText(const char* text) {
    return QCoreApplication::translate("scorrere::workbench::hands", text);
}

/// Those that need no words in the document.
constexpr std::array<const char*, 3> kKnownActions{"detail", "select", "remove"};

/// As the records call it; nothing: none of theirs is called so.
std::optional<std::string> fieldNamed(const QString& word, const std::vector<Field>& fields) {
    const auto found = std::ranges::find_if(fields, [&word](const Field& field) {
        return word.compare(QString::fromStdString(field.name), Qt::CaseInsensitive) == 0;
    });
    return found == fields.end() ? std::nullopt : std::optional(found->name);
}

/// JSON where it is some, else a text.
std::string valueOf(const QString& word) {
    const std::string text = word.toStdString();
    return nlohmann::json::accept(text) ? nlohmann::json::parse(text).dump() : nlohmann::json(text).dump();
}

struct Made {
    ActionStep step;
    QString title; ///< short, as it stands on what a swipe uncovers
};

QString asTitle(QString text) {
    text = text.section(QLatin1Char('{'), 0, 0).trimmed().left(18);
    return text.isEmpty() ? text : text.at(0).toUpper() + text.mid(1);
}

std::optional<Made> stepFromWords(const QString& words, const std::vector<Field>& fields) {
    using What = ActionStep::What;
    struct Form {
        const char* pattern;
        What what;
    };
    static constexpr std::array<Form, 9> kForms{{{"sets? (\\S+) to (.+)", What::Set},
                                                 {"turns? (\\S+)", What::Turn},
                                                 {"adds? (-?\\d+(?:\\.\\d+)?) to (\\S+)", What::Add},
                                                 {"moves? it to the start", What::ToStart},
                                                 {"moves? it to the end", What::ToEnd},
                                                 {"cop(?:y|ies) (.+)", What::Copy},
                                                 {"goes to (.+)", What::Go},
                                                 {"tells? (.+)", What::Tell},
                                                 {"calls? ([A-Za-z]+) (\\S+)", What::Call}}};
    for (const Form& form : kForms) {
        const QRegularExpression pattern(QRegularExpression::anchoredPattern(QLatin1String(form.pattern)),
                                         QRegularExpression::CaseInsensitiveOption);
        const auto match = pattern.match(words.trimmed());
        if (!match.hasMatch()) {
            continue;
        }
        const QString first = match.captured(1);
        const QString second = match.captured(2);
        Made made;
        made.step.what = form.what;
        const bool isOfField = form.what == What::Set || form.what == What::Turn || form.what == What::Add;
        if (isOfField) {
            const auto field = fieldNamed(form.what == What::Add ? second : first, fields);
            if (!field) {
                return std::nullopt;
            }
            made.step.field = *field;
        }
        switch (form.what) {
        case What::Set:
            made.step.value = valueOf(second);
            made.title = asTitle(second);
            break;
        case What::Turn:
            made.title = asTitle(first);
            break;
        case What::Add:
            made.step.by = first.toDouble();
            made.title = (made.step.by < 0 ? QString() : QStringLiteral("+")) + first + QLatin1Char(' ') +
                         QString::fromStdString(made.step.field);
            break;
        case What::ToStart:
            made.title = actionText("To the start");
            break;
        case What::ToEnd:
            made.title = actionText("To the end");
            break;
        case What::Call:
            made.step.call.method = first.toUpper().toStdString();
            made.step.call.address = second.toStdString();
            made.title = actionText("Send");
            break;
        default:
            made.step.text = first.toStdString();
            made.title = form.what == What::Copy ? actionText("Copy")
                         : form.what == What::Go ? actionText("Go there")
                                                 : asTitle(first);
        }
        return made;
    }
    return std::nullopt;
}

/// A name for the document that no action has: "setStatus", "setStatus2".
std::string nameFor(const ActionStep& step, const QString& words, const Actions& actions) {
    QString base = words.section(QLatin1Char(' '), 0, 0).toLower();
    if (base.endsWith(QLatin1Char('s')) && base != QLatin1String("goes")) {
        base.chop(1);
    }
    if (!step.field.empty()) {
        const QString field = QString::fromStdString(step.field);
        base += field.at(0).toUpper() + field.mid(1);
    }
    std::string name = base.toStdString();
    const auto isTaken = [&actions](const std::string& one) {
        return actions.contains(one) || std::ranges::find(kKnownActions, one) != kKnownActions.end();
    };
    for (int number = 2; isTaken(name); ++number) {
        name = base.toStdString() + std::to_string(number);
    }
    return name;
}

} // namespace

QString actionInWords(const std::string& name, const Actions& actions) {
    if (actions.contains(name)) {
        return QString::fromStdString(titleOf(actions, name));
    }
    return name == "detail"   ? actionText("opens it at length")
           : name == "select" ? actionText("selects it")
           : name == "remove" ? actionText("removes it")
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

std::optional<std::string> actionFromWords(const QString& words, Actions& actions,
                                           const std::vector<Field>& fields) {
    const QString wanted = words.trimmed();
    for (const std::string& name : actionNames(actions)) {
        if (wanted.compare(actionInWords(name, actions), Qt::CaseInsensitive) == 0 ||
            wanted.compare(QString::fromStdString(name), Qt::CaseInsensitive) == 0) {
            return name;
        }
    }
    ActionSpec made;
    for (const QString& one : wanted.split(QStringLiteral(" then "))) {
        auto step = stepFromWords(one, fields);
        if (!step) {
            return std::nullopt;
        }
        if (made.title.empty()) {
            made.title = step->title.toStdString();
        }
        made.steps.push_back(std::move(step->step));
    }
    for (const auto& [name, action] : actions) { // said once more
        if (action.steps == made.steps) {
            return name;
        }
    }
    const std::string name = nameFor(made.steps.front(), wanted, actions);
    actions.emplace(name, std::move(made));
    return name;
}

QString actionHint() {
    return actionText(
        "as in: sets status to verified, then tells Done; adds 1 to count; calls POST an address");
}

} // namespace scorrere::workbench
