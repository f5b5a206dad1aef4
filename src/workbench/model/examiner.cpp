// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/examiner.h"

#include <atomic>
#include <utility>

namespace scorrere::workbench {

Examiner::Examiner(QObject* parent) : QObject(parent) {
    connect(&watch_, &WorkWatch::told, this, &Examiner::told);
}

void Examiner::look(std::shared_ptr<const RecordTable> records, const std::vector<std::string>& key) {
    drop();
    const auto far = std::make_shared<std::atomic<double>>(0);
    job_.start(
        [records = std::move(records), key, far](const std::stop_token& stop, const render::Job::Post&) {
            return examine(*records, key, stop, [&far](double share) { *far = share; });
        },
        [this](Result<Examination> examination) {
            watch_.end();
            if (examination) {
                Q_EMIT examined(std::make_shared<Examination>(std::move(*examination)));
            }
        });
    watch_.begin({}, [far] { return far->load(); });
}

void Examiner::stop() {
    if (job_.isBusy()) {
        drop();
        isStopped_ = true;
        Q_EMIT told();
    }
}

void Examiner::drop() {
    isStopped_ = false;
    job_.cancel();
    watch_.end();
}

} // namespace scorrere::workbench

#include "moc_examiner.cpp"
