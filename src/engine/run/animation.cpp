// SPDX-License-Identifier: Apache-2.0
#include "engine/run/animation.h"

#include <array>
#include <charconv>

namespace scorrere {

namespace {

constexpr int kHalvings = 40; ///< of the share of time, until the curve's x is met

double bezier(double a, double b, double t) {
    const double u = 1 - t;
    return 3 * u * u * t * a + 3 * u * t * t * b + t * t * t;
}

} // namespace

double Curve::at(double share) const {
    if (share <= 0 || share >= 1) {
        return share <= 0 ? 0 : 1;
    }
    double low = 0;
    double high = 1;
    for (int i = 0; i < kHalvings; ++i) { // x never falls
        const double middle = (low + high) / 2;
        (bezier(x1, x2, middle) < share ? low : high) = middle;
    }
    return bezier(y1, y2, (low + high) / 2);
}

std::optional<Curve> curveNamed(std::string_view name) {
    struct Named {
        std::string_view name;
        Curve curve;
    };
    constexpr std::array<Named, 5> kNamed{{{"linear", {0, 0, 1, 1}},
                                           {"ease", {0.25, 0.1, 0.25, 1}},
                                           {"ease-in", {0.42, 0, 1, 1}},
                                           {"ease-out", {0, 0, 0.58, 1}},
                                           {"ease-in-out", {0.42, 0, 0.58, 1}}}};
    for (const Named& one : kNamed) {
        if (one.name == name) {
            return one.curve;
        }
    }
    constexpr std::string_view kBezier = "cubic-bezier(";
    if (!name.starts_with(kBezier) || !name.ends_with(')')) {
        return std::nullopt;
    }
    std::array<double, 4> values{};
    const char* at = name.data() + kBezier.size();
    const char* const end = name.data() + name.size() - 1;
    for (std::size_t i = 0; i < values.size(); ++i) {
        while (at != end && (*at == ' ' || (i > 0 && *at == ','))) {
            ++at;
        }
        const auto [next, error] = std::from_chars(at, end, values[i]);
        if (error != std::errc()) {
            return std::nullopt;
        }
        at = next;
    }
    while (at != end && *at == ' ') {
        ++at;
    }
    const Curve curve{values[0], values[1], values[2], values[3]};
    const bool isRight = at == end && curve.x1 >= 0 && curve.x1 <= 1 && curve.x2 >= 0 && curve.x2 <= 1;
    return isRight ? std::optional(curve) : std::nullopt;
}

} // namespace scorrere
