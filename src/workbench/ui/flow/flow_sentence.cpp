// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/flow_sentence.h"

#include "workbench/model/devices.h"
#include "workbench/ui/flow/beside_words.h"
#include "workbench/ui/look/arrangement_words.h"
#include "workbench/ui/look/lead_words.h"
#include "workbench/ui/look/page_words.h"

#include <QRegularExpression>
#include <algorithm>

namespace scorrere::workbench {

namespace {

QString barsInWords(bool isUnder) {
    return isUnder ? QObject::tr("under") : QObject::tr("between");
}

struct Refreshing {
    const char* words;
    bool pull;
    std::int64_t everyS;
    RefreshStand stand;
};
constexpr Refreshing kRefreshing[] = {
    {"pulling", true, 0, RefreshStand::AtTop},
    {"pulling, staying where one reads", true, 0, RefreshStand::WithReader},
    {"R only", false, 0, RefreshStand::AtTop},
    {"pulling and every 60 s, staying where one reads", true, 60, RefreshStand::WithReader},
};

QString refreshWords(const PagingSpec& paging) {
    for (const Refreshing& one : kRefreshing) {
        if (one.pull == paging.byPull && one.everyS == paging.everyS && one.stand == paging.stand) {
            return QString::fromLatin1(one.words);
        }
    }
    QString words = paging.byPull ? QObject::tr("pulling") : QObject::tr("the key R");
    if (paging.everyS > 0) {
        words += QObject::tr(" and every %1 s").arg(paging.everyS);
    }
    return words +
           (paging.stand == RefreshStand::WithReader ? QObject::tr(", staying where one reads") : QString());
}

/// Whatever order its pieces come in: "every 30 s, staying".
QString refreshFrom(const QString& typed, PagingSpec& paging) {
    static const QRegularExpression every(QStringLiteral("every\\s+(\\d+)\\s*(s|min)"));
    const auto match = every.match(typed);
    const bool known =
        typed.contains(QLatin1String("pull")) || typed.contains(QLatin1String("key")) || match.hasMatch();
    if (!known) {
        return {};
    }
    paging.byPull = typed.contains(QLatin1String("pull"));
    paging.everyS = !match.hasMatch() ? 0
                                      : match.captured(1).toLongLong() *
                                            (match.captured(2) == QLatin1String("min") ? 60 : 1);
    paging.stand = typed.contains(QLatin1String("stay")) ? RefreshStand::WithReader : RefreshStand::AtTop;
    return paging.everyS > 86'400 ? QString() : refreshWords(paging);
}

QString keepWords(const PagingSpec& paging) {
    return paging.keepMiB > 0 ? QObject::tr("%1 pages or %2 MiB").arg(paging.keep).arg(paging.keepMiB)
                              : QObject::tr("%1 pages").arg(paging.keep);
}

QString keepFrom(const QString& typed, PagingSpec& paging) {
    static const QRegularExpression form(
        QStringLiteral("^(\\d+)(?:\\s*pages?)?(?:\\s+or\\s+([\\d.]+)\\s*MiB)?$"));
    const auto match = form.match(typed.trimmed());
    const std::int64_t keep = match.captured(1).toLongLong();
    if (!match.hasMatch() || keep < 1 || keep > 100'000) {
        return {};
    }
    paging.keep = keep;
    paging.keepMiB = match.captured(2).toDouble();
    return keepWords(paging);
}

} // namespace

QString weatherInWords(const render::Weather& weather) {
    if (weather.offline) {
        return QObject::tr("no network");
    }
    if (weather.isClear()) {
        return QObject::tr("clear weather");
    }
    QStringList parts;
    if (weather.latencyMs > 0 || weather.jitterMs > 0) {
        parts << (weather.jitterMs > 0 ? QObject::tr("%1 to %2 ms")
                                             .arg(weather.latencyMs)
                                             .arg(weather.latencyMs + weather.jitterMs)
                                       : QObject::tr("%1 ms").arg(weather.latencyMs));
    }
    if (weather.bytesPerSecond > 0) {
        parts << QObject::tr("%1 kB/s").arg(weather.bytesPerSecond / 1000);
    }
    if (weather.lossShare > 0) {
        parts << QObject::tr("%1% lost").arg(weather.lossShare * 100);
    }
    if (weather.failShare > 0) {
        parts << QObject::tr("%1% failing").arg(weather.failShare * 100);
    }
    return parts.join(QStringLiteral(", "));
}

std::optional<render::Weather> weatherFromWords(const QString& words) {
    render::Weather weather;
    const QString text = words.trimmed().toLower();
    if (text.startsWith(QLatin1String("clear"))) {
        return weather;
    }
    if (text == QLatin1String("no network") || text == QLatin1String("offline")) {
        weather.offline = true;
        return weather;
    }
    for (const QString& piece : text.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        static const QRegularExpression form(
            QStringLiteral("^([\\d.]+)(?:\\s+to\\s+([\\d.]+))?\\s*(ms|kb/s|% lost|% failing)$"));
        const auto match = form.match(piece.trimmed());
        const double value = match.captured(1).toDouble();
        const QString unit = match.captured(3);
        if (!match.hasMatch() || (unit.startsWith(QLatin1Char('%')) && value > 100) || value > 1e6) {
            return std::nullopt;
        }
        if (unit == QLatin1String("ms")) {
            weather.latencyMs = static_cast<std::int64_t>(value);
            weather.jitterMs = std::max<std::int64_t>(0, match.captured(2).toLongLong() - weather.latencyMs);
        } else if (unit == QLatin1String("kb/s")) {
            weather.bytesPerSecond = static_cast<std::int64_t>(value * 1000);
        } else {
            (unit == QLatin1String("% lost") ? weather.lossShare : weather.failShare) = value / 100;
        }
    }
    return weather.isClear() ? std::nullopt : std::optional(weather);
}

QString pageLeadInWords(const PagingSpec& paging) {
    const PagingSpec usual;
    QString words = leadInWords(paging.lead);
    if (paging.leadMs != usual.leadMs) {
        words += QObject::tr(" and %1 ms").arg(paging.leadMs);
    }
    if (paging.atOnce != usual.atOnce) {
        words += QObject::tr(", %1 at once").arg(paging.atOnce);
    }
    return words;
}

bool pageLeadFromWords(const QString& typed, PagingSpec& paging) {
    static const QRegularExpression form(QStringLiteral(
        "^((?:(?!\\sand\\s)[^,])+?)(?:\\s+and\\s+(\\d+)\\s*ms)?(?:\\s*,\\s*(\\d+)\\s+at once)?$"));
    const auto match = form.match(typed.trimmed());
    const auto lead = leadFromWords(match.captured(1));
    const PagingSpec usual;
    const std::int64_t ms = match.captured(2).isEmpty() ? usual.leadMs : match.captured(2).toLongLong();
    const int atOnce = match.captured(3).isEmpty() ? usual.atOnce : match.captured(3).toInt();
    if (!match.hasMatch() || !lead || ms > 60'000 || atOnce < 1 || atOnce > 32) {
        return false;
    }
    paging.lead = *lead;
    paging.leadMs = ms;
    paging.atOnce = atOnce;
    return true;
}

QString startInWords(std::int64_t startAt) {
    return startAt == 0 ? QObject::tr("the start") : QObject::tr("record %1").arg(grouped(startAt + 1));
}

std::optional<std::int64_t> startFromWords(const QString& typed) {
    const QString digits = typed.trimmed();
    if (digits == QObject::tr("the start")) {
        return 0;
    }
    static const QRegularExpression form(QStringLiteral("^(?:record\\s+)?([\\d,]+)$"));
    const auto match = form.match(digits);
    const qint64 value = match.captured(1).remove(QLatin1Char(',')).toLongLong();
    return match.hasMatch() && value >= 1 && value <= 1'000'000'000'000 ? std::optional(value - 1)
                                                                        : std::nullopt;
}

SentenceWord* FlowSentence::add(const char* name, const QString& what, const QStringList& choices,
                                const QString& undoText, const Change& change) {
    SentenceWord* word = addWord(QLatin1String(name), what);
    words_[QLatin1String(name)] = word;
    word->setChoices(choices);
    connect(word, &SentenceWord::wordChosen, this, [this, undoText, change](const QString& chosen) {
        Behaviour to = said_.behaviour;
        change(to, chosen);
        Q_EMIT behaviourWanted(undoText, to, {});
    });
    return word;
}

void FlowSentence::write() {
    clear();
    words_.clear();
    addText(tr("Show"));
    auto* count = addWord(QStringLiteral("wordCount"), tr("How many demo records"));
    words_[QStringLiteral("wordCount")] = count;
    QStringList counts;
    for (const qint64 each : demoCounts()) {
        counts << demoWord(each);
    }
    count->setChoices(counts);
    connect(count, &SentenceWord::wordChosen, this, [this](const QString& word) {
        for (const qint64 each : demoCounts()) {
            if (word == demoWord(each)) {
                Q_EMIT demoWanted(each);
            }
        }
        tell(); // what is open stays in the sentence until the other one is there
    });
    if (hasAsIf_) {
        writeAsIf();
    }
    if (!isPaged_) {
        writeOrder();
    }
    writeArrangement();
    addText(tr("in a"));
    QStringList names;
    for (const Device& device : devices()) {
        names << QString::fromUtf8(device.name);
    }
    add("wordDevice", tr("The device"), names, tr("device"),
        [](Behaviour& to, const QString& word) { to.window.device = word.toStdString(); });
    addText(tr("held"));
    add("wordHeld", tr("How the device is held"), {tr("upright"), tr("on its side")}, tr("turn"),
        [](Behaviour& to, const QString& word) { to.window.upright = word == tr("upright"); });
    if (hasBars_) {
        addText(tr(","));
        add("wordBars", tr("What the strip does at the device's bars"),
            {barsInWords(false), barsInWords(true)}, tr("the device's bars"),
            [](Behaviour& to, const QString& word) { to.window.underBars = word == barsInWords(true); });
        addText(tr("its bars"));
    }
    addText(tr(","));
    add("wordLead", tr("How far item views are prepared"), leadChoices(), tr("lead"),
        [](Behaviour& to, const QString& word) { to.viewLead = leadFromWords(word).value_or(to.viewLead); })
        ->setReader(
            [](const QString& typed) {
                const auto lead = leadFromWords(typed);
                return lead ? leadInWords(*lead) : QString();
            },
            tr("screens, 0 to 10"));
    addText(tr("ready beyond, changes"));
    add("wordMotion", tr("How changes are shown as movement"), motionChoices(), tr("movement"),
        [](Behaviour& to, const QString& word) {
            to.animation = motionFromWords(word, to.animation).value_or(to.animation);
        })
        ->setReader(
            [](const QString& typed) {
                const auto motion = motionFromWords(typed, AnimationSpec());
                return motion ? motionInWords(*motion) : QString();
            },
            tr("at once, or in so many ms or s, and a curve as in: in 400 ms, ease-out"));
    addText(tr(", text at"));
    add("wordScale", tr("The device's text size"),
        {QStringLiteral("85%"), QStringLiteral("100%"), QStringLiteral("125%"), QStringLiteral("150%"),
         QStringLiteral("200%")},
        tr("text size"),
        [](Behaviour& to, const QString& word) {
            to.window.textScale = scaleFromWords(word).value_or(to.window.textScale);
        })
        ->setReader(
            [](const QString& typed) {
                const auto scale = scaleFromWords(typed);
                return scale ? scaleInWords(*scale) : QString();
            },
            tr("per cent, 50 to 400"));
    writeHands();
    writeBeside();
    if (isPaged_) {
        writePages();
    }
    addText(tr("."));
}

/// More windows on the same collection, and whether they go together.
void FlowSentence::writeBeside() {
    addText(tr(", beside"));
    add("wordBeside", tr("Other windows on the same collection"), besideChoices(said_.behaviour.window),
        tr("windows beside it"),
        [](Behaviour& to, const QString& word) {
            to.window.beside = besideFromWords(word).value_or(to.window.beside);
        })
        ->setReader(
            [](const QString& typed) {
                const auto beside = besideFromWords(typed);
                return beside ? besideInWords(*beside) : QString();
            },
            tr("as in a tablet on its side and a tall handset at 200%, dark"));
    if (hasBeside_) {
        addText(tr(", scrolled"));
        add("wordTogether", tr("Whether all windows stand at the same record"), {tr("together"), tr("apart")},
            tr("scrolling together"),
            [](Behaviour& to, const QString& word) { to.window.together = word == tr("together"); });
    }
}

void FlowSentence::writeAsIf() {
    addText(tr(","));
    add("wordAsIf", tr("How many records run, made up of those there are"),
        {asIfInWords(std::nullopt), asIfInWords(20'000), asIfInWords(1'000'000), asIfInWords(20),
         asIfInWords(1), asIfInWords(0)},
        tr("as if there were more"),
        [](Behaviour& to, const QString& word) { to.asIf = asIfFromWords(word).value_or(to.asIf); })
        ->setReader(
            [](const QString& typed) {
                const auto count = asIfFromWords(typed);
                return count ? asIfInWords(*count) : QString();
            },
            tr("a number, 0 to %1").arg(grouped(CollectionDocument::kMostAsIf)));
}

/// Which of the records are shown, and in which order.
void FlowSentence::writeOrder() {
    addText(tr(","));
    add("wordWhere", tr("Which records are shown"), {whereInWords({}, {})}, tr("filter"),
        [this](Behaviour& to, const QString& word) {
            to.order.where = whereFromWords(word, said_.allFields).value_or(to.order.where);
        })
        ->setReader(
            [this](const QString& typed) {
                const auto rule = whereFromWords(typed, said_.allFields);
                return rule ? whereInWords(*rule, said_.allFields) : QString();
            },
            tr("as in count is over 5 and status is queried, or a rule: @.count > 5"));
    words_[QStringLiteral("wordWhere")]->setUsual(whereInWords({}, {}));
    addText(tr(", containing"));
    SentenceWord* search = add("wordSearch", tr("What words they contain, in whatever order and case"),
                               {searchInWords({})}, tr("search"), [this](Behaviour& to, const QString& word) {
                                   to.order = searchFromWords(word, to.order, said_.allFields);
                               });
    search->setReader(
        [this](const QString& typed) {
            return searchInWords(searchFromWords(typed, said_.behaviour.order, said_.allFields));
        },
        tr("words, and where if not in all texts: \u201cpale\u201d in species"));
    search->setUsual(searchInWords({}));
    search->setFindsAsTyped(true);
    connect(search, &SentenceWord::wordTyped, this, [this](const QString& word) {
        Behaviour to = said_.behaviour;
        to.order = searchFromWords(word, to.order, said_.allFields);
        Q_EMIT behaviourWanted(tr("search"), to, QStringLiteral("search"));
    });
    addText(tr(", in"));
    add("wordOrder", tr("In which order they stand"),
        sortChoices(said_.behaviour.order, said_.allFields, said_.behaviour.arrangement.sections.has_value()),
        tr("order"),
        [this](Behaviour& to, const QString& word) {
            to.order = sortFromWords(word, to.order, said_.allFields).value_or(to.order);
        })
        ->setReader(
            [this](const QString& typed) {
                const auto order = sortFromWords(typed, said_.behaviour.order, said_.allFields);
                return order ? sortInWords(*order, said_.allFields) : QString();
            },
            tr("as in count, largest first, then species; or shuffle"));
    words_[QStringLiteral("wordOrder")]->setUsual(sortInWords({}, {}));
    addText(tr(","));
}

void FlowSentence::writePages() {
    addText(tr(";"));
    auto* size = addWord(QStringLiteral("wordPageSize"), tr("How many records a page has"));
    words_[QStringLiteral("wordPageSize")] = size;
    size->setChoices({QStringLiteral("20"), QStringLiteral("50"), QStringLiteral("100")});
    size->setReader(
        [](const QString& typed) {
            const qint64 value = typed.toLongLong();
            return value >= 1 && value <= 100'000 ? QString::number(value) : QString();
        },
        tr("1 to 100,000"));
    connect(size, &SentenceWord::wordChosen, this, [this](const QString& word) {
        SourceSpec to = said_.source;
        to.pages.size = word.toLongLong();
        Q_EMIT sourceWanted(tr("page size"), to);
    });
    addText(tr("to a page,"));
    auto* style = addWord(QStringLiteral("wordPageStyle"), tr("How the service gives pages out"));
    words_[QStringLiteral("wordPageStyle")] = style;
    style->setChoices(pageStyleWords());
    connect(style, &SentenceWord::wordChosen, this, [this](const QString& word) {
        Q_EMIT sourceWanted(tr("pages"), withPageStyle(said_.source, word));
    });
    if (isPositional_) {
        addText(tr("from"));
        add("wordStart", tr("The record it opens at"),
            {tr("the start"), startInWords(499), startInWords(4'999)}, tr("where it opens"),
            [](Behaviour& to, const QString& word) {
                to.paging.startAt = startFromWords(word).value_or(to.paging.startAt);
            })
            ->setReader(
                [](const QString& typed) {
                    const auto start = startFromWords(typed);
                    return start ? startInWords(*start) : QString();
                },
                tr("a record's number, from 1"));
    }
    addText(tr(", asking"));
    add("wordPageLead", tr("How far ahead of the window pages are asked for, and how many at once"),
        {tr("half a screen"), tr("1.5 screens"), tr("3 screens"), tr("3 screens and 1500 ms"),
         tr("1.5 screens, 1 at once")},
        tr("page lead"), [](Behaviour& to, const QString& word) { (void)pageLeadFromWords(word, to.paging); })
        ->setReader(
            [](const QString& typed) {
                PagingSpec paging;
                return pageLeadFromWords(typed, paging) ? pageLeadInWords(paging) : QString();
            },
            tr("as in 2 screens and 900 ms, 4 at once"));
    addText(tr("ahead, keeping"));
    add("wordKeep", tr("How many pages about the window stay in memory"),
        {tr("6 pages"), tr("12 pages"), tr("50 pages")}, tr("pages kept"),
        [](Behaviour& to, const QString& word) { (void)keepFrom(word, to.paging); })
        ->setReader(
            [](const QString& typed) {
                PagingSpec paging;
                return keepFrom(typed, paging);
            },
            tr("as in 12, or 12 pages or 4 MiB"));
    addText(tr(", refreshed by"));
    QStringList ways;
    for (const Refreshing& one : kRefreshing) {
        ways << QString::fromLatin1(one.words);
    }
    add("wordRefresh", tr("What refreshes, and where it leaves the reader"), ways, tr("refreshing"),
        [](Behaviour& to, const QString& word) { (void)refreshFrom(word, to.paging); })
        ->setReader(
            [](const QString& typed) {
                PagingSpec paging;
                return refreshFrom(typed, paging);
            },
            tr("as in pulling and every 30 s, staying"));
    if (hasStream_) {
        addText(tr(", with"));
        add("wordStream", tr("Whether changes come by the source's stream"),
            {tr("live changes"), tr("no live changes")}, tr("live changes"),
            [](Behaviour& to, const QString& word) { to.paging.streams = word == tr("live changes"); });
    }
    addText(tr(", over"));
    auto* weather = addWord(QStringLiteral("wordWeather"), tr("What network this run has"));
    words_[QStringLiteral("wordWeather")] = weather;
    weather->setChoices({tr("clear weather"), tr("50 ms"), tr("300 to 500 ms, 60 kB/s"),
                         tr("150 to 600 ms, 5% lost, 10% failing"), tr("no network"),
                         tr("set it in numbers…")});
    weather->setReader(
        [](const QString& typed) {
            const auto read = weatherFromWords(typed);
            return read ? weatherInWords(*read) : QString();
        },
        tr("as in 300 ms, 5% failing"));
    connect(weather, &SentenceWord::wordChosen, this, [this, weather](const QString& word) {
        if (const auto read = weatherFromWords(word)) {
            Q_EMIT weatherWanted(*read);
        } else {
            tell();
            Q_EMIT weatherCardWanted(weather);
        }
    });
}

void FlowSentence::say(const FlowSaid& said) {
    said_ = said;
    const bool paged = said.source.isPaged();
    const bool live = !said.source.stream.address.empty();
    const bool positional = isPositional(said.source.pages.style);
    const Formed formed = formedBy(said.behaviour.arrangement);
    const Device& device = deviceNamed(said.behaviour.window.device);
    const bool hasBars = (said.behaviour.window.upright ? device.upright : device.onItsSide) != Bars();
    const bool asIf = !paged && !said.isDemo;
    if (!isWritten_ || paged != isPaged_ || live != hasStream_ || positional != isPositional_ ||
        formed != formed_ || hasBars != hasBars_ || (said.behaviour.hands == HandsSpec()) == hasHands_ ||
        said.behaviour.window.beside.empty() == hasBeside_ || asIf != hasAsIf_ || said.kinds != kinds_ ||
        (!paged && !std::ranges::equal(said.allFields, allFields_, {}, &Field::name, &Field::name)) ||
        said.fields != fields_ || said.placeFields != placeFields_) {
        fields_ = said.fields;
        allFields_ = said.allFields;
        placeFields_ = said.placeFields;
        kinds_ = said.kinds;
        formed_ = formed;
        hasBars_ = hasBars;
        hasHands_ = !(said.behaviour.hands == HandsSpec());
        hasBeside_ = !said.behaviour.window.beside.empty();
        hasAsIf_ = asIf;
        isWritten_ = true;
        isPaged_ = paged;
        hasStream_ = live;
        isPositional_ = positional;
        write();
    }
    tell();
    settle();
}

/// What a word says now, where there is such a word.
void FlowSentence::put(const char* name, const QString& word) {
    if (SentenceWord* found = words_.value(QLatin1String(name)); found != nullptr && found->word() != word) {
        found->setWord(word);
    }
}

void FlowSentence::tell() {
    const Behaviour& now = said_.behaviour;
    const auto set = [this](const char* name, const QString& word) { put(name, word); };
    words_[QStringLiteral("wordCount")]->setEnabled(said_.isDemo);
    set("wordCount", said_.count);
    set("wordAsIf", asIfInWords(now.asIf));
    if (SentenceWord* order = words_.value(QStringLiteral("wordOrder"))) {
        order->setChoices(sortChoices(now.order, said_.allFields,
                                      now.arrangement.sections.has_value())); // the next shuffle is another
    }
    set("wordOrder", sortInWords(now.order, said_.allFields));
    if (SentenceWord* where = words_.value(QStringLiteral("wordWhere"))) {
        QHash<QString, QString> notes;
        where->setChoices(whereChoices(said_.values, notes));
        where->setNotes(notes);
    }
    set("wordWhere", whereInWords(now.order.where, said_.allFields));
    set("wordSearch", searchInWords(now.order));
    for (const auto& [name, word] : saidOf(now.arrangement)) {
        set(name, word);
    }
    set("wordDevice", QString::fromUtf8(deviceNamed(now.window.device).name));
    set("wordHeld", now.window.upright ? tr("upright") : tr("on its side"));
    set("wordBars", barsInWords(now.window.underBars));
    tellHands();
    set("wordBeside", besideInWords(now.window.beside));
    set("wordTogether", now.window.together ? tr("together") : tr("apart"));
    set("wordLead", leadInWords(now.viewLead));
    set("wordMotion", motionInWords(now.animation));
    set("wordScale", scaleInWords(now.window.textScale));
    set("wordPageSize", QString::number(said_.source.pages.size));
    set("wordPageStyle", pageStyleWord(said_.source.pages.style));
    set("wordStart", startInWords(now.paging.startAt));
    set("wordPageLead", pageLeadInWords(now.paging));
    set("wordKeep", keepWords(now.paging));
    set("wordRefresh", refreshWords(now.paging));
    set("wordStream", now.paging.streams ? tr("live changes") : tr("no live changes"));
    set("wordWeather", weatherInWords(said_.weather));
}

} // namespace scorrere::workbench

#include "moc_flow_sentence.cpp"
