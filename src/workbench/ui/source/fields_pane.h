// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"
#include "workbench/model/source_reading.h"
#include "workbench/model/workspace.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/source/fields_view.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>
#include <functional>
#include <memory>

namespace scorrere::workbench {

/// The fields that follow from an answer, with what can be decided about each and what can be made of all.
///
/// A decision is a change of the document's source: it comes back through tell().
class FieldsPane : public QWidget {
    Q_OBJECT
public:
    /// What the rows say. Each may be null: nothing is known of it yet.
    struct Known {
        std::shared_ptr<const RecordTable> records;
        std::shared_ptr<const SourceRead> read;
        std::shared_ptr<const Examination> examination;
    };
    using AskWhereToSave = std::function<QString(QWidget*, const QString& proposed)>;

    FieldsPane(Look& look, Workspace& workspace, AskWhereToSave ask, QWidget* parent = nullptr);
    ~FieldsPane() override;

    void tell(const Known& known);
    FieldsView& view() { return *view_; }
    /// A field identifies a record, alone or together with those that do.
    void wantKey(const std::string& field, bool together);
    /// A JSON Schema of the records, written off this thread.
    void saveSchema();
    /// A C++ struct of one record, to the clipboard.
    void copyType();

Q_SIGNALS:
    void noticed(const scorrere::workbench::Notice& notice);

private:
    void tellHint();
    void turnLooking();
    const SourceSpec& source() const;
    const FieldsView::Row& row(int index) const;
    void changeField(int row, const QString& what, const std::function<void(FieldChoice&)>& change);
    void wantType(int row, FieldType type);
    void wantLocale(int row, const QString& locale);
    void restyle();

    Look& look_;
    Workspace& workspace_;
    AskWhereToSave askWhereToSave_;
    Known known_;
    render::Job writing_;
    FieldsView* view_;
    QLabel* heading_;
    QLabel* hint_;
    QPushButton* looking_ = nullptr; ///< one of them: ends looking at every value, or begins it again
    QList<QPushButton*> buttons_;
};

} // namespace scorrere::workbench
