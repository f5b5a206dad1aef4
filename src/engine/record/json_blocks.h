// SPDX-License-Identifier: Apache-2.0
// Finding where a JSON value ends without reading it: an implementation header of record/.
//
// 64 bytes at a time become bit masks (quotes, backslashes, brackets); what lies inside strings is masked out
// with a prefix xor over the quotes. The way of Langdale and Lemire, "Parsing Gigabytes of JSON per Second"
// (2019), section 3.1, which the bulk parser uses inside but does not offer. A byte loop costs half the time
// of decoding.
#pragma once

#include <bit>
#include <cstdint>
#include <cstring>
#include <string_view>
#if defined(__SSE2__)
#include <emmintrin.h>
#endif

namespace scorrere {

/// Follows brackets and strings through consecutive pieces of a JSON text.
///
/// Complexity  O(bytes), one pass.
/// Threads     One.
class JsonBlocks {
public:
    static constexpr std::size_t npos = std::string_view::npos;

    /// Goes on with the next piece of the value. The value starts with its bracket, which must be the first
    /// byte ever given. Gives where it ends (just behind its closing bracket), or npos: not in this piece.
    std::size_t feed(std::string_view piece) {
        std::size_t at = 0;
        for (; at + 64 <= piece.size(); at += 64) {
            if (const std::size_t end = block(piece.data() + at); end != npos) {
                return at + end;
            }
        }
        for (; at < piece.size(); ++at) {
            if (byte(piece[at])) {
                return at + 1;
            }
        }
        return npos;
    }
    std::int64_t depth() const { return depth_; }

private:
    struct Masks {
        std::uint64_t quote = 0;
        std::uint64_t backslash = 0;
        std::uint64_t open = 0;
        std::uint64_t close = 0;
    };

    static Masks masksOf(const char* data) {
        Masks masks;
#if defined(__SSE2__)
        const __m128i lower = _mm_set1_epi8(0x20);
        for (int i = 0; i < 4; ++i) {
            const __m128i bytes =
                _mm_loadu_si128(reinterpret_cast<const __m128i*>(data + std::ptrdiff_t{16} * i));
            const __m128i folded = _mm_or_si128(bytes, lower); // [ and { become {, ] and } become }
            const auto bits = [i](__m128i found) {
                return static_cast<std::uint64_t>(static_cast<std::uint32_t>(_mm_movemask_epi8(found)))
                       << (16 * i);
            };
            masks.quote |= bits(_mm_cmpeq_epi8(bytes, _mm_set1_epi8('"')));
            masks.backslash |= bits(_mm_cmpeq_epi8(bytes, _mm_set1_epi8('\\')));
            masks.open |= bits(_mm_cmpeq_epi8(folded, _mm_set1_epi8('{')));
            masks.close |= bits(_mm_cmpeq_epi8(folded, _mm_set1_epi8('}')));
        }
#else
        for (int i = 0; i < 64; ++i) {
            const std::uint64_t bit = std::uint64_t{1} << i;
            masks.quote |= data[i] == '"' ? bit : 0;
            masks.backslash |= data[i] == '\\' ? bit : 0;
            masks.open |= data[i] == '{' || data[i] == '[' ? bit : 0;
            masks.close |= data[i] == '}' || data[i] == ']' ? bit : 0;
        }
#endif
        return masks;
    }

    /// One block of 64 bytes; where the value ends in it, or npos.
    std::size_t block(const char* data) {
        Masks masks = masksOf(data);
        if (masks.backslash != 0 || escaped_) {
            std::uint64_t hidden = escaped_ ? 1 : 0;
            std::uint64_t left = masks.backslash & ~hidden;
            escaped_ = false;
            while (left != 0) {
                const int i = std::countr_zero(left);
                if (i == 63) {
                    escaped_ = true;
                    break;
                }
                hidden |= std::uint64_t{2} << i;
                left &= ~(std::uint64_t{3} << i);
            }
            masks.quote &= ~hidden;
        }
        std::uint64_t inside = masks.quote;
        for (int shift = 1; shift < 64; shift *= 2) {
            inside ^= inside << shift;
        }
        if (inString_) {
            inside = ~inside;
        }
        inString_ = (inside >> 63) != 0;
        masks.open &= ~inside;
        masks.close &= ~inside;
        const int closes = std::popcount(masks.close);
        if (depth_ > closes) {
            depth_ += std::popcount(masks.open) - closes;
            return npos;
        }
        std::uint64_t both = masks.open | masks.close;
        while (both != 0) {
            const int i = std::countr_zero(both);
            both &= both - 1;
            depth_ += ((masks.open >> i) & 1) != 0 ? 1 : -1;
            if (depth_ <= 0) {
                return static_cast<std::size_t>(i) + 1;
            }
        }
        return npos;
    }

    /// One byte; true when the value ends with it.
    bool byte(char c) {
        if (escaped_) {
            escaped_ = false;
        } else if (c == '\\') {
            escaped_ = true;
        } else if (c == '"') {
            inString_ = !inString_;
        } else if (!inString_ && (c == '{' || c == '[')) {
            ++depth_;
        } else if (!inString_ && (c == '}' || c == ']')) {
            return --depth_ <= 0;
        }
        return false;
    }

    std::int64_t depth_ = 0;
    bool inString_ = false;
    bool escaped_ = false;
};

} // namespace scorrere
