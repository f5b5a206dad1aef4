// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace scorrere {

/// How something moves from one place to another: CSS Easing Functions Level 1, a cubic Bézier curve from (0, 0) to (1, 1).
///
/// Complexity  at() O(1), the same everywhere for the same input.
struct Curve {
    double x1 = 0, y1 = 0, x2 = 1, y2 = 1; ///< x within 0 to 1
    /// How far it is after this share of its time.
    double at(double share) const;
    bool operator==(const Curve&) const = default;
};
/// "linear", "ease", "ease-in", "ease-out", "ease-in-out", or "cubic-bezier(0.2, 0, 0.4, 1)"; nothing for anything else.
std::optional<Curve> curveNamed(std::string_view name);

/// What of a change is shown as movement.
enum class MotionKind : std::uint8_t { Insert, Remove, Move, Extent };
constexpr int kMotionKinds = 4;

/// How a run shows changes; 0 ms: at once.
struct AnimationSpec {
    int insertMs = 0;
    int removeMs = 0;
    int moveMs = 0;
    int extentMs = 0;
    std::string curve = "ease-in-out"; ///< as curveNamed takes it
    int most = 60; ///< so many views are moved at a time; where more would, all stand where they stand
    bool operator==(const AnimationSpec&) const = default;

    int msOf(MotionKind kind) const {
        switch (kind) {
        case MotionKind::Insert:
            return insertMs;
        case MotionKind::Remove:
            return removeMs;
        case MotionKind::Move:
            return moveMs;
        case MotionKind::Extent:
            return extentMs;
        }
        return 0;
    }
    bool isAny() const { return insertMs > 0 || removeMs > 0 || moveMs > 0 || extentMs > 0; }
};

} // namespace scorrere
