// SPDX-License-Identifier: GPL-3.0-or-later
// The part of FlowStation that has to do with records one by one: their values, counted to pick from, and edits.
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/flow/edits_list.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/flow/instrument_side.h"
#include "workbench/ui/flow/send_card.h"
#include "workbench/ui/look/record_card.h"

#include <QGuiApplication>
#include <QMenu>
#include <QScreen>

namespace scorrere::workbench {

namespace {

constexpr std::size_t kFewValues = 12; ///< of a field, to pick from

} // namespace

/// So many have a number, shown or not.
std::int64_t FlowStation::recordsToGoTo() {
    return collection() == nullptr      ? 0
           : runner_.paged() != nullptr ? collection()->recordCount()
                                        : collection()->records().size();
}

/// What a filter may pick from, counted by a worker once all records are here.
void FlowStation::countValues() {
    if (workspace().document().source.isPaged()) {
        return;
    }
    counting_.start(
        [records = workspace().records()](const std::stop_token& stop, const render::Job::Post&) {
            std::vector<FieldValues> all;
            for (int index = 0; index < static_cast<int>(records->fields().size()); ++index) {
                const Field& field = records->field({index});
                if (field.type != FieldType::Text && field.type != FieldType::Boolean) {
                    continue;
                }
                auto values = fewValues(*records, {index}, kFewValues, stop);
                if (!values) {
                    break; // it was stopped
                }
                if (values->size() > 1) {
                    all.push_back({QString::fromStdString(field.name), std::move(*values)});
                }
            }
            return all;
        },
        [this](std::vector<FieldValues> all) {
            values_ = std::move(all);
            tellSentence();
        });
}

void FlowStation::connectEdits() {
    EditsList& list = instruments_->edits();
    connect(&list, &EditsList::takeBackWanted, this, [this](int edit) {
        CollectionDocument to = workspace().document();
        const auto index = static_cast<std::size_t>(edit);
        if (index >= to.edits.size()) {
            return;
        }
        const QString what = tr("take back: %1").arg(editInWords(*to.edits[index]));
        to.edits = withoutEdit(std::move(to.edits), index);
        workspace().change(what, std::move(to));
    });
    connect(&list, &EditsList::takeAllBackWanted, this, [this] {
        CollectionDocument to = workspace().document();
        to.edits.clear();
        workspace().change(tr("take all edits back"), std::move(to));
    });
    connect(&list, &EditsList::sendWanted, this,
            [this](int edit) { sending_.send(static_cast<std::size_t>(edit)); });
    connect(&list, &EditsList::sendAllWanted, &sending_, &EditSending::sendAll);
    connect(&list, &EditsList::stopWanted, &sending_, &EditSending::stop);
    connect(&list, &EditsList::howWanted, this, [this](QWidget* from) {
        auto* card = new SendCard(look(), workspace().document().send, window());
        connect(card, &SendCard::specWanted, this, [this](const SendSpec& spec) {
            CollectionDocument to = workspace().document();
            to.send = spec;
            workspace().change(tr("say how edits are sent"), std::move(to));
        });
        card->openAt(*from);
    });
    connect(&sending_, &EditSending::changed, this, &FlowStation::tellEdits);
    connect(&sending_, &EditSending::noticed, this, &FlowStation::noticed);
    connect(&list, &EditsList::keepWanted, this, [this](bool kept) {
        CollectionDocument to = workspace().document();
        to.areEditsKept = kept;
        workspace().change(kept ? tr("keep the edits") : tr("do not keep the edits"), std::move(to));
    });
}

/// Those of the document, with what became of each.
EditsList::Shown FlowStation::shownEdits() const {
    const CollectionDocument& document = workspace().document();
    EditsList::Shown shown{document.edits,      document.areEditsKept, runner_.isWhole(), {}, {}, {},
                           sending_.isSending()};
    const render::PagedRecords* pages = runner_.paged();
    const EditedRecords* edited = runner_.collection() == nullptr ? nullptr : runner_.collection()->edited();
    if (pages != nullptr && areSame(pages->edits().edits(), document.edits)) {
        shown.refusals = pages->edits().refusals();
    } else if (edited != nullptr && areSame(edited->edits, document.edits)) {
        shown.refusals = edited->refusals;
    }
    for (const auto& edit : document.edits) {
        if (sending_.canSend()) {
            shown.states << sending_.stateOf(*edit);
            shown.canSend.push_back(document.send.of(edit->kind).isGiven());
        }
    }
    return shown;
}

void FlowStation::tellEdits() {
    if (!workspace().isOpen()) {
        return;
    }
    instruments_->followEdits(shownEdits());
    if (recordCard_ != nullptr && collection() != nullptr) {
        const std::int64_t place = placeOfCard();
        if (auto facts = place < 0 ? std::nullopt : recordFacts(*collection(), place);
            facts && facts->key == recordCard_->facts().key &&
            facts->values.size() >= recordCard_->facts().values.size()) {
            recordCard_->take(std::move(*facts));
        }
    }
}

/// Where the record stands whose card is open; -1: nowhere any more.
std::int64_t FlowStation::placeOfCard() {
    const RecordFacts& facts = recordCard_->facts();
    render::PagedRecords* pages = runner_.paged();
    return pages == nullptr ? collection()->placeOf(facts.number)
                            : pages->pager().strip().placeOfKey(facts.key).value_or(-1);
}

void FlowStation::edit(const RecordEdit& edit, bool isAsSource) {
    CollectionDocument to = workspace().document();
    to.edits = withEdit(std::move(to.edits), edit, isAsSource);
    workspace().change(editInWords(edit), std::move(to));
}

/// The card of the record at a place among all.
void FlowStation::openRecord(std::int64_t place) {
    if (collection() == nullptr) {
        return;
    }
    auto facts = recordFacts(*collection(), place);
    if (!facts) {
        return;
    }
    auto* card = new RecordCard(look(), std::move(*facts), window());
    recordCard_ = card;
    connect(card, &RecordCard::editWanted, this, &FlowStation::edit);
    connect(card, &RecordCard::removeWanted, this, [this, card] {
        RecordEdit removed;
        removed.kind = RecordEdit::Kind::Remove;
        removed.key = card->facts().key;
        removed.hint = card->facts().number;
        edit(removed, false);
    });
    connect(card, &RecordCard::likeWanted, this, [this, card] {
        RecordEdit like;
        like.kind = RecordEdit::Kind::Insert;
        if (render::PagedRecords* pages = runner_.paged()) {
            if (const PageRecord* shown = pages->pager().shown(card->facts().key)) {
                like.value = recordLike(*shown->table, shown->row, workspace().document().source.key,
                                        collection()->recordCount() + 1);
                edit(like, false);
                Q_EMIT noticed(Notice::told(tr("It stands on top until its service says where it belongs.")));
            }
            return;
        }
        const std::vector<std::string> key =
            RecordKeys(collection()->source(), workspace().document().source.key).fields();
        like.before = card->facts().key;
        like.value = recordLike(collection()->records(), card->facts().number, key,
                                collection()->records().size() + 1);
        edit(like, false);
    });
    connect(card, &RecordCard::moveWanted, this, [this, card](qint64 number) {
        RecordEdit moved;
        moved.kind = RecordEdit::Kind::Move;
        moved.key = card->facts().key;
        moved.hint = card->facts().number;
        const RecordOrder given = collection()->edited() != nullptr
                                      ? collection()->edited()->given
                                      : RecordOrder(collection()->records().size());
        const std::int64_t from = given.placeOf(card->facts().number);
        const std::int64_t to =
            number - 1 + (number - 1 > from ? 1 : 0); // in front of whom, as they stand now
        moved.before = to < given.size() ? keyOfRecord(*collection(), given.at(to)) : std::string();
        edit(moved, false);
        if (collection()->document().order.isSorted()) {
            Q_EMIT noticed(
                Notice::told(tr("It has moved among the records; they show in an order of their own.")));
        }
    });
    const QRectF device = cutaway_->windowRect();
    const QPoint at =
        cutaway_->mapToGlobal(QPointF(device.right() + look().scaled(16), device.top()).toPoint());
    card->openAt(at, window()->frameGeometry().intersected(screen()->availableGeometry()));
}

/// The place among all of what is first in the window; -1: nothing is.
std::int64_t FlowStation::placeAtStart() {
    render::LiveCollection* live = runner_.staged() ? nullptr : collection();
    if (live == nullptr || live->run().arrangement().size() == 0) {
        return -1;
    }
    const Run& run = live->run();
    for (const Placement& placement : run.placements()) {
        const Slot slot = run.arrangement().slotAt(placement.position);
        if (placement.showing && slot.role == Role::Record &&
            placement.shown().start + placement.box.extent > Length{}) {
            return slot.place + live->leaf().first;
        }
    }
    return -1;
}

/// Of what is drawn at a point of a window.
std::int64_t FlowStation::placeAt(int window, QPointF at) {
    const std::vector<render::LiveCollection*> all = runner_.windows();
    if (runner_.staged() || static_cast<std::size_t>(window) >= all.size()) {
        return -1;
    }
    const render::LiveCollection& live = *all[static_cast<std::size_t>(window)];
    for (const Placement& placement : live.run().placements()) {
        const Slot slot = live.run().arrangement().slotAt(placement.position);
        if (placement.isDrawnIn(live.run().window()) && slot.role == Role::Record &&
            live.axis().onScreen(placement.drawnBox()).contains(at)) {
            return slot.place + live.leaf().first;
        }
    }
    return -1;
}

/// What can be done with the record there, or with the first in the window.
void FlowStation::openMenu(int window, std::optional<QPointF> at, QPoint global) {
    render::LiveCollection* live = runner_.staged() ? nullptr : liveOf(window);
    const auto focused = at || live == nullptr ? std::nullopt : live->hands().focused();
    const std::int64_t place = at        ? placeAt(window, *at)
                               : focused ? focused->place + live->leaf().first
                                         : placeAtStart();
    const auto facts = place < 0 ? std::nullopt : recordFacts(*collection(), place);
    if (!facts) {
        return;
    }
    auto* menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("recordMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const bool canEdit = !facts->key.empty() && !facts->isMadeUp;
    QAction* open = menu->addAction(at ? tr("Its values…  two presses") : tr("Its values…  E"));
    open->setObjectName(QStringLiteral("openRecord"));
    connect(open, &QAction::triggered, this, [this, place] { openRecord(place); });
    addActionsOf(*menu, *live,
                 live->hands().itemOf(live->run().arrangement().positionOf(place - live->leaf().first)));
    RecordEdit edited;
    edited.key = facts->key;
    edited.hint = facts->isOfPage ? -1 : facts->number;
    for (const RecordFacts::Value& value : facts->values) {
        if (value.type != FieldType::Boolean || !canEdit) {
            continue;
        }
        const bool isOn = value.isThere && value.text == QLatin1String("true");
        QAction* turned = menu->addAction(QString::fromStdString(value.field));
        turned->setObjectName(QStringLiteral("turn_") + QString::fromStdString(value.field));
        turned->setCheckable(true);
        turned->setChecked(isOn);
        edited.field = value.field;
        edited.value = isOn ? "false" : "true";
        const bool isAsSource =
            value.isEdited && !facts->isInserted && value.before.toStdString() == edited.value;
        connect(turned, &QAction::triggered, this, [this, edited, isAsSource] { edit(edited, isAsSource); });
    }
    QAction* gone = menu->addAction(tr("Remove it"));
    gone->setObjectName(QStringLiteral("removeHere"));
    gone->setEnabled(canEdit);
    edited.kind = RecordEdit::Kind::Remove;
    edited.field.clear();
    edited.value.clear();
    connect(gone, &QAction::triggered, this, [this, edited] {
        edit(edited, false);
        Q_EMIT noticed(Notice::told(tr("%1. Ctrl+Z brings it back where it was.").arg(editInWords(edited))));
    });
    menu->popup(global);
}

void FlowStation::editAtStart() {
    if (const std::int64_t place = placeAtStart(); place >= 0) {
        openRecord(place);
    }
}

void FlowStation::editAt(int window, QPointF at) {
    if (const std::int64_t place = placeAt(window, at); place >= 0) {
        openRecord(place);
    }
}

} // namespace scorrere::workbench
