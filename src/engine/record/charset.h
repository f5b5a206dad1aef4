// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <istream>
#include <memory>
#include <string>
#include <string_view>

namespace scorrere {

/// How bytes stand for text, and what says so.
struct Charset {
    std::string name = "UTF-8";
    std::string why;
    bool isGuess = false; ///< nobody said so; it only looks like it
};

/// What decides, in this order: a byte order mark, `said` (as by an HTTP header), an XML declaration, being
/// right UTF-8, the look of the bytes. A charset that nobody knows is passed over, and `why` says so.
Charset findCharset(std::string_view start, const std::string& said);
/// Whether there is a converter of that name.
bool isCharset(const std::string& name);
bool isUtf8(const std::string& name);

/// A stream that gives the UTF-8 of another, which is in the charset; a byte order mark is left out.
/// Bytes that are no text become U+FFFD. The other stream must live as long. Threads: one.
std::unique_ptr<std::istream> transcoded(std::istream& in, const std::string& charset);

/// Whether a text holds sequences as they come about when UTF-8 is decoded as windows-1252, like "Ã©" for
/// "é".
bool looksDoubleDecoded(std::string_view text);
/// The text with those sequences decoded back; everything else stays.
std::string undoDoubleDecoding(std::string_view text);

} // namespace scorrere
