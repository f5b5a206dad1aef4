// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

namespace scorrere {

/// Reads numbers and dates as people of a locale write them: 1.234,56 and 31.12.2023 where they are German.
///
/// Complexity  A value is O(its length). Making one takes ICU some tenths of a millisecond.
/// Threads     One thread at a time.
class LocalValues {
public:
    /// A locale that ICU does not know reads as its root.
    explicit LocalValues(const std::string& locale);
    ~LocalValues();
    LocalValues(const LocalValues&) = delete;
    LocalValues& operator=(const LocalValues&) = delete;

    struct Number {
        double value = 0;
        std::optional<std::int64_t> whole; ///< exact, when it is one
    };
    /// The whole text as a number; groups are right or absent.
    std::optional<Number> number(std::string_view text) const;
    /// The whole text as a date, or a date and a time of day, written as ISO 8601 does, without a zone:
    /// 2023-12-31, 2023-12-31T14:05:00. Nothing for a day that is none.
    std::optional<std::string> time(std::string_view text) const;

private:
    struct Formats;
    std::unique_ptr<Formats> formats_;
};

} // namespace scorrere
