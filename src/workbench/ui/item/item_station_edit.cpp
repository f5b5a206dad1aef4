// SPDX-License-Identifier: GPL-3.0-or-later
// The station's changes of the design: tried first, sent out when they are a design. The rest is in
// item_station.cpp.
#include "workbench/ui/item/item_station.h"

#include "workbench/model/new_parameter.h"

#include <QMenu>
#include <set>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

namespace {

std::vector<int> designsOf(const CollectionDocument& document) {
    std::vector<int> all{kRecordDesign, kHeaderDesign, kFooterDesign};
    for (int kind = 0; kind < static_cast<int>(document.kinds.size()); ++kind) {
        all.push_back(kind);
    }
    return all;
}

} // namespace

/// The fields that the design's rules ask for and no record has: mistyped, more likely than not.
void ItemStation::tellAbsent() {
    absent_.clear();
    if (!records_ || records_->fields().empty()) {
        return;
    }
    const DesignScope scope = document().scope(*records_);
    std::set<std::string> names;
    for (const int which : designsOf(document())) {
        if (const auto design = ItemDesign::compile(designOf(document(), which), scope)) {
            names.insert(design->absentFields().begin(), design->absentFields().end());
        }
    }
    if (const auto kinds = KindChooser::compile(document().kinds, scope)) {
        const auto absent = kinds->absentFields();
        names.insert(absent.begin(), absent.end());
    }
    for (const std::string& name : names) {
        absent_ << QString::fromStdString(name);
    }
}

/// What is wrong with a design, in the text that was given.
std::optional<Error> ItemStation::problemOf(const std::string& text) const {
    const auto made = document().withDesign(text);
    if (!made) {
        return made.error();
    }
    if (!records_ || records_->fields().empty()) {
        return std::nullopt;
    }
    const DesignScope scope = made->scope(*records_);
    for (const int which : designsOf(*made)) {
        if (auto design = ItemDesign::compile(designOf(*made, which), scope); !design) {
            return made->located(std::move(design.error()));
        }
    }
    if (auto kinds = KindChooser::compile(made->kinds, scope); !kinds) {
        return made->located(std::move(kinds.error()));
    }
    return std::nullopt;
}

void ItemStation::tryDraft(const QString& what, const DesignDraft& draft, const QString& merge,
                           const std::string& select) {
    const std::string text = draft.text();
    if (text == draft_.text()) {
        return;
    }
    refused_.reset();
    if (const auto problem = problemOf(text)) {
        Error shown = *problem;
        shown.place = {}; // it stands where it was typed
        const bool lacksParameter = problem->code == ErrorCode::NotFound && !missingParameter(draft).empty();
        refused_ = Refused{what, draft, select, QString::fromStdString(shown.text()), lacksParameter};
        if (card_->isTyping()) {
            problemDue_.start(); // a word that is half typed is no mistake yet
        } else {
            tellRefused();
        }
        return;
    }
    problemDue_.stop();
    card_->setError({});
    board_->select(select);
    workspace().changeDesign(what, QString::fromStdString(text), merge);
}

void ItemStation::tellRefused() {
    problemDue_.stop();
    if (refused_) {
        card_->setError(refused_->problem, refused_->lacksParameter
                                               ? QString::fromStdString(missingParameter(refused_->draft))
                                               : QString());
        hint_->setText(tr("Not done: %1").arg(refused_->problem));
    }
}

/// Makes the parameter that was missing and does what was refused for it, as one step.
void ItemStation::makeMissing() {
    if (!refused_ || !records_) {
        return;
    }
    DesignDraft draft = refused_->draft;
    const std::string name = missingParameter(draft);
    Json parameters = draft.member({}, "parameters");
    parameters = parameters.is_object() ? parameters : Json::object();
    parameters[name] = newParameter(draft, name, *records_);
    draft.set({}, "parameters", parameters);
    const QString what = tr("parameter %1").arg(QString::fromStdString(name));
    tryDraft(what, draft, {}, std::string(refused_->select));
}

void ItemStation::changeParameter(const QString& name, const Parameter& to) {
    DesignDraft draft = draft_;
    const std::string from = name.toStdString();
    if (to.name != from && !renameParameter(draft, from, to.name)) {
        return card_->setError(
            tr("\"%1\" is no name a parameter can have: letters, digits and _, and not taken.")
                .arg(QString::fromStdString(to.name)));
    }
    Json parameters = draft.member({}, "parameters");
    Json json = parameters[to.name].is_object() ? parameters[to.name] : Json{{"value", parameters[to.name]}};
    if (to.type == ParameterType::Number) {
        json["from"] = to.from;
        json["to"] = to.to;
        json["step"] = to.step;
        json["value"] = std::clamp(to.number, std::min(to.from, to.to), std::max(to.from, to.to));
    }
    const auto put = [&json](const char* member, const std::string& text) {
        if (text.empty()) {
            json.erase(member);
        } else {
            json[member] = text;
        }
    };
    put("unit", to.unit);
    put("title", to.title);
    parameters[to.name] = json;
    draft.set({}, "parameters", parameters);
    tryDraft(tr("parameter %1").arg(QString::fromStdString(to.name)), draft, {}, card_->pointer());
}

