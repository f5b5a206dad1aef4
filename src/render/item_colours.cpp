// SPDX-License-Identifier: Apache-2.0
#include "render/item_colours.h"

#include <QString>

namespace scorrere::render {

ItemColours ItemColours::light() {
    return {.ink = QColor(0x22, 0x28, 0x30),
            .quiet = QColor(0x64, 0x66, 0x6a),
            .accent = QColor(0x9a, 0x4e, 0x0c),
            .faint = QColor(0xe8, 0xe4, 0xda),
            .good = QColor(0x4b, 0x6b, 0x2b),
            .caution = QColor(0xa0, 0x5c, 0x10),
            .bad = QColor(0x9c, 0x33, 0x2a),
            .paper = QColor(0xff, 0xff, 0xff)};
}

ItemColours ItemColours::dark() {
    return {.ink = QColor(0xec, 0xe9, 0xe2),
            .quiet = QColor(0xa6, 0xa8, 0xab),
            .accent = QColor(0xe8, 0xa0, 0x58),
            .faint = QColor(0x3a, 0x40, 0x48),
            .good = QColor(0xa3, 0xc4, 0x7a),
            .caution = QColor(0xe6, 0xb0, 0x64),
            .bad = QColor(0xe8, 0x8a, 0x7e),
            .paper = QColor(0x1d, 0x22, 0x28)};
}

QColor ItemColours::of(const std::string& name) const {
    if (name.empty()) {
        return {};
    }
    if (name[0] == '#') {
        return QColor(QString::fromStdString(name));
    }
    struct Role {
        const char* name;
        QColor ItemColours::*colour;
    };
    static constexpr Role kRoles[] = {{"ink", &ItemColours::ink},         {"quiet", &ItemColours::quiet},
                                      {"accent", &ItemColours::accent},   {"faint", &ItemColours::faint},
                                      {"good", &ItemColours::good},       {"bad", &ItemColours::bad},
                                      {"caution", &ItemColours::caution}, {"paper", &ItemColours::paper}};
    for (const Role& role : kRoles) {
        if (name == role.name) {
            return this->*role.colour;
        }
    }
    return ink;
}

} // namespace scorrere::render
