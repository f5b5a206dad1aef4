// SPDX-License-Identifier: Apache-2.0
#include "engine/gesture/item_states.h"

#include "engine/base/fnv.h"

#include <algorithm>
#include <utility>

namespace scorrere {

std::string ItemStates::give(ItemFlag flag, std::string key) {
    return std::exchange(of_[static_cast<std::size_t>(flag)], std::move(key));
}

ItemState ItemStates::of(std::string_view key) const {
    ItemState state;
    if (key.empty()) {
        return state;
    }
    for (std::size_t flag = 0; flag < of_.size(); ++flag) {
        state.set(static_cast<ItemFlag>(flag), of_[flag] == key);
    }
    state.set(ItemFlag::Seen, !seen_.empty() && seen_.contains(hashOf(key)));
    return state;
}

bool ItemStates::areAny() const {
    return !seen_.empty() || std::ranges::any_of(of_, [](const std::string& key) { return !key.empty(); });
}

std::uint64_t ItemStates::hashOf(std::string_view key) {
    Fnv hash;
    hash.add(key);
    return hash.value();
}

} // namespace scorrere