void ItemStation::tryText(const QString& text) {
    if (const auto problem = problemOf(text.toStdString())) {
        pane_->setError(problem);
        return;
    }
    pane_->setError(std::nullopt);
    if (DesignDraft(text.toStdString()).json() != draft_.json()) {
        workspace().changeDesign(tr("design as text"), text, QStringLiteral("text"));
    }
}

void ItemStation::showText(bool shows) {
    text_->setChecked(shows);
    rightPages_->setCurrentIndex(shows ? 1 : 0);
    if (shows) {
        pane_->setText(QString::fromStdString(document().designText()));
        pane_->edit().setFocus();
    } else {
        board_->setFocus();
    }
}

bool ItemStation::showsText() const {
    return rightPages_->currentIndex() == 1;
}

void ItemStation::removeSelected() {
    DesignDraft draft = draft_;
    const std::string next = draft.remove(board_->selected());
    if (!next.empty()) {
        tryDraft(tr("take out %1").arg(QString::fromStdString(partWordOf(*draft_.part(board_->selected())))),
                 draft, {}, next);
    }
}

void ItemStation::duplicateSelected() {
    DesignDraft draft = draft_;
    const std::string twin = draft.duplicate(board_->selected());
    if (!twin.empty()) {
        tryDraft(tr("double"), draft, {}, twin);
    }
}

void ItemStation::wantParameter(const QString& name, const QVariant& value) {
    DesignDraft draft = draft_;
    if (draft.setParameter(name.toStdString(), value)) {
        tryDraft(name, draft, QStringLiteral("parameter ") + name, board_->selected());
    }
}

void ItemStation::addPart(const Json& part, const std::string& beside, bool behind) {
    DesignDraft draft = draft_;
    const std::string made = draft.insertBeside(beside.empty() ? rootPointer() : beside, behind, part);
    if (!made.empty()) {
        tryDraft(tr("add %1").arg(QString::fromStdString(partWordOf(part))), draft, {}, made);
    }
}

void ItemStation::openAddMenu(const QString& beside, bool behind, QPoint global) {
    if (!records_) {
        return;
    }
    const FieldRoles roles = fieldRoles(*records_);
    const std::string any = !roles.title.empty()         ? roles.title
                            : records_->fields().empty() ? std::string()
                                                         : records_->fields().front().name;
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("addMenu"));
    menu.setFont(look().font(13));
    const auto offer = [&](const QString& word, PartType type, const std::string& field, bool can) {
        QAction* action = menu.addAction(word);
        action->setEnabled(can);
        connect(action, &QAction::triggered, this, [this, type, field, beside, behind] {
            addPart(newPart(type, field), beside.toStdString(), behind);
        });
    };
    offer(tr("&Text"), PartType::Text, any, true);
    offer(tr("&Badge"), PartType::Badge, roles.status.empty() ? any : roles.status, true);
    offer(tr("&Picture"), PartType::Picture, roles.picture.empty() ? any : roles.picture, true);
    offer(tr("&Meter"), PartType::Meter, roles.number, !roles.number.empty());
    offer(tr("&Scale"), PartType::Scale, roles.step.empty() ? roles.number : roles.step,
          !roles.step.empty() || !roles.number.empty());
    offer(tr("&Repeat a list"), PartType::Repeat, roles.list, !roles.list.empty());
    menu.addSeparator();
    offer(tr("&Line"), PartType::Line, {}, true);
    offer(tr("S&pace"), PartType::Space, {}, true);
    menu.addSeparator();
    offer(tr("R&ow"), PartType::Row, {}, true);
    offer(tr("&Column"), PartType::Column, {}, true);
    offer(tr("&Wrap"), PartType::Wrap, {}, true);
    offer(tr("O&ver each other"), PartType::Over, {}, true);
    if (!document().pieces.empty()) {
        menu.addSeparator();
    }
    for (const auto& [name, piece] : document().pieces) {
        Json part = {{"piece", name}};
        for (const std::string& input : piece.inputs) {
            part["with"][input] = "{" + any + "}";
        }
        connect(menu.addAction(tr("Piece %1").arg(QString::fromStdString(name))), &QAction::triggered, this,
                [this, part, beside, behind] { addPart(part, beside.toStdString(), behind); });
    }
    menu.exec(global);
}

void ItemStation::openBoxMenu(const QString& pointer, QPoint global) {
    if (pointer.isEmpty()) {
        return;
    }
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("boxMenu"));
    menu.setFont(look().font(13));
    const auto offer = [&](const QString& word, PartType box) {
        connect(menu.addAction(word), &QAction::triggered, this, [this, pointer, box] {
            DesignDraft draft = draft_;
            (void)draft.wrap(pointer.toStdString(), box);
            tryDraft(tr("put into a %1").arg(QLatin1String(partWord(box))), draft, {}, pointer.toStdString());
        });
    };
    offer(tr("Into a &row"), PartType::Row);
    offer(tr("Into a &column"), PartType::Column);
    offer(tr("Into a &wrap"), PartType::Wrap);
    offer(tr("&Over each other"), PartType::Over);
    menu.exec(global);
}

void ItemStation::addField(const QString& name, FieldType type) {
    const std::string field = name.toStdString();
    Json part = newPart(type == FieldType::List ? PartType::Repeat : PartType::Text, field);
    if (type == FieldType::Time) {
        part["text"] = "{" + field + ", date, medium}";
    }
    addPart(part, board_->selected(), true);
}

} // namespace scorrere::workbench
