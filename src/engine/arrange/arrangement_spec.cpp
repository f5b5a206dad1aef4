// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/arrangement_spec.h"

namespace scorrere {

namespace {

std::unique_ptr<Arrangement> made(ListSpec spec, Ends ends, std::int64_t records,
                                  const Arrangement::Estimates& estimates) {
    spec.header = ends.header;
    spec.footer = ends.footer;
    return std::make_unique<ListArrangement>(spec, records, estimates);
}

std::unique_ptr<Arrangement> made(GridSpec spec, Ends ends, std::int64_t records,
                                  const Arrangement::Estimates& estimates) {
    spec.header = ends.header;
    spec.footer = ends.footer;
    return std::make_unique<GridArrangement>(spec, records, estimates);
}

} // namespace

std::unique_ptr<Arrangement> makeArrangement(const ArrangementSpec& spec, Ends ends, std::int64_t records,
                                             const Arrangement::Estimates& estimates) {
    return std::visit([&](const auto& one) { return made(one, ends, records, estimates); }, spec);
}

Length itemWidth(const ArrangementSpec& spec, Length strip) {
    const auto one = makeArrangement(spec, {}, 1, {});
    one->setCross(strip);
    return one->givenFor(0).crossExtent;
}

} // namespace scorrere
