// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/part_card.h"

#include "workbench/model/part_facts.h"
#include "workbench/model/starting_points.h"
#include "workbench/ui/item/parameter_card.h"
#include "workbench/ui/look/icons.h"
#include "workbench/ui/look/parameter_row.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QCompleter>
#include <QHBoxLayout>
#include <QMenu>
#include <QStandardItemModel>
#include <QToolButton>
#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

namespace {

const QStringList& toneWords() {
    static const QStringList words{QStringLiteral("neutral"), QStringLiteral("note"), QStringLiteral("good"),
                                   QStringLiteral("caution"), QStringLiteral("bad")};
    return words;
}

} // namespace

PartCard::PartCard(Look& look, BoardModel& model, QWidget* parent)
    : QFrame(parent), look_(look), model_(model), column_(new QVBoxLayout(this)) {
    setObjectName(QStringLiteral("partCard"));
    column_->setContentsMargins(16, 12, 16, 14);
    column_->setSpacing(5);
    connect(&look_, &Look::changed, this, [this] {
        built_.clear();
        if (!pointer_.empty()) {
            rebuild();
        }
    });
}

/// A card that looks otherwise goes on being typed in where it was.
void PartCard::rebuildAround(bool samePart) {
    QWidget* focused =
        samePart && isAncestorOf(QApplication::focusWidget()) ? QApplication::focusWidget() : nullptr;
    const auto* typed = qobject_cast<QLineEdit*>(focused);
    const QString control = focused == nullptr || typed != nullptr ? QString() : focused->objectName();
    const QString name = typed == nullptr ? QString() : typed->objectName();
    const QString text = typed == nullptr ? QString() : typed->text();
    const int cursor = typed == nullptr ? 0 : typed->cursorPosition();
    rebuild();
    auto* line = name.isEmpty() ? nullptr : findChild<QLineEdit*>(name);
    if (line != nullptr) {
        line->show(); // what is laid out later cannot have the focus
        line->setText(text);
        line->setFocus();
        line->setCursorPosition(cursor);
    }
    if (!control.isEmpty()) {
        auto* again = findChild<QWidget*>(control);
        again = again == nullptr ? findChild<QWidget*>(QStringLiteral("addTone")) : again;
        if (again != nullptr) {
            again->show();
            again->setFocus();
        }
    }
}

void PartCard::clear() {
    binding_ = nullptr;
    outcomes_ = problem_ = facts_ = title_ = shown_ = nullptr;
    make_ = format_ = nullptr;
    while (QLayoutItem* item = column_->takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->setObjectName({}); // what comes in its place has the name now
            for (QWidget* inner : widget->findChildren<QWidget*>()) {
                inner->setObjectName({});
            }
            widget->deleteLater(); // it may be the one that was just used
        }
        delete item;
    }
}

void PartCard::show(const DesignDraft& draft, const std::string& pointer) {
    draft_ = draft;
    const Json* part = draft_.part(pointer);
    // Which members there are decides what the card looks like; their values are put into what is there
    // already.
    std::string shape = pointer;
    if (part != nullptr && part->is_object()) {
        for (const auto& [name, value] : part->items()) {
            // A line that one types in must stay, also when its member comes or goes with the typing.
            const bool comesAndGoes =
                name == "missing" || name == "hide" || name == "label" || name == "more";
            if (comesAndGoes) {
                continue;
            }
            shape += "," + name +
                     (name == "tone" && value.is_array() ? std::to_string(value.size()) : std::string());
            const bool typed = name == "text" || name == "badge" || name == "picture" || name == "tone" ||
                               name == "repeat" || name == "meter" || name == "scale";
            if (!typed && !value.is_structured()) {
                shape += "=" + value.dump();
            }
        }
    }
    for (const Parameter& parameter : model_.document().parameters) {
        if (part != nullptr && part->dump().find("$.parameters." + parameter.name) != std::string::npos) {
            shape += fmt::format(",{} {} {} {} {}", parameter.name, parameter.title, parameter.from,
                                 parameter.to, parameter.step);
        }
    }
    const bool same = shape == built_ && pointer == pointer_;
    const bool samePart = pointer == pointer_;
    pointer_ = pointer;
    if (!same) {
        built_ = shape;
        rebuildAround(samePart);
        return;
    }
    for (QLineEdit* line : findChildren<QLineEdit*>()) {
        const std::string member = line->property("member").toString().toStdString();
        if (member.empty() || line->hasFocus()) {
            continue;
        }
        const Json value = draft_.member(pointer_, member);
        line->setText(value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString());
    }
    setError({});
    tellOutcomes();
}

