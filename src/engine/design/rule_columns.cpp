// SPDX-License-Identifier: Apache-2.0
//
// A rule asked of many records at once: a node gives one bit a record for a whole stretch of a segment, so that a
// comparison is a loop over a column. What is coded (few distinct texts) and what is yes or no is compared once for
// each distinct value. What reads more than a field and a fixed value is asked record by record, by the same
// evaluation as everywhere.
#include "engine/design/rule_node.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cassert>

namespace scorrere {

using jsonpath::Comparison;
using jsonpath::Logical;
using rule_nodes::Operand;
using rule_nodes::Scalar;

namespace {

constexpr std::size_t kRows = 4096; ///< looked at together: their bits stay in the nearest cache
constexpr std::size_t kWords = kRows / 64;
using Bits = std::array<std::uint64_t, kWords>;

std::uint64_t lowest(std::size_t count) {
    return count >= 64 ? ~std::uint64_t{0} : (std::uint64_t{1} << count) - 1;
}

/// A column's rows from one on.
struct Rows {
    const Column* column = nullptr;
    std::size_t first = 0;
    std::size_t count = 0;
};

Bits presentIn(const Rows& rows) {
    Bits bits{};
    if (rows.column == nullptr) {
        return bits;
    }
    const auto& present = rows.column->present;
    const std::size_t shift = rows.first % 64;
    for (std::size_t word = 0; word * 64 < rows.count; ++word) {
        const std::size_t at = rows.first / 64 + word;
        const std::uint64_t low = at < present.size() ? present[at] >> shift : 0;
        const std::uint64_t high =
            shift > 0 && at + 1 < present.size() ? present[at + 1] << (64 - shift) : std::uint64_t{0};
        bits[word] = (low | high) & lowest(rows.count - word * 64);
    }
    return bits;
}

/// One bit a row; `holds` is asked by the row's number from the stretch's first.
template <typename Holds>
Bits each(std::size_t count, Holds holds) {
    Bits bits{};
    for (std::size_t word = 0; word * 64 < count; ++word) {
        std::uint64_t made = 0;
        const std::size_t end = std::min<std::size_t>(64, count - word * 64);
        for (std::size_t i = 0; i < end; ++i) {
            made |= static_cast<std::uint64_t>(holds(word * 64 + i)) << i;
        }
        bits[word] = made;
    }
    return bits;
}

template <typename Value>
Bits compared(Comparison how, std::size_t count, Value value, double with) {
    switch (how) {
    case Comparison::Equal:
        return each(count, [&](std::size_t i) { return value(i) == with; });
    case Comparison::Unequal:
        return each(count, [&](std::size_t i) { return value(i) != with; });
    case Comparison::Less:
        return each(count, [&](std::size_t i) { return value(i) < with; });
    case Comparison::LessOrEqual:
        return each(count, [&](std::size_t i) { return value(i) <= with; });
    case Comparison::Greater:
        return each(count, [&](std::size_t i) { return value(i) > with; });
    case Comparison::GreaterOrEqual:
        return each(count, [&](std::size_t i) { return value(i) >= with; });
    }
    return {};
}

template <typename Narrow>
Bits comparedPacked(Comparison how, const Rows& rows, double with) {
    const auto* values =
        reinterpret_cast<const unsigned char*>(rows.column->packed.data()) + rows.first * sizeof(Narrow);
    const std::int64_t base = rows.column->base;
    return compared(
        how, rows.count,
        [values, base](std::size_t i) {
            Narrow value;
            __builtin_memcpy(&value, values + i * sizeof(Narrow), sizeof(Narrow));
            return static_cast<double>(base + static_cast<std::int64_t>(value));
        },
        with);
}

/// Whether every whole number of the column is one as a double, too.
bool isExact(const Column& column) {
    constexpr std::int64_t kExact = std::int64_t{1} << 53;
    return column.width > 0 && column.width <= 4 && column.base > -kExact &&
           column.base < kExact - (std::int64_t{1} << 32);
}

/// The same comparison with its sides exchanged.
Comparison turned(Comparison how) {
    switch (how) {
    case Comparison::Less:
        return Comparison::Greater;
    case Comparison::LessOrEqual:
        return Comparison::GreaterOrEqual;
    case Comparison::Greater:
        return Comparison::Less;
    case Comparison::GreaterOrEqual:
        return Comparison::LessOrEqual;
    default:
        return how;
    }
}

} // namespace

class RuleColumns {
public:
    RuleColumns(const FillContext& like, std::int64_t first, std::size_t count,
                const RecordTable::Stretch& stretch)
        : like_(like), first_(first), count_(count), stretch_(stretch) {}

