// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

/// A text as it is searched: without case, diacritics and widths (ICU: NFKC case folding, then no non-spacing marks).
/// Appends to `to`. Texts of plain ASCII never meet ICU.
///
/// Complexity  O(text): some ns a character. The first text that is not plain ASCII takes 50 ms more, once.
/// Threads     Any.
void foldForSearch(std::string_view text, std::string& to);

/// The words of what somebody typed, folded; a word that is in another is left out.
std::vector<std::string> searchWords(std::string_view typed);

} // namespace scorrere
