// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/arrange/arrangement_spec.h"
#include "engine/run/run.h"
#include "testing/engine/allocations.h"
#include "testing/engine/fake_host.h"
#include "testing/engine/placing.h"

#include <gtest/gtest.h>

namespace scorrere {
namespace {

class EveryArrangement : public ::testing::TestWithParam<ArrangementSpec> {};

TEST_P(EveryArrangement, ASteadyFrameAllocatesNothing) {
    const std::int64_t records = 200'000;
    testing::FakeHost host(records);
    constexpr Arrangement::Estimates kThought{Length::px(90), Length::px(60), Length::px(40)};
    scorrere::Run run(host, host.watch, makeArrangement(GetParam(), {}, records, kThought), kThought);
    host.run = &run;
    if (TableArrangement* table = testing::tableIn(run.arrangement())) {
        table->setColumns(testing::someColumns());
    }
    run.resize(Length::px(700), Length::px(360));
    run.setAnimation({200, 200, 200, 200, "ease", 60}); // what nobody changes is watched all the same
    const std::vector<std::int32_t> extents(static_cast<std::size_t>(records), 6000);
    if (auto* grid = dynamic_cast<GridArrangement*>(&run.arrangement());
        grid != nullptr && grid->hasSpans()) {
        std::vector<std::uint8_t> spans(static_cast<std::size_t>(records));
        for (std::size_t i = 0; i < spans.size(); ++i) {
            spans[i] = static_cast<std::uint8_t>(1 + i * 7919 % 5 / 3);
        }
        run.rearrange([&] { grid->setSpans(0, spans); });
    }
    if (auto* over = dynamic_cast<SectionedArrangement*>(&run.arrangement())) {
        const std::vector<std::int32_t> counts(static_cast<std::size_t>(records / 100), 100);
        run.regroup([&] { (void)over->takeSections(counts, true); });
    }
    if (auto* placed = dynamic_cast<PlacedArrangement*>(&run.arrangement())) {
        run.regroup([&] { (void)placed->takeTold(testing::toldOf(records)); });
    }
    run.setEstimated(0, extents);
    std::int64_t now = 0;
    const auto play = [&](int frames) {
        for (int i = 0; i < frames; ++i) {
            if (i % 300 == 0) {
                run.motion().fling(i % 600 == 0 ? 20'000 : -21'000, now); // over ground where one has been
            }
            now += 8333;
            run.frame(now);
        }
    };
    play(600);
    const std::int64_t fills = host.fills;
    const std::int64_t before = testing::allocationsEver();
    play(10'000);
    EXPECT_EQ(testing::allocationsEver() - before, 0);
    EXPECT_GT(host.fills - fills, 200) << "a run that does nothing allocates nothing either";
}

ArrangementSpec inSections(decltype(ArrangementSpec::form) form) {
    ArrangementSpec spec{{}, std::move(form)};
    spec.sections = SectionsSpec();
    return spec;
}

GridSpec spannedGrid() {
    GridSpec grid;
    grid.spans = {{"wide", 2}};
    return grid;
}

std::string formName(const ::testing::TestParamInfo<ArrangementSpec>& of) {
    static constexpr std::array<const char*, 7> kNames{"list",   "grid", "columns", "pager",
                                                       "placed", "own",  "table"};
    const auto* grid = std::get_if<GridSpec>(&of.param.form);
    const auto* pager = std::get_if<PagerSpec>(&of.param.form);
    return kNames[of.param.form.index()] + std::string(of.param.sections ? "InSections" : "") +
           std::string(grid != nullptr && !grid->spans.empty() ? "OfSpans"
                       : pager != nullptr && pager->endless    ? "Endless"
                                                               : "");
}

INSTANTIATE_TEST_SUITE_P(Each, EveryArrangement,
                         ::testing::Values(ArrangementSpec{{}, ListSpec()}, ArrangementSpec{{}, GridSpec()},
                                           ArrangementSpec{{}, ColumnsSpec()},
                                           ArrangementSpec{{}, spannedGrid()}, inSections(ListSpec()),
                                           inSections(GridSpec()), inSections(ColumnsSpec()),
                                           inSections(PagerSpec{{}, true, {}}),
                                           ArrangementSpec{{}, PlacedSpec()},
                                           ArrangementSpec{{}, TableSpec()}, inSections(TableSpec()),
                                           ArrangementSpec{{}, PagerSpec{{}, true, {}}},
                                           ArrangementSpec{{}, PagerSpec{{}, true, {}, true}}),
                         formName);

} // namespace
} // namespace scorrere
