// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/notice.h"
#include "workbench/ui/look/focus_back.h"
#include "workbench/ui/look/look.h"

#include <QFrame>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QStringList>
#include <QVBoxLayout>
#include <optional>

namespace scorrere::workbench {

/// One thing that people are told, until they close it or it is over.
class NoticeCard : public QFrame {
    Q_OBJECT
public:
    NoticeCard(Look& look, Notice::Kind kind, QWidget* parent);
    Notice::Kind kind() const { return kind_; }
    const QString& about() const { return about_; }
    QString text() const { return text_->text(); }
    double share() const { return share_; }       ///< below 0: nobody knows
    bool canCancel() const { return canCancel_; } ///< or close
    void tell(const Notice& notice);
    /// Whether Escape is its key now.
    void setHasKey(bool has);

Q_SIGNALS:
    void closeWanted();

private:
    void restyle();

    Look& look_;
    Notice::Kind kind_;
    QString about_;
    double share_ = -1;
    bool canCancel_ = true;
    QLabel* text_;
    QProgressBar* bar_;
    QPushButton* button_;
};

/// What people are told, beside the page and never moving it: what is under way stays until it is over, what
/// went wrong until it was read. All that was told can be read again.
///
/// Ownership   A child of what it lies over, in whose lower right corner it stands.
class NoticeStack : public QWidget {
    Q_OBJECT
public:
    NoticeStack(Look& look, QWidget* over);
    void tell(const Notice& notice);
    /// Closes the newest. Something under way is not closed but cancelled.
    void dismiss();
    /// How far the newest of what is under way is, below 0: nobody knows; nothing: nothing is under way.
    std::optional<double> share() const;
    /// Of the newest; empty: nothing stands.
    QString message() const;
    /// What was told so far, with its time, the newest last.
    const QStringList& history() const { return history_; }
    static constexpr int kMostCards = 4;
    static constexpr int kMostHistory = 100;

Q_SIGNALS:
    /// What is under way, by what its notice is about, is not wanted any more.
    void cancelled(const QString& about);

protected:
    bool event(QEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    NoticeCard* add(Notice::Kind kind);
    /// The newest.
    NoticeCard* cardOf(Notice::Kind kind, const QString& about = {}) const;
    /// That Escape is for: the newest of what is under way and can be cancelled, else the newest of the others; null: none.
    NoticeCard* cardOfKey() const;
    void close(NoticeCard* card);
    void cancel(NoticeCard* card);
    void makeRoom();
    void place();
    int heightWanted(int wide) const;

    Look& look_;
    QVBoxLayout* column_;
    FocusBack* focus_;
    QList<NoticeCard*> cards_; ///< the newest last
    QStringList history_;
};

} // namespace scorrere::workbench
