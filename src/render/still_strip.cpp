// SPDX-License-Identifier: Apache-2.0
#include "render/still_strip.h"

#include "render/live_strips.h"
#include "render/window_painting.h"

namespace scorrere::render {

StillStrip::StillStrip(const Of& of, std::string_view list, const FillContext& context, TextCache& texts,
                       const PictureCache* pictures, const PartBox& box)
    : of_(of), texts_(texts), pictures_(pictures), context_(&context) {
    entries_.read(list);
    RunSettings settings;
    settings.viewLead = 0;
    settings.framesKept = 1;
    Arrangement::Estimates estimates{};
    estimates.fill(Length::px(48));
    run_ = std::make_unique<Run>(
        static_cast<RunHost&>(*this), watch_,
        makeArrangement(of.arrangement, {}, static_cast<std::int64_t>(entries_.size()), estimates), estimates,
        settings);
    const bool isSideways = of.arrangement.sideways.has_value();
    (void)run_->resize(isSideways ? box.width : box.height, isSideways ? box.height : box.width);
    (void)run_->frame(0);
    context_ = nullptr;
}

void StillStrip::build(ViewId view, int) {
    views_.resize(std::max(views_.size(), static_cast<std::size_t>(view.index) + 1));
    auto& made = views_[static_cast<std::size_t>(view.index)];
    made = std::make_unique<ItemView>();
    made->build(of_.entry);
}

Length StillStrip::fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) {
    FillContext context = *context_;
    context.entries = &entries_;
    context.entry = static_cast<int>(slot.place);
    const ItemSize size = views_[static_cast<std::size_t>(view.index)]->fill(
        context, {of_.fonts, texts_, pictures_}, roomFor(of_.arrangement, given, run_->window()), meter);
    return of_.arrangement.sideways ? size.width : size.height;
}

void StillStrip::paint(QPainter& painter, const ItemView::PaintNeeds& needs) {
    const AxisMap axis{of_.arrangement.sideways.has_value(), of_.entry.isMirrored(), run_->window().toPx(),
                       run_->cross().toPx()};
    paintStripWithin(painter, *run_, axis, views_, needs, false);
}

} // namespace scorrere::render
