// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "render/job.h"
#include "workbench/model/demo_service.h"
#include "workbench/model/examiner.h"
#include "workbench/model/reach.h"
#include "workbench/model/secrets.h"
#include "workbench/model/source_reading.h"

#include <QObject>
#include <memory>

namespace scorrere::workbench {

/// A collection as opened: its document and the records that are there so far.
struct Opened {
    CollectionDocument document;
    std::shared_ptr<const RecordTable> records;
    bool isPlain = false;              ///< the design was made from the fields; nobody wrote it
    std::optional<std::string> secret; ///< the source signs with it; never written anywhere
    bool isOwn = true;                 ///< written, typed or chosen here; else it came from elsewhere
    std::vector<Reach> allowed;        ///< of what it asks for beyond its folder, in this session
    std::vector<Reach> missing;        ///< and what is not
    std::shared_ptr<const render::Access> access;     ///< where its calls may go; null: anywhere
    std::shared_ptr<const render::FirstAnswer> first; ///< of a service read in pages

    /// Records without a design, and what a service gives, are looked at before they run.
    bool isLookedAtFirst() const { return isPlain || document.source.isService(); }
};

/// What a headless run allows a collection that came from elsewhere.
struct Allowance {
    std::vector<std::string> hosts;   ///< origins, or names of hosts
    std::vector<std::string> secrets; ///< by name
    std::vector<std::string> paths;   ///< files, or folders of them
};

/// Reads a collection and all its records. Blocks: for headless runs. A file of records without a collection
/// file around it is given a plain design made from its fields. Secrets come from the environment.
/// Errors: also Invalid for what the collection asks for beyond its folder and is not allowed.
Result<Opened> openCollection(const std::string& path, const Allowance& allowance, std::stop_token stop,
                              const ReadProgressHandler& progress);
Result<Opened> openDemo(std::int64_t count, std::stop_token stop, const ReadProgressHandler& progress);

/// What a list that is begun here has in it: nobody typed it.
QString sampleList();

/// What Opener was asked to do, kept so that a missing secret can be given and the wish taken up again.
struct OpenWish {
    std::string path;                           ///< a file; empty: see document
    std::optional<CollectionDocument> document; ///< already here: only its source is to be read
    bool isPlain = false;
    bool isAgain = false; ///< the document is shown already: if reading fails, what shows stays
    bool isOwn = true;
    std::vector<Reach> allowed;
};

/// Opens collections on workers; one at a time, the newest wish wins. Records are shown from the first on:
/// the signals come in the order opened, grew..., finished, the examiner's; or failed at any point before finished.
///
/// Threads     The interface thread.
class Opener : public QObject {
    Q_OBJECT
public:
    /// `demo` is shared with workers.
    Opener(Secrets& secrets, Trust& trust, std::shared_ptr<DemoService> demo, QObject* parent = nullptr)
        : QObject(parent), secrets_(secrets), trust_(trust), demo_(std::move(demo)) {}
    void open(const QString& path);
    /// A collection of the demo: see service/demo_document.h.
    void openDemo(const std::string& text);
    /// Records typed or pasted in.
    void openList(const QString& text);
    /// Reads the source of a document. `isPlain`: its design follows the fields. `isAgain`: it is open
    /// already. One that is not, and whose service gives nothing, is opened without records before `failed`.
    void read(const OpenWish& wish);
    /// The same again for what is shown.
    void readAgain(const Opened& shown);
    /// Looks at the records once all are read.
    Examiner& examiner() { return examiner_; }
    /// Takes the wish up again that failed for want of a secret.
    void retry();
    void cancel();
    /// Drops what is under way without a word.
    void stop();
    /// Whether the present wish was shown: it was open already, or `opened` was told.
    bool isShown() const { return shown_; }
    bool isBusy() const { return load_.isBusy() || job_.isBusy() || waiting_; }

Q_SIGNALS:
    void progressed(const scorrere::ReadProgress& progress);
    /// Something came back, whether it can be read or not.
    void answered(const std::shared_ptr<const scorrere::workbench::Answer>& answer);
    void opened(const std::shared_ptr<scorrere::workbench::Opened>& collection);
    void grew(const std::shared_ptr<const scorrere::RecordTable>& records, bool last);
    void finished(const std::shared_ptr<scorrere::workbench::SourceRead>& read);
    void secretMissing(const QString& name);
    /// It is open, and its records are not read before it may reach what it asks for.
    void reachMissing();
    void failed(const scorrere::Error& error);
    void cancelled();

private:
    void start(const OpenWish& wish);
    void ask(const OpenWish& wish);
    void findSecret(const OpenWish& wish);
    void readWith(const OpenWish& wish, std::optional<std::string> secret);
    void reach(const OpenWish& wish, Opened& opened) const;
    void took(const std::shared_ptr<Opened>& opened);
    void openEmpty(const OpenWish& wish, const std::optional<std::string>& secret);

    Secrets& secrets_;
    Trust& trust_;
    std::shared_ptr<DemoService> demo_;
    render::Job load_;
    render::Job job_;
    Examiner examiner_;
    bool waiting_ = false; ///< for a secret
    std::uint64_t openings_ = 0;
    std::optional<OpenWish> unsigned_; ///< failed for want of a secret
    bool shown_ = false;               ///< opened was told for the present wish
};

} // namespace scorrere::workbench
