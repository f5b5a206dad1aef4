// SPDX-License-Identifier: Apache-2.0
#include "render/item_colours.h"

#include <QString>
#include <cmath>

namespace scorrere::render {

ItemColours ItemColours::light() {
    return {.ink = QColor(0x22, 0x28, 0x30),
            .quiet = QColor(0x64, 0x66, 0x6a),
            .accent = QColor(0x9a, 0x4e, 0x0c),
            .faint = QColor(0xe8, 0xe4, 0xda),
            .note = QColor(0x2a, 0x5d, 0x84),
            .good = QColor(0x4b, 0x6b, 0x2b),
            .caution = QColor(0x8a, 0x4c, 0x08),
            .bad = QColor(0x9c, 0x33, 0x2a),
            .paper = QColor(0xff, 0xff, 0xff)};
}

ItemColours ItemColours::dark() {
    return {.ink = QColor(0xec, 0xe9, 0xe2),
            .quiet = QColor(0xa6, 0xa8, 0xab),
            .accent = QColor(0xe8, 0xa0, 0x58),
            .faint = QColor(0x3a, 0x40, 0x48),
            .note = QColor(0x8a, 0xb8, 0xdc),
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
    static constexpr Role kRoles[] = {
        {"ink", &ItemColours::ink},     {"quiet", &ItemColours::quiet},     {"accent", &ItemColours::accent},
        {"faint", &ItemColours::faint}, {"note", &ItemColours::note},       {"good", &ItemColours::good},
        {"bad", &ItemColours::bad},     {"caution", &ItemColours::caution}, {"paper", &ItemColours::paper}};
    for (const Role& role : kRoles) {
        if (name == role.name) {
            return this->*role.colour;
        }
    }
    return ink;
}

QColor ItemColours::inkOf(Tone tone) const {
    switch (tone) {
    case Tone::Note:
        return note;
    case Tone::Good:
        return good;
    case Tone::Caution:
        return caution;
    case Tone::Bad:
        return bad;
    default:
        return quiet;
    }
}

QColor ItemColours::groundOf(Tone tone) const {
    if (tone == Tone::Neutral) {
        return faint;
    }
    const QColor toned = inkOf(tone);
    const double share = 0.14;
    const auto mixed = [share](int a, int b) { return static_cast<int>(a * share + b * (1 - share)); };
    return {mixed(toned.red(), paper.red()), mixed(toned.green(), paper.green()),
            mixed(toned.blue(), paper.blue())};
}

double contrastBetween(const QColor& a, const QColor& b) {
    const auto luminance = [](const QColor& colour) {
        const auto linear = [](double c) {
            return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) +
               0.0722 * linear(colour.blueF());
    };
    const double lighter = std::max(luminance(a), luminance(b));
    const double darker = std::min(luminance(a), luminance(b));
    return (lighter + 0.05) / (darker + 0.05);
}

} // namespace scorrere::render
