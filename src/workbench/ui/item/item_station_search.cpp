// SPDX-License-Identifier: GPL-3.0-or-later
// The part of ItemStation that looks for the records that are hardest for the design, and says what was found.
#include "workbench/ui/item/item_station.h"
#include "workbench/ui/look/labels.h"

#include <QHBoxLayout>
#include <algorithm>
#include <iterator>

namespace scorrere::workbench {

QWidget* ItemStation::makeHintRow() {
    auto* row = new QWidget;
    auto* box = new QHBoxLayout(row);
    box->setContentsMargins(18, 8, 12, 2);
    hint_ = new ElidedLabel;
    hint_->setObjectName(QStringLiteral("itemHint"));
    box->addWidget(hint_, 1);
    const auto button = [&](const QString& name, const QString& text, const QString& tip) {
        auto* made = new QPushButton(text);
        made->setObjectName(name);
        made->setToolTip(tip);
        made->setCheckable(true);
        box->addWidget(made);
        return made;
    };
    looking_ = button(QStringLiteral("lookingButton"), {}, tr("Which records are hardest for the design"));
    looking_->setCheckable(false);
    looking_->setFocusPolicy(Qt::TabFocus); // pressed, it may be gone
    looking_->hide();
    connect(looking_, &QPushButton::clicked, this,
            [this] { search_.isStopped() ? findHard() : search_.stop(); });
    boxes_ = button(QStringLiteral("boxesButton"), tr("Boxes"), tr("Outline the boxes that parts stand in"));
    boxes_->setChecked(board_->showsBoxes());
    touch_ = button(
        QStringLiteral("touchButton"), tr("Touch"),
        tr("Outline the parts that take taps, with their real size, and whether that is enough (WCAG 2.2)"));
    connect(touch_, &QPushButton::toggled, board_, &ExtremesBoard::setShowsTouch);
    text_ = button(QStringLiteral("textButton"), tr("As text  Ctrl+T"),
                   tr("The design as JSON, as the document has it"));
    sort_ = button(QStringLiteral("sortButton"), tr("By height  H"),
                   tr("Put the specimens from short to tall again: while you edit, each keeps its place"));
    sort_->setCheckable(false);
    connect(sort_, &QPushButton::clicked, this, &ItemStation::sortSpecimens);
    connect(boxes_, &QPushButton::toggled, this, [this](bool on) { board_->setShowsBoxes(on); });
    connect(text_, &QPushButton::toggled, this, &ItemStation::showText);
    return row;
}

void ItemStation::tellHint() {
    if (!records_) {
        return;
    }
    int faults = 0;
    for (const Specimen& specimen : model_.specimens()) {
        faults += specimen.faults.empty() ? 0 : 1;
    }
    QString words =
        model_.isSorted()
            ? tr("Shortest to tallest. Click a part on any of them: it is the same part on all.")
            : tr("Each keeps its place while you edit. Click a part on any of them: it is the same "
                 "part on all.");
    if (faults > 0) {
        words = tr("Parts are cut or fall outside on %1 of %2. ").arg(faults).arg(model_.specimens().size()) +
                words;
    }
    if (search_.isStopped()) {
        words =
            tr("%1 of %2 were looked at. ").arg(grouped(search_.considered()), grouped(records_->size())) +
            words;
    } else if (search_.isLong()) {
        words = tr("Looking at all %1: %2. ").arg(grouped(records_->size()), search_.farInWords()) + words;
    }
    looking_->setText(search_.isStopped() ? tr("Look at all") : tr("Stop looking"));
    looking_->setVisible(search_.isStopped() || search_.isLong());
    if (!absent_.empty()) {
        QStringList names;
        std::ranges::transform(absent_, std::back_inserter(names), &QString::fromStdString);
        words = tr("A rule asks for %1, which no record has. ").arg(names.join(tr(" and "))) + words;
    }
    hint_->setText(words);
}

void ItemStation::findHard() {
    if (!records_ || !isActive_) {
        return;
    }
    hardDue_.stop();
    if (!isOfRecords(which_) || records_->size() == 0) {
        search_.settleForNone();
        return;
    }
    const BoardSetting& first = model_.settings().front();
    search_.ask({document(), which_, records_, workbench::picturesOf(document(), calls()), first.width,
                 first.textScale, nowOf(document())});
}

std::size_t ItemStation::hardShown() const {
    const int wanted = document().board.hardest;
    const std::size_t found = search_.found().size();
    return wanted > 0 ? std::min(static_cast<std::size_t>(wanted), found) : found;
}

/// The hardest that were found, and those that are pinned. What was never shaped before takes its time, so at
/// first they come one a turn.
void ItemStation::showHard() {
    const std::size_t all = hardShown();
    revealed_ = model_.specimens().empty() ? std::min<std::size_t>(all, 1)
                                           : std::min(std::max(revealed_, std::size_t{1}), all);
    revealDue_.start();
    showMore();
}

void ItemStation::showMore() {
    const std::size_t all = hardShown();
    const bool whole = revealed_ >= all;
    const auto& found = search_.found();
    model_.setHard({found.begin(), found.begin() + static_cast<std::ptrdiff_t>(std::min(revealed_, all))},
                   whole || !model_.specimens().empty() ? document().board.pinned
                                                        : std::vector<std::int64_t>{});
    board_->arrange();
    if (whole) {
        revealDue_.stop();
        tellRight();
        tellHint();
    }
    ++revealed_;
}

} // namespace scorrere::workbench
