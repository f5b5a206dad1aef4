// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"

#include <future>

namespace scorrere::testing {

/// Every worker waits until this goes: as when a disk does not answer, or the work before takes long.
class HeldWorkers {
public:
    HeldWorkers() {
        for (unsigned i = 0; i < 64; ++i) {
            render::runOnWorker([until = gone_] { until.wait(); });
        }
    }
    ~HeldWorkers() { going_.set_value(); }

private:
    std::promise<void> going_;
    std::shared_future<void> gone_ = going_.get_future().share();
};

} // namespace scorrere::testing
