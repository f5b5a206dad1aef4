// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/job.h"
#include "workbench/ui/look/look.h"

#include <QPlainTextEdit>
#include <QString>

namespace scorrere::workbench {

/// The end of a file of text in a window of its own, to be read and copied: the log, a note that was left by a fall.
///
/// Ownership   Deletes itself when it is closed.
class TextReader : public QPlainTextEdit {
    Q_OBJECT
public:
    TextReader(const Look& look, const QString& title, const QString& file, QWidget* parent);
    static constexpr qint64 kMostBytes = 512 * 1024;

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    render::Job reading_;
};

} // namespace scorrere::workbench
