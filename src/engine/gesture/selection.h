// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/record_order.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace scorrere {

/// How many can be selected at a time.
enum class SelectMode : std::uint8_t { None, One, Many };

/// An item as it is selected: by key. `record`: its number in the table where all are there, else -1; by it an order tells
/// whether it stands in a range.
struct Selectable {
    std::string_view key;
    std::int64_t record = -1;
};

/// Which records are selected: none, all there are or a range of an order, and single ones that are otherwise than those; so
/// all of a million but three take the room of three. What is filtered out, paged away or refreshed stays as it is.
///
/// Complexity  O(1) and a look-up by key; countOf: O(single ones).
/// Ownership   Owns keys; shares the order that a range was selected in.
/// Threads     One thread.
/// Errors      None. What has no key is never selected.
class Selection {
public:
    /// Where fewer can be selected than before, none are.
    void setMode(SelectMode mode);
    SelectMode mode() const { return mode_; }
    bool has(const Selectable& item) const;
    /// It alone; it is where a range begins.
    void choose(const Selectable& item);
    /// It is selected where it was not, and the other way; a range begins there.
    void turn(const Selectable& item);
    /// It is not selected any more, as when it is removed.
    void drop(const Selectable& item);
    /// Those at places [first, last] of an order, and no others. Where a range begins stays.
    void chooseRange(const RecordOrder& order, std::int64_t first, std::int64_t last);
    /// The same of what is known by key alone.
    void chooseKeys(const std::vector<std::string>& keys);
    /// All that there are, now and later.
    void chooseAll();
    void invert();
    void clear();
    bool isNone() const { return !isInverted_ && !isAll_ && !range_ && singles_.empty(); }
    /// The key that a range begins at; empty: none was chosen yet.
    const std::string& anchor() const { return anchor_; }
    /// So many of `all` records.
    std::int64_t countOf(std::int64_t all) const;
    /// Records have other numbers now: a range means nothing any more. Tells whether there was one, which is none now.
    bool forgetRange();
    /// Counts what was done.
    std::int64_t revision() const { return revision_; }

private:
    struct Range {
        RecordOrder order;
        std::int64_t first = 0;
        std::int64_t last = -1;
    };
    struct Single {
        std::int64_t record = -1;
        bool is = false; ///< before what is inverted
    };
    bool isInBase(std::int64_t record) const;
    bool mayBeMany() const { return mode_ == SelectMode::Many; }
    void begin();
    void put(const Selectable& item, bool is);

    SelectMode mode_ = SelectMode::None;
    bool isInverted_ = false;
    bool isAll_ = false;
    std::optional<Range> range_;
    std::unordered_map<std::string, Single> singles_;
    std::string anchor_;
    std::int64_t revision_ = 0;
};

} // namespace scorrere
