// SPDX-License-Identifier: Apache-2.0
#include "render/live_estimates.h"

#include "engine/design/estimate.h"
#include "engine/record/record_builder.h"
#include "render/item_view.h"
#include "render/live_collection.h"

namespace scorrere::render {

namespace {

constexpr std::int64_t kSlice = 4096;

/// One design as a worker estimates it.
struct Estimator {
    Estimator(const ItemDesign& of, double textScale)
        : design(of), fonts(of, textScale), tables(fonts.advanceTables()), estimator(of, tables) {
        shaper.build(design);
    }
    const ItemDesign& design;
    const FontSet fonts; // of this thread's own: copies share what is inside
    const std::vector<AdvanceTable> tables;
    ItemEstimator estimator;
    /// What the tables do not cover is shaped for real: the same fonts and breaking as it will be painted
    /// with.
    ItemView shaper;
};

/// All designs that records can have, as one worker estimates them.
class Estimators {
public:
    Estimators(const EstimateTask& task, const Compiled& compiled) : task_(task), kinds_(compiled.kinds) {
        // Here, not where the task was made: looking advances up takes longer than a frame has.
        for (const ItemDesign& design : compiled.designs) {
            each_.push_back(std::make_unique<Estimator>(design, task.textScale));
        }
    }
    std::optional<std::int32_t> extentOf(const RecordTable& records, std::int64_t record,
                                         const std::stop_token& stop) {
        const FillContext context{records, record, &task_.document.parameters, task_.nowMs, nullptr, -1, 0};
        const int kind = kinds_.kindOf(context);
        Estimator& with = *each_[static_cast<std::size_t>(kind < 0 ? 0 : kFirstOwnKind + kind)];
        auto extent = with.estimator.estimate(context, task_.width);
        if (!extent) {
            if (stop.stop_requested()) {
                return std::nullopt;
            }
            extent = with.shaper.fill(context, {with.fonts, texts_, nullptr}, task_.width, meter_);
        }
        return static_cast<std::int32_t>(std::min(extent->raw(), ExtentIndex::kMaxExtent.raw()));
    }

private:
    const EstimateTask& task_;
    const KindChooser& kinds_;
    std::vector<std::unique_ptr<Estimator>> each_;
    TextCache texts_{std::int64_t{1} << 20};
    SteadyWatch watch_;
    CostMeter meter_{watch_};
};

using Deliver = std::function<void(std::int64_t, std::vector<std::int32_t>)>;

/// Rows whose places follow each other are one slice.
bool estimateRows(const EstimateTask& task, Estimators& estimators, const std::stop_token& stop,
                  const Deliver& deliver) {
    std::vector<std::int32_t> extents;
    for (std::size_t i = 0; i < task.rows.size(); ++i) {
        const EstimateTask::Row& row = task.rows[i];
        const auto extent =
            stop.stop_requested() ? std::nullopt : estimators.extentOf(*row.table, row.row, stop);
        if (!extent) {
            return false;
        }
        extents.push_back(*extent);
        const bool ends = i + 1 == task.rows.size() || task.rows[i + 1].place != row.place + 1;
        if (ends) {
            const std::int64_t first = row.place + 1 - static_cast<std::int64_t>(extents.size());
            deliver(first, std::exchange(extents, {}));
        }
    }
    return true;
}

} // namespace

Result<Compiled> compileDesigns(const CollectionDocument& document, const RecordTable& records,
                                bool withStates) {
    Compiled compiled;
    const PartSpec none;
    const DesignScope scope = document.scope(records);
    // Before a record has come no field is known: what binds to fields shows nothing.
    const bool mayLackFields = records.fields().empty();
    const auto add = [&](const PartSpec& spec) -> Outcome {
        auto design = ItemDesign::compile(spec, scope);
        if (!design && mayLackFields) {
            design = ItemDesign::compile(none, scope);
        }
        if (!design) {
            return document.located(std::move(design.error()));
        }
        compiled.designs.push_back(std::move(*design));
        return done();
    };
    std::vector<const PartSpec*> specs{&document.item, document.header ? &*document.header : &none,
                                       document.footer ? &*document.footer : &none};
    for (const KindSpec& kind : document.kinds) {
        specs.push_back(&kind.design);
    }
    if (withStates) {
        specs.push_back(&document.item); // as placeholders are shaped
    }
    for (const PartSpec* spec : specs) {
        if (Outcome added = add(*spec); !added) {
            return std::move(added.error());
        }
    }
    if (withStates) {
        const RecordTable says = stateRecord(document, {}, 0);
        const DesignScope stateScope = document.scope(says);
        for (const auto& state : document.states) {
            auto design = ItemDesign::compile(state ? *state : none, stateScope);
            if (!design) {
                return document.located(std::move(design.error()));
            }
            compiled.designs.push_back(std::move(*design));
        }
    }
    auto kinds = KindChooser::compile(mayLackFields ? std::vector<KindSpec>{} : document.kinds, scope);
    if (!kinds) {
        return document.located(std::move(kinds.error()));
    }
    compiled.kinds = std::move(*kinds);
    return compiled;
}

RecordTable stateRecord(const CollectionDocument& document, const PageFailure& failure, std::int64_t count) {
    RecordBuilder builder;
    const auto text = [&builder](const char* name, const std::string& value) {
        builder.setText(builder.fieldNamed(name), value);
    };
    text("noun", document.noun);
    std::string message = failure.message; // as a sentence
    if (!message.empty() && message[0] >= 'a' && message[0] <= 'z') {
        message[0] = static_cast<char>(message[0] - 'a' + 'A');
    }
    text("message", message);
    text("advice", failure.advice);
    builder.setInteger(builder.fieldNamed("count"), count);
    builder.endRecord();
    return builder.finish();
}

bool estimateSlices(const EstimateTask& task, const std::stop_token& stop, const Deliver& deliver) {
    const auto compiled = compileDesigns(task.document, *task.records, false);
    if (!compiled) {
        return false; // cannot be: the same designs compiled before
    }
    Estimators estimators(task, *compiled);
    if (!task.rows.empty()) {
        return estimateRows(task, estimators, stop, deliver);
    }
    const std::int64_t slices = (task.order.size() + kSlice - 1) / kSlice;
    std::int64_t below = task.from / kSlice;
    std::int64_t above = below - 1;
    for (std::int64_t made = 0; made < slices; ++made) {
        const bool on = below < slices && (made % 2 == 0 || above < 0);
        const std::int64_t first = (on ? below++ : above--) * kSlice;
        std::vector<std::int32_t> extents;
        const std::int64_t end = std::min(first + kSlice, task.order.size());
        extents.reserve(static_cast<std::size_t>(end - first));
        for (std::int64_t place = first; place < end; ++place) {
            if ((place & 511) == 0 && stop.stop_requested()) {
                return false;
            }
            const auto extent = estimators.extentOf(*task.records, task.order.at(place), stop);
            if (!extent) {
                return false;
            }
            extents.push_back(*extent);
        }
        deliver(first, std::move(extents));
    }
    return true;
}

} // namespace scorrere::render
