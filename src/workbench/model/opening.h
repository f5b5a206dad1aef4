// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "service/demo_document.h"
#include "workbench/model/opening_state.h"
#include "workbench/model/workspace.h"

#include <QElapsedTimer>
#include <QObject>
#include <memory>
#include <optional>

namespace scorrere::workbench {

/// From a wish to open something to what is open: asks where something would be lost, reads it on workers and
/// puts it into the workspace, or tells why not. What it decides is OpeningState's.
///
/// Ownership   The workspace's; lives as long.
/// Threads     The interface thread.
class Opening : public QObject {
    Q_OBJECT
public:
    Opening(Workspace& workspace, Trust& trust);
    ~Opening() override;

    void open(const QString& path);
    void openDemo(qint64 count);
    void openDemoService();
    void openDemoIn(service::DemoForm form);
    void openList(const QString& text);
    /// What a line of text names: an address, or a file's path.
    void openPlace(const QString& place);
    /// A file, whatever is lost with it: somebody said so.
    void openNow(const QString& path);
    /// Reads the document's source again.
    void readAgain();
    /// Looks at the records again, after another key was chosen.
    void examine();
    Examiner& examiner() { return opener_.examiner(); }
    /// The secret that was missing, or another for one that was refused.
    void giveSecret(const QString& name, const QString& secret, bool lasting);
    void cancel() { opener_.cancel(); }
    bool isBusy() const { return opener_.isBusy(); }
    OpeningState::Phase phase() const { return state_.phase(); }

Q_SIGNALS:
    /// What is to be opened is a script, to be played.
    void scriptWanted(const QString& path);
    /// Something is on its way, or not any more.
    void busyChanged(bool busy);
    /// What came of the source of what is open; null: nothing that could be shown.
    void answered(const std::shared_ptr<const scorrere::workbench::Answer>& answer);
    void read(const std::shared_ptr<const scorrere::workbench::SourceRead>& read);
    void examined(const std::shared_ptr<const scorrere::workbench::Examination>& examination);
    /// The source of what is open could not be read.
    void failed(const scorrere::Error& error);
    /// `refused`: the service did not take the one that is known.
    void secretMissing(const QString& name, bool refused);

private:
    /// What waits for an answer.
    struct Arrival {
        std::shared_ptr<Opened> opened;
        bool isLast = false;
        std::shared_ptr<SourceRead> read;
        std::shared_ptr<Examination> examination;
    };
    void wishAnother(const QString& what, const std::function<void()>& start);
    void begin(OpeningState::Wish wish, const QString& what);
    void connectOpener();
    void takeOpened(const std::shared_ptr<Opened>& opened);
    void show(const std::shared_ptr<Opened>& opened);
    void takeGrowth(const std::shared_ptr<const RecordTable>& records, bool last);
    void takeRead(const std::shared_ptr<SourceRead>& read);
    void takeFailure(const Error& error);
    void askAboutArrival();
    void landArrival();
    void stayHere();
    void end();

    Workspace& workspace_;
    OpeningState state_;
    Opener opener_;
    QString what_;        ///< what is opened, for people
    QElapsedTimer since_; ///< it is on its way
    std::optional<Arrival> arrival_;
    std::shared_ptr<const Answer> answer_; ///< came, but what it belongs to does not show yet
};

} // namespace scorrere::workbench
