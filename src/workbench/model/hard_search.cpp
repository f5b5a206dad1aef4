// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/hard_search.h"

#include <algorithm>

namespace scorrere::workbench {

void HardSearch::ask(HardQuestion question) {
    isWhole_ = false;
    job_.start(
        [this, question = std::move(question)](std::stop_token stop, const render::Job::Post& post) {
            return findHardRecords(question, stop, [&](HardAnswer answer) {
                post([this, answer = std::move(answer)] { take(answer); });
            });
        },
        [this](bool) {
            isWhole_ = true;
            Q_EMIT looked();
        });
}

void HardSearch::settleForNone() {
    job_.cancel();
    found_.clear();
    isWhole_ = true;
    Q_EMIT foundMore();
    Q_EMIT looked();
}

void HardSearch::forget() {
    job_.cancel();
    found_.clear();
    considered_ = 0;
    isWhole_ = false;
}

void HardSearch::take(const HardAnswer& answer) {
    isWhole_ = isWhole_ || answer.isWhole;
    if (answer.isWhole || answer.considered >= considered_ || found_.empty()) {
        found_ = answer.records;
        considered_ = answer.considered;
        Q_EMIT foundMore();
    }
    Q_EMIT looked();
}

std::int64_t HardSearch::median() const {
    const auto median = std::ranges::find_if(found_, [](const HardRecord& hard) {
        return std::ranges::find(hard.why, Extreme::Median) != hard.why.end();
    });
    return median == found_.end() ? 0 : median->record;
}

} // namespace scorrere::workbench

#include "moc_hard_search.cpp"