void PartCard::setError(const QString& problem, const QString& missingParameter) {
    if (problem_ == nullptr) {
        return;
    }
    problem_->setText(problem.isEmpty() ? QString()
                                        : tr("Not in force; what was before still is. %1").arg(problem));
    problem_->setVisible(!problem.isEmpty());
    make_->setText(tr("Make the parameter \"%1\"").arg(missingParameter));
    make_->setVisible(!missingParameter.isEmpty());
}

void PartCard::focusBinding() {
    if (binding_ != nullptr) {
        binding_->setFocus(Qt::ShortcutFocusReason);
        binding_->selectAll();
    } else if (auto* word = findChild<SentenceWord*>()) {
        word->setFocus(Qt::ShortcutFocusReason);
    }
}

QLabel* PartCard::addLabel(const QString& text, double px, bool quiet) {
    auto* label = new QLabel(text, this);
    label->setFont(look_.font(px));
    label->setTextFormat(Qt::PlainText);
    label->setWordWrap(true);
    label->setMinimumWidth(1);
    label->setStyleSheet(QStringLiteral("color: %1;").arg((quiet ? look_.quiet : look_.ink).name()));
    column_->addWidget(label);
    return label;
}

QLineEdit* PartCard::addLine(const QString& name, const QString& heading, const QString& value,
                             const QString& hint, const std::function<void(const QString&)>& typed,
                             const QString& aside) {
    auto* head = new QWidget(this);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 5, 0, 0);
    auto* label = new QLabel(heading, head);
    label->setFont(look_.font(11.5));
    label->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    row->addWidget(label);
    row->addStretch(1);
    auto* right = new QLabel(aside, head);
    right->setObjectName(name + QStringLiteral("Aside"));
    right->setFont(look_.font(11.5));
    right->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    row->addWidget(right);
    column_->addWidget(head);
    auto* line = new QLineEdit(value, this);
    line->setObjectName(name);
    line->setAccessibleName(heading);
    line->setFont(look_.font(13.5));
    line->setPlaceholderText(hint);
    line->setCursorPosition(0);
    label->setBuddy(line);
    connect(line, &QLineEdit::textEdited, this, typed);
    connect(line, &QLineEdit::editingFinished, this, &PartCard::typingEnded);
    column_->addWidget(line);
    return line;
}

void PartCard::want(const QString& what, const std::string& member, const Json& value) {
    DesignDraft draft = draft_;
    draft.set(pointer_, member, value);
    Q_EMIT draftWanted(
        what, draft,
        QStringLiteral("%1#%2").arg(QString::fromStdString(pointer_), QString::fromStdString(member)));
}

void PartCard::wantText(const QString& what, const std::string& member, const QString& value) {
    want(what, member, value.isEmpty() ? Json() : Json(value.toStdString()));
}

