// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstddef>
#include <string_view>

namespace scorrere {

/// How deep anything that is read may nest: JSON, XML, patterns, filters. What comes from outside is walked
/// by functions that call themselves, and a stack has an end.
inline constexpr int kMaxNesting = 200;

/// Where a JSON text nests deeper than `most`, or npos. Brackets inside strings do not count; the text need
/// not be JSON otherwise. O(n).
std::size_t tooDeepAt(std::string_view json, int most = kMaxNesting);

} // namespace scorrere
