// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/base/result.h"
#include "engine/record/reading.h"
#include "workbench/ui/look/look.h"

#include <QFrame>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

namespace scorrere::workbench {

/// One line below the sentence: what is under way, with its progress and a way to cancel it, or what went
/// wrong.
class NoticeBand : public QFrame {
    Q_OBJECT
public:
    explicit NoticeBand(Look& look, QWidget* parent = nullptr);
    void showProgress(const QString& what, const ReadProgress& progress);
    void showError(const QString& what, const Error& error);
    void showNotice(const QString& text);
    void clear();
    QString message() const { return text_->text(); }

Q_SIGNALS:
    void cancelled();

private:
    enum class Kind { Nothing, Progress, Error, Notice };
    void become(Kind kind);
    void restyle();

    Look& look_;
    QLabel* text_;
    QProgressBar* bar_;
    QPushButton* button_;
    Kind kind_ = Kind::Nothing;
};

} // namespace scorrere::workbench
