// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"
#include "render/live_collection.h"
#include "workbench/model/notice.h"
#include "workbench/model/workspace.h"

#include <QObject>
#include <QString>
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// Does what the collection's actions say, with the item that they are done to. What they change is one step that can be undone; where
/// a call of theirs fails it is taken back.
///
/// Ownership   Refers to the workspace, which must outlive it.
/// Threads     The interface thread; calls are made by workers.
/// Errors      Told by noticed(), and at the item by failed().
class HandActions : public QObject {
    Q_OBJECT
public:
    explicit HandActions(Workspace& workspace, QObject* parent = nullptr);

    /// Times as for LiveCollection::frame().
    void perform(render::LiveCollection& live, const QString& action, const render::HandItem& item,
                 std::int64_t timeUs);
    /// What was lifted stands elsewhere now.
    void setDown(render::LiveCollection& live, const render::HandItem& item,
                 const std::vector<std::pair<std::string, std::string>>& takesOver);

Q_SIGNALS:
    void noticed(const scorrere::workbench::Notice& notice);
    /// What was done to the item of a key was taken back.
    void failed(const QString& key, const QString& why);

private:
    void call(const QString& title, const SendRule& rule, const std::string& key, const std::string& record,
              const RecordEdits& made);
    void takeBack(const RecordEdits& made, const QString& title);
    void tellDone(const QString& text);

    Workspace& workspace_;
    std::map<std::int64_t, std::unique_ptr<render::Job>> calls_;
    std::int64_t callsEver_ = 0;
    int doneAt_ = 0; ///< the step of undo behind what was told last
};

} // namespace scorrere::workbench
