// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/source_sentence.h"

#include "engine/record/charset.h"
#include "engine/record/json_path.h"
#include "engine/record/uri_template.h"
#include "workbench/ui/look/page_words.h"

#include <QFileInfo>
#include <algorithm>

namespace scorrere::workbench {

namespace {

QString text(const std::string& utf8) {
    return QString::fromStdString(utf8);
}

struct DelimiterWord {
    char delimiter;
    const char* word;
};
constexpr DelimiterWord kDelimiters[] = {{',', "commas"}, {';', "semicolons"}, {'\t', "tabs"}, {'|', "bars"}};

QString delimiterWord(char delimiter) {
    for (const DelimiterWord& found : kDelimiters) {
        if (found.delimiter == delimiter) {
            return QString::fromLatin1(found.word);
        }
    }
    return QString(QLatin1Char(delimiter));
}

constexpr SourceForm kForms[] = {SourceForm::Json, SourceForm::Ndjson, SourceForm::Csv,
                                 SourceForm::Xml,  SourceForm::Sqlite, SourceForm::Lines};

QString formWord(SourceForm form) {
    const std::string_view name = formName(form);
    return QString::fromUtf8(name.data(), static_cast<qsizetype>(name.size()));
}

QString keyWord(const std::vector<std::string>& key) {
    QStringList names;
    for (const std::string& name : key) {
        names << text(name);
    }
    return names.join(QStringLiteral(" + "));
}

QString signWord(const SignSpec& sign) {
    switch (sign.kind) {
    case SignSpec::Kind::Bearer:
        return QObject::tr("token %1").arg(text(sign.secret));
    case SignSpec::Kind::Basic:
        return QObject::tr("password %1 of %2").arg(text(sign.secret), text(sign.user));
    case SignSpec::Kind::Header:
        return QObject::tr("header %1 %2").arg(text(sign.user), text(sign.secret));
    case SignSpec::Kind::None:
        break;
    }
    return QObject::tr("nothing");
}

/// "token NAME", "password NAME of USER", "header NAME SECRET", "nothing".
std::optional<SignSpec> signFrom(const QString& word) {
    const QStringList parts = word.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    const auto part = [&parts](qsizetype i) { return parts.value(i).toStdString(); };
    if (parts.size() == 1 && parts[0] == QObject::tr("nothing")) {
        return SignSpec{};
    }
    if (parts.size() == 1) {
        return SignSpec{SignSpec::Kind::Bearer, part(0), {}};
    }
    if (parts.size() == 2 && parts[0] == QLatin1String("token")) {
        return SignSpec{SignSpec::Kind::Bearer, part(1), {}};
    }
    if (parts.size() == 4 && parts[0] == QLatin1String("password") && parts[2] == QLatin1String("of")) {
        return SignSpec{SignSpec::Kind::Basic, part(1), part(3)};
    }
    if (parts.size() == 3 && parts[0] == QLatin1String("header")) {
        return SignSpec{SignSpec::Kind::Header, part(2), part(1)};
    }
    return std::nullopt;
}

} // namespace

QString fileChoice() {
    return QObject::tr("a file…");
}
QString listChoice() {
    return QObject::tr("a list typed here");
}
QString demoChoice() {
    return QObject::tr("the demo, made up here");
}
QString demoServiceChoice() {
    return QObject::tr("the demo service");
}

SentenceWord* SourceSentence::addChoice(const char* name, const QString& what, const QString& now,
                                        const QStringList& choices, const QString& undoText, Change change) {
    SentenceWord* word = addWord(QString::fromLatin1(name), what);
    word->setChoices(choices);
    word->setWord(now);
    connect(word, &SentenceWord::wordChosen, this,
            [this, undoText, change = std::move(change)](const QString& chosen) {
                SourceSpec to = said_.source;
                change(to, chosen);
                if (!(to == said_.source)) {
                    Q_EMIT sourceChanged(undoText, to);
                }
            });
    return word;
}

void SourceSentence::say(const SourceSaid& said) {
    QString focused;
    for (const SentenceWord* word : findChildren<SentenceWord*>()) {
        focused = word->hasFocus() ? word->objectName() : focused;
    }
    said_ = said;
    clear();
    addText(tr("Read"));
    if (said_.isAnything) {
        SentenceWord* noun = addWord(QStringLiteral("wordNoun"), tr("What the records are called"));
        noun->setWord(text(said_.noun));
        noun->setReader([](const QString& typed) { return typed; },
                        tr("a word in the plural, as in sightings"));
        connect(noun, &SentenceWord::wordChosen, this, &SourceSentence::nounChanged);
    } else {
        addText(tr("records"));
    }
    addText(tr("from"));
    sayPlace();
    if (said_.isAnything && !said_.source.isDemo) {
        if (said_.source.isService()) {
            sayService();
        }
        sayForm();
        sayItems();
    }
    if (said_.isAnything) {
        sayKey();
    }
    if (said_.source.isService()) {
        saySign();
    }
    addText(QStringLiteral("."));
    settle();
    if (auto* word = focused.isEmpty() ? nullptr : findChild<SentenceWord*>(focused)) {
        word->setFocus();
    }
}

void SourceSentence::sayPlace() {
    const SourceSpec& source = said_.source;
    SentenceWord* place = addWord(QStringLiteral("wordPlace"), tr("Where the records come from"));
    place->setChoices({fileChoice(), listChoice(), demoServiceChoice(), demoChoice()});
    place->setWord(!said_.isAnything     ? tr("nowhere yet")
                   : source.isDemo       ? demoChoice()
                   : source.isService()  ? text(source.address)
                   : source.file.empty() ? listChoice()
                                         : QFileInfo(text(source.file)).fileName());
    place->setReader([](const QString& typed) { return typed; },
                     tr("an address, a file's path, or one of these"));
    connect(place, &SentenceWord::wordChosen, this, &SourceSentence::placeWanted);
}

void SourceSentence::sayService() {
    const PageSpec& pages = said_.source.pages;
    addText(tr("as"));
    addChoice("wordStyle", tr("How the service gives pages out"), pageStyleWord(pages.style),
              pageStyleWords(), tr("page style"), [hints = said_.hints](SourceSpec& to, const QString& word) {
                  to = withPageStyle(std::move(to), word, hints);
              });
    if (pages.style == PageStyle::None) {
        return;
    }
    addText(QStringLiteral(","));
    SentenceWord* size = addChoice("wordSize", tr("How many records a page has"), QString::number(pages.size),
                                   {QStringLiteral("10"), QStringLiteral("20"), QStringLiteral("50"),
                                    QStringLiteral("100"), QStringLiteral("500")},
                                   tr("page size"), [](SourceSpec& to, const QString& word) {
                                       to.pages.size = word.toLongLong();
                                       to = withSizeAsked(std::move(to)); // that is what was wished for now
                                   });
    size->setReader(
        [](const QString& typed) {
            const qlonglong value = typed.toLongLong();
            return value >= 1 && value <= 100'000 ? QString::number(value) : QString();
        },
        tr("a number from 1 to 100000"));
    addText(tr("at a time"));
    sayNext();
}

/// Where an answer tells what the next call needs.
void SourceSentence::sayNext() {
    const PageSpec& pages = said_.source.pages;
    const bool byCursor = pages.style == PageStyle::Cursor;
    if (!byCursor && pages.style != PageStyle::Next) {
        return;
    }
    const QString header = tr("header");
    QStringList choices;
    for (const std::string& path : byCursor ? said_.hints.cursors : said_.hints.nexts) {
        choices << text(path);
    }
    for (const std::string& name : byCursor ? said_.hints.headers : std::vector<std::string>()) {
        choices << header + QLatin1Char(' ') + text(name);
    }
    const QString now = !pages.nextHeader.empty() ? header + QLatin1Char(' ') + text(pages.nextHeader)
                        : pages.next.empty()      ? tr("nowhere yet")
                                                  : text(pages.next);
    addText(byCursor ? tr(", the next cursor at") : tr(", the next address at"));
    SentenceWord* word =
        addChoice("wordNext", tr("Where the answer tells what comes next"), now, choices,
                  tr("where the next page is"), [header](SourceSpec& to, const QString& chosen) {
                      const bool isHeader = chosen.startsWith(header + QLatin1Char(' '));
                      to.pages.nextHeader =
                          isHeader ? chosen.mid(header.size() + 1).trimmed().toStdString() : std::string();
                      to.pages.next = isHeader ? std::string() : chosen.toStdString();
                  });
    word->setReader(
        [header, byCursor](const QString& typed) {
            const bool isHeader = byCursor && typed.startsWith(header + QLatin1Char(' '));
            return isHeader || JsonPath::parse(typed.toStdString()) ? typed : QString();
        },
        byCursor ? tr("a JSONPath, as in $.paging.next, or header X-NAME")
                 : tr("a JSONPath, as in $.links.next"));
}

void SourceSentence::sayForm() {
    const ReadOptions& used = said_.used;
    const SourceForm form =
        said_.source.reading.form == SourceForm::Guess ? used.form : said_.source.reading.form;
    QStringList forms{tr("found out")};
    for (const SourceForm found : kForms) {
        forms << formWord(found);
    }
    addText(tr(", written as"));
    addChoice("wordForm", tr("How the records are written"),
              form == SourceForm::Guess ? tr("found out") : formWord(form), forms, tr("form"),
              [](SourceSpec& to, const QString& word) {
                  to.reading.form = SourceForm::Guess;
                  for (const SourceForm found : kForms) {
                      if (word == formWord(found)) {
                          to.reading.form = found;
                      }
                  }
                  to.reading.items.clear();
              });
    if (form == SourceForm::Sqlite) {
        return;
    }
    const std::string charset =
        said_.source.reading.charset.empty() ? used.charset : said_.source.reading.charset;
    addText(tr("in"));
    SentenceWord* word =
        addChoice("wordCharset",
                  tr("The character set: %1")
                      .arg(said_.charsetWhy.empty() ? tr("to be found out") : text(said_.charsetWhy)),
                  charset.empty() ? tr("found out") : text(charset),
                  {tr("found out"), QStringLiteral("UTF-8"), QStringLiteral("windows-1252"),
                   QStringLiteral("ISO-8859-15"), QStringLiteral("UTF-16"), QStringLiteral("windows-1251"),
                   QStringLiteral("Shift_JIS"), QStringLiteral("GB18030")},
                  tr("character set"), [](SourceSpec& to, const QString& chosen) {
                      to.reading.charset =
                          chosen == QObject::tr("found out") ? std::string() : chosen.toStdString();
                  });
    word->setReader(
        [](const QString& typed) {
            const std::string name = typed.toStdString();
            return isUtf8(name) || isCharset(name) ? typed : QString();
        },
        tr("a character set's name"));
    if (form == SourceForm::Csv) {
        QStringList delimiters;
        for (const DelimiterWord& found : kDelimiters) {
            delimiters << QString::fromLatin1(found.word);
        }
        addText(tr(", cells separated by"));
        SentenceWord* delimiter =
            addChoice("wordDelimiter", tr("What stands between cells"),
                      delimiterWord(used.delimiter == 0 ? ',' : used.delimiter), delimiters, tr("delimiter"),
                      [](SourceSpec& to, const QString& chosen) {
                          to.reading.delimiter = chosen.toStdString()[0];
                          for (const DelimiterWord& found : kDelimiters) {
                              if (chosen == QLatin1String(found.word)) {
                                  to.reading.delimiter = found.delimiter;
                              }
                          }
                      });
        delimiter->setReader(
            [](const QString& typed) {
                return typed.size() == 1 && typed[0] < QChar(128) ? typed : QString();
            },
            tr("one character"));
        addText(tr(", the first row being"));
        addChoice("wordHeader", tr("What the first row is"),
                  used.header.value_or(true) ? tr("their names") : tr("a record"),
                  {tr("their names"), tr("a record")}, tr("first row"),
                  [](SourceSpec& to, const QString& chosen) {
                      to.reading.header = chosen == QObject::tr("their names");
                  });
    }
}

void SourceSentence::sayItems() {
    const ReadOptions& used = said_.used;
    const SourceForm form =
        said_.source.reading.form == SourceForm::Guess ? used.form : said_.source.reading.form;
    if (form == SourceForm::Sqlite) {
        const bool isQuery = !said_.source.reading.query.empty();
        QStringList tables;
        for (const std::string& table : said_.tables) {
            tables << text(table);
        }
        addText(isQuery ? tr(", by the query") : tr(", of the table"));
        SentenceWord* word =
            addChoice("wordTable", tr("A table, or a query that reads"),
                      isQuery ? text(said_.source.reading.query) : text(used.table), tables, tr("table"),
                      [](SourceSpec& to, const QString& chosen) {
                          const bool query = chosen.contains(QLatin1Char(' ')) &&
                                             chosen.startsWith(QLatin1String("select"), Qt::CaseInsensitive);
                          to.reading.query = query ? chosen.toStdString() : std::string();
                          to.reading.table = query ? std::string() : chosen.toStdString();
                      });
        word->setReader([](const QString& typed) { return typed; }, tr("a table's name, or SELECT …"));
        return;
    }
    if (form != SourceForm::Json && form != SourceForm::Xml && form != SourceForm::Guess) {
        return;
    }
    QStringList paths{tr("found out")};
    for (const std::string& path : said_.itemPaths) {
        paths << text(path);
    }
    const std::string items = said_.source.reading.items.empty() ? used.items : said_.source.reading.items;
    addText(tr(", items at"));
    SentenceWord* word = addChoice(
        "wordItems",
        form == SourceForm::Xml ? tr("The path of the elements") : tr("Where the items are: a JSONPath"),
        items.empty() ? tr("found out") : text(items), paths, tr("items"),
        [](SourceSpec& to, const QString& chosen) {
            to.reading.items = chosen == QObject::tr("found out") ? std::string() : chosen.toStdString();
        });
    const bool xml = form == SourceForm::Xml;
    word->setReader(
        [xml](const QString& typed) {
            const bool right = xml ? typed.startsWith(QLatin1Char('/'))
                                   : static_cast<bool>(JsonPath::parse(typed.toStdString()));
            return right ? typed : QString();
        },
        xml ? tr("as in /survey/sighting") : tr("a JSONPath, as in $.data.sightings[*]"));
}

void SourceSentence::sayKey() {
    QStringList keys;
    for (const auto& candidate : said_.keyCandidates) {
        keys << keyWord(candidate);
    }
    for (const std::string& field : said_.fields) {
        if (!keys.contains(text(field))) {
            keys << text(field);
        }
    }
    keys << tr("nothing");
    addText(tr(", each known by"));
    SentenceWord* word = addChoice("wordKey",
                                   said_.source.key.empty() ? tr("What identifies a record (proposed)")
                                                            : tr("What identifies a record"),
                                   !said_.key.empty() ? keyWord(said_.key)
                                   : said_.isLooking  ? QStringLiteral("…")
                                                      : tr("nothing"),
                                   keys, tr("key"), [](SourceSpec& to, const QString& chosen) {
                                       to.key.clear();
                                       if (chosen != QObject::tr("nothing")) {
                                           for (const QString& part : chosen.split(QStringLiteral(" + "))) {
                                               to.key.push_back(part.toStdString());
                                           }
                                       }
                                   });
    word->setReader(
        [fields = said_.fields](const QString& typed) {
            QStringList names;
            for (const QString& part : typed.split(QLatin1Char('+'))) {
                const auto known = std::ranges::find(fields, part.trimmed().toStdString());
                if (known == fields.end()) {
                    return QString();
                }
                names << part.trimmed();
            }
            return names.join(QStringLiteral(" + "));
        },
        tr("a field, or several with + between them"));
}

void SourceSentence::saySign() {
    addText(tr(", signed with"));
    QStringList choices{tr("nothing"), tr("token HOLLOWMERE")};
    if (const QString now = signWord(said_.source.sign); !choices.contains(now)) {
        choices << now;
    }
    SentenceWord* word = addChoice(
        "wordSign", tr("The name of the token; its value stays outside the file"),
        signWord(said_.source.sign), choices, tr("signature"),
        [](SourceSpec& to, const QString& chosen) { to.sign = signFrom(chosen).value_or(to.sign); });
    word->setReader(
        [](const QString& typed) {
            const auto sign = signFrom(typed);
            return sign ? signWord(*sign) : QString();
        },
        tr("token NAME, password NAME of USER, or header X-NAME SECRET"));
}

} // namespace scorrere::workbench

#include "moc_source_sentence.cpp"
