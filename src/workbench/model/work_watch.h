// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/notice.h"

#include <QElapsedTimer>
#include <QObject>
#include <QString>
#include <QTimer>
#include <functional>

namespace scorrere::workbench {

/// "about 6 s left"; empty: it is too early to tell.
QString leftInWords(double share, qint64 passedMs);

/// Tells how far long work is, and for how long still: nothing in its first half second, then each fifth of one.
///
/// Threads     The interface thread; `share` is asked there.
class WorkWatch : public QObject {
    Q_OBJECT
public:
    /// `about`: what its notices are about.
    explicit WorkWatch(const QString& about, QObject* parent = nullptr);

    /// `share`: how far it is, 0 to 1; below 0: nobody knows. `canCancel`: null: it always can be. Where it is under way already it
    /// goes on, with the time that it had.
    void begin(const QString& what, std::function<double()> share, std::function<bool()> canCancel = nullptr);
    void end();
    const QString& about() const { return about_; }
    bool isUnderWay() const { return since_.isValid(); }
    /// It takes so long that people want to know.
    bool isLong() const { return isTold_; }
    double share() const { return share_ ? share_() : -1; }
    /// "34%, about 6 s left"; empty while it is not long, or nobody knows.
    QString farInWords() const;

Q_SIGNALS:
    /// It goes on, or is over; for notices, those of it.
    void told(const scorrere::workbench::Notice& notice);

private:
    void tell();

    QString about_;
    QString what_;
    std::function<double()> share_;
    std::function<bool()> canCancel_;
    QElapsedTimer since_;
    QTimer due_;
    bool isTold_ = false;
};

} // namespace scorrere::workbench
