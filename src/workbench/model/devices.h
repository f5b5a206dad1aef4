// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/collection_document.h"

#include <QString>
#include <span>
#include <string_view>

namespace scorrere::workbench {

/// What the system covers at the top and bottom of a device's screen, px.
struct Bars {
    int top = 0;
    int bottom = 0;
    bool operator==(const Bars&) const = default;
};

/// A made-up device whose window a collection can be shown in: its screen between its bars. Sizes in
/// density-independent px, held upright.
struct Device {
    const char* name;
    int width;
    int height;
    int hertz; ///< frames a second its screen shows: the frame budget follows
    Bars upright;
    Bars onItsSide;
    double budgetMs() const { return 1000.0 / hertz; }
};

std::span<const Device> devices();
/// The device of that name, or the tall handset.
const Device& deviceNamed(std::string_view name);

/// The part of a device's screen that a document's strip has, and how it is arranged in it.
struct DeviceWindow {
    const Device* device;
    int width;
    int height;
    Bars bars;
    bool isUnderBars;            ///< else they stand outside the window
    ArrangementSpec arrangement; ///< its first and last item rest clear of bars that the strip passes under
};
DeviceWindow deviceWindow(const DeviceSpec& held, const ArrangementSpec& arrangement);
inline DeviceWindow deviceWindow(const CollectionDocument& document) {
    return deviceWindow(document.window, document.arrangement);
}

} // namespace scorrere::workbench
