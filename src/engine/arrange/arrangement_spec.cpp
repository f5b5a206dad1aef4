// SPDX-License-Identifier: Apache-2.0
#include "engine/arrange/arrangement_spec.h"

namespace scorrere {

std::unique_ptr<Arrangement> makeArrangement(const ArrangementSpec& spec, Ends ends, std::int64_t records,
                                             const Arrangement::Estimates& estimates) {
    if (const auto* grid = std::get_if<GridSpec>(&spec.form)) {
        return std::make_unique<GridArrangement>(*grid, spec.spacing, ends, records, estimates);
    }
    if (const auto* columns = std::get_if<ColumnsSpec>(&spec.form)) {
        return std::make_unique<ColumnsArrangement>(*columns, spec.spacing, ends, records, estimates);
    }
    return std::make_unique<ListArrangement>(spec.spacing, ends, records, estimates);
}

Length itemWidth(const ArrangementSpec& spec, Length strip) {
    const auto one = makeArrangement(spec, {}, 1, {});
    one->setCross(strip);
    return one->givenFor(0).crossExtent;
}

} // namespace scorrere
