// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"
#include "workbench/model/source_reading.h"
#include "workbench/model/work_watch.h"

#include <QObject>
#include <memory>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// Looks at every value of the records, off this thread: what fields are like, and which could be the key.
///
/// Threads     The interface thread; it never waits for the worker.
class Examiner : public QObject {
    Q_OBJECT
public:
    explicit Examiner(QObject* parent = nullptr);
    /// What was under way is dropped.
    void look(std::shared_ptr<const RecordTable> records, const std::vector<std::string>& key);
    /// It is not wanted; `look` looks at all of it again.
    void stop();
    /// Without a word: the records are going.
    void drop();
    bool isStopped() const { return isStopped_; }
    /// "34%, about 3 s left"; empty: it does not take long, or is not under way.
    QString farInWords() const { return watch_.farInWords(); }

Q_SIGNALS:
    void examined(const std::shared_ptr<scorrere::workbench::Examination>& examination);
    /// It goes on, is over, or was stopped.
    void told();

private:
    render::Job job_;
    WorkWatch watch_{QStringLiteral("examination")};
    bool isStopped_ = false;
};

} // namespace scorrere::workbench
