// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/order_words.h"

#include "engine/record/json_outline.h"
#include "workbench/ui/look/look.h"

#include <QCoreApplication>
#include <QRegularExpression>
#include <algorithm>
#include <array>

namespace scorrere::workbench {

namespace {

QString say(const char* text) {
    return QCoreApplication::translate("scorrere::workbench::order", text);
}

constexpr std::uint64_t kMostSeed = 999'999'999;

bool isNumber(FieldType type) {
    return type == FieldType::Integer || type == FieldType::Real;
}
bool hasOrder(const Field& field) {
    return field.type != FieldType::List && field.type != FieldType::Object &&
           field.type != FieldType::Unknown;
}

/// Which end comes first.
QString endFirst(FieldType type, bool descending) {
    if (isNumber(type)) {
        return descending ? say("largest first") : say("smallest first");
    }
    if (type == FieldType::Time) {
        return descending ? say("latest first") : say("earliest first");
    }
    if (type == FieldType::Boolean) {
        return descending ? say("yes first") : say("no first");
    }
    return descending ? say("Z to A") : say("A to Z");
}

const Field* fieldNamed(const std::vector<Field>& fields, const QString& name) {
    const auto found = std::ranges::find(fields, name.trimmed().toStdString(), &Field::name);
    return found == fields.end() ? nullptr : &*found;
}

std::optional<SortBy> sortByFrom(const QString& typed, const std::vector<Field>& fields) {
    const QStringList pieces = typed.split(QLatin1Char(','));
    const Field* field = fieldNamed(fields, pieces.front());
    if (field == nullptr || !hasOrder(*field)) {
        return std::nullopt;
    }
    SortBy by;
    by.field = field->name;
    for (const QString& piece : pieces.mid(1)) {
        const QString word = piece.trimmed().toLower();
        const bool isDown = word == endFirst(field->type, true).toLower() || word == say("descending");
        const bool isUp = word == endFirst(field->type, false).toLower() || word == say("ascending");
        const bool isMissing = word == say("missing first") || word == say("missing last");
        if (!isDown && !isUp && !isMissing) {
            return std::nullopt;
        }
        by.descending = isDown || (by.descending && !isUp);
        by.missingFirst = isMissing ? word == say("missing first") : by.missingFirst;
    }
    return by;
}

/// How a rule compares, and how people say it.
struct Comparing {
    const char* words;
    const char* rule;
};
constexpr std::array<Comparing, 14> kComparing{{
    // The first of each is how it is said.
    {"is at least", ">="},
    {"is at most", "<="},
    {"is over", ">"},
    {"is under", "<"},
    {"is not", "!="},
    {"is", "=="},
    {">=", ">="},
    {"<=", "<="},
    {"!=", "!="},
    {"==", "=="},
    {">", ">"},
    {"<", "<"},
    {"=", "=="},
    {"\u2260", "!="},
}};

std::optional<std::string> literalFrom(const QString& typed, FieldType type) {
    QString value = typed.trimmed();
    for (const auto& [open, close] :
         {std::pair{u'"', u'"'}, std::pair{u'\u201c', u'\u201d'}, std::pair{u'\'', u'\''}}) {
        if (value.size() >= 2 && value.front() == open && value.back() == close) {
            value = value.mid(1, value.size() - 2);
        }
    }
    if (isNumber(type)) {
        bool isOne = false;
        (void)value.toDouble(&isOne);
        return isOne ? std::optional(value.toStdString()) : std::nullopt;
    }
    if (type == FieldType::Boolean) {
        const bool isYes = value == say("yes") || value == QLatin1String("true");
        const bool isNo = value == say("no") || value == QLatin1String("false");
        return isYes  ? std::optional<std::string>("true")
               : isNo ? std::optional<std::string>("false")
                      : std::nullopt;
    }
    return value.isEmpty() ? std::nullopt : std::optional(quotedJson(value.toStdString()));
}

std::string reachOf(const std::string& name) {
    static const QRegularExpression plain(QStringLiteral("^[A-Za-z_][A-Za-z0-9_]*$"));
    return plain.match(QString::fromStdString(name)).hasMatch() ? "@." + name : "@[" + quotedJson(name) + "]";
}

/// "count is over 5" as a rule.
std::optional<std::string> conditionFrom(const QString& typed, const std::vector<Field>& fields) {
    const QString text = typed.trimmed();
    const Field* of = nullptr; // the longest name it begins with
    for (const Field& field : fields) {
        const QString name = QString::fromStdString(field.name);
        const bool begins =
            text.startsWith(name) && (text.size() == name.size() || !text.at(name.size()).isLetterOrNumber());
        if (begins && (of == nullptr || field.name.size() > of->name.size())) {
            of = &field;
        }
    }
    if (of == nullptr) {
        return std::nullopt;
    }
    const QString rest = text.mid(QString::fromStdString(of->name).size()).trimmed();
    if (rest == say("is missing")) {
        return reachOf(of->name) + " == null";
    }
    if (rest == say("is there")) {
        return reachOf(of->name) + " != null";
    }
    for (const Comparing& how : kComparing) {
        const QString words = say(how.words);
        if (!rest.startsWith(words)) {
            continue;
        }
        const auto literal = literalFrom(rest.mid(words.size()), of->type);
        return literal ? std::optional(reachOf(of->name) + " " + how.rule + " " + *literal) : std::nullopt;
    }
    return std::nullopt;
}

/// One condition of a rule in words; nothing where words cannot say it.
std::optional<QString> conditionInWords(const QString& rule, const std::vector<Field>& fields) {
    static const QRegularExpression form(QStringLiteral(
        R"re(^@(?:\.([A-Za-z_][A-Za-z0-9_]*)|\["((?:[^"\\])+)"\])\s*(==|!=|<=|>=|<|>)\s*(?:(null|true|false|-?[0-9.eE+]+)|"((?:[^"\\])*)")$)re"));
    const auto match = form.match(rule.trimmed());
    if (!match.hasMatch()) {
        return std::nullopt;
    }
    const QString name = match.captured(1) + match.captured(2);
    const QString how = match.captured(3);
    const QString fixed = match.captured(4);
    if (fixed == QLatin1String("null")) {
        return how == QLatin1String("==")   ? std::optional(name + QLatin1Char(' ') + say("is missing"))
               : how == QLatin1String("!=") ? std::optional(name + QLatin1Char(' ') + say("is there"))
                                            : std::nullopt;
    }
    const auto words =
        std::ranges::find(kComparing, how, [](const Comparing& one) { return QLatin1String(one.rule); });
    const QString value = fixed == QLatin1String("true")    ? say("yes")
                          : fixed == QLatin1String("false") ? say("no")
                          : fixed.isEmpty()                 ? match.captured(5)
                                                            : fixed;
    const QString said = QStringLiteral("%1 %2 %3").arg(name, say(words->words), value);
    // Only what reads back as the same rule is said in words.
    const auto back = conditionFrom(said, fields);
    return back == rule.trimmed().toStdString() ? std::optional(said) : std::nullopt;
}

} // namespace

