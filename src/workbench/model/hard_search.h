// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"
#include "workbench/model/hard_records.h"
#include "workbench/model/work_watch.h"

#include <QObject>
#include <vector>

namespace scorrere::workbench {

/// The records that are hardest for a design, looked for by a worker: what was found so far.
///
/// What an earlier search found stays until a later one has looked at as many, so that asking anew takes
/// nothing away.
///
/// Threads     The interface thread; it never waits for the worker.
class HardSearch : public QObject {
    Q_OBJECT
public:
    explicit HardSearch(QObject* parent = nullptr);
    /// Looks at all records, anew.
    void ask(HardQuestion question);
    /// There is nothing to look for: nothing was found, and that is all of it.
    void settleForNone();
    /// What was found may not be so any more.
    void doubt() { isWhole_ = false; }
    /// The rest need not be looked at; what was found stays.
    void stop();
    /// Ends; nothing is known.
    void forget();

    const std::vector<HardRecord>& found() const { return found_; }
    /// So many records were looked at for what was found.
    std::int64_t considered() const { return considered_; }
    /// All records were looked at.
    bool isWhole() const { return isWhole_; }
    bool isBusy() const { return job_.isBusy(); }
    bool isStopped() const { return isStopped_; }
    /// It takes long, and goes on.
    bool isLong() const { return watch_.isLong(); }
    /// "34%, about 3 s left"; empty while it is not long.
    QString farInWords() const { return watch_.farInWords(); }
    /// The one of median height; the first record while it is not known.
    std::int64_t median() const;

Q_SIGNALS:
    void foundMore();
    void looked(); ///< at more records, at all, or no more; what was found is perhaps the same

private:
    void take(const HardAnswer& answer);
    void end();

    std::vector<HardRecord> found_;
    std::int64_t considered_ = 0;
    bool isWhole_ = false;
    bool isStopped_ = false;
    render::Job job_;
    WorkWatch watch_{QStringLiteral("hardest")};
};

} // namespace scorrere::workbench
