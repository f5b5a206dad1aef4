// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/record_table.h"

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace scorrere {

/// The texts of some fields as they are searched, kept so that the next word that is typed finds them folded.
///
/// Complexity  A segment of a field is folded when it is searched first: O(its bytes). Searched again it is read once
///             for each word. Memory: about as much as the texts that were searched.
/// Ownership   Keeps what it folded, never the table.
/// Threads     Calls for different segments may overlap, after setRoom().
class FoldedTexts {
public:
    /// Of a table that has the same fields as before, and the same records first.
    void setRoom(const RecordTable& records);
    /// Texts of this segment are others now.
    void forget(std::int64_t segment);
    /// Clears the bits of those records that do not have all words, each in any of these fields. One bit a record, from
    /// the lowest of the first word. Requires: they are of one segment, and there is room for it.
    void keepMatches(const RecordTable& records, std::span<const FieldHandle> fields,
                     std::span<const std::string> words, std::int64_t first, std::int64_t count,
                     std::span<std::uint64_t> bits);
    std::size_t memoryBytes() const;

private:
    /// Texts behind each other: of each row, or of each distinct one of a coded column.
    struct Texts {
        std::string bytes;
        std::vector<std::uint32_t> ends;
        std::size_t rows = 0; ///< so many were there when it was made
        bool isCoded = false;
    };
    const Texts& folded(const RecordTable& records, FieldHandle field, std::int64_t segment);

    std::vector<std::vector<Texts>> texts_; ///< by field and segment
};

} // namespace scorrere
