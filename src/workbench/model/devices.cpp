// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/devices.h"

#include <algorithm>
#include <array>

namespace scorrere::workbench {

std::span<const Device> devices() {
    static constexpr std::array<Device, 4> kDevices{{{"narrow handset", 320, 580, 60, {22, 0}, {22, 0}},
                                                     {"tall handset", 392, 780, 120, {36, 20}, {0, 18}},
                                                     {"tablet", 820, 1080, 120, {26, 18}, {26, 18}},
                                                     {"desktop pane", 560, 640, 60, {}, {}}}};
    return kDevices;
}

const Device& deviceNamed(std::string_view name) {
    const auto it =
        std::ranges::find(devices(), name, [](const Device& d) { return std::string_view(d.name); });
    return it == devices().end() ? devices()[1] : *it;
}

DeviceWindow deviceWindow(const DeviceSpec& held, const ArrangementSpec& arrangement) {
    const Device& device = deviceNamed(held.device);
    const bool upright = held.upright;
    DeviceWindow window{&device,
                        upright ? device.width : device.height,
                        upright ? device.height : device.width,
                        upright ? device.upright : device.onItsSide,
                        held.underBars,
                        arrangement};
    if (window.isUnderBars) {
        window.height += window.bars.top + window.bars.bottom;
        window.arrangement.spacing.insets[0] += Length::px(window.bars.top);
        window.arrangement.spacing.insets[2] += Length::px(window.bars.bottom);
        if (auto* table = std::get_if<TableSpec>(&window.arrangement.form)) {
            table->clear = Length::px(window.bars.top);
        }
        if (window.arrangement.sections && !window.arrangement.sideways) {
            window.arrangement.sections->clear = Length::px(window.bars.top);
        }
    }
    return window;
}

} // namespace scorrere::workbench
