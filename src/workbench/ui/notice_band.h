// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/notice.h"
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
    void tell(const Notice& notice);
    void clear();
    QString message() const { return text_->text(); }

Q_SIGNALS:
    void cancelled();

private:
    enum class Kind { Nothing, Progress, Error, Notice };
    void showProgress(const QString& what, const ReadProgress& progress);
    void become(Kind kind);
    void restyle();

    Look& look_;
    QLabel* text_;
    QProgressBar* bar_;
    QPushButton* button_;
    Kind kind_ = Kind::Nothing;
    QString about_; ///< what may be brought up to date
};

} // namespace scorrere::workbench
