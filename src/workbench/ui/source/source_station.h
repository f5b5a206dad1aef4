// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/strip_widget.h"
#include "workbench/model/opener.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/source/source_sentence.h"

#include <QLabel>
#include <QPushButton>
#include <QSplitter>
#include <QWidget>
#include <memory>

namespace scorrere::workbench {

class AnswerPane;
class CallPanel;
class FieldsView;
class FieldThreads;
class FindingsList;

/// The station where records come from: the call, the answer, the fields, and the first records running.
///
/// It shows; what the developer wants goes out as signals. A source that fails leaves the records of the last
/// one that did not where they are.
class SourceStation : public QWidget {
    Q_OBJECT
public:
    explicit SourceStation(Look& look, QWidget* parent = nullptr);
    ~SourceStation() override;

    SourceSentence& sentence() { return *sentence_; }
    QSplitter& splitter() { return *splitter_; }
    /// The source as the document has it now.
    void setSource(const SourceSpec& source, const std::string& noun, const SourceNeeds& needs);
    void setBusy(bool busy);
    void setAnswer(std::shared_ptr<const Answer> answer);
    void setOpened(const Opened& opened);
    void setRead(std::shared_ptr<const SourceRead> read);
    void setExamination(std::shared_ptr<const Examination> examination);
    void setError(const Error& error);
    /// `refused`: the value that is known was not taken.
    void askSecret(const QString& name, bool refused = false);
    void setReceived(const std::vector<service::ReceivedCall>& calls);
    void typeList();
    /// Runs the list being typed, if one is.
    bool runTypedList();
    /// JSON Schema and C++ type of the records; empty before they were looked at.
    std::string schema(const std::string& title) const;
    std::string recordTypeText(const std::string& noun) const;
    int warnings() const;
    render::StripWidget& strip() { return *strip_; }
    /// Loads what the first records will need, before they come.
    void warmUp();
    /// The station keeps the widths it was left with.
    bool restoreWidths(const QByteArray& state);

Q_SIGNALS:
    void sourceWanted(const QString& what, const scorrere::SourceSpec& source);
    void nounWanted(const QString& noun);
    void placeWanted(const QString& place);
    void askWanted();
    void cancelWanted();
    void listWanted(const QString& text);
    void secretGiven(const QString& name, const QString& secret, bool lasting);
    void saveSchemaWanted();
    void copyTypeWanted();
    void findingsChanged();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeLeft();
    QWidget* makeFieldsPane();
    void connectAll();
    void restyle();
    void tellSentence();
    void writeSentence();
    void tellRows();
    void tellStrip();
    void fitLeft();
    FieldChoice& choiceFor(SourceSpec& source, const std::string& field) const;
    void changeField(int row, const QString& what, const std::function<void(FieldChoice&)>& change);
    void wantLocale(int row, const QString& locale);
    void wantKey(const std::string& field, bool together);
    void selectNodeOfRow(int row);
    void selectRowOfNode(int node);
    void wantColumn(int node);
    std::vector<std::string> itemPaths() const;
    QString why(const Field& field, const FieldProfile* profile) const;

    Look& look_;
    SourceSpec source_;
    std::string noun_ = "records";
    bool isAnything_ = false;
    bool sentenceDue_ = false;
    std::shared_ptr<const Answer> answer_;
    std::shared_ptr<const RecordTable> records_;
    std::shared_ptr<const SourceRead> read_;
    std::shared_ptr<const Examination> examination_;
    std::shared_ptr<const RecordTable> warm_;
    SourceSentence* sentence_;
    QSplitter* splitter_;
    QSplitter* left_;
    QWidget* right_;
    QWidget* below_;
    bool isLeftFitted_ = false;  ///< somebody moved the handle between call and records
    bool isWidthFitted_ = false; ///< somebody moved the one between left and right
    CallPanel* call_;
    AnswerPane* answerPane_;
    FieldsView* fields_;
    FieldThreads* threads_;
    FindingsList* findings_;
    render::StripWidget* strip_;
    QLabel* stripHeading_;
    QLabel* fieldsHeading_;
    QLabel* fieldsHint_;
    QList<QPushButton*> buttons_;
};

} // namespace scorrere::workbench
