// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/hard_search.h"

#include <algorithm>
#include <atomic>
#include <memory>
#include <utility>

namespace scorrere::workbench {

HardSearch::HardSearch(QObject* parent) : QObject(parent) {
    connect(&watch_, &WorkWatch::told, this, &HardSearch::looked);
}

void HardSearch::ask(HardQuestion question) {
    end();
    const auto far = std::make_shared<std::atomic<double>>(0);
    job_.start(
        [this, question = std::move(question), far](const std::stop_token& stop,
                                                    const render::Job::Post& post) {
            return findHardRecords(
                question, stop,
                [&](HardAnswer answer) { post([this, answer = std::move(answer)] { take(answer); }); },
                [&far](double share) { *far = share; });
        },
        [this](bool) {
            watch_.end();
            isWhole_ = true;
            Q_EMIT looked();
        });
    watch_.begin({}, [far] { return far->load(); });
}

void HardSearch::settleForNone() {
    end();
    found_.clear();
    isWhole_ = true;
    Q_EMIT foundMore();
    Q_EMIT looked();
}

void HardSearch::stop() {
    if (isBusy()) {
        end();
        isStopped_ = true;
        Q_EMIT looked();
    }
}

void HardSearch::forget() {
    end();
    found_.clear();
    considered_ = 0;
}

/// Nothing is under way, and nothing is whole.
void HardSearch::end() {
    job_.cancel();
    watch_.end();
    isWhole_ = false;
    isStopped_ = false;
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