void PartCard::rebuild() {
    clear();
    const Json* part = draft_.part(pointer_);
    if (part == nullptr || !part->is_object()) {
        addLabel(tr("This part is not in the design any more."), 13, true);
        column_->addStretch(1);
        return;
    }
    const std::string word = partWordOf(*part);
    auto* head = new QWidget(this);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 2);
    QString name = QString::fromStdString(word);
    name.replace(0, 1, name.left(1).toUpper());
    title_ = new QLabel(name, head);
    title_->setObjectName(QStringLiteral("cardTitle"));
    title_->setFont(look_.font(16, 700));
    shown_ = new QLabel(head);
    shown_->setObjectName(QStringLiteral("cardShown"));
    shown_->setFont(look_.font(12));
    shown_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    row->addWidget(title_);
    row->addStretch(1);
    row->addWidget(shown_);
    column_->addWidget(head);
    addBinding(word);
    if (word == "text" || word == "badge") {
        addMissing();
    }
    if (word == "picture") {
        addPictureLines();
    }
    if (word == "repeat") {
        addRepeatLines();
    }
    if (word == "piece") {
        addInputs();
    }
    if (word != "space" && word != "piece" && word != "line" && word != "picture") {
        addTones();
    }
    addSentence(word);
    addHide();
    addFacts();
    addButtons();
    column_->addStretch(1);
    tellOutcomes();
}

void PartCard::addBinding(const std::string& word) {
    static const std::array<std::pair<const char*, QString>, 7> headings{
        {{"text", tr("It says")},
         {"badge", tr("It says")},
         {"picture", tr("Its address")},
         {"meter", tr("It measures the field")},
         {"scale", tr("It counts the field")},
         {"repeat", tr("For each entry of")},
         {"piece", tr("The piece")}}};
    const auto heading = std::ranges::find_if(headings, [&](const auto& one) { return word == one.first; });
    if (heading != headings.end()) {
        const Json value = draft_.member(pointer_, word);
        binding_ = addLine(QStringLiteral("bindingLine"), heading->second,
                           value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString(),
                           word == "text" || word == "badge" ? tr("{field}, or words") : tr("a field"),
                           [this, word](const QString& text) {
                               // An empty text is a text still: what is typed must not change what the part
                               // is.
                               want(tr("what %1 says").arg(QString::fromStdString(word)), word,
                                    Json(text.toStdString()));
                           });
        binding_->setProperty("member", QString::fromStdString(word));
        offerFields(binding_);
    }
    problem_ = addLabel({}, 11.5, false);
    problem_->setObjectName(QStringLiteral("cardProblem"));
    problem_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.bad.name()));
    problem_->hide();
    make_ = new QPushButton(this);
    make_->setObjectName(QStringLiteral("makeParameter"));
    make_->setFont(look_.font(12));
    make_->hide();
    connect(make_, &QPushButton::clicked, this, &PartCard::missingWanted);
    column_->addWidget(make_, 0, Qt::AlignLeft);
    outcomes_ = addLabel({}, 12, false);
    outcomes_->setObjectName(QStringLiteral("cardOutcomes"));
    if (word == "text" || word == "badge") {
        addFormat();
    }
}

void PartCard::addFormat() {
    format_ = new QPushButton(tr("How it is written"), this);
    format_->setObjectName(QStringLiteral("formatButton"));
    format_->setToolTip(tr("What each way makes of the first specimen"));
    format_->setFont(look_.font(12));
    connect(format_, &QPushButton::clicked, this, &PartCard::openFormats);
    column_->addWidget(format_, 0, Qt::AlignLeft);
}

/// The arguments of the text that is said now.
std::vector<FieldArgument> PartCard::arguments() const {
    const Json value = draft_.member(pointer_, partWordOf(*draft_.part(pointer_)));
    return value.is_string() ? fieldArguments(value.get<std::string>()) : std::vector<FieldArgument>();
}

