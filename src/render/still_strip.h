// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement_spec.h"
#include "engine/run/run.h"
#include "render/item_view.h"
#include "render/steady_watch.h"

#include <memory>
#include <string>
#include <vector>

namespace scorrere::render {

/// A strip within an item as it begins, for an item that is shown outside a collection that runs.
///
/// Ownership   Refers to the design, its fonts and the arrangement.
/// Threads     The interface thread.
class StillStrip final : private RunHost {
public:
    struct Of {
        const ItemDesign& entry;
        const FontSet& fonts;
        const ArrangementSpec& arrangement;
    };
    /// Lays out what shows of a list, as JSON, in a part so large.
    StillStrip(const Of& of, std::string_view list, const FillContext& context, TextCache& texts,
               const PictureCache* pictures, const PartBox& box);
    /// At the painter's origin, where the part's top left corner is.
    void paint(QPainter& painter, const ItemView::PaintNeeds& needs);

private:
    void build(ViewId view, int kind) override;
    Length fill(ViewId view, const Slot& slot, const Given& given, CostMeter& meter) override;

    const Of of_;
    TextCache& texts_;
    const PictureCache* pictures_;
    const FillContext* context_ = nullptr; ///< while it is laid out
    EntryList entries_;
    SteadyWatch watch_;
    std::vector<std::unique_ptr<ItemView>> views_;
    std::unique_ptr<Run> run_;
};

} // namespace scorrere::render
