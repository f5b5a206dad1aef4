// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"
#include "engine/record/record_json.h"
#include "render/job.h"
#include "workbench/model/findings_book.h"
#include "workbench/model/notice.h"
#include "workbench/model/opener.h"
#include "workbench/model/reach.h"

#include <QFlags>
#include <QObject>
#include <QSettings>
#include <QUndoStack>
#include <functional>
#include <memory>
#include <optional>

namespace scorrere::workbench {

class Keeper;
class Opening;

/// What of a document is not the same any more.
enum class Section : std::uint16_t {
    Source = 1,
    Noun = 2,
    Design = 4, ///< parameters, pieces, items, and the language they are written in
    Board = 8,
    Window = 16,
    Lead = 32, ///< how far ahead item views are prepared
    Paging = 64,
    Arrangement = 256,
    AsIf = 512,
    Order = 1024,  ///< which records there are, and in which order
    Edits = 2048,  ///< of records, and how a service is told of them
    Motion = 4096, ///< how changes are shown
    Hands = 8192,  ///< what gestures do, and actions
    Place = 128,   ///< where it is kept, and whether that is how it is now
};
Q_DECLARE_FLAGS(Sections, Section)
Q_DECLARE_OPERATORS_FOR_FLAGS(Sections)

Sections differences(const CollectionDocument& a, const CollectionDocument& b);
/// Whether the source must be read again, or only looked at in another light.
bool mustRead(SourceSpec from, SourceSpec to);
/// Whether another query goes to the same address.
bool onlyVariablesDiffer(SourceSpec from, const SourceSpec& to);

/// Whoever reads the source in pages while it runs, as far as others must know.
class PageRunner {
public:
    virtual ~PageRunner() = default;
    /// Nothing: the source is not read in pages now.
    struct Pages {
        std::optional<std::int64_t> count; ///< of records, as far as anybody knows
    };
    virtual std::optional<Pages> pages() const = 0;
    /// The records that pages brought so far, about `most` of them at most, and their fields.
    virtual std::vector<RecordAt> brought(std::size_t most) const = 0;
    virtual std::vector<Field> fields() const = 0;
    /// Asks with the variables that the document has now. False: what runs cannot, so the source is read
    /// again.
    virtual bool takesQuery() = 0;
};

/// What a workspace needs from outside.
struct WorkspaceNeeds {
    std::unique_ptr<Secrets> secrets;
    QSettings* settings = nullptr; ///< the window's; outlives the workspace
    QString journalFolder;         ///< where what is not saved is kept; empty: nowhere
    std::function<QString(const QString&)> askWhereToSave; ///< proposed name in, path out; empty: nowhere
};

/// The sole owner of what is open: the document, its records, its undo. Stations hold views on it.
///
/// Ownership   Owns all it gives out; `document()` and `opened()` hold until the next change.
/// Threads     The interface thread. Reading, saving and journalling are workers'.
class Workspace : public QObject {
    Q_OBJECT
public:
    explicit Workspace(WorkspaceNeeds needs);
    ~Workspace() override;

    bool isOpen() const { return opened_ != nullptr; }
    /// The rest requires isOpen().
    const CollectionDocument& document() const { return opened_->document; }
    /// What came with the document: what it may reach, its secret, the first answer.
    const Opened& opened() const { return *opened_; }
    const std::shared_ptr<const RecordTable>& records() const { return opened_->records; }
    /// Whether it is a list typed in.
    bool isList() const;
    /// How many records there are, as far as anybody knows; nothing when a service does not tell.
    std::optional<qint64> knownCount() const;

    /// One undoable step; the only way to change the document. `merge`: steps with the same one in a row are
    /// one; empty: by itself. Nothing that differs: nothing happens.
    void change(const QString& what, CollectionDocument to, const QString& merge = {});
    /// Another source. What was meant for one service is not told another.
    void changeSource(const QString& what, const SourceSpec& to);
    /// Another design: JSON as CollectionDocument::designText gives it.
    void changeDesign(const QString& what, const QString& text, const QString& merge);
    QUndoStack& undo() { return undo_; }
    /// How often something was changed, undone or done again.
    qint64 changes() const { return changes_; }
    bool hasUnsaved() const;

    Opening& opening() { return *opening_; }
    Keeper& keeper() { return *keeper_; }
    FindingsBook& findings() { return findings_; }
    DemoService& demo() { return *demo_; }
    std::shared_ptr<DemoService> sharedDemo() const { return demo_; }
    Secrets& secrets() { return *secrets_; }
    /// What reading the source needs, as far as it is known.
    SourceNeeds sourceNeeds() const;

    void setPageRunner(PageRunner* runner) { runner_ = runner; }
    /// Takes the records that pages brought so far for the collection's, off this thread; `grew` tells.
    void gather();
    /// Asks what the collection may reach beyond its folder.
    void askReach();

    // What is open is put there by Opening and Keeper.
    /// Puts another in its place. Errors: its design does not fit its records; what was there stays.
    Outcome replace(const Opened& opened);
    /// The first records of the document's own source, read again.
    Outcome readAnew(const std::shared_ptr<Opened>& opened);
    void grow(const std::shared_ptr<const RecordTable>& records, bool last);
    /// It is kept where `saved` was written. `isAsItWas`: nothing was changed since.
    void keptAs(const CollectionDocument& saved, bool isAsItWas);
    /// The document as a state of the journal has it.
    void showState(const std::string& text);
    /// `isPlain`: with it nobody has written a design, as before the change that is undone.
    void apply(const CollectionDocument& to, bool isPlain = false);
    void ask(const Question& question) { Q_EMIT asks(question); }

Q_SIGNALS:
    /// Another is open, or (`again`) the same with its source read anew.
    void replaced(bool again);
    void changed(scorrere::workbench::Sections what);
    /// More records are here; `last`: no more will come.
    void grew(bool last);
    /// Whether it is saved, or what it is called, may be another thing now.
    void stateChanged();
    /// What is under way, by what its notices are about, is not wanted any more.
    void cancelled(const QString& about);
    void asks(const scorrere::workbench::Question& question);
    void unasks(const QString& about);
    void noticed(const scorrere::workbench::Notice& notice);

private:
    std::unique_ptr<Secrets> secrets_;
    Trust trust_;
    std::shared_ptr<DemoService> demo_ = std::make_shared<DemoService>(); ///< shared with workers
    QUndoStack undo_;
    qint64 changes_ = 0;
    std::unique_ptr<Opened> opened_;
    FindingsBook findings_;
    PageRunner* runner_ = nullptr;
    render::Job gathering_;
    std::unique_ptr<Keeper> keeper_;
    std::unique_ptr<Opening> opening_;
};

} // namespace scorrere::workbench
