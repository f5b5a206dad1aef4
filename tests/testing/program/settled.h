// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/live_collection.h"

#include <QTest>
#include <cstdint>
#include <gtest/gtest.h>
#include <memory>

namespace scorrere::testing {

/// A collection that runs frame by frame, in a window 700 px high.
class Settled {
public:
    Settled(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
            render::Estimating how, double width = 360) {
        auto made = render::LiveCollection::create(document, std::move(records), nullptr, how);
        EXPECT_TRUE(made) << made.error().text();
        live = std::move(*made);
        live->setWindow(width, 700);
    }
    /// Until no frame would change anything, and nothing is estimated any more.
    void settle() {
        ASSERT_TRUE(QTest::qWaitFor(
            [this] {
                live->frame(now += 8333);
                return !live->isEstimating() && live->isIdle();
            },
            20'000));
    }
    std::unique_ptr<render::LiveCollection> live;
    std::int64_t now = 0;
};

} // namespace scorrere::testing
