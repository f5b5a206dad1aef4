// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/record/record_order.h"

#include <algorithm>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

RC_GTEST_PROP(RecordOrder, AgreesWithAPlainVector, ()) {
    const auto start = *rc::gen::inRange<std::int64_t>(0, 50);
    RecordOrder order(start);
    std::vector<std::int64_t> plain;
    for (std::int64_t i = 0; i < start; ++i) {
        plain.push_back(i);
    }
    if (*rc::gen::arbitrary<bool>()) { // some of them, ranked
        auto ranked = std::make_shared<RankedRecords>();
        ranked->places.assign(50, RankedRecords::kNowhere);
        std::reverse(plain.begin(), plain.end());
        std::erase_if(plain, [](std::int64_t record) { return record % 3 == 1; });
        for (const std::int64_t record : plain) {
            ranked->places[static_cast<std::size_t>(record)] =
                static_cast<std::uint32_t>(ranked->records.size());
            ranked->records.push_back(static_cast<std::uint32_t>(record));
        }
        order = RecordOrder(ranked);
    }
    for (int edit = *rc::gen::inRange(0, 40); edit > 0; --edit) {
        const auto size = static_cast<std::int64_t>(plain.size());
        if (*rc::gen::arbitrary<bool>()) {
            const auto place = *rc::gen::inRange<std::int64_t>(0, size + 1);
            const auto first = *rc::gen::inRange<std::int64_t>(0, 1000);
            const auto count = *rc::gen::inRange<std::int64_t>(0, 9);
            order.insert(place, first, count);
            for (std::int64_t i = 0; i < count; ++i) {
                plain.insert(plain.begin() + place + i, first + i);
            }
        } else {
            const auto place = *rc::gen::inRange<std::int64_t>(0, size + 1);
            const auto count = *rc::gen::inRange<std::int64_t>(0, size - place + 1);
            order.erase(place, count);
            plain.erase(plain.begin() + place, plain.begin() + place + count);
        }
        RC_ASSERT(order.size() == static_cast<std::int64_t>(plain.size()));
        for (std::size_t i = 0; i < plain.size(); ++i) {
            RC_ASSERT(order.at(static_cast<std::int64_t>(i)) == plain[i]);
            const auto first = std::ranges::find(plain, plain[i]) - plain.begin();
            RC_ASSERT(order.placeOf(plain[i]) == first);
        }
        RC_ASSERT(order.placeOf(5000) == -1);
    }
}

} // namespace
} // namespace scorrere