    Bits of(const Rule::Node& node) const {
        switch (node.kind) {
        case Logical::Kind::Or:
        case Logical::Kind::And: {
            Bits bits = of(node.parts[0]);
            for (std::size_t part = 1; part < node.parts.size(); ++part) {
                const Bits other = of(node.parts[part]);
                for (std::size_t word = 0; word < kWords; ++word) {
                    bits[word] =
                        node.kind == Logical::Kind::Or ? bits[word] | other[word] : bits[word] & other[word];
                }
            }
            return bits;
        }
        case Logical::Kind::Not: {
            Bits bits = of(node.parts[0]);
            for (std::size_t word = 0; word * 64 < count_; ++word) {
                bits[word] = ~bits[word] & lowest(count_ - word * 64);
            }
            return bits;
        }
        case Logical::Kind::Exists:
            return isField(node.left) ? presentIn(rowsOf(node.left)) : oneByOne(node);
        case Logical::Kind::Call:
            return isField(node.left) && node.pattern ? matched(node) : oneByOne(node);
        case Logical::Kind::Compare:
            break;
        }
        if (const auto fixed = isField(node.left) ? fixedValue(node.right) : std::nullopt) {
            return withFixed(node.comparison, rowsOf(node.left), node.left.reach.ref.type, *fixed);
        }
        if (const auto fixed = isField(node.right) ? fixedValue(node.left) : std::nullopt) {
            return withFixed(turned(node.comparison), rowsOf(node.right), node.right.reach.ref.type, *fixed);
        }
        return oneByOne(node);
    }

private:
    static bool isField(const Operand& operand) {
        const FieldType type = operand.reach.ref.type;
        return operand.kind == Operand::Kind::Reach && operand.asks == Operand::Asks::Value &&
               !operand.reach.rest && operand.reach.ref.from == ValueRef::From::Field &&
               type != FieldType::List && type != FieldType::Object;
    }
    Rows rowsOf(const Operand& operand) const {
        return {stretch_.column(operand.reach.ref.field), stretch_.row, count_};
    }
    std::optional<Scalar> fixedValue(const Operand& operand) const {
        if (operand.asks != Operand::Asks::Value) {
            return std::nullopt;
        }
        if (operand.kind == Operand::Kind::Absent) {
            return Scalar();
        }
        if (operand.kind == Operand::Kind::Constant) {
            return operand.fixed();
        }
        if (operand.kind != Operand::Kind::Reach || operand.reach.rest ||
            operand.reach.ref.from != ValueRef::From::Parameter) {
            return std::nullopt;
        }
        return rule_nodes::valueOf(
            (*like_.parameters)[static_cast<std::size_t>(operand.reach.ref.parameter)]);
    }

    Bits withFixed(Comparison how, const Rows& rows, FieldType type, const Scalar& fixed) const {
        const Bits present = presentIn(rows);
        Bits bits{};
        if (rows.column != nullptr) {
            bits = valuesWith(how, rows, type, fixed);
        }
        const bool isMissingIn = rule_nodes::holds(how, Scalar(), fixed);
        for (std::size_t word = 0; word * 64 < count_; ++word) {
            const std::uint64_t missing = isMissingIn ? ~present[word] & lowest(count_ - word * 64) : 0;
            bits[word] = (bits[word] & present[word]) | missing;
        }
        return bits;
    }

