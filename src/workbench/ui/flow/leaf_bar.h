// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/look.h"

#include <QBoxLayout>
#include <QLabel>
#include <QToolButton>
#include <QWidget>
#include <cstdint>
#include <optional>

namespace scorrere::render {
class LiveCollection;
}

namespace scorrere::workbench {

/// Turns a collection by hand: first, before, the leaves by number, on, last, and what of how many shows.
class LeafBar : public QWidget {
    Q_OBJECT
public:
    explicit LeafBar(Look& look, QWidget* parent = nullptr);
    /// What of the collection is open now; hidden where all stands in one strip.
    void follow(const render::LiveCollection* live);

Q_SIGNALS:
    /// By number from 0.
    void turnWanted(qint64 leaf);

private:
    QToolButton* addButton(const char* name, const QString& text, const QString& tip);
    void restyle();
    void nameLeaves();

    struct Shown {
        std::int64_t leaf = 0;
        std::int64_t leaves = 1;
        std::int64_t from = 0;
        std::int64_t until = 0;
        std::int64_t all = 0;
        bool isEndKnown = true;
        bool mayTurnOn = false;
        bool operator==(const Shown&) const = default;
    };
    Look& look_;
    std::optional<Shown> shown_;
    QToolButton* first_;
    QToolButton* before_;
    QToolButton* on_;
    QToolButton* last_;
    QHBoxLayout* numbers_;
    QList<QToolButton*> leaves_;
    QLabel* told_;
};

} // namespace scorrere::workbench
