// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "engine/record/reading.h"
#include "render/job.h"

#include <QObject>
#include <memory>

namespace scorrere::workbench {

/// A collection as opened: its document and its records.
struct Opened {
    CollectionDocument document;
    std::shared_ptr<const RecordTable> records;
};

/// Reads a collection and its records. Blocks: for workers and headless runs. A file of records without a
/// collection file around it is given a plain design made from its fields.
Result<Opened> openCollection(const std::string& path, std::stop_token stop,
                              const ReadProgressHandler& progress);
Result<Opened> openDemo(std::int64_t count, std::stop_token stop, const ReadProgressHandler& progress);

/// Opens collections on a worker; one at a time, the newest wish wins.
///
/// Threads     The interface thread.
class Opener : public QObject {
    Q_OBJECT
public:
    explicit Opener(QObject* parent = nullptr) : QObject(parent) {}
    void open(const QString& path);
    void openDemo(qint64 count);
    void cancel();
    bool isBusy() const { return job_.isBusy(); }

Q_SIGNALS:
    void progressed(const scorrere::ReadProgress& progress);
    void opened(const std::shared_ptr<scorrere::workbench::Opened>& collection);
    void failed(const scorrere::Error& error);
    void cancelled();

private:
    template <typename Work>
    void start(Work work);
    render::Job job_;
};

} // namespace scorrere::workbench
