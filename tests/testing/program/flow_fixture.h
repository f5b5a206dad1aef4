// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "testing/program/window_fixture.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/look/sentence_bar.h"

#include <QTest>
#include <QWheelEvent>
#include <algorithm>
#include <string>

namespace scorrere::testing {

/// The window at Flow, with what people do there: words of its sentence, wheel and keys over its cutaway.
class FlowTest : public WindowTest {
protected:
    std::string sentence() { return sentenceOf(flow()).sentence().toStdString(); }
    bool areIdle() {
        return std::ranges::all_of(flow().runner().windows(),
                                   [](const render::LiveCollection* live) { return live->isIdle(); });
    }
    void choose(const char* word, const char* chosen) {
        Q_EMIT find<workbench::SentenceWord>(word)->wordChosen(QString::fromUtf8(chosen));
        ASSERT_TRUE(settle());
        ASSERT_TRUE(QTest::qWaitFor([&] { return areIdle(); }));
    }
    /// Opens a collection of `members` besides its version and noun, and goes to Flow.
    void openCollection(const std::string& members) {
        openFile(write("some.collection.json", R"({"scorrere": 1, "noun": "moths", )" + members + "}"));
        window->goTo(QStringLiteral("flow"));
        ASSERT_TRUE(settle());
    }
    const Placement& placed(std::int64_t position) {
        return *std::ranges::find(run().placements(), position, &Placement::position);
    }
    void wheel(workbench::Cutaway& over, QPoint by, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        const QPointF at = over.windowRect().center();
        QWheelEvent event(at, over.mapToGlobal(at), {}, by, Qt::NoButton, modifiers, Qt::NoScrollPhase,
                          false);
        QCoreApplication::sendEvent(&over, &event);
        ASSERT_TRUE(QTest::qWaitFor([&] { return areIdle(); }));
    }
};

} // namespace scorrere::testing
