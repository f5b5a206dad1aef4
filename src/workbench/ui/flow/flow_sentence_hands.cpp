// SPDX-License-Identifier: GPL-3.0-or-later
// The part of FlowSentence that says what people can do with an item by hand.
#include "workbench/ui/flow/flow_sentence.h"
#include "workbench/ui/look/hands_words.h"

namespace scorrere::workbench {

void FlowSentence::writeHands() {
    if (!hasHands_) {
        addText(tr(", by hand"));
        add("wordHands", tr("What people can do with an item by hand"), firstHandsChoices(), tr("by hand"),
            [](Behaviour& to, const QString& word) {
                to.hands = firstHandsFromWords(word).value_or(to.hands);
            });
        return;
    }
    addText(tr(";"));
    add("wordSelect", tr("How many items can be selected at a time"), selectChoices(), tr("selecting"),
        [](Behaviour& to, const QString& word) {
            to.hands.select = selectFromWords(word).value_or(to.hands.select);
        });
    addText(tr("selected, a tap"));
    addTap("wordTap", tr("What a tap on an item does"), tr("tap"), &HandsSpec::tap);
    addText(tr(", two taps"));
    addTap("wordDoubleTap", tr("What two taps on an item do"), tr("two taps"), &HandsSpec::doubleTap);
    addText(tr(", a long press"));
    addTap("wordPress", tr("What a long press on an item does"), tr("long press"), &HandsSpec::press);
    addText(tr(", a swipe"));
    add("wordAside", tr("What swiping an item aside does"),
        asideChoices(said_.behaviour.hands, said_.behaviour.actions), tr("swiping"),
        [this](Behaviour& to, const QString& word) {
            to.hands = asideFromWords(word, to.hands, to.actions, said_.allFields).value_or(to.hands);
        })
        ->setReader(
            [this](const QString& typed) {
                Actions actions = said_.behaviour.actions;
                return asideFromWords(typed, said_.behaviour.hands, actions, said_.allFields)
                           ? typed.trimmed()
                           : QString();
            },
            tr("as in: to the start: remove; to the end: sets status to verified"));
    addText(tr(", lifted"));
    add("wordLift", tr("How an item is taken up, to be set down elsewhere"), liftChoices(), tr("lifting"),
        [](Behaviour& to, const QString& word) {
            to.hands = liftFromWords(word, to.hands).value_or(to.hands);
        });
    addText(tr(";"));
    add("wordTimes", tr("From when on, and how far, a press is what"), timesChoices(said_.behaviour.hands),
        tr("distances and times"),
        [](Behaviour& to, const QString& word) {
            to.hands = timesFromWords(word, to.hands).value_or(to.hands);
        })
        ->setReader(
            [this](const QString& typed) {
                const auto hands = timesFromWords(typed, said_.behaviour.hands);
                return hands ? timesInWords(*hands) : QString();
            },
            tr("as in: slop 12 px, held 700 ms"));
}

/// A word for what one gesture does: an action there is, or a new one in words.
void FlowSentence::addTap(const char* name, const QString& what, const QString& change,
                          std::string HandsSpec::*gesture) {
    add(name, what, tapChoices(said_.behaviour.hands.*gesture, said_.behaviour.actions), change,
        [this, gesture](Behaviour& to, const QString& word) {
            to.hands.*gesture = tapFromWords(word, to.actions, said_.allFields).value_or(to.hands.*gesture);
        })
        ->setReader(
            [this](const QString& typed) {
                Actions actions = said_.behaviour.actions;
                return tapFromWords(typed, actions, said_.allFields) ? typed.trimmed() : QString();
            },
            actionHint());
}

void FlowSentence::tellHands() {
    const HandsSpec& hands = said_.behaviour.hands;
    const Actions& actions = said_.behaviour.actions;
    put("wordHands", firstHandsChoices().first());
    for (const auto& [name, gesture] : {std::pair("wordTap", &HandsSpec::tap),
                                        {"wordDoubleTap", &HandsSpec::doubleTap},
                                        {"wordPress", &HandsSpec::press}}) {
        if (SentenceWord* word = words_.value(QLatin1String(name))) {
            word->setChoices(tapChoices(hands.*gesture, actions));
        }
        put(name, tapInWords(hands.*gesture, actions));
    }
    if (SentenceWord* aside = words_.value(QStringLiteral("wordAside"))) {
        aside->setChoices(asideChoices(hands, actions));
        words_[QStringLiteral("wordTimes")]->setChoices(timesChoices(hands));
    }
    put("wordSelect", selectInWords(hands.select));
    put("wordAside", asideInWords(hands, actions));
    put("wordLift", liftInWords(hands));
    put("wordTimes", timesInWords(hands));
}

} // namespace scorrere::workbench
