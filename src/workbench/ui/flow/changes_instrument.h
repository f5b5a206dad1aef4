// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/live_collection.h"
#include "workbench/ui/flow/thread_river.h"
#include "workbench/ui/look/look.h"

#include <QWidget>

namespace scorrere::workbench {

/// What the last change of the order did: where records came from and went to, how many stayed, moved, came and went,
/// which way was taken and why, and what it cost off the interface and in its frame.
class ChangesInstrument : public QWidget {
    Q_OBJECT
public:
    explicit ChangesInstrument(Look& look, QWidget* parent = nullptr);
    void setCollection(const render::LiveCollection* shown);
    void setBudget(double ms) { budgetMs_ = ms; }
    /// There is something else to tell.
    void follow();
    /// There is something to tell.
    bool hasAny() const;
    QString summary() const;
    /// What stands below the river of threads, line by line.
    QStringList lines() const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void fit();
    double heightOf(const QString& line) const;
    QRectF riverBox() const;
    void paintBanks(QPainter& painter, const QRectF& box) const;
    void drawRiver();

    Look& look_;
    const render::LiveCollection* live_ = nullptr;
    double budgetMs_ = 1000.0 / 60;
    ThreadRiver river_;
    std::int64_t riverOf_ = 0; ///< the orders there had been when it was drawn
};

/// Which way was taken, and why: "started afresh: of the 8 that showed none stays beside what is read; by the
/// model 3 ms, in place 11 ms".
QString choiceInWords(const ChangeChoice& choice);

} // namespace scorrere::workbench
