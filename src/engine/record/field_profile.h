// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/pace.h"
#include "engine/base/result.h"
#include "engine/record/record_table.h"

#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace scorrere {

/// What the values of one field are like.
struct FieldProfile {
    std::string name;
    FieldType type = FieldType::Unknown;
    std::int64_t records = 0;
    std::int64_t present = 0;
    std::int64_t distinct = 0; ///< exact but for hash collisions: about 1 in 10^7 at a million values
    std::int64_t empty = 0;    ///< texts of no characters, lists of no entries
    /// Texts: characters. Lists: entries. Objects: members. Others: characters as written.
    std::int64_t shortest = 0;
    std::int64_t longest = 0;
    double meanLength = 0;
    std::int64_t shortestRecord = -1;
    std::int64_t longestRecord = -1;
    std::int64_t firstWithout = -1; ///< the first record that has none
    std::string smallest;           ///< numbers and times, as written; empty for others
    std::string largest;
    std::vector<std::string> samples;     ///< up to three that differ, the most telling first
    std::int64_t doubleDecoded = 0;       ///< texts that look decoded twice
    std::int64_t firstDoubleDecoded = -1; ///< a record

    double share() const {
        return records == 0 ? 0 : static_cast<double>(present) / static_cast<double>(records);
    }
};

/// Complexity  O(records x fields), and 8 bytes a record meanwhile. Blocks: for workers.
/// Threads     Any. Errors: Cancelled.
Result<std::vector<FieldProfile>> profileFields(const RecordTable& records, std::stop_token stop = {},
                                                const ShareHandler& far = nullptr);

/// A field, or several together, that could identify a record.
struct KeyCandidate {
    std::vector<std::string> fields;
    std::string why; ///< "never missing, never twice"
};

/// Those that could, the likeliest first. When no single field can, pairs are tried.
/// Complexity  O(records) for each of at most 15 pairs. Blocks: for workers. Errors: Cancelled.
Result<std::vector<KeyCandidate>> keyCandidates(const RecordTable& records,
                                                const std::vector<FieldProfile>& profiles,
                                                std::stop_token stop = {}, const ShareHandler& far = nullptr);

/// The field whose name promises a key and whose values do not keep it: one that is called id, key or uuid;
/// else one that is called like it (trap_id) where one record in ten at most has none or another's, and no
/// other field keeps such a promise. O(fields).
std::optional<std::string> brokenKey(const std::vector<FieldProfile>& profiles);

struct KeyCheck {
    static constexpr std::size_t kListed = 1000;
    struct Twin {
        std::int64_t record = 0;
        std::int64_t first = 0; ///< the record that had the key before
        std::string key;
    };
    std::vector<std::string> fields;
    std::int64_t duplicates = 0;       ///< records whose key an earlier one has
    std::int64_t missing = 0;          ///< records without one
    std::vector<Twin> twins;           ///< the first ones
    std::vector<std::int64_t> without; ///< the first ones
    bool isUnique() const { return duplicates == 0 && missing == 0; }
};

/// Counts and lists records whose key is missing, or is another's. O(records). Blocks. Errors: NotFound for a
/// field that is not there, Cancelled.
Result<KeyCheck> checkKey(const RecordTable& records, const std::vector<std::string>& fields,
                          std::stop_token stop = {});

/// The key of a record as text; nothing when a part is missing.
std::optional<std::string> keyOf(const RecordTable& records, std::int64_t record,
                                 const std::vector<FieldHandle>& fields);

} // namespace scorrere
