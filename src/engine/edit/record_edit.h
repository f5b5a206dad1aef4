// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace scorrere {

/// What somebody wants to be otherwise about one record. A value.
struct RecordEdit {
    enum class Kind : std::uint8_t { Set, Insert, Remove, Move };
    Kind kind = Kind::Set;
    /// Which record: its key as the source has it, whatever edits make of that. Of Insert: nothing, the record brings its own.
    std::string key;
    std::string field; ///< of Set; made where no record has it yet
    std::string value; ///< JSON. Of Set: the field's, empty: it has none. Of Insert: the record, an object
    std::string
        before; ///< of Insert and Move: the key of the record in front of which it is to stand; empty: at the end
    std::int64_t hint = -1; ///< the record's number in the table where it was wanted; only saves a search
    /// But for the hint.
    bool operator==(const RecordEdit& other) const {
        return kind == other.kind && key == other.key && field == other.field && value == other.value &&
               before == other.before;
    }
};

/// Edits, the first one first. Shared, because each step that can be undone has all that were there.
using RecordEdits = std::vector<std::shared_ptr<const RecordEdit>>;

bool areSame(const RecordEdits& a, const RecordEdits& b);

/// Why what it brings is no JSON of its kind; empty: it is, or it brings nothing.
std::string faultOf(const RecordEdit& edit);

} // namespace scorrere
