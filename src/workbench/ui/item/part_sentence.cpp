// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/part_sentence.h"

#include <algorithm>
#include <cmath>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

namespace {

const QStringList& colourWords() {
    static const QStringList words{
        QStringLiteral("ink"),     QStringLiteral("quiet"), QStringLiteral("accent"),
        QStringLiteral("faint"),   QStringLiteral("note"),  QStringLiteral("good"),
        QStringLiteral("caution"), QStringLiteral("bad"),   QStringLiteral("paper")};
    return words;
}

QString numberText(double value) {
    return QString::number(value, 'g', 10);
}

QString jsonNumber(const Json& value, double otherwise) {
    return numberText(value.is_number() ? value.get<double>() : otherwise);
}

const QStringList& lengthWords() {
    static const QStringList lengths{QStringLiteral("0"),  QStringLiteral("4"),  QStringLiteral("8"),
                                     QStringLiteral("12"), QStringLiteral("16"), QStringLiteral("24"),
                                     QStringLiteral("32")};
    return lengths;
}

} // namespace

PartSentence::Word PartSentence::numberWord(const QString& name, const QString& what,
                                            const std::string& member, double otherwise,
                                            const QStringList& choices, const QString& unit) {
    return {name,
            what,
            member,
            choices,
            [otherwise, unit](const Json& value) {
                const QString number = jsonNumber(value, otherwise);
                return unit.isEmpty() ? number : number + QLatin1Char(' ') + unit;
            },
            [unit](const QString& typed) -> std::optional<Json> {
                QString plain = typed;
                bool isNumber = false;
                const double number = plain.remove(unit).trimmed().toDouble(&isNumber);
                return isNumber && std::isfinite(number) ? std::optional(Json(number)) : std::nullopt;
            },
            tr("a number")};
}

PartSentence::Word PartSentence::choiceWord(const QString& name, const QString& what,
                                            const std::string& member, const char* otherwise,
                                            const QStringList& choices) {
    return {name,
            what,
            member,
            choices,
            [otherwise](const Json& value) {
                return value.is_string() ? QString::fromStdString(value.get<std::string>())
                                         : QString::fromLatin1(otherwise);
            },
            [](const QString& typed) { return std::optional(Json(typed.toStdString())); },
            {}};
}

void PartSentence::add(const Word& word) {
    SentenceWord* made = addWord(word.name, word.what);
    made->setChoices(word.choices);
    made->setWord(word.say(draft_.member(pointer_, word.member)));
    if (!word.hint.isEmpty()) {
        made->setReader(
            [word](const QString& typed) {
                const auto read = word.read(typed);
                return read ? word.say(*read) : QString();
            },
            word.hint);
    }
    connect(made, &SentenceWord::wordChosen, this, [this, word](const QString& chosen) {
        if (const auto value = word.read(chosen)) {
            Q_EMIT wanted(word.what.toLower(), word.member, *value);
        }
    });
}

PartSentence::Word PartSentence::colourWord(const std::string& word) {
    Word made = choiceWord(QStringLiteral("wordColour"), tr("Its colour"), "colour",
                           word == "line" ? "faint" : "ink", colourWords());
    made.hint = tr("a role, or #rrggbb");
    return made;
}

PartSentence::Word PartSentence::openWord(const QString& name, const QString& what, const std::string& member,
                                          const QString& otherwise) {
    return Word{
        name,
        what,
        member,
        QStringList{otherwise} + lengthWords().mid(3),
        [otherwise](const Json& value) { return value.is_number() ? jsonNumber(value, 0) : otherwise; },
        [otherwise](const QString& typed) -> std::optional<Json> {
            bool isNumber = false;
            const double number = typed.toDouble(&isNumber);
            return typed == otherwise ? std::optional(Json())
                   : isNumber         ? std::optional(Json(number))
                                      : std::nullopt;
        },
        tr("px, or: %1").arg(otherwise)};
}

void PartSentence::addLimits() {
    addText(tr(", between"));
    add(openWord(QStringLiteral("wordMinHeight"), tr("Its least height"), "minHeight", tr("any")));
    addText(tr("and"));
    add(openWord(QStringLiteral("wordMaxHeight"), tr("Its greatest height"), "maxHeight", tr("any height")));
    addText(tr("high"));
}

