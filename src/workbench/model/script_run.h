// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/run/script.h"
#include "render/job.h"
#include "workbench/model/collection_runner.h"
#include "workbench/model/notice.h"
#include "workbench/model/script_player.h"
#include "workbench/model/work_watch.h"

#include <QObject>
#include <QString>
#include <memory>

namespace scorrere::workbench {

/// Plays a script in the window, as time goes by, over what runs there; another collection ends it.
///
/// Ownership   Refers to the runner, which outlives it.
/// Threads     The interface thread; a worker reads the file.
/// Errors      A file that is no script is told, and nothing is played.
class ScriptRun : public QObject {
    Q_OBJECT
public:
    explicit ScriptRun(CollectionRunner& runner, QObject* parent = nullptr);
    void play(const QString& path);
    void stop();
    bool isPlaying() const { return player_ != nullptr; }
    /// What its notices are about.
    static QString about() { return QStringLiteral("script"); }

Q_SIGNALS:
    void noticed(const scorrere::workbench::Notice& notice);

private:
    void begin(Script script, const QString& path);
    void tick();
    void end(const QString& told);

    CollectionRunner& runner_;
    render::Job reading_;
    Script script_;
    QString name_;
    std::unique_ptr<ScriptPlayer> player_;
    WorkWatch watch_{about()};
};

} // namespace scorrere::workbench
