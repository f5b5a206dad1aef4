// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"
#include "workbench/model/hard_records.h"

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
    /// Looks at all records, anew.
    void ask(HardQuestion question);
    /// There is nothing to look for: nothing was found, and that is all of it.
    void settleForNone();
    /// What was found may not be so any more.
    void doubt() { isWhole_ = false; }
    /// Ends; nothing is known.
    void forget();

    const std::vector<HardRecord>& found() const { return found_; }
    /// So many records were looked at for what was found.
    std::int64_t considered() const { return considered_; }
    /// All records were looked at.
    bool isWhole() const { return isWhole_; }
    bool isBusy() const { return job_.isBusy(); }
    /// The one of median height; the first record while it is not known.
    std::int64_t median() const;

Q_SIGNALS:
    void foundMore();
    void looked(); ///< at more records, or at all; what was found is perhaps the same

private:
    void take(const HardAnswer& answer);

    std::vector<HardRecord> found_;
    std::int64_t considered_ = 0;
    bool isWhole_ = false;
    render::Job job_;
};

} // namespace scorrere::workbench