namespace {

/// A word of the document and how a sentence says it.
using Said = std::pair<std::string, QString>;

QString saidOf(const std::vector<Said>& all, const std::string& word) {
    const auto found = std::ranges::find(all, word, &Said::first);
    return found == all.end() ? QString::fromStdString(word) : found->second;
}

std::optional<std::string> wordOf(const std::vector<Said>& all, const QString& said) {
    const auto found = std::ranges::find(all, said, &Said::second);
    return found == all.end() ? std::nullopt : std::optional(found->first);
}

QStringList saidOfAll(const std::vector<Said>& all) {
    QStringList said;
    for (const Said& one : all) {
        said << one.second;
    }
    return said;
}

} // namespace

PartSentence::Word PartSentence::weightWord(int otherwise) {
    const std::vector<Said> weights{
        {"400", tr("regular")}, {"500", tr("medium")}, {"600", tr("semibold")}, {"700", tr("bold")}};
    return {QStringLiteral("wordWeight"),
            tr("Text weight"),
            "weight",
            saidOfAll(weights),
            [weights, otherwise](const Json& value) {
                const int weight = value.is_number() ? value.get<int>() : otherwise;
                return saidOf(weights, std::to_string(weight));
            },
            [weights](const QString& typed) -> std::optional<Json> {
                const std::string word = wordOf(weights, typed).value_or(typed.toStdString());
                const int weight = QString::fromStdString(word).toInt();
                return weight >= 100 && weight <= 900 ? std::optional(Json(weight)) : std::nullopt;
            },
            tr("one of these, or 100 to 900")};
}

PartSentence::Word PartSentence::alignWord(const std::string& otherwise) {
    const std::vector<Said> places{{"start", tr("at the start")},
                                   {"center", tr("in the middle")},
                                   {"end", tr("at the end")},
                                   {"stretch", tr("from edge to edge")}};
    return {QStringLiteral("wordAlign"),
            tr("Where it stands across its box"),
            "align",
            saidOfAll(places),
            [places, otherwise](const Json& value) {
                return saidOf(places, value.is_string() ? value.get<std::string>() : otherwise);
            },
            [places](const QString& said) -> std::optional<Json> {
                const auto word = wordOf(places, said);
                return word ? std::optional(Json(*word)) : std::nullopt;
            },
            {}};
}

void PartSentence::addTextWords(const std::string& word) {
    if (word == "text" || word == "badge" || word == "scale") {
        addText(tr("Set in"));
        add(numberWord(QStringLiteral("wordSize"), tr("Text size, px"), "size",
                       word == "badge"   ? 11
                       : word == "scale" ? 14
                                         : 15,
                       {QStringLiteral("11"), QStringLiteral("12"), QStringLiteral("13"),
                        QStringLiteral("15"), QStringLiteral("18"), QStringLiteral("24")}));
        addText(tr("px"));
        if (word != "scale") {
            add(weightWord(word == "badge" ? 600 : 400));
        }
        addText(tr("in"));
        add(colourWord(word));
        if (word == "text") {
            addText(tr(", on"));
            add(Word{QStringLiteral("wordLines"),
                     tr("Lines at most"),
                     "lines",
                     {tr("one line"), tr("2 lines"), tr("3 lines"), tr("as many lines as it takes")},
                     [](const Json& value) {
                         const int lines = value.is_number() ? value.get<int>() : 1;
                         return lines == 0   ? tr("as many lines as it takes")
                                : lines == 1 ? tr("one line")
                                             : tr("%1 lines").arg(lines);
                     },
                     [](const QString& typed) -> std::optional<Json> {
                         if (typed == tr("one line")) {
                             return Json(1);
                         }
                         const QString digits = typed.section(QLatin1Char(' '), 0, 0);
                         bool isNumber = false;
                         const int lines = digits.toInt(&isNumber);
                         return isNumber                                   ? std::optional(Json(lines))
                                : typed == tr("as many lines as it takes") ? std::optional(Json(0))
                                                                           : std::nullopt;
                     },
                     tr("how many lines")});
        }
        addText(tr("."));
    }
}

