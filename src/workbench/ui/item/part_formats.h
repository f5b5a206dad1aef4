// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/board_model.h"
#include "workbench/ui/look/look.h"

#include <QPushButton>
#include <string>

namespace scorrere::workbench {

/// Offers every way to write the numbers and times of a text, each by what comes of it on the first specimen.
/// Hidden where the text has neither.
class PartFormats : public QPushButton {
    Q_OBJECT
public:
    PartFormats(Look& look, BoardModel& model, QWidget* parent = nullptr);
    /// The text that is said now.
    void setSaid(const std::string& said);

Q_SIGNALS:
    void textWanted(const QString& text);

private:
    void open();
    void take(std::size_t index, const std::string& argument);

    Look& look_;
    BoardModel& model_;
    std::string said_;
};

} // namespace scorrere::workbench
