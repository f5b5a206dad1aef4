// SPDX-License-Identifier: Apache-2.0
//
// A segment's texts are folded into one run of bytes, so that a word is looked for in all of them by one call, which
// reads far faster than it could be begun anew for each record; where one is found, the search goes on behind its
// text. Between two texts stands a byte that no folded word has.
#include "engine/order/record_search.h"

#include "engine/order/search_words.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cstring>

namespace scorrere {

namespace {

constexpr char kBetween = '\0';

/// Calls `found` for each text that has the word.
template <typename Found>
void eachWith(const std::string& bytes, std::span<const std::uint32_t> ends, std::string_view word,
              Found found) {
    std::size_t at = 0;
    auto end = ends.begin();
    while (at < bytes.size()) {
        const void* hit = ::memmem(bytes.data() + at, bytes.size() - at, word.data(), word.size());
        if (hit == nullptr) {
            return;
        }
        const auto where = static_cast<std::uint32_t>(static_cast<const char*>(hit) - bytes.data());
        end = std::upper_bound(end, ends.end(), where);
        found(static_cast<std::size_t>(end - ends.begin()));
        at = *end;
    }
}

void setBit(std::span<std::uint64_t> bits, std::size_t at) {
    bits[at / 64] |= std::uint64_t{1} << (at % 64);
}

} // namespace

void FoldedTexts::setRoom(const RecordTable& records) {
    texts_.resize(records.fields().size());
    const auto segments =
        static_cast<std::size_t>((records.size() + RecordTable::kSegment - 1) / RecordTable::kSegment);
    for (auto& field : texts_) {
        field.resize(std::max(field.size(), segments));
    }
}

const FoldedTexts::Texts& FoldedTexts::folded(const RecordTable& records, FieldHandle field,
                                              std::int64_t segment) {
    Texts& texts = texts_[static_cast<std::size_t>(field.index)][static_cast<std::size_t>(segment)];
    const std::int64_t first = segment * RecordTable::kSegment;
    const auto rows = static_cast<std::size_t>(std::min(RecordTable::kSegment, records.size() - first));
    if (texts.rows == rows) {
        return texts;
    }
    texts = {};
    texts.rows = rows;
    const auto add = [&](std::string_view text) {
        foldForSearch(text, texts.bytes);
        texts.bytes += kBetween;
        texts.ends.push_back(static_cast<std::uint32_t>(texts.bytes.size()));
    };
    const RecordTable::Stretch stretch = records.stretchAt(first);
    const Column* column = stretch.rows == rows ? stretch.column(field) : nullptr;
    texts.isCoded = column != nullptr && !column->codes.empty();
    if (texts.isCoded) {
        for (std::size_t code = 0; code < column->ends.size(); ++code) {
            const std::size_t start = code == 0 ? 0 : column->ends[code - 1];
            add(std::string_view(column->bytes).substr(start, column->ends[code] - start));
        }
        return texts;
    }
    const bool isText = records.field(field).type >= FieldType::Time;
    for (std::size_t row = 0; row < rows; ++row) {
        const auto record = first + static_cast<std::int64_t>(row);
        isText ? add(records.text(record, field)) : add(records.display(record, field));
    }
    return texts;
}

void FoldedTexts::forget(std::int64_t segment) {
    for (auto& field : texts_) {
        if (static_cast<std::size_t>(segment) < field.size()) {
            field[static_cast<std::size_t>(segment)] = {};
        }
    }
}

void FoldedTexts::keepMatches(const RecordTable& records, std::span<const FieldHandle> fields,
                              std::span<const std::string> words, std::int64_t first, std::int64_t count,
                              std::span<std::uint64_t> bits) {
    const std::int64_t segment = first / RecordTable::kSegment;
    const auto row = static_cast<std::size_t>(first % RecordTable::kSegment);
    const auto rows = static_cast<std::size_t>(count);
    assert(count > 0 && (first + count - 1) / RecordTable::kSegment == segment);
    std::array<std::uint64_t, RecordTable::kSegment / 64> room{};
    for (const std::string& word : words) {
        const std::span<std::uint64_t> found(room.data(), (rows + 63) / 64);
        std::ranges::fill(found, 0);
        for (const FieldHandle field : fields) {
            const Texts& texts = folded(records, field, segment);
            if (!texts.isCoded) {
                eachWith(texts.bytes, texts.ends, word, [&](std::size_t at) {
                    if (at >= row && at < row + rows) {
                        setBit(found, at - row);
                    }
                });
                continue;
            }
            std::array<bool, 256> by{};
            eachWith(texts.bytes, texts.ends, word, [&](std::size_t code) { by[code] = true; });
            const RecordTable::Stretch stretch = records.stretchAt(first);
            const Column& column = *stretch.column(field);
            for (std::size_t i = 0; i < rows; ++i) {
                if (by[column.codes[row + i]]) { // what is missing has the code of no text

                    setBit(found, i);
                }
            }
        }
        for (std::size_t i = 0; i < found.size(); ++i) {
            bits[i] &= found[i];
        }
    }
}

std::size_t FoldedTexts::memoryBytes() const {
    std::size_t sum = 0;
    for (const auto& field : texts_) {
        for (const Texts& texts : field) {
            sum += sizeof(Texts) + texts.bytes.capacity() + texts.ends.capacity() * sizeof(std::uint32_t);
        }
    }
    return sum;
}

} // namespace scorrere