void PartSentence::addPictureWords(const std::string& word) {
    if (word == "picture") {
        addText(tr("It"));
        add(Word{QStringLiteral("wordFit"),
                 tr("How it fits"),
                 "fit",
                 {tr("fills its place, cropped"), tr("fits into its place"), tr("is stretched")},
                 [](const Json& value) {
                     return value == Json("fit")       ? tr("fits into its place")
                            : value == Json("stretch") ? tr("is stretched")
                                                       : tr("fills its place, cropped");
                 },
                 [](const QString& typed) {
                     return std::optional(typed == tr("fits into its place") ? Json("fit")
                                          : typed == tr("is stretched")      ? Json("stretch")
                                                                             : Json());
                 },
                 {}});
        addText(tr(", its shape is"));
        add(Word{QStringLiteral("wordAspect"),
                 tr("Its width to its height"),
                 "aspect",
                 {tr("that of its place"), QStringLiteral("1"), QStringLiteral("1.5"), QStringLiteral("1.78"),
                  tr("measured when it comes")},
                 [](const Json& value) {
                     return value.is_number()   ? jsonNumber(value, 1)
                            : value.is_string() ? tr("measured when it comes")
                            : value.is_array() && value.size() == 2 && value[0].is_string() &&
                                    value[1].is_string()
                                ? QString::fromStdString(value[0].get<std::string>() + " to " +
                                                         value[1].get<std::string>())
                                : tr("that of its place");
                 },
                 [](const QString& typed) -> std::optional<Json> {
                     bool isNumber = false;
                     const double aspect = typed.toDouble(&isNumber);
                     const QStringList fields = typed.split(QStringLiteral(" to "));
                     return isNumber                                ? std::optional(Json(aspect))
                            : typed == tr("measured when it comes") ? std::optional(Json("measured"))
                            : typed == tr("that of its place")      ? std::optional(Json())
                            : fields.size() == 2
                                ? std::optional(Json::array(
                                      {fields[0].trimmed().toStdString(), fields[1].trimmed().toStdString()}))
                                : std::nullopt;
                 },
                 tr("a number, or two fields: width to height")});
        addText(tr(", its corners"));
        add(numberWord(QStringLiteral("wordRadius"), tr("Rounded corners, px"), "radius", 0,
                       lengthWords().mid(0, 5)));
        addText(tr("round."));
    }
}

void PartSentence::addMeterWords(const std::string& word) {
    if (word == "meter") {
        const auto end = [&](const QString& name, const QString& what, const std::string& member,
                             double otherwise) {
            Word made = numberWord(name, what, member, otherwise,
                                   {QStringLiteral("0"), QStringLiteral("10"), QStringLiteral("100")});
            made.say = [otherwise](const Json& value) {
                return value.is_string() ? QString::fromStdString(value.get<std::string>())
                                         : jsonNumber(value, otherwise);
            };
            made.read = [](const QString& typed) -> std::optional<Json> {
                bool isNumber = false;
                const double number = typed.toDouble(&isNumber);
                return isNumber ? std::optional(Json(number))
                       : typed.startsWith(QLatin1String("$.parameters."))
                           ? std::optional(Json(typed.toStdString()))
                           : std::nullopt;
            };
            made.hint = tr("a number, or $.parameters.NAME");
            return made;
        };
        addText(tr("From"));
        add(end(QStringLiteral("wordFrom"), tr("Where it begins"), "from", 0));
        addText(tr("to"));
        add(end(QStringLiteral("wordTo"), tr("Where it ends"), "to", 100));
        addText(tr(", in"));
        add(colourWord(word));
        addText(tr("."));
    }
}

