// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cmath>
#include <compare>
#include <cstdint>

namespace scorrere {

/// A length along or across the scroll axis.
///
/// Units       1/64 of a device-independent pixel, held in an int64, so sums are exact.
/// Errors      Overflow is the caller's bug: 2^57 px is far beyond any collection.
class Length {
public:
    static constexpr std::int64_t kPerPx = 64;

    constexpr Length() = default;
    static constexpr Length fromRaw(std::int64_t raw) { return Length(raw); }
    static constexpr Length px(std::int64_t whole) { return Length(whole * kPerPx); }
    /// Nearest 1/64 px.
    static Length fromPx(double value) { return Length(std::llround(value * kPerPx)); }

    constexpr std::int64_t raw() const { return raw_; }
    constexpr double toPx() const { return static_cast<double>(raw_) / kPerPx; }

    // The checker takes what the compiler compares with for a null pointer.
    constexpr auto operator<=>(const Length&) const = default; // NOLINT(modernize-use-nullptr)
    constexpr Length operator-() const { return Length(-raw_); }
    constexpr Length& operator+=(Length other) { return raw_ += other.raw_, *this; }
    constexpr Length& operator-=(Length other) { return raw_ -= other.raw_, *this; }
    friend constexpr Length operator+(Length a, Length b) { return Length(a.raw_ + b.raw_); }
    friend constexpr Length operator-(Length a, Length b) { return Length(a.raw_ - b.raw_); }
    friend constexpr Length operator*(Length a, std::int64_t n) { return Length(a.raw_ * n); }
    friend constexpr Length operator/(Length a, std::int64_t n) { return Length(a.raw_ / n); }

private:
    constexpr explicit Length(std::int64_t raw) : raw_(raw) {}
    std::int64_t raw_ = 0;
};

} // namespace scorrere