QString sortInWords(const OrderSpec& order, const std::vector<Field>& fields) {
    QStringList keys;
    for (const SortBy& by : order.by) {
        const Field* field = fieldNamed(fields, QString::fromStdString(by.field));
        QString words = QString::fromStdString(by.field);
        words +=
            QStringLiteral(", ") + endFirst(field == nullptr ? FieldType::Text : field->type, by.descending);
        words += by.missingFirst ? QStringLiteral(", ") + say("missing first") : QString();
        keys << words;
    }
    const QString own = order.shuffled   ? say("an order shuffled by %1").arg(*order.shuffled)
                        : keys.isEmpty() ? say("their order")
                                         : say("the order of %1").arg(keys.join(say(", then ")));
    return order.isGathered ? own + say(", section by section") : own;
}

std::optional<OrderSpec> sortFromWords(const QString& typed, const OrderSpec& now,
                                       const std::vector<Field>& fields) {
    OrderSpec to = now;
    QString words = typed.trimmed();
    to.isGathered = words.endsWith(say(", section by section"));
    words.chop(to.isGathered ? say(", section by section").size() : 0);
    if (words == say("their order")) {
        to.by.clear();
        to.shuffled.reset();
        return to;
    }
    static const QRegularExpression shuffled(QStringLiteral("^(?:an order )?shuffled?(?: by (\\d+))?$"));
    if (const auto match = shuffled.match(words); match.hasMatch()) {
        const std::uint64_t seed = match.captured(1).toULongLong();
        if (match.captured(1).isEmpty()) {
            return shuffledAnew(to);
        }
        to.shuffled = seed;
        return seed <= kMostSeed ? std::optional(to) : std::nullopt;
    }
    const QString before = say("the order of %1").arg(QString());
    words = words.startsWith(before) ? words.mid(before.size()) : words;
    to.by.clear();
    to.shuffled.reset();
    for (const QString& key : words.split(say(", then "))) {
        const auto by = sortByFrom(key, fields);
        if (!by) {
            return std::nullopt;
        }
        to.by.push_back(*by);
    }
    return to;
}