void PartSentence::addScaleWords(const std::string& word) {
    if (word == "scale") {
        addText(tr("It has"));
        add(numberWord(QStringLiteral("wordSteps"), tr("Steps"), "steps", 5,
                       {QStringLiteral("3"), QStringLiteral("5"), QStringLiteral("10")}));
        addText(tr("steps, shown as"));
        add(Word{QStringLiteral("wordGlyphs"),
                 tr("Its marks, with blanks between them"),
                 "glyphs",
                 {tr("drawn marks"), QStringLiteral("◆ ◇"), QStringLiteral("# -")},
                 [](const Json& value) {
                     QStringList all;
                     for (const Json& glyph : value.is_array() ? value : Json::array()) {
                         all << QString::fromStdString(glyph.is_string() ? glyph.get<std::string>()
                                                                         : std::string());
                     }
                     return all.isEmpty() ? tr("drawn marks") : all.join(QLatin1Char(' '));
                 },
                 [](const QString& typed) -> std::optional<Json> {
                     if (typed == tr("drawn marks")) {
                         return Json();
                     }
                     Json all = Json::array();
                     for (const QString& glyph : typed.split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
                         all.push_back(glyph.toStdString());
                     }
                     return all.empty() ? std::nullopt : std::optional(all);
                 },
                 tr("a full and an empty mark, or one a step")});
        addText(tr("."));
    }
}

void PartSentence::addLineWords(const std::string& word) {
    if (word == "line") {
        addText(tr("It is"));
        add(numberWord(QStringLiteral("wordThick"), tr("Its thickness, px"), "line", 1,
                       {QStringLiteral("1"), QStringLiteral("2"), QStringLiteral("4")}));
        addText(tr("px thick, in"));
        add(colourWord(word));
        addText(tr(", fading at"));
        add(choiceWord(QStringLiteral("wordFade"), tr("Where it fades"), "fade", "none",
                       {QStringLiteral("none"), QStringLiteral("start"), QStringLiteral("end"),
                        QStringLiteral("both")}));
        addText(tr("of its ends."));
    }
}

void PartSentence::addSpaceWords(const std::string& word) {
    if (word == "space") {
        addText(tr("It keeps"));
        add(numberWord(QStringLiteral("wordSpace"), tr("How much room, px"), "space", 0, lengthWords()));
        addText(tr("px free."));
    }
}

void PartSentence::addBoxWords(const std::string& word) {
    const Json* part = draft_.part(pointer_);
    if (!boxWord(*part).empty() || word == "repeat") {
        if (word == "repeat") {
            addText(tr("At most"));
            add(numberWord(
                QStringLiteral("wordMost"), tr("Entries at most"), "most", 6,
                {QStringLiteral("3"), QStringLiteral("5"), QStringLiteral("6"), QStringLiteral("10")}));
            addText(tr("of them, as a"));
            add(choiceWord(QStringLiteral("wordAs"), tr("How they stand"), "as", "wrap",
                           {QStringLiteral("wrap"), QStringLiteral("row"), QStringLiteral("column")}));
            addText(tr("."));
        }
        addText(tr("Its parts stand"));
        add(numberWord(QStringLiteral("wordGap"), tr("Room between parts, px"), "gap", 0, lengthWords()));
        addText(tr("px apart, at the"));
        add(choiceWord(QStringLiteral("wordBoxAlign"), tr("Where parts stand across it"), "align",
                       word == "column" || word == "over" ? "stretch" : "start",
                       {QStringLiteral("start"), QStringLiteral("center"), QStringLiteral("end"),
                        QStringLiteral("stretch")}));
        addText(tr(", in"));
        add(Word{QStringLiteral("wordPadding"),
                 tr("Room around them: one number, two, or four"),
                 "padding",
                 {QStringLiteral("0"), QStringLiteral("8"), QStringLiteral("12 16")},
                 [](const Json& value) {
                     QStringList all;
                     for (const Json& side : value.is_array() ? value : Json::array({value})) {
                         all << jsonNumber(side, 0);
                     }
                     return all.join(QLatin1Char(' '));
                 },
                 [](const QString& typed) -> std::optional<Json> {
                     Json all = Json::array();
                     for (const QString& side : typed.split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
                         bool isNumber = false;
                         all.push_back(side.toDouble(&isNumber));
                         if (!isNumber) {
                             return std::nullopt;
                         }
                     }
                     return all.size() == 1 || all.size() == 2 || all.size() == 4 ? std::optional(all)
                                                                                  : std::nullopt;
                 },
                 tr("one number; two: top and bottom, sides; four: top, end, bottom, start")});
        addText(tr("px of room, on"));
        add(Word{QStringLiteral("wordGround"), tr("What it stands on"), "ground",
                 QStringList{tr("nothing")} + colourWords(),
                 [](const Json& value) {
                     const std::string ground = value.is_string() ? value.get<std::string>() : std::string();
                     return ground.empty() ? tr("nothing") : QString::fromStdString(ground);
                 },
                 [](const QString& typed) {
                     return std::optional(typed == tr("nothing") ? Json() : Json(typed.toStdString()));
                 },
                 tr("a role, or #rrggbb")});
        addLimits();
        addText(tr("."));
    }
}

