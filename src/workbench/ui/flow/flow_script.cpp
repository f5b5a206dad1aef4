// SPDX-License-Identifier: GPL-3.0-or-later
// The part of FlowStation that plays scripts in the window.
#include "workbench/model/opening.h"
#include "workbench/ui/flow/flow_station.h"

#include <utility>

namespace scorrere::workbench {

namespace {

constexpr qint64 kDemoRecords = 20'000; ///< that a script is played over where nothing is open

} // namespace

void FlowStation::makeScriptActions() {
    script_ = new ScriptRun(runner_, this);
    connect(script_, &ScriptRun::noticed, this, &FlowStation::noticed);
    connect(&workspace(), &Workspace::cancelled, script_, [this](const QString& about) {
        if (about == ScriptRun::about()) {
            script_->stop();
        }
    });
    connect(&workspace().opening(), &Opening::scriptWanted, this, &FlowStation::playScript);
    addOwn(QStringLiteral("playScriptAction"), tr("Play a script…"), QKeySequence(tr("Shift+P")),
           [this] { workspace().opening().open(askWhatToOpen_(this)); });
}

/// Over what is open; over the demo, where nothing is.
void FlowStation::playScript(const QString& path) {
    Q_EMIT goWanted({id(), {}, {}});
    if (workspace().isOpen()) {
        return script_->play(path);
    }
    connect(
        &workspace(), &Workspace::replaced, this,
        [this, path] {
            if (workspace().document().source.isDemo) { // else somebody opened something meanwhile
                script_->play(path);
            }
        },
        static_cast<Qt::ConnectionType>(Qt::QueuedConnection | Qt::SingleShotConnection));
    workspace().opening().openDemo(kDemoRecords);
}

} // namespace scorrere::workbench
