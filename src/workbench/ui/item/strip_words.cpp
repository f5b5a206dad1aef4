// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/strip_words.h"

#include "workbench/ui/look/arrangement_words.h"

namespace scorrere::workbench {

StripWords::StripWords(Look& look, const ArrangementSpec& arrangement, QWidget* parent)
    : SentenceBar(look, parent), now_(arrangement) {
    setObjectName(QStringLiteral("stripWords"));
    setSmall(true);
    const bool isSideways = now_.sideways.has_value();
    QStringList forms;
    for (const QString& choice : arrangementChoices(isSideways, {})) {
        const auto spec = arrangementFromWords(choice, now_);
        const bool isKnown =
            spec && (std::holds_alternative<ListSpec>(spec->form) || lanesOf(*spec) != nullptr ||
                     std::holds_alternative<PagerSpec>(spec->form));
        if (isKnown) {
            forms << choice;
        }
    }
    addText(tr("They stand as"));
    add("wordStripForm", tr("How they are arranged"), forms, arrangementInWords(now_),
        [this, forms](const QString& word) -> std::optional<ArrangementSpec> {
            return forms.contains(word) ? arrangementFromWords(word, now_) : std::nullopt;
        });
    addText(tr("running"));
    add("wordStripAxis", tr("Which way it runs"), {axisInWords(false), axisInWords(true)},
        axisInWords(isSideways), [this](const QString& word) {
            ArrangementSpec to = now_;
            to.sideways =
                word == axisInWords(true) ? std::optional(now_.sideways.value_or(Sideways())) : std::nullopt;
            return std::optional(to);
        });
    if (isSideways && !std::holds_alternative<PagerSpec>(now_.form)) {
        addText(tr(","));
        add("wordStripWidth", tr("How wide an entry is"), widthChoices(), widthInWords(now_.sideways->width),
            [this](const QString& word) -> std::optional<ArrangementSpec> {
                const auto width = widthFromWords(word);
                ArrangementSpec to = now_;
                to.sideways->width = width.value_or(to.sideways->width);
                return width ? std::optional(to) : std::nullopt;
            });
    }
    addText(tr(","));
    add("wordStripGap", tr("How far they stand apart"),
        {pxInWords({}), pxInWords(Length::px(4)), pxInWords(Length::px(8)), pxInWords(Length::px(16))},
        pxInWords(now_.spacing.gap), [this](const QString& word) -> std::optional<ArrangementSpec> {
            const auto gap = pxFromWords(word);
            ArrangementSpec to = now_;
            to.spacing.gap = gap.value_or(to.spacing.gap);
            if (Lanes* lanes = lanesOf(to)) {
                lanes->gap = to.spacing.gap;
            }
            return gap ? std::optional(to) : std::nullopt;
        });
    addText(tr("apart."));
    settle();
}

void StripWords::add(const char* name, const QString& what, const QStringList& choices, const QString& word,
                     const Change& change) {
    SentenceWord* made = addWord(QLatin1String(name), what);
    made->setChoices(choices);
    made->setWord(word);
    made->setReader([change](const QString& typed) { return change(typed) ? typed : QString(); },
                    choices.last());
    connect(made, &SentenceWord::wordChosen, this, [this, change](const QString& chosen) {
        if (const auto to = change(chosen)) {
            Q_EMIT wanted(*to);
        }
    });
}

} // namespace scorrere::workbench

#include "moc_strip_words.cpp"