OrderSpec shuffledAnew(OrderSpec order) {
    order.shuffled = order.shuffled ? *order.shuffled % kMostSeed + 1 : 1;
    return order;
}

QStringList sortChoices(const OrderSpec& now, const std::vector<Field>& fields, bool areSections) {
    QStringList choices{say("their order")};
    if (areSections) { // the same, but for that
        OrderSpec other = now;
        other.isGathered = !now.isGathered;
        choices << sortInWords(other, fields);
    }
    choices << sortInWords(shuffledAnew(now), fields);
    for (const Field& field : fields) {
        for (const bool descending : {false, true}) {
            OrderSpec order;
            order.isGathered = now.isGathered;
            order.by = {{field.name, descending, false}};
            if (hasOrder(field)) {
                choices << sortInWords(order, fields);
            }
        }
    }
    choices.removeDuplicates();
    return choices;
}

QString whereInWords(const std::string& rule, const std::vector<Field>& fields) {
    if (rule.empty()) {
        return say("all");
    }
    const QString text = QString::fromStdString(rule);
    QStringList conditions;
    for (const QString& one : text.split(QStringLiteral(" && "))) {
        const auto words = conditionInWords(one, fields);
        if (!words) {
            return say("those where %1").arg(text);
        }
        conditions << *words;
    }
    return say("those where %1").arg(conditions.join(say(" and ")));
}

std::optional<std::string> whereFromWords(const QString& typed, const std::vector<Field>& fields) {
    QString words = typed.trimmed();
    if (words == say("all")) {
        return std::string();
    }
    const QString before = say("those where %1").arg(QString());
    words = words.startsWith(before) ? words.mid(before.size()).trimmed() : words;
    if (words.contains(QLatin1String("@.")) || words.contains(QLatin1String("@["))) {
        return words.toStdString(); // a rule: who runs it says what is wrong with it
    }
    std::string rule;
    for (const QString& one : words.split(say(" and "))) {
        const auto condition = conditionFrom(one, fields);
        if (!condition) {
            return std::nullopt;
        }
        rule += (rule.empty() ? "" : " && ") + *condition;
    }
    return rule;
}

QStringList whereChoices(const std::vector<FieldValues>& values, QHash<QString, QString>& notes) {
    QStringList choices{say("all")};
    for (const FieldValues& of : values) {
        for (const ValueCount& one : of.values) {
            QString value = QString::fromStdString(one.value);
            value = value == QLatin1String("true")    ? say("yes")
                    : value == QLatin1String("false") ? say("no")
                                                      : value;
            const QString choice = say("those where %1").arg(QStringLiteral("%1 is %2").arg(of.field, value));
            choices << choice;
            notes.insert(choice, grouped(one.records));
        }
    }
    return choices;
}

QString searchInWords(const OrderSpec& order) {
    if (order.containing.empty()) {
        return say("anything");
    }
    QStringList names;
    for (const std::string& name : order.within) {
        names << QString::fromStdString(name);
    }
    const QString words = QStringLiteral("\u201c%1\u201d").arg(QString::fromStdString(order.containing));
    return names.isEmpty() ? words : say("%1 in %2").arg(words, names.join(say(" and ")));
}

OrderSpec searchFromWords(const QString& typed, OrderSpec now, const std::vector<Field>& fields) {
    QString words = typed.trimmed();
    if (words.isEmpty() || words == say("anything")) {
        now.containing.clear();
        now.within.clear();
        return now;
    }
    static const QRegularExpression quoted(QStringLiteral("^[\"\u201c](.*)[\"\u201d](?:\\s+in\\s+(.+))?$"));
    if (const auto match = quoted.match(words); match.hasMatch()) {
        std::vector<std::string> within;
        bool areFields = true;
        for (const QString& name : match.captured(2).split(say(" and "), Qt::SkipEmptyParts)) {
            const Field* field = fieldNamed(fields, name);
            areFields = areFields && field != nullptr;
            within.push_back(name.trimmed().toStdString());
        }
        if (areFields) {
            now.containing = match.captured(1).trimmed().toStdString();
            now.within = now.containing.empty() ? std::vector<std::string>() : std::move(within);
            return now;
        }
    }
    now.containing = words.toStdString();
    return now;
}

} // namespace scorrere::workbench
