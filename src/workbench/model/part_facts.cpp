// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/part_facts.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

bool isReadAloud(const PlanPart& part) {
    return part.isText() || part.type == PartType::Picture || part.type == PartType::Meter ||
           part.type == PartType::Scale;
}

void addBox(PartFacts& facts, const PartBox& box) {
    const double width = box.width.toPx();
    const double height = box.height.toPx();
    const bool isFirst = facts.widest == 0 && facts.highest == 0;
    facts.narrowest = isFirst ? width : std::min(facts.narrowest, width);
    facts.lowest = isFirst ? height : std::min(facts.lowest, height);
    facts.widest = std::max(facts.widest, width);
    facts.highest = std::max(facts.highest, height);
}

} // namespace

QColor groundUnder(const ItemDesign& design, const ItemContent& content, int part,
                   const render::ItemColours& colours) {
    QColor ground = colours.paper;
    for (int i = 0; i <= part; ++i) {
        const PlanPart& p = design.parts()[static_cast<std::size_t>(i)];
        if (i != part && p.subtreeEnd <= part) {
            continue;
        }
        const Tone tone = content.tones[static_cast<std::size_t>(i)];
        const bool isToned =
            (p.type == PartType::Badge && p.ground.empty()) || (isBox(p.type) && tone != Tone::Neutral);
        if (isToned) {
            ground = colours.groundOf(tone);
        } else if (!p.ground.empty()) {
            ground = colours.of(p.ground);
        }
    }
    return ground;
}

PartFacts factsOf(const BoardModel& board, const std::string& pointer, const render::ItemColours& colours) {
    PartFacts facts;
    const std::vector<int> parts = board.partsOf(pointer);
    if (parts.empty() || board.design() == nullptr) {
        return facts;
    }
    const ItemDesign& design = *board.design();
    facts.shownOn = board.shownOn(pointer);
    for (const Specimen& specimen : board.specimens()) {
        const ItemContent& content = specimen.view->content();
        for (const int part : parts) {
            const auto index = static_cast<std::size_t>(part);
            if (!specimen.view->boxes()[index].shown) {
                continue;
            }
            addBox(facts, specimen.view->boxes()[index]);
            const PlanPart& plan = design.parts()[index];
            if (plan.isText()) {
                const Tone tone = content.tones[index];
                const QColor ink = tone == Tone::Neutral ? colours.of(plan.colour) : colours.inkOf(tone);
                const double contrast =
                    render::contrastBetween(ink, groundUnder(design, content, part, colours));
                facts.contrast = std::min(facts.contrast.value_or(contrast), contrast);
                facts.cutOn += specimen.view->isCut(part) ? 1 : 0;
            }
        }
    }
    const PlanPart& first = design.parts()[static_cast<std::size_t>(parts[0])];
    if (isReadAloud(first)) {
        int place = 0;
        std::string last;
        for (int i = 0; i <= parts[0]; ++i) {
            const PlanPart& plan = design.parts()[static_cast<std::size_t>(i)];
            place += isReadAloud(plan) && plan.pointer != last ? 1 : 0;
            last = plan.pointer;
        }
        facts.readAs = place;
    }
    facts.lacksWords = first.type == PartType::Picture && first.label < 0;
    return facts;
}

} // namespace scorrere::workbench
