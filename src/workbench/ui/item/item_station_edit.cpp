// SPDX-License-Identifier: GPL-3.0-or-later
// The station's changes of the design: tried first, sent out when they are a design. The rest is in
// item_station.cpp.
#include "workbench/ui/item/item_station.h"

#include "workbench/model/design_facts.h"
#include "workbench/model/new_parameter.h"
#include "workbench/model/table_design.h"
#include "workbench/ui/item/part_menus.h"

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

std::optional<Error> ItemStation::problemOf(const std::string& text) const {
    return designProblem(document(), records_.get(), text);
}

void ItemStation::tryDraft(const QString& what, const DesignDraft& draft, const QString& merge,
                           const std::string& select) {
    const std::string text = withHeadingOver(document(), draft).text();
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
    setParameter(draft, to);
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
    if (records_) {
        workbench::openAddMenu(this, look().font(13), global, document(), *records_,
                               [this, beside = beside.toStdString(), behind](const Json& part) {
                                   addPart(part, beside, behind);
                               });
    }
}

void ItemStation::openBoxMenu(const QString& pointer, QPoint global) {
    if (pointer.isEmpty()) {
        return;
    }
    workbench::openBoxMenu(this, look().font(13), global, [this, part = pointer.toStdString()](PartType box) {
        DesignDraft draft = draft_;
        (void)draft.wrap(part, box);
        tryDraft(tr("put into a %1").arg(QLatin1String(partWord(box))), draft, {}, part);
    });
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
