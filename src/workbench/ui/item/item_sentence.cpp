// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/item_sentence.h"

#include "engine/design/item_design.h"
#include "workbench/model/devices.h"
#include "workbench/ui/look/lead_words.h"

#include <algorithm>
#include <set>

namespace scorrere::workbench {

namespace {

/// "412 and 320", "412, 360 and 320".
QString listInWords(const QStringList& words) {
    return words.size() < 2 ? words.join(QString())
                            : words.mid(0, words.size() - 1).join(QStringLiteral(", ")) +
                                  QObject::tr(" and ") + words.last();
}

QStringList listFromWords(QString words) {
    words.replace(QObject::tr(" and "), QStringLiteral(","));
    QStringList parts;
    for (const QString& part : words.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        parts << part.trimmed();
    }
    return parts;
}

/// Numbers as typed, each from `lowest` to `highest`; empty when something else stands there.
std::vector<double> numbersFromWords(const QString& words, double lowest, double highest) {
    std::vector<double> numbers;
    for (const QString& part : listFromWords(words)) {
        bool isNumber = false;
        const double number = part.toDouble(&isNumber);
        if (!isNumber || number < lowest || number > highest) {
            return {};
        }
        numbers.push_back(number);
    }
    return numbers;
}

QStringList wordsOf(const std::vector<double>& numbers) {
    QStringList words;
    for (const double number : numbers) {
        words << QString::number(number);
    }
    return words;
}

QString singular(const std::string& noun) {
    QString word = QString::fromStdString(noun);
    if (word.endsWith(QLatin1String("ies"))) {
        return word.chopped(3) + QLatin1Char('y');
    }
    return word.endsWith(QLatin1Char('s')) && !word.endsWith(QLatin1String("ss")) ? word.chopped(1) : word;
}

/// The document's own device upright and on its side, and all devices in a row.
QStringList widthsOffered(const WindowSpec& window) {
    const Device& own = deviceNamed(window.device);
    std::set<double> all;
    for (const Device& device : devices()) {
        all.insert(device.width);
    }
    return {QString::number(own.width), QString::number(own.height),
            listInWords({QString::number(own.width), QString::number(own.height)}),
            listInWords(wordsOf({all.begin(), all.end()}))};
}

std::vector<std::int64_t> recordsFromWords(QString words) {
    std::vector<std::int64_t> records;
    words.remove(QObject::tr(" pinned")).remove(QObject::tr("no. "));
    for (const double number : numbersFromWords(words, 1, 1e15)) {
        records.push_back(static_cast<std::int64_t>(number) - 1);
    }
    return records;
}

QString pinnedInWords(const std::vector<std::int64_t>& records) {
    QStringList words;
    for (const std::int64_t record : records) {
        words << QString::number(record + 1);
    }
    return words.isEmpty() ? QObject::tr("none pinned")
                           : QObject::tr("no. %1 pinned").arg(listInWords(words));
}

} // namespace

std::vector<double> boardWidths(const CollectionDocument& document) {
    const Device& device = deviceNamed(document.window.device);
    const double own = document.window.upright ? device.width : device.height;
    return document.board.widths.empty() ? std::vector<double>{own} : document.board.widths;
}

ItemSentence::ItemSentence(Look& look, QWidget* parent) : SentenceBar(look, parent) {
    setObjectName(QStringLiteral("itemSentence"));
    addWords();
    connectWords();
}

void ItemSentence::addWords() {
    addText(tr("A"));
    which_ = addWord(QStringLiteral("wordWhich"), tr("Which design is shown"));
    rule_ = addWord(QStringLiteral("wordRule"), tr("Which records it is for: a condition"));
    addText(tr("looks like this in"));
    locale_ = addWord(QStringLiteral("wordLocale"), tr("The language that dates and numbers are written in"));
    addText(tr(", shown"));
    widths_ = addWord(QStringLiteral("wordWidths"), tr("How wide it is looked at, px"));
    addText(tr("wide, text at"));
    scales_ = addWord(QStringLiteral("wordScales"), tr("The text sizes it is looked at in"));
    addText(tr(", at density"));
    densities_ = addWord(QStringLiteral("wordDensities"), tr("Device px to a px"));
    addText(tr(", on"));
    hardest_ = addWord(QStringLiteral("wordHardest"), tr("How many of the hardest records"));
    addText(tr(", with"));
    pinned_ = addWord(QStringLiteral("wordPinned"), tr("Records looked at in any case, by number"));
    addText(tr("."));
    rule_->setReader([](const QString& typed) { return tr("when %1").arg(typed.trimmed()); },
                     tr("a condition, as in @.count > 5"));
    locale_->setChoices({QStringLiteral("en"), QStringLiteral("en-GB"), QStringLiteral("de"),
                         QStringLiteral("fr"), QStringLiteral("es"), QStringLiteral("pt-BR"),
                         QStringLiteral("ru"), QStringLiteral("ar"), QStringLiteral("he"),
                         QStringLiteral("hi"), QStringLiteral("ja"), QStringLiteral("zh")});
    locale_->setReader(
        [](const QString& typed) {
            const QString tag = typed.trimmed();
            return isLocale(tag.toStdString()) ? tag : QString();
        },
        tr("a language tag, as in en, de-CH or ar-EG"));
    const auto canonical = [](double lowest, double highest) {
        return [lowest, highest](const QString& typed) {
            return listInWords(wordsOf(numbersFromWords(typed, lowest, highest)));
        };
    };
    widths_->setReader(canonical(40, 4000), tr("px, 40 to 4000, as in 412 and 320"));
    scales_->setChoices(
        {QStringLiteral("100%"), QStringLiteral("85%"), QStringLiteral("150%"), QStringLiteral("200%"),
         tr("%1 and %2").arg(QStringLiteral("100%"), QStringLiteral("150%")), tr("85%, 100% and 200%")});
    scales_->setReader(
        [](const QString& typed) {
            QStringList words;
            for (const QString& part : listFromWords(typed)) {
                const auto scale = scaleFromWords(part);
                if (!scale) {
                    return QString();
                }
                words << scaleInWords(*scale);
            }
            return listInWords(words);
        },
        tr("per cent, 50 to 400, as in 100% and 150%"));
    densities_->setChoices({QStringLiteral("1"), QStringLiteral("2"), QStringLiteral("1, 1.5, 2 and 3")});
    densities_->setReader(canonical(0.5, 8), tr("0.5 to 8, as in 1, 2 and 3"));
    pinned_->setChoices({pinnedInWords({})});
    pinned_->setReader(
        [](const QString& typed) {
            const std::vector<std::int64_t> records = recordsFromWords(typed);
            return records.empty() ? QString() : pinnedInWords(records);
        },
        tr("numbers of records, as in 12 and 40"));
}

void ItemSentence::connectWords() {
    connect(which_, &SentenceWord::wordChosen, this, &ItemSentence::tellWhich);
    connect(rule_, &SentenceWord::wordChosen, this,
            [this](const QString& word) { Q_EMIT ruleWanted(word.mid(tr("when ").size())); });
    connect(locale_, &SentenceWord::wordChosen, this, &ItemSentence::localeWanted);
    const auto board = [this](const QString& what, auto change) {
        return [this, what, change](const QString& word) {
            BoardSpec to = board_;
            change(to, word);
            Q_EMIT boardWanted(what, to);
        };
    };
    connect(widths_, &SentenceWord::wordChosen, this,
            board(tr("widths looked at"),
                  [](BoardSpec& to, const QString& word) { to.widths = numbersFromWords(word, 40, 4000); }));
    connect(scales_, &SentenceWord::wordChosen, this,
            board(tr("text sizes looked at"), [](BoardSpec& to, const QString& word) {
                to.textScales.clear();
                for (const QString& part : listFromWords(word)) {
                    to.textScales.push_back(scaleFromWords(part).value_or(1));
                }
            }));
    connect(densities_, &SentenceWord::wordChosen, this,
            board(tr("densities looked at"),
                  [](BoardSpec& to, const QString& word) { to.densities = numbersFromWords(word, 0.5, 8); }));
    connect(pinned_, &SentenceWord::wordChosen, this,
            board(tr("pinned records"),
                  [](BoardSpec& to, const QString& word) { to.pinned = recordsFromWords(word); }));
    connect(hardest_, &SentenceWord::wordChosen, this,
            board(tr("how many of the hardest"), [this](BoardSpec& to, const QString& word) {
                const int most = word.section(QLatin1Char(' '), 1, 1).toInt();
                to.hardest = most < static_cast<int>(found_) ? most : 0;
            }));
}

void ItemSentence::tellWhich(const QString& word) {
    if (word == tr("new kind")) {
        return Q_EMIT newKindWanted();
    }
    if (word == tr("new header") || word == tr("new footer")) {
        return Q_EMIT newEndWanted(word == tr("new header") ? kHeaderDesign : kFooterDesign);
    }
    if (word == tr("new section header") || word == tr("new section footer")) {
        return Q_EMIT newEndWanted(word == tr("new section header") ? kSectionHeaderDesign
                                                                    : kSectionFooterDesign);
    }
    if (word == tr("new heading")) {
        return Q_EMIT newEndWanted(kHeadingDesign);
    }
    if (word == tr("new record at length")) {
        return Q_EMIT newEndWanted(kDetailDesign);
    }
    if (const auto entry = entries_.indexOf(word); entry >= 0) {
        return Q_EMIT whichWanted(kFirstEntryDesign - static_cast<int>(entry));
    }
    const auto kind = kinds_.indexOf(word);
    Q_EMIT whichWanted(kind >= 0                        ? static_cast<int>(kind)
                       : word == tr("header")           ? kHeaderDesign
                       : word == tr("footer")           ? kFooterDesign
                       : word == tr("section header")   ? kSectionHeaderDesign
                       : word == tr("section footer")   ? kSectionFooterDesign
                       : word == tr("heading")          ? kHeadingDesign
                       : word == tr("record at length") ? kDetailDesign
                                                        : kRecordDesign);
}

void ItemSentence::say(const ItemSaid& said) {
    board_ = said.document.board;
    found_ = said.found;
    sayWhich(said);
    locale_->setWord(QString::fromStdString(said.document.locale));
    QStringList widths;
    QStringList scales;
    QStringList densities;
    const auto add = [](QStringList& list, const QString& word) {
        if (!list.contains(word)) {
            list << word;
        }
    };
    for (const double width : boardWidths(said.document)) {
        add(widths, QString::number(width));
    }
    for (const BoardSetting& setting : said.settings) {
        add(scales, scaleInWords(setting.textScale));
        add(densities, QString::number(setting.density));
    }
    widths_->setChoices(widthsOffered(said.document.window));
    widths_->setWord(listInWords(widths));
    scales_->setWord(listInWords(scales));
    densities_->setWord(listInWords(densities));
    sayHardest(said);
    pinned_->setWord(pinnedInWords(board_.pinned));
    settle();
}

void ItemSentence::sayWhich(const ItemSaid& said) {
    const CollectionDocument& document = said.document;
    QStringList names{singular(document.noun)};
    if (document.header) {
        names << tr("header");
    }
    if (document.footer) {
        names << tr("footer");
    }
    if (document.detail) {
        names << tr("record at length");
    }
    const bool areSections = document.arrangement.sections.has_value();
    if (areSections && !document.isSectionHeaderUsual) {
        names << tr("section header");
    }
    if (areSections && document.sectionFooter) {
        names << tr("section footer");
    }
    const auto* table = std::get_if<TableSpec>(&document.arrangement.form);
    const bool isHeaded = table != nullptr && table->heading;
    if (isHeaded && !document.isHeadingUsual) {
        names << tr("heading");
    }
    kinds_.clear();
    for (const KindSpec& kind : document.kinds) {
        kinds_ << QString::fromStdString(kind.name);
    }
    entries_.clear();
    for (int i = 0; i < static_cast<int>(document.strips.size()); ++i) {
        const PartSpec* strip = stripOf(document, kFirstEntryDesign - i);
        const QString of = strip == nullptr ? QString() : QString::fromStdString(strip->binding);
        const QString name = tr("%1 entry").arg(of);
        entries_ << (entries_.contains(name) ? tr("%1, strip %2").arg(name).arg(i + 1) : name);
    }
    QStringList choices = names + kinds_ + entries_;
    choices << tr("new kind");
    if (!document.header) {
        choices << tr("new header");
    }
    if (!document.footer) {
        choices << tr("new footer");
    }
    if (areSections && document.isSectionHeaderUsual) {
        choices << tr("new section header");
    }
    if (areSections && !document.sectionFooter) {
        choices << tr("new section footer");
    }
    if (isHeaded && document.isHeadingUsual) {
        choices << tr("new heading");
    }
    if (!document.detail) {
        choices << tr("new record at length");
    }
    which_->setChoices(choices);
    which_->setWord(isOfEntries(said.which)              ? entries_.value(kFirstEntryDesign - said.which)
                    : said.which >= 0                    ? kinds_.value(said.which)
                    : said.which == kHeaderDesign        ? tr("header")
                    : said.which == kFooterDesign        ? tr("footer")
                    : said.which == kSectionHeaderDesign ? tr("section header")
                    : said.which == kSectionFooterDesign ? tr("section footer")
                    : said.which == kHeadingDesign       ? tr("heading")
                    : said.which == kDetailDesign        ? tr("record at length")
                                                         : names.first());
    const QString when =
        said.which < 0 ? QString()
                       : QString::fromStdString(document.kinds[static_cast<std::size_t>(said.which)].when);
    rule_->setWord(when.isEmpty() ? QString() : tr("when %1").arg(when));
}

void ItemSentence::sayHardest(const ItemSaid& said) {
    if (!isOfRecords(said.which)) {
        hardest_->setWord(isOfSections(said.which)  ? tr("some of the sections")
                          : isOfEntries(said.which) ? tr("some of the entries")
                                                    : tr("the one there is"));
        return hardest_->setChoices({});
    }
    const QString of = grouped(said.considered);
    const auto words = [&of](std::size_t n) {
        return n == 1 ? tr("the hardest of %1 records").arg(of)
                      : tr("the %1 hardest of %2 records").arg(n).arg(of);
    };
    const std::size_t wanted = board_.hardest > 0 ? static_cast<std::size_t>(board_.hardest) : said.found;
    hardest_->setWord(said.found == 0 ? tr("the hardest of the records")
                                      : words(std::min(wanted, said.found)));
    QStringList choices;
    for (const std::size_t n : {std::size_t{3}, std::size_t{6}, said.found}) {
        if (n <= said.found && n > 1 && !choices.contains(words(n))) {
            choices << words(n);
        }
    }
    hardest_->setChoices(choices);
}

} // namespace scorrere::workbench

#include "moc_item_sentence.cpp"
