// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>

namespace re2 {
class RE2;
}

namespace scorrere {

/// A regular expression as RFC 9485 (I-Regexp) has it.
///
/// Complexity  Matching is linear in the text, whatever the pattern.
/// Threads     Immutable: any thread may match.
/// Errors      compile: Syntax, with the column in the pattern; TooLarge for a repeat that is too long.
class IRegexp {
public:
    static Result<IRegexp> compile(std::string_view pattern);
    /// Whether it is the whole text, or some part of it.
    bool matches(std::string_view text, bool whole) const;

private:
    std::shared_ptr<const re2::RE2> engine_;
};

/// Patterns that come with the values, and come again: each is compiled once. Threads: one at a time.
class AskedPatterns {
public:
    /// As IRegexp::matches; a pattern that is none matches nothing (RFC 9535, section 2.4.6).
    bool matches(std::string_view text, const std::string& pattern, bool whole);

private:
    std::unordered_map<std::string, std::optional<IRegexp>> known_; ///< nothing: no pattern
};

/// Why a pattern that somebody wrote will not do what it seems to: RFC 9485 has no anchors, so ^ and $ are
/// characters like any other. Empty: nothing speaks against it.
std::string misreadOf(std::string_view pattern);

} // namespace scorrere
