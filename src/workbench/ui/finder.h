// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/ui/look/look.h"
#include "workbench/ui/look/offer.h"

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QTreeWidget>
#include <vector>

namespace scorrere::workbench {

/// All that can be done, in groups, and a line to find it by: typing keeps what has all the words, Return
/// does what is chosen.
class Finder : public QFrame {
    Q_OBJECT
public:
    using Offers = std::function<std::vector<Offer>(const QString& typed)>;
    explicit Finder(Look& look, QWidget* parent);
    /// Opens below a widget, with the cursor in the line. `offers` is asked again as people type.
    void openBelow(const QWidget& anchor, Offers offers);
    /// At most so many lines; the rest is counted.
    static constexpr std::size_t kMostLines = 200;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void step(int by);
    void run(const QTreeWidgetItem* item);
    void restyle();

    Look& look_;
    QLineEdit* line_;
    QTreeWidget* list_;
    QLabel* none_;
    Offers offers_;
    std::vector<Offer> shown_;
};

} // namespace scorrere::workbench
