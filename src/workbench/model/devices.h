// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <span>
#include <string_view>

namespace scorrere::workbench {

/// A made-up device whose window a collection can be shown in. Sizes in density-independent px, held upright.
struct Device {
    const char* name;
    int width;
    int height;
    int hertz; ///< frames a second its screen shows: the frame budget follows
    double budgetMs() const { return 1000.0 / hertz; }
};

std::span<const Device> devices();
/// The device of that name, or the tall handset.
const Device& deviceNamed(std::string_view name);

} // namespace scorrere::workbench
