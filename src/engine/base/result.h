// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cassert>
#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace scorrere {

enum class ErrorCode {
    NotFound,   ///< a file, a field or a name that is not there
    Unreadable, ///< there, but cannot be opened or read
    Syntax,     ///< not the notation it claims to be
    Version,    ///< made for another version of the format
    Invalid,    ///< the notation is right, a value in it is not
    TooLarge,   ///< beyond a stated limit
    Unwritable, ///< cannot be created or written
    Cancelled,  ///< asked to stop
    Changed,    ///< somebody else wrote it meanwhile
};

/// Where in outside input something is. Empty members are unknown.
struct Place {
    std::string file;
    std::int64_t line = 0;    ///< 1-based, 0 when unknown
    std::int64_t column = 0;  ///< 1-based, in bytes, 0 when unknown
    std::int64_t record = -1; ///< 0-based, -1 when unknown
    std::string field;
    std::string pointer; ///< JSON Pointer (RFC 6901) into a document
};

/// What went wrong with outside input, where, and what to do about it, in words a user can act on.
struct Error {
    ErrorCode code = ErrorCode::Invalid;
    std::string message; ///< what is wrong
    std::string advice;  ///< what to do; may be empty
    Place place;

    /// "file:line:column, record 12, field note: message. advice"
    std::string text() const;
};

/// A value, or the located reason why there is none. Bad outside input ends here; our own mistakes assert.
template <typename T>
class [[nodiscard]] Result {
public:
    Result(T value) : holds_(std::move(value)) {}     // NOLINT: a value is a result
    Result(Error error) : holds_(std::move(error)) {} // NOLINT: an error is a result

    explicit operator bool() const { return holds_.index() == 0; }
    T& value() & { return std::get<0>(holds_); }
    const T& value() const& { return std::get<0>(holds_); }
    T&& value() && { return std::get<0>(std::move(holds_)); }
    T* operator->() { return &std::get<0>(holds_); }
    const T* operator->() const { return &std::get<0>(holds_); }
    T& operator*() & { return std::get<0>(holds_); }
    const T& operator*() const& { return std::get<0>(holds_); }
    T&& operator*() && { return std::get<0>(std::move(holds_)); }
    Error& error() { return std::get<1>(holds_); }
    const Error& error() const { return std::get<1>(holds_); }

private:
    std::variant<T, Error> holds_;
};

/// The result of something that gives nothing but may fail.
using Outcome = Result<std::monostate>;
inline Outcome done() {
    return std::monostate{};
}

} // namespace scorrere
