// SPDX-License-Identifier: Apache-2.0
// A stream as the readers see it: an implementation header of record/.
#pragma once

#include "engine/record/reading.h"

#include <algorithm>
#include <cstring>
#include <istream>
#include <string_view>
#include <vector>

namespace scorrere {

constexpr std::size_t kMaxRecord = std::size_t{64} << 20; ///< bytes that one record may take

inline bool isBlank(char c) {
    return c == ' ' || c == '\t' || c == '\n' || c == '\r';
}

/// A stream seen through a window that can always be filled on behind what is kept of it.
class ReadWindow {
public:
    static constexpr std::size_t kWindow = std::size_t{1} << 20;
    static constexpr std::size_t kFirst = std::size_t{64} << 10; ///< the first look; most sources are small
    static constexpr std::size_t kPadding = 64; ///< as much as the bulk parser wants behind a text

    ReadWindow(std::istream& in, RecordSink& sink) : in_(in), sink_(sink) {}

    /// Moves what is left to the front and reads on behind it. False when nothing more came.
    bool refill() {
        if (in_.eof() || in_.bad()) {
            return false;
        }
        passLines(at);
        std::memmove(buffer_.data(), buffer_.data() + at, end - at);
        base_ += static_cast<std::int64_t>(at);
        end -= at;
        at = 0;
        counted_ = 0;
        if (wasFilled_ && buffer_.size() - kPadding < end + kWindow / 2) {
            buffer_.resize(end * 2 + kWindow + kPadding);
        }
        in_.read(buffer_.data() + end, static_cast<std::streamsize>(buffer_.size() - kPadding - end));
        wasFilled_ = true;
        const auto came = static_cast<std::size_t>(in_.gcount());
        end += came;
        std::memset(buffer_.data() + end, ' ', kPadding);
        sink_.tellProgress(base_ + static_cast<std::int64_t>(end));
        return came > 0;
    }
    /// At the next byte that is no space; false at the end.
    bool skipSpace() {
        while (true) {
            while (at < end && isBlank(buffer_[at])) {
                ++at;
            }
            if (at < end || !refill()) {
                return at < end;
            }
        }
    }
    std::string_view view() const { return {buffer_.data(), end}; }
    std::string_view rest() const { return {buffer_.data() + at, end - at}; }
    const char* data() const { return buffer_.data(); }
    std::size_t capacity() const { return buffer_.size(); }
    char now() const { return buffer_[at]; }
    std::int64_t bytes() const { return base_ + static_cast<std::int64_t>(at); }
    bool isBroken() const { return in_.bad(); }

    /// The 1-based line of an offset not before any asked for earlier.
    std::int64_t lineOf(std::size_t offset) {
        passLines(offset);
        return line_;
    }
    std::int64_t columnOf(std::size_t offset) {
        passLines(offset);
        return base_ + static_cast<std::int64_t>(offset) - lineStart_ + 1;
    }

    std::size_t at = 0;
    std::size_t end = 0;

private:
    void passLines(std::size_t until) {
        const char* from = buffer_.data() + counted_;
        const char* const last = buffer_.data() + std::max(until, counted_);
        while (const void* found = std::memchr(from, '\n', static_cast<std::size_t>(last - from))) {
            ++line_;
            from = static_cast<const char*>(found) + 1;
            lineStart_ = base_ + (from - buffer_.data());
        }
        counted_ = std::max(counted_, until);
    }

    std::istream& in_;
    RecordSink& sink_;
    std::vector<char> buffer_ = std::vector<char>(kFirst + kPadding);
    bool wasFilled_ = false;
    std::size_t counted_ = 0;
    std::int64_t base_ = 0; ///< bytes before the window
    std::int64_t line_ = 1;
    std::int64_t lineStart_ = 0;
};

} // namespace scorrere
