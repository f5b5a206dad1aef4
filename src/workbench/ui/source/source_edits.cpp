// SPDX-License-Identifier: GPL-3.0-or-later
// The part of SourceStation that has to do with edits: a value in the answer's tree, typed over, is one over the source.
#include "workbench/model/record_changes.h"
#include "workbench/ui/look/record_card.h"
#include "workbench/ui/source/answer_pane.h"
#include "workbench/ui/source/answer_tree.h"
#include "workbench/ui/source/source_station.h"

#include <QScreen>
#include <unordered_map>

namespace scorrere::workbench {

/// The record that a node of the answer's tree is of; -1: of none.
std::int64_t SourceStation::recordOfNode(int node) const {
    while (answer_ && node > 0) {
        const JsonOutline::Node& known = answer_->tree.nodes[static_cast<std::size_t>(node)];
        if (known.parent == answer_->items) {
            return known.place;
        }
        node = known.parent;
    }
    return -1;
}

/// The field that a node is the value of, or stands in; empty: of none.
std::string SourceStation::fieldOfNode(int node) const {
    while (answer_ && node > 0) {
        const JsonOutline::Node& known = answer_->tree.nodes[static_cast<std::size_t>(node)];
        if (known.parent >= 0 &&
            answer_->tree.nodes[static_cast<std::size_t>(known.parent)].parent == answer_->items) {
            return JsonOutline::nameOf(known, answer_->treeText);
        }
        node = known.parent;
    }
    return {};
}

void SourceStation::editNode(int node) {
    const std::int64_t record = recordOfNode(node);
    if (!workspace().isOpen()) {
        return;
    }
    auto facts = recordFactsIn(workspace().records(), workspace().document(), record);
    if (!facts) {
        return;
    }
    auto* card = new RecordCard(look(), std::move(*facts), window());
    recordCard_ = card;
    connect(card, &RecordCard::editWanted, this, [this](const RecordEdit& edit, bool isAsSource) {
        CollectionDocument to = workspace().document();
        to.edits = withEdit(std::move(to.edits), edit, isAsSource);
        workspace().change(editInWords(edit), std::move(to));
    });
    connect(card, &RecordCard::removeWanted, this, [this, card] {
        CollectionDocument to = workspace().document();
        const RecordEdit removed{RecordEdit::Kind::Remove, card->facts().key, {}, {}, {},
                                 card->facts().number};
        to.edits = withEdit(std::move(to.edits), removed);
        workspace().change(editInWords(removed), std::move(to));
    });
    card->setOnlyValues();
    const AnswerTree& tree = answerPane_->tree();
    double y = 0;
    bool isItself = false;
    (void)tree.rowOf(node, y, isItself);
    card->openAt(tree.mapToGlobal(QPoint(static_cast<int>(tree.width() * 0.4), static_cast<int>(y))),
                 window()->frameGeometry().intersected(screen()->availableGeometry()));
    card->focusOn(fieldOfNode(node));
}

/// What is edited stands beside what the source says.
void SourceStation::tellEdits() {
    QHash<int, QString> said;
    if (workspace().isOpen() && answer_ && answer_->items >= 0) {
        const RecordKeys keys(workspace().records(), workspace().document().source.key);
        const auto& nodes = answer_->tree.nodes;
        // By key; the tree has the first records only.
        std::unordered_map<std::string, int> items;
        for (int node = answer_->items + 1; node < nodes[static_cast<std::size_t>(answer_->items)].subtreeEnd;
             node = nodes[static_cast<std::size_t>(node)].subtreeEnd) {
            const std::int64_t record = nodes[static_cast<std::size_t>(node)].place;
            if (!workspace().document().edits.empty() && record < workspace().records()->size()) {
                items.emplace(keys.of(record), node);
            }
        }
        for (const auto& edit : workspace().document().edits) {
            const auto item = items.find(edit->key);
            if (item == items.end()) {
                continue;
            }
            if (edit->kind != RecordEdit::Kind::Set) {
                said[item->second] = edit->kind == RecordEdit::Kind::Remove ? tr("removed") : tr("moved");
                continue;
            }
            const int end = nodes[static_cast<std::size_t>(item->second)].subtreeEnd;
            for (int node = item->second + 1; node < end;
                 node = nodes[static_cast<std::size_t>(node)].subtreeEnd) {
                if (JsonOutline::nameOf(nodes[static_cast<std::size_t>(node)], answer_->treeText) ==
                    edit->field) {
                    said[node] = edit->value.empty() ? tr("taken away") : QString::fromStdString(edit->value);
                }
            }
        }
    }
    answerPane_->tree().setEdits(said);
    if (recordCard_ != nullptr && workspace().isOpen()) {
        if (auto facts =
                recordFactsIn(workspace().records(), workspace().document(), recordCard_->facts().number)) {
            recordCard_->take(std::move(*facts));
        }
    }
}

} // namespace scorrere::workbench
