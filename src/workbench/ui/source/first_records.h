// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/strip_widget.h"
#include "workbench/model/workspace.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QWidget>
#include <memory>

namespace scorrere::workbench {

/// The records as they come, running as a plain list, under how many there are.
class FirstRecords : public QWidget {
    Q_OBJECT
public:
    static constexpr std::int64_t kMost = 20'000; ///< the strip takes over a table up to this size

    FirstRecords(Look& look, const Workspace& workspace, QWidget* parent = nullptr);

    /// What is open, with what of its records is here. Lays out: O(what shows).
    void take(const std::shared_ptr<const RecordTable>& records);
    /// How many are here, while more may come or when all did.
    void tellCount(std::int64_t count, bool areAll);
    void bringUp(std::int64_t record);
    render::StripWidget& strip() { return *strip_; }

private:
    void restyle();

    Look& look_;
    const Workspace& workspace_;
    QLabel* heading_;
    render::StripWidget* strip_;
};

} // namespace scorrere::workbench
