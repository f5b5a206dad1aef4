// SPDX-License-Identifier: GPL-3.0-or-later
// The words of items that are placed by what their records say.
#include "workbench/ui/flow/flow_sentence.h"
#include "workbench/ui/flow/placed_words.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

PlacedSpec* placedOf(ArrangementSpec& spec) {
    return std::get_if<PlacedSpec>(&spec.form); // it may be a list again by now
}

} // namespace

bool FlowSentence::isPlacedByTime(const PlacedBy& by) const {
    const auto field = std::ranges::find(placeFields_, QString::fromStdString(by.start), &SectionField::name);
    return field == placeFields_.end() || field->isTime;
}

void FlowSentence::writePlaced() {
    const auto* placed = std::get_if<PlacedSpec>(&said_.behaviour.arrangement.form);
    const PlacedBy by = placed != nullptr ? placed->by : PlacedBy();
    const bool isTime = isPlacedByTime(by);
    addText(tr("each"));
    add("wordPlacedLength", tr("How long items are"), placedLengthChoices(placeFields_, by),
        tr("length of items"),
        [](Behaviour& to, const QString& word) {
            if (PlacedSpec* now = placedOf(to.arrangement)) {
                now->by = placedLengthFromWords(word, now->by).value_or(now->by);
            }
        })
        ->setReader(
            [](const QString& typed) {
                const auto to = placedLengthFromWords(typed, {});
                return to ? placedLengthInWords(*to) : QString();
            },
            tr("as in to until, for minutes, or for 45 units"));
    addText(tr(","));
    add("wordPlacedScale", tr("How long a unit is"), placedScaleChoices(isTime), tr("scale"),
        [](Behaviour& to, const QString& word) {
            if (PlacedSpec* now = placedOf(to.arrangement)) {
                now->by = placedScaleFromWords(word, now->by).value_or(now->by);
            }
        })
        ->setReader(
            [by, isTime](const QString& typed) {
                const auto to = placedScaleFromWords(typed, by);
                return to ? placedScaleInWords(*to, isTime) : QString();
            },
            tr("as in 2 px a minute, or 100 px a day"));
    addText(tr(", in"));
    add("wordPlacedLane", tr("Which lanes there are"), placedLaneChoices(fields_), tr("lanes"),
        [](Behaviour& to, const QString& word) {
            if (PlacedSpec* now = placedOf(to.arrangement)) {
                now->by.lane = placedLaneFromWords(word).value_or(now->by.lane);
            }
        })
        ->setReader(
            [](const QString& typed) {
                const auto lane = placedLaneFromWords(typed);
                return lane ? placedLaneInWords(*lane) : QString();
            },
            tr("as in by site, or one lane"));
    addText(tr(","));
    add("wordPlacedGap", tr("How far items beside each other stand apart"),
        {pxInWords({}), pxInWords(Length::px(4)), pxInWords(Length::px(8)), pxInWords(Length::px(16))},
        tr("gaps"),
        [](Behaviour& to, const QString& word) {
            if (PlacedSpec* now = placedOf(to.arrangement)) {
                now->laneGap = pxFromWords(word).value_or(now->laneGap);
            }
        })
        ->setReader(
            [](const QString& typed) {
                const auto gap = pxFromWords(typed);
                return gap ? pxInWords(*gap) : QString();
            },
            tr("px, 0 to 1000"));
    addText(tr("apart,"));
}

} // namespace scorrere::workbench
