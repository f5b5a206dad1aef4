// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/strip_widget.h"
#include "workbench/model/opening.h"
#include "workbench/ui/look/station.h"
#include "workbench/ui/source/fields_view.h"
#include "workbench/ui/source/source_sentence.h"

#include <QPointer>
#include <QSplitter>
#include <QTimer>
#include <QWidget>
#include <memory>
#include <string>

namespace scorrere::workbench {

class AnswerPane;
class CallPanel;
class FieldsPane;
class FieldThreads;
class FindingsList;
class FirstRecords;
class FirstScreen;
class RecordCard;

/// The station where records come from: the call, the answer, the fields, and the first records running.
///
/// A source that fails leaves the records of the last one that did not where they are.
class SourceStation : public Station {
    Q_OBJECT
public:
    explicit SourceStation(const StationNeeds& needs, QWidget* parent = nullptr);
    ~SourceStation() override;

    QString id() const override { return QStringLiteral("source"); }
    QString title() const override { return tr("Source"); }
    QWidget* sentence() override { return sentence_; }
    bool hasSentenceWhenEmpty() const override { return true; }
    void entered() override;
    void left() override;
    void reveal(const Target& target) override;
    std::vector<Offer> offers(const QString& typed) override;
    void save(QSettings& settings) const override;
    void restore(QSettings& settings) override;

    render::StripWidget& strip();

protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeLeft();
    void connectAll();
    void connectWorkspace();
    void ask();
    void makeActions();
    void takeReplaced(bool again);
    void takeChanged(Sections what);
    void takeRead(const std::shared_ptr<const SourceRead>& read);
    void tellFindings();
    void tellSource();
    void tellReceived();
    void openPlace(const QString& place);
    void typeList();
    void showError(const Error& error);
    void changeNoun(const QString& noun);
    const SourceSpec& source() const;
    void restyle();
    /// What is written when somebody sees it: one thing in a turn of the event loop.
    enum Owed : unsigned {
        kSentence = 1,
        kRight = 2,
        kBelow = 4,
        kCall = 8,
        kFit = 16,
        kRows = 32,
        kFirstRecords = 64
    };
    void owe(unsigned what);
    void writeOwed();
    void tellSentence() { owe(kSentence); }
    void tellRows();
    void tellFirstRecords();
    void writeCall();
    void writeSentence();
    void writeRows();
    const std::vector<FieldsView::Row>& rows();
    void fitLeft();
    void changeTo(const QString& what, const SourceSpec& to);
    void selectNodeOfRow(int row);
    void selectRowOfNode(int node);
    void wantColumn(int node);
    std::int64_t recordOfNode(int node) const;
    std::string fieldOfNode(int node) const;
    void editNode(int node);
    void tellEdits();

    unsigned owed_ = 0;
    QTimer owedDue_;
    QTimer receivedDue_;
    std::function<QString(QWidget*)> askWhatToOpen_;
    std::shared_ptr<const Answer> answer_;
    std::shared_ptr<const RecordTable> records_; ///< those that were looked at last
    std::shared_ptr<const SourceRead> read_;
    std::shared_ptr<const Examination> examination_;
    SourceSentence* sentence_;
    QSplitter* splitter_;
    QSplitter* left_;
    QWidget* right_;
    FirstScreen* first_;         ///< null once something was open
    QByteArray widths_;          ///< as they were left, for when there is something at both sides
    bool isLeftFitted_ = false;  ///< somebody moved the handle between call and records
    bool isWidthFitted_ = false; ///< somebody moved the one between left and right
    CallPanel* call_;
    AnswerPane* answerPane_;
    FieldsPane* fields_;
    FirstRecords* firstRecords_;
    FieldThreads* threads_;
    FindingsList* findings_;
    QPointer<RecordCard> recordCard_; ///< open
};

} // namespace scorrere::workbench