void PartSentence::addSizeWords(const std::string& word) {
    if (word != "space" && word != "line" && word != "repeat") {
        addText(tr("It stands"));
        add(openWord(QStringLiteral("wordWidth"), tr("Its width, px"), "width", tr("as wide as it needs")));
        addText(tr("by"));
        add(openWord(QStringLiteral("wordHeight"), tr("Its height, px"), "height",
                     tr("as high as it needs")));
        const auto standing = DesignDraft::standingOf(pointer_);
        if (standing && standing->word != "over") {
            addText(tr("and takes"));
            add(Word{QStringLiteral("wordGrow"),
                     tr("Its share of what is left"),
                     "grow",
                     {tr("no more"), tr("what is left"), tr("2 shares of what is left")},
                     [](const Json& value) {
                         const double grow = value.is_number() ? value.get<double>() : 0;
                         return grow <= 0   ? tr("no more")
                                : grow == 1 ? tr("what is left")
                                            : tr("%1 shares of what is left").arg(grow);
                     },
                     [](const QString& typed) -> std::optional<Json> {
                         if (typed == tr("no more")) {
                             return Json();
                         }
                         bool isNumber = false;
                         const double shares = typed.section(QLatin1Char(' '), 0, 0).toDouble(&isNumber);
                         return isNumber                      ? std::optional(Json(shares))
                                : typed == tr("what is left") ? std::optional(Json(1))
                                                              : std::nullopt;
                     },
                     tr("how many shares")});
        }
        addText(tr("."));
    }
}

void PartSentence::addManners(const std::string& word) {
    const Json* part = draft_.part(pointer_);
    if (word != "space" && word != "line") {
        if (boxWord(*part).empty() && word != "repeat") {
            addText(tr("Across its box it stands"));
            add(alignWord(word == "text" || word == "picture" ? "stretch" : "start"));
            addText(tr("."));
        }
        if (word == "text" || word == "badge" || word == "meter" || word == "scale") {
            addText(tr("A value that comes later"));
            add(Word{QStringLiteral("wordLate"),
                     tr("What a late value does"),
                     "keepsPlace",
                     {tr("makes room for itself"), tr("has its place kept")},
                     [](const Json& value) {
                         return value == Json(true) ? tr("has its place kept") : tr("makes room for itself");
                     },
                     [](const QString& typed) {
                         return std::optional(typed == tr("has its place kept") ? Json(true) : Json());
                     },
                     {}});
            addText(tr("."));
        }
        addText(tr("A tap does"));
        add(Word{QStringLiteral("wordTap"),
                 tr("What a tap does"),
                 "tap",
                 {tr("nothing"), QStringLiteral("open")},
                 [](const Json& value) {
                     const std::string tap = value.is_string() ? value.get<std::string>() : std::string();
                     return tap.empty() ? tr("nothing") : QString::fromStdString(tap);
                 },
                 [](const QString& typed) {
                     return std::optional(typed == tr("nothing") ? Json() : Json(typed.toStdString()));
                 },
                 tr("an action's name")});
        addText(tr("."));
    }
}

PartSentence::PartSentence(Look& look, const DesignDraft& draft, const std::string& pointer, QWidget* parent)
    : SentenceBar(look, parent), draft_(draft), pointer_(pointer) {
    setObjectName(QStringLiteral("lookSentence"));
    setSmall(true);
    const std::string word = partWordOf(*draft_.part(pointer_));
    addTextWords(word);
    addPictureWords(word);
    addMeterWords(word);
    addScaleWords(word);
    addLineWords(word);
    addSpaceWords(word);
    addBoxWords(word);
    addSizeWords(word);
    addManners(word);
    settle();
}

} // namespace scorrere::workbench

#include "moc_part_sentence.cpp"
