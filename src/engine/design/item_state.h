// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string_view>

namespace scorrere {

/// What is so of an item at present, beside what its record says.
enum class ItemFlag : std::uint8_t {
    Pressed,  ///< a pointer is down on it
    Hovered,  ///< a pointer is over it
    Focused,  ///< keys mean it
    Selected, ///< chosen
    Lifted,   ///< taken up, to be set down elsewhere
    Open,     ///< swiped aside: its actions show
    Seen,     ///< it was on screen for a time
};
inline constexpr std::array<std::string_view, 7> kItemFlagNames{"pressed", "hovered", "focused", "selected",
                                                                "lifted",  "open",    "seen"};

/// All of that of one item. Rules and texts read it as $.state.NAME.
class ItemState {
public:
    bool has(ItemFlag flag) const { return (bits_ & bitOf(flag)) != 0; }
    void set(ItemFlag flag, bool is = true) {
        bits_ = static_cast<std::uint8_t>(is ? bits_ | bitOf(flag) : bits_ & ~bitOf(flag));
    }
    bool any() const { return bits_ != 0; }
    /// Those that both have.
    ItemState operator&(ItemState other) const {
        other.bits_ &= bits_;
        return other;
    }
    /// Those that one of the two has and the other has not.
    ItemState operator^(ItemState other) const {
        other.bits_ ^= bits_;
        return other;
    }
    ItemState operator|(ItemState other) const {
        other.bits_ |= bits_;
        return other;
    }
    static ItemState all() {
        ItemState state;
        state.bits_ = (1U << kItemFlagNames.size()) - 1;
        return state;
    }
    bool operator==(const ItemState&) const = default;

private:
    static std::uint8_t bitOf(ItemFlag flag) {
        return static_cast<std::uint8_t>(1U << static_cast<std::size_t>(flag));
    }
    std::uint8_t bits_ = 0;
};

inline std::optional<ItemFlag> itemFlagNamed(std::string_view name) {
    for (std::size_t i = 0; i < kItemFlagNames.size(); ++i) {
        if (kItemFlagNames[i] == name) {
            return static_cast<ItemFlag>(i);
        }
    }
    return std::nullopt;
}

} // namespace scorrere
