// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/flow_sentence.h"
#include "workbench/ui/flow/placed_words.h"
#include "workbench/ui/look/arrangement_words.h"

namespace scorrere::workbench {

namespace {

constexpr std::size_t kGridForm = 1; // as the arrangement's variant has them
constexpr std::size_t kColumnsForm = 2;
constexpr std::size_t kPagerForm = 3;
constexpr std::size_t kPlacedForm = 4;
constexpr std::size_t kTableForm = 6;

/// A reader that says again what was understood.
template <typename Parsed, typename Say>
std::function<QString(const QString&)> understood(std::optional<Parsed> (*parse)(const QString&), Say say) {
    return [parse, say](const QString& typed) {
        const auto parsed = parse(typed);
        return parsed ? say(*parsed) : QString();
    };
}

GridSpec* gridOf(ArrangementSpec& spec) {
    return std::get_if<GridSpec>(&spec.form); // it may be a list again by now
}

TableSpec* tableOf(ArrangementSpec& spec) {
    return std::get_if<TableSpec>(&spec.form); // it may be a list again by now
}

PagerSpec* pagerOf(ArrangementSpec& spec) {
    return std::get_if<PagerSpec>(&spec.form); // it may be a list again by now
}

} // namespace

FlowSentence::Formed FlowSentence::formedBy(const ArrangementSpec& arrangement) {
    const auto* grid = std::get_if<GridSpec>(&arrangement.form);
    const auto* placed = std::get_if<PlacedSpec>(&arrangement.form);
    return {arrangement.form.index(),
            arrangement.sideways.has_value(),
            grid != nullptr && !grid->spans.empty(),
            takesSections(arrangement),
            arrangement.sections.has_value(),
            placed != nullptr ? placed->by.start : std::string()};
}

std::vector<std::pair<const char*, QString>> FlowSentence::saidOf(const ArrangementSpec& arrangement) const {
    std::vector<std::pair<const char*, QString>> said{
        {"wordArrangement", arrangementInWords(arrangement)},
        {"wordAxis", axisInWords(arrangement.sideways.has_value())},
        {"wordTurning", turningInWords(arrangement.byHand)}};
    if (arrangement.sideways) {
        said.emplace_back("wordItemWidth", widthInWords(arrangement.sideways->width));
    }
    if (const auto* grid = std::get_if<GridSpec>(&arrangement.form)) {
        said.emplace_back("wordCells", cellsInWords(grid->extent, arrangement.sideways.has_value()));
        said.emplace_back("wordSpans", spansInWords(grid->spans, arrangement.sideways.has_value()));
        said.emplace_back("wordHoles", holesInWords(grid->leavesHoles));
    }
    said.emplace_back("wordSections", sectionsInWords(arrangement.sections));
    if (arrangement.sections) {
        said.emplace_back("wordStay", stayInWords(arrangement.sections->stay));
        said.emplace_back("wordJumps", jumpsInWords(arrangement.sections->jumps));
    }
    if (const Lanes* lanes = lanesOf(arrangement)) {
        said.emplace_back("wordGaps", gapsInWords(lanes->gap, arrangement.spacing.gap));
    }
    if (const auto* pager = std::get_if<PagerSpec>(&arrangement.form)) {
        said.emplace_back("wordPeek", peekInWords(pager->peek));
        said.emplace_back("wordApart", pxInWords(arrangement.spacing.gap));
        said.emplace_back("wordFling", flingInWords(pager->several));
        said.emplace_back("wordAfterLast", afterLastInWords(pager->endless));
        said.emplace_back("wordMarks", marksInWords(pager->marks));
    }
    if (const auto* table = std::get_if<TableSpec>(&arrangement.form)) {
        said.emplace_back("wordHeading", headingInWords(*table));
        said.emplace_back("wordFirstColumn", firstColumnInWords(table->firstStays));
    }
    if (const auto* placed = std::get_if<PlacedSpec>(&arrangement.form)) {
        said.emplace_back("wordPlacedLength", placedLengthInWords(placed->by));
        said.emplace_back("wordPlacedScale", placedScaleInWords(placed->by, isPlacedByTime(placed->by)));
        said.emplace_back("wordPlacedLane", placedLaneInWords(placed->by.lane));
        said.emplace_back("wordPlacedGap", pxInWords(placed->laneGap));
    }
    return said;
}

void FlowSentence::writeArrangement() {
    addText(tr("as"));
    SentenceWord* word = add("wordArrangement", tr("How items are arranged"),
                             QStringList{tr("look at your records in each…")} +
                                 arrangementChoices(formed_.isSideways, placeFields_),
                             tr("arrangement"), [](Behaviour& to, const QString& chosen) {
                                 to.arrangement =
                                     arrangementFromWords(chosen, to.arrangement).value_or(to.arrangement);
                             });
    word->setReader(
        [isSideways = formed_.isSideways](const QString& typed) {
            ArrangementSpec now;
            now.sideways = isSideways ? std::optional(Sideways()) : std::nullopt;
            const auto spec = arrangementFromWords(typed, now);
            return spec ? arrangementInWords(*spec) : QString();
        },
        tr("as in 5 columns, 120 px for as many as fit, a table, or placed by from"));
    connect(word, &SentenceWord::wordChosen, this, [this, word](const QString& chosen) {
        if (!arrangementFromWords(chosen, {})) {
            tell(); // the word stays what it is
            Q_EMIT arrangementCardWanted(word);
        }
    });
    if (formed_.form == kTableForm) {
        writeTable();
    } else {
        writeAxis();
    }
    if (formed_.form == kGridForm) {
        writeCells();
        if (!kinds_.isEmpty()) {
            writeSpans();
        }
    }
    if (formed_.form == kPlacedForm) {
        writePlaced();
    } else if (formed_.form == kPagerForm) {
        writePager();
    } else if (formed_.form == kGridForm || formed_.form == kColumnsForm) {
        writeGaps();
    }
    if (formed_.takesSections) {
        writeSections();
    }
    add("wordTurning", tr("All in one strip, or so many at a time"), turningChoices(), tr("turning by hand"),
        [](Behaviour& to, const QString& chosen) {
            to.arrangement.byHand = turningFromWords(chosen).value_or(to.arrangement.byHand);
        })
        ->setReader(understood(&turningFromWords, &turningInWords), tr("a number, 1 to 10,000"));
    addText(tr(","));
}

void FlowSentence::writeTable() {
    addText(tr("under"));
    add("wordHeading", tr("What stands above the records"), headingChoices(), tr("the heading"),
        [](Behaviour& to, const QString& word) {
            if (TableSpec* table = tableOf(to.arrangement)) {
                headingFromWords(word, *table);
            }
        });
    addText(tr(", whose first column"));
    add("wordFirstColumn", tr("What the first column does while the others are scrolled to the side"),
        {firstColumnInWords(true), firstColumnInWords(false)}, tr("the first column"),
        [](Behaviour& to, const QString& word) {
            if (TableSpec* table = tableOf(to.arrangement)) {
                table->firstStays = word == firstColumnInWords(true);
            }
        });
    addText(tr(","));
}

/// Which way the strip runs, and how wide an item is then where nothing else says it.
void FlowSentence::writeAxis() {
    addText(tr("running"));
    add("wordAxis", tr("Which way the strip runs"), {axisInWords(false), axisInWords(true)},
        tr("the way the strip runs"), [](Behaviour& to, const QString& word) {
            const bool isSideways = word == axisInWords(true);
            if (isSideways != to.arrangement.sideways.has_value()) {
                to.arrangement.sideways = isSideways ? std::optional(Sideways()) : std::nullopt;
            }
        });
    addText(tr(","));
    if (formed_.isSideways && formed_.form != kPagerForm && formed_.form != kPlacedForm) {
        addText(tr("items"));
        add("wordItemWidth", tr("How wide an item is"), widthChoices(), tr("width of items"),
            [](Behaviour& to, const QString& word) {
                if (to.arrangement.sideways) {
                    to.arrangement.sideways->width =
                        widthFromWords(word).value_or(to.arrangement.sideways->width);
                }
            })
            ->setReader(understood(&widthFromWords, &widthInWords), tr("as in 240 px, 80%, or up to 320 px"));
        addText(tr(","));
    }
}

void FlowSentence::writeCells() {
    addText(tr("cells"));
    add("wordCells", formed_.isSideways ? tr("How wide the cells are") : tr("How high the cells are"),
        cellChoices(formed_.isSideways), tr("height of cells"),
        [](Behaviour& to, const QString& word) {
            if (auto* grid = gridOf(to.arrangement)) {
                grid->extent = cellsFromWords(word).value_or(grid->extent);
            }
        })
        ->setReader(
            [isSideways = formed_.isSideways](const QString& typed) {
                const auto cells = cellsFromWords(typed);
                return cells ? cellsInWords(*cells, isSideways) : QString();
            },
            tr("as in 90 px, or 2 to 3"));
    addText(tr(","));
}

void FlowSentence::writeSections() {
    addText(tr("in"));
    add("wordSections", tr("What puts records in sections"), sectionChoices(fields_), tr("sections"),
        [](Behaviour& to, const QString& word) {
            to.arrangement.sections =
                sectionsFromWords(word, to.arrangement.sections).value_or(to.arrangement.sections);
        })
        ->setReader(
            [](const QString& typed) {
                const auto sections = sectionsFromWords(typed, std::nullopt);
                return sections ? sectionsInWords(*sections) : QString();
            },
            tr("as in by site, by the month of seen, by the first letter of name, or by {site}, {status}"));
    if (formed_.hasSections) {
        if (formed_.form != kPagerForm) { // one that fills the window does not stay
            writeStay();
        }
        addText(tr(", with"));
        add("wordJumps", tr("Whether there is a list of sections beside the window"),
            {jumpsInWords(true), jumpsInWords(false)}, tr("the jump list"),
            [](Behaviour& to, const QString& word) {
                if (to.arrangement.sections) {
                    to.arrangement.sections->jumps = word == jumpsInWords(true);
                }
            });
    }
    addText(tr(","));
}

void FlowSentence::writeStay() {
    addText(tr("whose headers"));
    add("wordStay", tr("What headers of sections do at the window's start"),
        {stayInWords(true), stayInWords(false)}, tr("headers that stay"),
        [](Behaviour& to, const QString& word) {
            if (to.arrangement.sections) {
                to.arrangement.sections->stay = word == stayInWords(true);
            }
        });
}

void FlowSentence::writeSpans() {
    add("wordSpans", tr("How many columns items of a kind take"), spanChoices(kinds_, formed_.isSideways),
        tr("columns that kinds take"),
        [kinds = kinds_](Behaviour& to, const QString& word) {
            if (auto* grid = gridOf(to.arrangement)) {
                grid->spans = spansFromWords(word, kinds).value_or(grid->spans);
            }
        })
        ->setReader(
            [kinds = kinds_, isSideways = formed_.isSideways](const QString& typed) {
                const auto spans = spansFromWords(typed, kinds);
                return spans ? spansInWords(*spans, isSideways) : QString();
            },
            tr("as in %1 across 2, or across all").arg(kinds_.front()));
    addText(tr(","));
    if (formed_.hasSpans) {
        add("wordHoles", tr("What becomes of room that a line has left"),
            {holesInWords(false), holesInWords(true)}, tr("holes"), [](Behaviour& to, const QString& word) {
                if (auto* grid = gridOf(to.arrangement)) {
                    grid->leavesHoles = word == holesInWords(true);
                }
            });
        addText(tr(","));
    }
}

void FlowSentence::writeGaps() {
    add("wordGaps", tr("How far items stand apart"), gapChoices(), tr("gaps"),
        [](Behaviour& to, const QString& word) {
            Lanes* lanes = lanesOf(to.arrangement);
            if (const auto gaps = gapsFromWords(word); gaps && lanes != nullptr) {
                lanes->gap = gaps->front();
                to.arrangement.spacing.gap = gaps->back();
            }
        })
        ->setReader(
            [](const QString& typed) {
                const auto gaps = gapsFromWords(typed);
                return gaps ? gapsInWords(gaps->front(), gaps->back()) : QString();
            },
            tr("px, 0 to 1000; two for beside and below"));
    addText(tr("apart,"));
}

void FlowSentence::writePager() {
    add("wordPeek", tr("How much of the neighbours shows"), peekChoices(), tr("peek"),
        [](Behaviour& to, const QString& word) {
            if (PagerSpec* pager = pagerOf(to.arrangement)) {
                pager->peek = peekFromWords(word).value_or(pager->peek);
            }
        })
        ->setReader(understood(&peekFromWords, &peekInWords), tr("px, 0 to 1000"));
    addText(tr("of the neighbours,"));
    add("wordApart", tr("How far items stand apart"), gapChoices(), tr("gap"),
        [](Behaviour& to, const QString& word) {
            to.arrangement.spacing.gap = pxFromWords(word).value_or(to.arrangement.spacing.gap);
        })
        ->setReader(understood(&pxFromWords, &pxInWords), tr("px, 0 to 1000"));
    addText(tr("apart,"));
    add("wordFling", tr("How far a fling goes"), {flingInWords(false), flingInWords(true)}, tr("flings"),
        [](Behaviour& to, const QString& word) {
            if (PagerSpec* pager = pagerOf(to.arrangement)) {
                pager->several = word == flingInWords(true);
            }
        });
    if (!isPaged_) { // nobody knows before the end what is the last
        addText(tr(","));
        add("wordAfterLast", tr("What comes after the last item"),
            {afterLastInWords(false), afterLastInWords(true)}, tr("what comes after the last"),
            [](Behaviour& to, const QString& word) {
                if (PagerSpec* pager = pagerOf(to.arrangement)) {
                    pager->endless = word == afterLastInWords(true);
                }
            });
        addText(tr("after the last"));
    }
    addText(tr(", with"));
    add("wordMarks", tr("The marks that say which item shows"), markChoices(), tr("position marks"),
        [](Behaviour& to, const QString& word) {
            if (PagerSpec* pager = pagerOf(to.arrangement)) {
                pager->marks = marksFromWords(word, pager->marks).value_or(pager->marks);
            }
        })
        ->setReader(
            [](const QString& typed) {
                const auto marks = marksFromWords(typed, std::nullopt);
                return marks ? marksInWords(*marks) : QString();
            },
            tr("as in 9 long marks, or no marks"));
    addText(tr(","));
}

} // namespace scorrere::workbench
