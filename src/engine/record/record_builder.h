// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/record/record_table.h"

#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

class LocalValues;

/// What the developer decided about a field, over what its values say.
struct FieldChoice {
    std::string name;                    ///< as the table calls it
    std::string path;                    ///< where its value is inside the record; empty: the member `name`
    FieldType type = FieldType::Unknown; ///< Unknown: inferred
    std::string locale; ///< BCP 47: how texts that are numbers or times are written; empty: as JSON has them
    std::string title;  ///< for people; empty: the name
    bool leftOut = false; ///< not read at all
    bool operator==(const FieldChoice&) const = default;
    /// Nothing was decided: the field is as it would be without it.
    bool isEmpty() const {
        return path.empty() && type == FieldType::Unknown && locale.empty() && title.empty() && !leftOut;
    }
};

/// A field got a wider type because of one record. Nothing is widened in silence.
struct Widening {
    std::string field;
    FieldType from = FieldType::Unknown;
    FieldType to = FieldType::Unknown;
    std::int64_t record = 0;
    std::string value; ///< the one that did not fit, shortened
};

/// Collects records field by field into a RecordTable, inferring and widening each field's type on the way.
///
/// Complexity  A value is O(1), amortised; a value that widens a field rewrites that field once.
/// Ownership   Copies what it is given.
/// Threads     One thread. Tables given out share closed segments, which never change.
class RecordBuilder {
public:
    /// A value of a field with a chosen type did not fit it; the record has no such value then.
    using Misfit = std::function<void(const std::string& field, FieldType wanted, std::string_view value)>;

    RecordBuilder() = default;
    explicit RecordBuilder(const std::vector<FieldChoice>& choices, Misfit misfit = {});

    /// From now on texts that were decoded twice are decoded back (see charset.h).
    void setUndoDoubleDecoding(bool undo) { undo_ = undo; }

    /// The field of that name, made when new; -1 when it was chosen to be left out. `expected` is where it
    /// was in the last record: a hint.
    int fieldNamed(std::string_view name, int expected = 0) {
        const std::size_t hint = static_cast<std::size_t>(expected);
        return hint < fields_.size() && fields_[hint].name == name ? expected : findField(name);
    }

    // For field -1 these do nothing.
    /// Time when it reads as one.
    void setText(int field, std::string_view value) {
        if (Column* column = readyFor(field, FieldType::Text); column != nullptr && !undo_) {
            column->bytes += value;
            column->ends.push_back(static_cast<std::uint32_t>(column->bytes.size()));
        } else {
            setAnyText(field, value);
        }
    }
    void setInteger(int field, std::int64_t value) {
        if (Column* column = readyFor(field, FieldType::Integer)) {
            column->integers.push_back(value);
        } else {
            setAnyInteger(field, value);
        }
    }
    void setReal(int field, double value) {
        if (Column* column = readyFor(field, FieldType::Real)) {
            column->reals.push_back(value);
        } else {
            setAnyReal(field, value);
        }
    }
    void setBoolean(int field, bool value);
    void setJson(int field, FieldType listOrObject, std::string_view json);
    /// For notations that write one thing of a kind as themselves and several as a list (XML): a list, which
    /// makes lists of single things that came before, and asks for lists of those that come after.
    void setMany(int field, std::string_view list);
    bool wantsMany(int field) const {
        const auto index = static_cast<std::size_t>(field);
        return field >= 0 && (many_[index] != 0 || chosen_[index] == FieldType::List);
    }
    /// Writes the lists and objects that a field has so far anew, for notations in which a later record can
    /// show that something inside them is a list. O(field).
    void rewriteJson(int field, const std::function<std::string(std::string_view)>& anew);
    /// A value from a notation that has no types (CSV, XML): a number, yes or no, or a time when it is
    /// written as one and nothing of its writing would be lost ("007" stays a text).
    void setWritten(int field, std::string_view value);
    /// Ends the record: fields not set in it are missing.
    void endRecord();

    std::int64_t size() const { return size_; }
    /// A field that was given twice in one record; the first value stands.
    struct Twice {
        std::string field;
        std::int64_t record = 0;
    };
    /// How often that was, and where first.
    std::int64_t twiceCount() const { return twiceCount_; }
    const Twice& firstTwice() const { return firstTwice_; }
    /// How each field came to be wider than its first values were, the first time for each pair of types.
    const std::vector<Widening>& widenings() const { return widenings_; }
    /// All that was ended so far, as a table that shares what is closed; building goes on. O(open segment).
    RecordTable snapshot();
    /// The table of all that was ended so far. The builder is empty afterwards.
    RecordTable finish();

private:
    struct Choice {
        std::string name;
        FieldType type;
        std::shared_ptr<const LocalValues> local; ///< null: as JSON has them
        bool leftOut;
    };
    /// The field's open column with this record's bit set, when it has that very type, nobody chose another,
    /// and no record before this one lacks a slot: nearly always. Else null, and nothing happened.
    Column* readyFor(int field, FieldType type) {
        if (field < 0) {
            return nullptr;
        }
        const std::size_t index = static_cast<std::size_t>(field);
        Column& column = open_[index];
        const std::size_t slots = type == FieldType::Text      ? column.ends.size()
                                  : type == FieldType::Integer ? column.integers.size()
                                                               : column.reals.size();
        if (column.type != type || chosen_[index] != FieldType::Unknown || slots != openSize_) {
            return nullptr;
        }
        if (column.present.size() <= openSize_ / 64) {
            column.present.resize(openSize_ / 64 + 1);
        }
        column.present[openSize_ / 64] |= std::uint64_t{1} << (openSize_ % 64);
        return &column;
    }
    void setAnyText(int field, std::string_view value);
    void setAnyInteger(int field, std::int64_t value);
    void setAnyReal(int field, double value);
    int findField(std::string_view name);
    Column* columnFor(int field, FieldType type, std::string_view shown);
    bool takeChosen(int field, FieldType given, std::string_view shown);
    bool takeLocal(int field, std::string_view shown);
    static void makeLists(Column& column, std::size_t rows);
    static void rewrite(Column& column, std::size_t rows,
                        const std::function<std::string(std::string_view)>& anew);
    void widenTo(std::size_t field, Column& column, std::size_t rows);
    static void widen(Column& column, FieldType to, std::size_t rows);
    static void pad(Column& column, std::size_t rows);
    static void pack(Column& column);
    static void shareTexts(Column& column);
    static std::shared_ptr<const Column> closed(Column column, std::size_t rows);
    std::shared_ptr<const Segment> closeOpen();
    void widenClosed();

    std::vector<Field> fields_;
    std::vector<Choice> choices_;
    std::vector<std::uint8_t> many_; ///< by field: setMany was called for it
    std::int64_t twiceCount_ = 0;
    Twice firstTwice_;
    std::vector<FieldType> chosen_;                         ///< by field; Unknown: inferred
    std::vector<std::shared_ptr<const LocalValues>> local_; ///< by field
    Misfit misfit_;
    bool undo_ = false;
    std::string undone_;
    std::vector<std::shared_ptr<const Segment>> segments_;
    std::vector<Column> open_;
    std::size_t openSize_ = 0;
    std::int64_t size_ = 0;
    std::vector<Widening> widenings_;
};

/// Reads a number as JSON writes it, whole or not; nothing when anything else stands there.
std::optional<std::int64_t> parseInteger(std::string_view text);
std::optional<double> parseReal(std::string_view text);

} // namespace scorrere
