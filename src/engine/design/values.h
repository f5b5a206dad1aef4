// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/design/item_state.h"
#include "engine/record/record_table.h"

#include <cstdint>
#include <map>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

enum class ParameterType : std::uint8_t { Number, Text, YesNo };

/// A named value of the collection that rules and texts read as $.parameters.NAME, so that no limit is
/// written into a design. It carries its present value.
struct Parameter {
    std::string name;
    std::string title; ///< for people; empty: the name
    ParameterType type = ParameterType::Number;
    double number = 0;
    std::string text;
    bool yes = false;
    double from = 0; ///< Number: the ends and steps of its slider
    double to = 100;
    double step = 1;
    std::string unit;                 ///< shown behind the number
    std::vector<std::string> choices; ///< Text: offered; empty: any
    bool operator==(const Parameter&) const = default;
};
using Parameters = std::vector<Parameter>;

/// The entries of one list value, read so that nothing is allocated once a longer list was read before.
///
/// Threads     One thread.
class EntryList {
public:
    EntryList();
    EntryList(EntryList&&) noexcept;
    EntryList& operator=(EntryList&&) noexcept;
    ~EntryList();

    /// Reads a JSON array; anything else has no entries.
    void read(std::string_view json);
    std::size_t size() const { return entries_.size(); }
    /// An entry as text: texts as they are, others as JSON writes them. False for null.
    bool text(std::size_t entry, std::string& out) const;
    /// A member of an entry that is an object, the same way.
    bool member(std::size_t entry, std::string_view name, std::string& out) const;

private:
    struct Span {
        std::uint32_t start;
        std::uint32_t end;
    };
    struct Reader;
    std::unique_ptr<Reader> reader_;
    std::string json_;
    std::vector<Span> entries_; ///< where each stands in json_
};

/// What a name in a pattern or rule stands for.
struct ValueRef {
    enum class From : std::uint8_t { Field, Parameter, State, Entry, EntryMember, EntryCount };
    From from = From::Field;
    FieldType type = FieldType::Unknown;
    FieldHandle field;
    int parameter = -1;
    std::string member;
    ItemFlag flag = ItemFlag::Pressed; ///< State
};

/// What the names of a design can stand for, while it is compiled.
struct NameScope {
    const RecordTable& records;
    std::string locale = "en";
    const Parameters* parameters = nullptr;
    /// Inputs of the reusable piece that is being put in, by name: a field's name, or a pattern.
    const std::map<std::string, std::string>* inputs = nullptr;
    bool inRepeat = false; ///< {entry}, {more} and the members of an entry have a meaning
    bool hasState = false; ///< $.state.NAME has one: it is about an item

    /// Errors: NotFound, with the names there are.
    Result<ValueRef> resolve(const std::string& name) const;
    Result<ValueRef> resolveParameter(const std::string& name) const;
    Result<ValueRef> resolveState(const std::string& name) const;
};

/// Everything a fill reads.
struct FillContext {
    const RecordTable& records;
    std::int64_t record = -1; ///< negative: only fixed texts
    const Parameters* parameters = nullptr;
    std::int64_t nowMs = 0; ///< what relative times are relative to, ms since 1970
    const EntryList* entries = nullptr;
    int entry = -1; ///< of `entries`
    int more = 0;   ///< how many entries are not shown
    /// Only what decides where parts stand: no tones, no addresses, no labels. For estimates.
    bool onlyLayout = false;
    ItemState state{}; ///< of the item
};

} // namespace scorrere
