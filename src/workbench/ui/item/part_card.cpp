// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/part_card.h"

#include "engine/document/form_json.h"
#include "workbench/model/part_facts.h"
#include "workbench/ui/item/field_offers.h"
#include "workbench/ui/item/parameter_card.h"
#include "workbench/ui/item/part_formats.h"
#include "workbench/ui/item/part_sentence.h"
#include "workbench/ui/item/part_tones.h"
#include "workbench/ui/item/strip_words.h"
#include "workbench/ui/look/icons.h"
#include "workbench/ui/look/parameter_row.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QToolButton>
#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

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
    make_ = nullptr;
    formats_ = nullptr;
    tones_ = nullptr;
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
                               name == "repeat" || name == "strip" || name == "meter" || name == "scale";
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
    if (tones_ != nullptr) {
        tones_->setDraft(draft_);
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
    if (word == "strip") {
        addStripLines();
    }
    if (word == "piece") {
        addInputs();
    }
    if (word != "space" && word != "piece" && word != "line" && word != "picture") {
        tones_ = new PartTones(look_, model_, draft_, pointer_, this);
        connect(tones_, &PartTones::wanted, this, &PartCard::want);
        connect(tones_, &PartTones::typingEnded, this, &PartCard::typingEnded);
        column_->addWidget(tones_);
        addParameters();
    }
    auto* look = new PartSentence(look_, draft_, pointer_, this);
    connect(look, &PartSentence::wanted, this, &PartCard::want);
    column_->addSpacing(4);
    column_->addWidget(look);
    addHide();
    addFacts();
    addButtons();
    column_->addStretch(1);
    tellOutcomes();
}

void PartCard::addBinding(const std::string& word) {
    static const std::array<std::pair<const char*, QString>, 8> headings{
        {{"text", tr("It says")},
         {"badge", tr("It says")},
         {"picture", tr("Its address")},
         {"meter", tr("It measures the field")},
         {"scale", tr("It counts the field")},
         {"repeat", tr("For each entry of")},
         {"strip", tr("A strip of the entries of")},
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
        offerFieldsOf(binding_);
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
        formats_ = new PartFormats(look_, model_, this);
        connect(formats_, &PartFormats::textWanted, this, [this, word](const QString& text) {
            want(tr("how it is written"), word, Json(text.toStdString()));
            binding_->setText(text);
        });
        column_->addWidget(formats_, 0, Qt::AlignLeft);
    }
}

void PartCard::offerFieldsOf(QLineEdit* line) {
    if (const RecordTable* records = model_.records()) {
        offerFields(line, *records);
    }
}

bool PartCard::isTyping() const {
    const auto* line = qobject_cast<const QLineEdit*>(QApplication::focusWidget());
    return line != nullptr && isAncestorOf(line);
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
    offerFieldsOf(label);
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

/// How its entries stand, in the words of Flow's sentence.
void PartCard::addStripLines() {
    const auto strip = model_.document().strips.find(pointer_);
    if (strip == model_.document().strips.end()) {
        return;
    }
    auto* words = new StripWords(look_, strip->second, this);
    connect(words, &StripWords::wanted, this, [this](const ArrangementSpec& to) {
        Json part = *draft_.part(pointer_);
        writeArrangement(part, to);
        want(tr("arrangement of the strip"), "arrangement", part["arrangement"]);
    });
    column_->addWidget(words);
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
        offerFieldsOf(line);
    }
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
    if (formats_ != nullptr) {
        const Json said = draft_.member(pointer_, partWordOf(*draft_.part(pointer_)));
        formats_->setSaid(said.is_string() ? said.get<std::string>() : std::string());
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
