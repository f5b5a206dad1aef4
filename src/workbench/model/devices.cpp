// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/devices.h"

#include <algorithm>
#include <array>

namespace scorrere::workbench {

std::span<const Device> devices() {
    static constexpr std::array<Device, 4> kDevices{{{"narrow handset", 320, 580, 60},
                                                     {"tall handset", 392, 780, 120},
                                                     {"tablet", 820, 1080, 120},
                                                     {"desktop pane", 560, 640, 60}}};
    return kDevices;
}

const Device& deviceNamed(std::string_view name) {
    const auto it =
        std::ranges::find(devices(), name, [](const Device& d) { return std::string_view(d.name); });
    return it == devices().end() ? devices()[1] : *it;
}

} // namespace scorrere::workbench