/// Every way to write the numbers and times of the text, each by what comes of it.
void PartCard::openFormats() {
    if (model_.isEmpty()) {
        return;
    }
    const NameScope scope{*model_.records(), model_.document().locale, &model_.document().parameters, nullptr,
                          false};
    const FillContext record = model_.context(model_.specimens().front().record);
    auto* menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("formatMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setFont(look_.font(12.5));
    const std::vector<FieldArgument> all = arguments();
    for (std::size_t i = 0; i < all.size(); ++i) {
        const std::vector<FormatOffer> offers = formatOffers(scope, all[i].field, record);
        if (!offers.empty() && all.size() > 1) {
            menu->addSection(QString::fromStdString(all[i].field));
        }
        for (const FormatOffer& offer : offers) {
            QAction* action = menu->addAction(
                tr("%1   –  %2")
                    .arg(QString::fromStdString(offer.outcome), QString::fromStdString(offer.name)));
            connect(action, &QAction::triggered, this,
                    [this, i, argument = offer.argument] { takeFormat(i, argument); });
        }
    }
    menu->popup(format_->mapToGlobal(QPoint(0, format_->height())));
}

/// Only numbers and times can be written in several ways.
void PartCard::tellFormat() {
    const RecordTable* records = model_.records();
    format_->setVisible(std::ranges::any_of(arguments(), [records](const FieldArgument& argument) {
        const auto field = records->find(argument.field);
        const FieldType type = field ? records->field(*field).type : FieldType::Unknown;
        return type == FieldType::Integer || type == FieldType::Real || type == FieldType::Time;
    }));
}

void PartCard::takeFormat(std::size_t index, const std::string& argument) {
    const std::string word = partWordOf(*draft_.part(pointer_));
    std::string text = draft_.member(pointer_, word).get<std::string>();
    const std::vector<FieldArgument> all = arguments();
    if (index < all.size()) {
        text.replace(all[index].from, all[index].until - all[index].from, argument);
        want(tr("how it is written"), word, Json(text));
        if (binding_ != nullptr) {
            binding_->setText(QString::fromStdString(text));
        }
    }
}

bool PartCard::isTyping() const {
    const auto* line = qobject_cast<const QLineEdit*>(QApplication::focusWidget());
    return line != nullptr && isAncestorOf(line);
}

/// Typing { offers the fields with a sample of each.
void PartCard::offerFields(QLineEdit* line) {
    const RecordTable* records = model_.records();
    if (records == nullptr) {
        return;
    }
    auto* completer = new QCompleter(line);
    auto* offered = new QStandardItemModel(completer);
    for (int i = 0; i < static_cast<int>(records->fields().size()); ++i) {
        std::string sample;
        for (std::int64_t r = 0; r < std::min<std::int64_t>(records->size(), 20) && sample.empty(); ++r) {
            sample = records->display(r, FieldHandle{i});
        }
        const QString name = QString::fromStdString(records->field(FieldHandle{i}).name);
        auto* item =
            new QStandardItem(name + QStringLiteral("   ") + QString::fromStdString(sample).left(28));
        item->setData(name, Qt::UserRole);
        offered->appendRow(item);
    }
    completer->setModel(offered);
    completer->setCompletionRole(Qt::UserRole);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    completer->setWidget(line);
    const auto opening = [line] { // the brace the cursor stands behind, or -1
        const QString before = line->text().left(line->cursorPosition());
        const qsizetype open = before.lastIndexOf(QLatin1Char('{'));
        return open > before.lastIndexOf(QLatin1Char('}')) ? open : -1;
    };
    connect(line, &QLineEdit::textEdited, completer, [line, completer, opening] {
        const qsizetype open = opening();
        const QString typed =
            open < 0 ? QString() : line->text().mid(open + 1, line->cursorPosition() - open - 1);
        if (open < 0 || typed.contains(QLatin1Char(',')) || typed.contains(QLatin1Char(' '))) {
            completer->popup()->hide();
            return;
        }
        completer->setCompletionPrefix(typed);
        if (completer->completionCount() > 0) {
            completer->complete();
        } else {
            completer->popup()->hide();
        }
    });
    connect(completer, qOverload<const QString&>(&QCompleter::activated), line,
            [line, opening](const QString& name) {
                const qsizetype open = opening();
                if (open < 0) {
                    return;
                }
                QString text = line->text();
                text.replace(open + 1, line->cursorPosition() - open - 1, name);
                const qsizetype end = open + 1 + name.size();
                if (end >= text.size() || text.at(end) != QLatin1Char('}')) {
                    text.insert(end, QLatin1Char('}'));
                }
                line->setText(text);
                line->setCursorPosition(static_cast<int>(end) + 1);
                Q_EMIT line->textEdited(text);
            });
}

void PartCard::addMissing() {
    const Json value = draft_.member(pointer_, "missing");
    QLineEdit* line = addLine(
        QStringLiteral("missingLine"), tr("When missing"),
        value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString(),
        draft_.member(pointer_, "keepsPlace") == Json(true) ? tr("keep its place empty") : tr("leave it out"),
        [this](const QString& text) { wantText(tr("what is said when missing"), "missing", text); });
    line->setProperty("member", QStringLiteral("missing"));
}

void PartCard::addPictureLines() {
    const auto text = [this](const char* member) {
        const Json value = draft_.member(pointer_, member);
        return value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString();
    };
    QLineEdit* label = addLine(QStringLiteral("labelLine"), tr("In words, for those who do not see it"),
                               text("label"), tr("nothing yet"), [this](const QString& typed) {
                                   wantText(tr("picture in words"), "label", typed);
                               });
    label->setProperty("member", QStringLiteral("label"));
    offerFields(label);
    const Json fallback = draft_.member(pointer_, "fallback");
    auto* head = addLabel(tr("In its place when there is none · it is missing · it is broken"), 11.5, true);
    head->setContentsMargins(0, 5, 0, 0);
    auto* box = new QWidget(this);
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    for (const char* reason : {"none", "missing", "broken"}) {
        auto* line = new QLineEdit(box);
        line->setObjectName(QStringLiteral("fallback_") + QLatin1String(reason));
        line->setAccessibleName(tr("When %1").arg(QLatin1String(reason)));
        line->setFont(look_.font(13));
        line->setPlaceholderText(tr("outline"));
        if (fallback.is_object() && fallback.contains(reason) && fallback[reason].is_string()) {
            line->setText(QString::fromStdString(fallback[reason].get<std::string>()));
        }
        connect(line, &QLineEdit::textEdited, this, [this, reason](const QString& typed) {
            Json words = draft_.member(pointer_, "fallback");
            words = words.is_object() ? words : Json::object();
            if (typed.isEmpty()) {
                words.erase(reason);
            } else {
                words[reason] = typed.toStdString();
            }
            want(tr("picture's fallback"), "fallback", words.empty() ? Json() : words);
        });
        row->addWidget(line);
    }
    column_->addWidget(box);
}

void PartCard::addRepeatLines() {
    const Json value = draft_.member(pointer_, "more");
    QLineEdit* line =
        addLine(QStringLiteral("moreLine"), tr("Of the rest it says"),
                value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString(),
                QStringLiteral("+{more}"),
                [this](const QString& typed) { wantText(tr("what is said of the rest"), "more", typed); });
    line->setProperty("member", QStringLiteral("more"));
}

void PartCard::addInputs() {
    const Json with = draft_.member(pointer_, "with");
    if (!with.is_object()) {
        return;
    }
    for (const auto& [name, value] : with.items()) {
        const std::string input = name;
        QLineEdit* line =
            addLine(QStringLiteral("input_") + QString::fromStdString(name), QString::fromStdString(name),
                    value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString(),
                    tr("{field}"), [this, input](const QString& typed) {
                        Json all = draft_.member(pointer_, "with");
                        all[input] = typed.toStdString();
                        want(tr("piece's input"), "with", all);
                    });
        offerFields(line);
    }
}

void PartCard::addTones() {
    auto* heading = addLabel(tr("Its tone"), 11.5, true);
    heading->setContentsMargins(0, 5, 0, 0);
    const Json tone = draft_.member(pointer_, "tone");
    const Json rules = tone.is_array()    ? tone
                       : tone.is_string() ? Json::array({{{"tone", tone}}})
                                          : Json::array();
    for (std::size_t i = 0; i < rules.size(); ++i) {
        addTone(i, rules[i]);
    }
    auto* add = new QPushButton(tr("+ a rule for its tone"), this);
    add->setObjectName(QStringLiteral("addTone"));
    add->setFont(look_.font(12));
    add->setFlat(true);
    add->setCursor(Qt::PointingHandCursor);
    add->setStyleSheet(
        QStringLiteral("QPushButton { color: %1; text-align: left; border: none; padding: 2px; }"
                       "QPushButton:focus { border: 1px solid %1; padding: 1px; }")
            .arg(look_.accent.name()));
    connect(add, &QPushButton::clicked, this, [this, rules] {
        Json more = rules;
        // A rule about what the part says holds somewhere, so it shows at once what it does.
        more.push_back({{"tone", "caution"}, {"when", firstRule()}});
        want(tr("tone rule"), "tone", more);
    });
    column_->addWidget(add);
    addParameters();
}

std::string PartCard::firstRule() const {
    const RecordTable* records = model_.records();
    const std::string word = partWordOf(*draft_.part(pointer_));
    const Json binding = draft_.member(pointer_, word);
    const std::string said = binding.is_string() ? binding.get<std::string>() : std::string();
    if (records == nullptr || records->fields().empty()) {
        return "@"; // all of them
    }
    std::string named = said.substr(0, said.find_first_of(",}"));
    named = named.substr(named.find('{') == std::string::npos ? 0 : named.find('{') + 1);
    const auto handle = records->find(named);
    const Field& field = handle ? records->field(*handle) : records->fields().front();
    const std::string path =
        isPatternName(field.name) ? "@." + field.name : "@[" + Json(field.name).dump() + "]";
    if (field.type == FieldType::Integer || field.type == FieldType::Real) {
        return path + " > 0";
    }
    const std::vector<std::string> outcomes = model_.outcomes(pointer_, 1);
    return handle && field.type == FieldType::Text && !outcomes.empty()
               ? path + " == " + Json(outcomes[0]).dump()
               : path;
}

void PartCard::addTone(std::size_t index, const Json& rule) {
    auto* box = new QWidget(this);
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    const QString tone = QString::fromStdString(rule.value("tone", std::string("neutral")));
    auto* word = new SentenceWord(look_, tr("The tone"), box);
    word->setObjectName(QStringLiteral("tone%1").arg(index));
    word->setChoices(toneWords());
    word->setWord(tone);
    word->setSize(13);
    word->setFixedWidth(static_cast<int>(look_.scaled(58)));
    auto* line = new QLineEdit(QString::fromStdString(rule.value("when", std::string())), box);
    line->setObjectName(QStringLiteral("rule%1").arg(index));
    line->setAccessibleName(tr("When %1").arg(tone));
    line->setFont(look_.font(12));
    line->setPlaceholderText(tr("always"));
    line->setCursorPosition(0);
    line->setToolTip(
        tr("A condition: @ is the record, as in @.count > $.parameters.many && @.status == \"queried\""));
    auto* gone = new QToolButton(box);
    gone->setStyleSheet(quietButtonSheet(look_));
    setSign(*gone, look_, Sign::Remove, look_.ink);
    gone->setObjectName(QStringLiteral("toneGone%1").arg(index));
    gone->setAccessibleName(tr("Take this rule away"));
    gone->setToolTip(tr("Take this rule away"));
    const auto rules = [this] {
        const Json tones = draft_.member(pointer_, "tone");
        return tones.is_array() ? tones : Json::array({{{"tone", tones}}});
    };
    connect(word, &SentenceWord::wordChosen, this, [this, rules, index](const QString& chosen) {
        Json all = rules();
        all[index]["tone"] = chosen.toStdString();
        want(tr("tone"), "tone", all);
    });
    connect(line, &QLineEdit::textEdited, this, [this, rules, index](const QString& typed) {
        Json all = rules();
        if (typed.trimmed().isEmpty()) {
            all[index].erase("when");
        } else {
            all[index]["when"] = typed.trimmed().toStdString();
        }
        want(tr("tone rule"), "tone", all);
    });
    connect(line, &QLineEdit::editingFinished, this, &PartCard::typingEnded);
    connect(gone, &QToolButton::clicked, this, [this, rules, index] {
        Json all = rules();
        all.erase(index);
        want(tr("tone rule taken away"), "tone", all.empty() ? Json() : all);
    });
    row->addWidget(word);
    row->addWidget(line, 1);
    row->addWidget(gone);
    column_->addWidget(box);
}

/// The parameters that the part's rules read, to play with.
void PartCard::addParameters() {
    const Json* part = draft_.part(pointer_);
    const std::string text = part->dump();
    for (const Parameter& parameter : model_.document().parameters) {
        if (text.find("$.parameters." + parameter.name) != std::string::npos) {
            auto* row = new ParameterRow(look_, parameter, this);
            connect(row, &ParameterRow::valueWanted, this, &PartCard::parameterWanted);
            auto* box = new QWidget(this);
            auto* beside = new QHBoxLayout(box);
            beside->setContentsMargins(0, 0, 0, 0);
            beside->addWidget(row, 1);
            auto* edit = new QToolButton(box);
            edit->setObjectName(QStringLiteral("editParameter_") + QString::fromStdString(parameter.name));
            edit->setToolTip(tr("Its name, its bounds, its unit"));
            edit->setAccessibleName(
                tr("Change the parameter %1").arg(QString::fromStdString(parameter.name)));
            edit->setStyleSheet(quietButtonSheet(look_));
            setSign(*edit, look_, Sign::Choose, look_.ink);
            connect(edit, &QToolButton::clicked, this, [this, edit, parameter] {
                auto* card = new ParameterCard(look_, parameter, window());
                connect(card, &ParameterCard::parameterWanted, this, &PartCard::parameterChanged);
                card->openAt(edit->mapToGlobal(QPoint(0, edit->height())));
            });
            beside->addWidget(edit);
            column_->addWidget(box);
        }
    }
}

void PartCard::addHide() {
    const Json value = draft_.member(pointer_, "hide");
    QLineEdit* line =
        addLine(QStringLiteral("hideLine"), tr("Hidden when"),
                value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString(), tr("never"),
                [this](const QString& typed) { wantText(tr("hide rule"), "hide", typed.trimmed()); });
    line->setProperty("member", QStringLiteral("hide"));
    line->setToolTip(tr("A condition, as in @.count < 2"));
}

void PartCard::addFacts() {
    column_->addSpacing(4);
    facts_ = addLabel({}, 12, true);
    facts_->setObjectName(QStringLiteral("cardFacts"));
}

/// What the part says on the specimens, and how it stands there.
void PartCard::tellOutcomes() {
    if (shown_ == nullptr || model_.isEmpty()) {
        return;
    }
    if (format_ != nullptr) {
        tellFormat();
    }
    const int shown = model_.shownOn(pointer_);
    const auto all = static_cast<int>(model_.specimens().size());
    shown_->setText(tr("on %1 of %2").arg(shown).arg(all));
    const std::vector<std::string> outcomes = model_.outcomes(pointer_, 200);
    QString words;
    const QFontMetrics metrics(outcomes_->font());
    for (std::size_t i = 0; i < std::min<std::size_t>(outcomes.size(), 4); ++i) {
        words += (i > 0 ? QStringLiteral("  ·  ") : QString()) +
                 isolated(metrics.elidedText(QString::fromStdString(outcomes[i]).simplified(), Qt::ElideRight,
                                             150));
    }
    if (outcomes.size() > 4) {
        words += tr("  ·  %1 more").arg(outcomes.size() - 4);
    }
    outcomes_->setText(words);
    outcomes_->setVisible(!words.isEmpty());
    const PartFacts found = factsOf(model_, pointer_, look_.items);
    QStringList facts;
    const auto range = [](double from, double to) {
        const auto whole = [](double v) { return QString::number(std::round(v * 10) / 10); };
        return from == to ? whole(from) : whole(from) + QStringLiteral("–") + whole(to);
    };
    if (found.shownOn > 0) {
        facts << tr("Size  %1 × %2")
                     .arg(range(found.narrowest, found.widest), range(found.lowest, found.highest));
    }
    if (found.contrast) {
        facts << (*found.contrast >= PartFacts::kLeastContrast
                      ? tr("Contrast  %1 to 1, fine").arg(*found.contrast, 0, 'f', 1)
                      : tr("Contrast  %1 to 1: too faint to read, %2 is the least")
                            .arg(*found.contrast, 0, 'f', 1)
                            .arg(PartFacts::kLeastContrast));
    }
    if (found.cutOn > 0) {
        facts << tr("Cut short by … on %1").arg(found.cutOn);
    }
    if (draft_.member(pointer_, "tap").is_string() && found.shownOn > 0) {
        facts << (found.target() >= PartFacts::kAdvisedTarget
                      ? tr("Touch target  %1, fine").arg(found.target())
                  : found.target() >= PartFacts::kLeastTarget
                      ? tr("Touch target  %1: enough; %2 is advised")
                            .arg(found.target())
                            .arg(PartFacts::kAdvisedTarget)
                      : tr("Touch target  %1: too small, %2 is the least")
                            .arg(found.target())
                            .arg(PartFacts::kLeastTarget));
    }
    if (found.readAs) {
        facts << tr("Read aloud as number %1").arg(*found.readAs);
    }
    if (found.lacksWords) {
        facts << tr("It has no words for those who do not see it");
    }
    facts_->setText(facts.join(QLatin1Char('\n')));
}

void PartCard::addButtons() {
    auto* box = new QWidget(this);
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 6, 0, 0);
    row->setSpacing(6);
    const auto button = [&](const QString& name, const QString& text, const QString& tip) {
        auto* made = new QPushButton(text, box);
        made->setObjectName(name);
        made->setToolTip(tip);
        made->setFont(look_.font(11.5));
        row->addWidget(made);
        return made;
    };
    const Json* part = draft_.part(pointer_);
    const bool inBox = DesignDraft::standingOf(pointer_).has_value();
    auto* wrap = button(QStringLiteral("cardWrap"), tr("Box  B"), tr("Put it into a box"));
    connect(wrap, &QPushButton::clicked, this,
            [this, wrap] { Q_EMIT wrapWanted(wrap->mapToGlobal(QPoint(0, wrap->height()))); });
    if (!boxWord(*part).empty() && inBox) {
        connect(button(QStringLiteral("cardUnwrap"), tr("Unbox"), tr("Put what it holds in its place")),
                &QPushButton::clicked, this, &PartCard::unwrapWanted);
    }
    if (inBox) {
        connect(button(QStringLiteral("cardTwin"), tr("Double"), tr("The same part again (Ctrl+Shift+D)")),
                &QPushButton::clicked, this, &PartCard::duplicateWanted);
        connect(button(QStringLiteral("cardRemove"), tr("Take out  Del"), tr("Take it out of the design")),
                &QPushButton::clicked, this, &PartCard::removeWanted);
    }
    row->addStretch(1);
    column_->addWidget(box);
}

} // namespace scorrere::workbench

#include "moc_part_card.cpp"
