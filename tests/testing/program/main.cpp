// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/job.h"

#include <QApplication>
#include <QStandardPaths>
#include <cstdio>
#include <cstdlib>
#include <gtest/gtest.h>

int main(int argc, char** argv) {
    ::testing::InitGoogleTest(&argc, argv);
    if (GTEST_FLAG_GET(list_tests)) {
        return RUN_ALL_TESTS(); // finding out which tests there are needs no window system
    }
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) {
        qputenv("QT_QPA_PLATFORM", "offscreen");
    }
    QStandardPaths::setTestModeEnabled(true);
    const QApplication app(argc, argv);
    QApplication::setStyle(QStringLiteral("fusion"));
    const int code = RUN_ALL_TESTS();
    if (!scorrere::render::finishWorkers(20'000)) {
        std::fputs("a worker does not end when it is asked to\n", stderr);
        std::_Exit(3);
    }
    return code;
}
