// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/design/item_state.h"

#include <array>
#include <string>
#include <string_view>
#include <unordered_set>

namespace scorrere {

/// What is so of which item, by key: it stays with the record, whatever view carries that. Selection keeps who is selected.
///
/// Complexity  O(a key's length).
/// Ownership   Owns copies of the keys that it was told.
/// Threads     One thread.
/// Errors      None. What has no key (empty) has no state.
class ItemStates {
public:
    /// What is so of one item at most at a time: pressed, hovered, focused, lifted, open. Empty: of none now. Gives whose it was.
    std::string give(ItemFlag flag, std::string key);
    const std::string& whose(ItemFlag flag) const { return of_[static_cast<std::size_t>(flag)]; }
    /// It was seen. Tells whether it was for the first time.
    bool see(std::string_view key) { return !key.empty() && seen_.insert(hashOf(key)).second; }
    std::size_t seenCount() const { return seen_.size(); }
    /// All but whether it is selected.
    ItemState of(std::string_view key) const;
    bool areAny() const;

private:
    static std::uint64_t hashOf(std::string_view key);
    std::array<std::string, kItemFlagNames.size()> of_;
    std::unordered_set<std::uint64_t> seen_; ///< by hash: they may be many, and two that meet harm little
};

} // namespace scorrere