    /// Of rows that have none, anything.
    Bits valuesWith(Comparison how, const Rows& rows, FieldType type, const Scalar& fixed) const {
        const Column& column = *rows.column;
        const auto number = static_cast<double>(fixed.number);
        const bool isNumber =
            fixed.kind == Scalar::Kind::Number && static_cast<long double>(number) == fixed.number;
        switch (type) {
        case FieldType::Boolean: {
            const std::array<bool, 2> by{rule_nodes::holds(how, Scalar::of(false), fixed),
                                         rule_nodes::holds(how, Scalar::of(true), fixed)};
            return each(rows.count,
                        [&](std::size_t i) { return by[column.booleans[rows.first + i] != 0 ? 1 : 0]; });
        }
        case FieldType::Real:
            if (isNumber && column.type == FieldType::Real) {
                const double* values = column.reals.data() + rows.first;
                return compared(
                    how, rows.count, [values](std::size_t i) { return values[i]; }, number);
            }
            [[fallthrough]];
        case FieldType::Integer:
            if (isNumber && column.type == FieldType::Integer && isExact(column)) {
                return column.width == 1   ? comparedPacked<std::uint8_t>(how, rows, number)
                       : column.width == 2 ? comparedPacked<std::uint16_t>(how, rows, number)
                                           : comparedPacked<std::uint32_t>(how, rows, number);
            }
            return each(rows.count, [&](std::size_t i) {
                const std::size_t row = rows.first + i;
                const auto value = !column.has(row) ? 0.0L
                                   : column.type == FieldType::Integer
                                       ? static_cast<long double>(column.integerAt(row))
                                       : static_cast<long double>(column.reals[row]);
                return rule_nodes::holds(how, Scalar::of(value), fixed);
            });
        default:
            return ofTexts(
                rows, [&](std::string_view text) { return rule_nodes::holds(how, Scalar::of(text), fixed); });
        }
    }

    /// Asked once of each distinct one where there are few.
    template <typename Holds>
    static Bits ofTexts(const Rows& rows, Holds holds) {
        const Column& column = *rows.column;
        if (column.codes.empty()) {
            return each(rows.count, [&](std::size_t i) {
                return column.has(rows.first + i) && holds(column.textAt(rows.first + i));
            });
        }
        std::array<bool, 256> by{};
        for (std::size_t code = 0; code < column.ends.size(); ++code) {
            const std::size_t start = code == 0 ? 0 : column.ends[code - 1];
            by[code] = holds(std::string_view(column.bytes).substr(start, column.ends[code] - start));
        }
        const std::uint8_t* codes = column.codes.data() + rows.first;
        return each(rows.count, [&](std::size_t i) { return by[codes[i]]; });
    }

    Bits matched(const Rule::Node& node) const {
        const Rows rows = rowsOf(node.left);
        const FieldType type = node.left.reach.ref.type;
        if (rows.column == nullptr || (type != FieldType::Text && type != FieldType::Time)) {
            return {};
        }
        Bits bits =
            ofTexts(rows, [&](std::string_view text) { return node.pattern->matches(text, node.whole); });
        const Bits present = presentIn(rows);
        for (std::size_t word = 0; word < kWords; ++word) {
            bits[word] &= present[word];
        }
        return bits;
    }

    Bits oneByOne(const Rule::Node& node) const {
        return each(count_, [&](std::size_t i) {
            FillContext context = like_;
            context.record = first_ + static_cast<std::int64_t>(i);
            return Rule::holds(node, context);
        });
    }

    const FillContext& like_;
    std::int64_t first_;
    std::size_t count_;
    const RecordTable::Stretch& stretch_;
};

void Rule::mark(const FillContext& like, std::int64_t first, std::int64_t count,
                std::span<std::uint64_t> to) const {
    assert(first >= 0 && first + count <= like.records.size() && std::ssize(to) * 64 >= count);
    std::ranges::fill(to, 0);
    for (std::int64_t done = 0; done < count;) {
        const RecordTable::Stretch stretch = like.records.stretchAt(first + done);
        const auto left = static_cast<std::size_t>(count - done);
        const std::size_t made = stretch.rows == 0 ? left : std::min({left, stretch.rows, kRows});
        if (stretch.rows == 0) { // made up, one by one
            FillContext context = like;
            for (std::size_t i = 0; i < made; ++i) {
                const auto at = static_cast<std::size_t>(done) + i;
                context.record = first + static_cast<std::int64_t>(at);
                to[at / 64] |= static_cast<std::uint64_t>(holds(context)) << (at % 64);
            }
        } else {
            const Bits bits = RuleColumns(like, first + done, made, stretch).of(*root_);
            for (std::size_t word = 0; word * 64 < made; ++word) {
                const auto at = static_cast<std::size_t>(done) + word * 64;
                to[at / 64] |= bits[word] << (at % 64);
                if (at % 64 != 0 && (bits[word] >> (64 - at % 64)) != 0) {
                    to[at / 64 + 1] |= bits[word] >> (64 - at % 64);
                }
            }
        }
        done += static_cast<std::int64_t>(made);
    }
}

} // namespace scorrere
