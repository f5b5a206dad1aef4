// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/script_run.h"

#include "engine/document/script_file.h"

#include <QFile>
#include <QFileInfo>
#include <utility>

namespace scorrere::workbench {

ScriptRun::ScriptRun(CollectionRunner& runner, QObject* parent) : QObject(parent), runner_(runner) {
    connect(&runner_.driver(), &render::FrameDriver::frameDue, this, &ScriptRun::tick);
    connect(&watch_, &WorkWatch::told, this, &ScriptRun::noticed);
    connect(&runner_, &CollectionRunner::came, this, [this](bool isOther) {
        if (isOther) {
            stop();
        }
    });
}

void ScriptRun::play(const QString& path) {
    stop();
    reading_.start(
        [path](const std::stop_token&, const render::Job::Post&) {
            return loadScript(QFile::encodeName(path).toStdString());
        },
        [this, path](Result<Script> script) {
            if (!script) {
                Q_EMIT noticed(Notice::failed(tr("%1 cannot be played.").arg(QFileInfo(path).fileName()),
                                              script.error()));
                return;
            }
            begin(std::move(*script), path);
        });
}

void ScriptRun::begin(Script script, const QString& path) {
    if (runner_.collection() == nullptr) {
        Q_EMIT noticed(Notice::told(tr("A script plays over a collection: open one first.")));
        return;
    }
    script_ = std::move(script);
    name_ = script_.name.empty() ? QFileInfo(path).fileName() : QString::fromStdString(script_.name);
    player_ = std::make_unique<ScriptPlayer>(script_, runner_.scriptTarget());
    watch_.begin(tr("Playing %1").arg(name_), [this] { return player_->share(); });
    tick();
}

void ScriptRun::tick() {
    if (player_ == nullptr) {
        return;
    }
    player_->advanceTo(runner_.driver().nowUs());
    if (player_->isOver()) {
        return end(tr("%1 was played.").arg(name_));
    }
    runner_.driver().want();
}

void ScriptRun::stop() {
    reading_.cancel();
    if (player_ != nullptr) {
        end(tr("%1 was stopped.").arg(name_));
    }
}

void ScriptRun::end(const QString& told) {
    watch_.end();
    player_.reset();
    Q_EMIT noticed(Notice::told(told));
}

} // namespace scorrere::workbench

#include "moc_script_run.cpp"
