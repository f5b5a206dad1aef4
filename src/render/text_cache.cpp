// SPDX-License-Identifier: Apache-2.0
#include "render/text_cache.h"

namespace scorrere::render {

TextCache::Shaped TextCache::shaped(std::string_view text, const FontSet::Face& face, Length maxWidth,
                                    int maxLines) {
    const Key wanted{&face, maxWidth.raw(), maxLines, text};
    if (const auto it = found_.find(wanted); it != found_.end()) {
        entries_.splice(entries_.begin(), entries_, it->second);
        return it->second->shaped;
    }
    entries_.push_front({std::string(text), wanted, {}, 0});
    Entry& made = entries_.front();
    made.key.text = made.text;
    auto block = std::make_shared<TextBlock>();
    made.shaped.size = block->set(text, face, maxWidth, maxLines);
    made.bytes = block->bytes();
    made.shaped.block = std::move(block);
    found_.emplace(made.key, entries_.begin());
    bytes_ += made.bytes;
    ++shaped_;
    Shaped shaped = made.shaped;
    trim();
    return shaped;
}

void TextCache::trim() {
    while (bytes_ > budget_ && entries_.size() > 1) {
        const Entry& oldest = entries_.back();
        bytes_ -= oldest.bytes;
        found_.erase(oldest.key);
        entries_.pop_back();
    }
}

void TextCache::clear() {
    found_.clear();
    entries_.clear();
    bytes_ = 0;
}

} // namespace scorrere::render
