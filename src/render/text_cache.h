// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "render/text_block.h"

#include <list>
#include <memory>
#include <string>
#include <string_view>
#include <unordered_map>

namespace scorrere::render {

/// Texts that were shaped, kept for when they show again: scrolling back shapes nothing, and a word that many
/// items say is shaped once.
///
/// Complexity  shaped: O(text) to find it. Nothing is allocated for one that is kept.
/// Ownership   Shares the blocks with the views that show them. Faces are told apart by their address:
///             clear() before they change.
/// Threads     One thread.
class TextCache {
public:
    explicit TextCache(std::int64_t budgetBytes) : budget_(budgetBytes) {}

    struct Shaped {
        std::shared_ptr<const TextBlock> block;
        TextSize size;
    };
    /// The text broken to `maxWidth` and `maxLines` (0: any number), shaped now or before.
    Shaped shaped(std::string_view text, const FontSet::Face& face, Length maxWidth, int maxLines);
    void clear();

    std::int64_t bytesKept() const { return bytes_; }
    std::int64_t shapedEver() const { return shaped_; }

private:
    struct Key {
        const FontSet::Face* face;
        std::int64_t width;
        int lines;
        std::string_view text; ///< of the entry's own copy
        bool operator==(const Key&) const = default;
    };
    struct Hash {
        std::size_t operator()(const Key& key) const {
            return std::hash<std::string_view>()(key.text) ^
                   (static_cast<std::size_t>(key.width) * 0x9e3779b97f4a7c15ull) ^
                   (reinterpret_cast<std::size_t>(key.face) * 31) ^ static_cast<std::size_t>(key.lines);
        }
    };
    struct Entry {
        std::string text;
        Key key;
        Shaped shaped;
        std::int64_t bytes = 0;
    };
    using Entries = std::list<Entry>; ///< most recently used first
    void trim();

    std::int64_t budget_;
    std::int64_t bytes_ = 0;
    std::int64_t shaped_ = 0;
    Entries entries_;
    std::unordered_map<Key, Entries::iterator, Hash> found_;
};

} // namespace scorrere::render
