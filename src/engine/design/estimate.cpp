// SPDX-License-Identifier: Apache-2.0
#include "engine/design/estimate.h"

#include <algorithm>

namespace scorrere {

namespace {

/// Decodes one character of valid UTF-8 and steps over it; broken bytes come out as U+FFFD.
char32_t nextCharacter(std::string_view text, std::size_t& at) {
    const auto byte = [&text](std::size_t i) {
        return i < text.size() ? static_cast<unsigned char>(text[i]) : 0u;
    };
    const char32_t lead = byte(at);
    if (lead < 0x80) {
        ++at;
        return lead;
    }
    if (lead >= 0xc2 && lead < 0xe0) {
        at += 2;
        return ((lead & 0x1fu) << 6) | (byte(at - 1) & 0x3fu);
    }
    if (lead >= 0xe0 && lead < 0xf0) {
        at += 3;
        return ((lead & 0x0fu) << 12) | ((byte(at - 2) & 0x3fu) << 6) | (byte(at - 1) & 0x3fu);
    }
    at += lead >= 0xf0 ? 4 : 1;
    return 0xfffd;
}

bool breaksAfter(char32_t c) {
    return c == U'-' || (c >= 0x2010 && c <= 0x2014 && c != 0x2011);
}

} // namespace

std::optional<TextSize> estimateText(const AdvanceTable& table, std::string_view text, Length maxWidth,
                                     int maxLines) {
    const std::int64_t limit = maxWidth.raw();
    std::int64_t line = 0;  // width of the line up to the last place it may break
    std::int64_t blank = 0; // spaces after that: they hang when the line ends there
    std::int64_t word = 0;  // width since
    std::int64_t widest = 0;
    int lines = 1;
    std::size_t at = 0;
    const auto endWord = [&] {
        line += blank + word;
        blank = word = 0;
    };
    const auto newLine = [&] {
        widest = std::max(widest, line);
        ++lines;
        line = blank = 0;
    };
    while (at < text.size()) {
        const char32_t c = nextCharacter(text, at);
        if (c == U'\n') {
            endWord();
            newLine();
            continue;
        }
        const std::int64_t advance = table.advance(c);
        if (advance < 0) {
            return std::nullopt;
        }
        if (c == U' ') {
            endWord();
            blank += advance;
            continue;
        }
        if (line + blank + word + advance > limit) {
            if (line > 0) {
                newLine();
            }
            if (word + advance > limit && word > 0) { // a word longer than a line breaks anywhere
                line = word;
                word = 0;
                newLine();
            }
        }
        word += advance;
        if (breaksAfter(c) || AdvanceTable::isWide(c)) {
            endWord();
        }
        if (maxLines > 0 && lines > maxLines) {
            lines = maxLines;
            widest = limit;
            line = word = 0;
            break;
        }
    }
    endWord();
    widest = std::max(widest, line);
    lines = maxLines > 0 ? std::min(lines, maxLines) : lines;
    return TextSize{Length::fromRaw(widest), table.lineHeight * lines};
}

TextSize ItemEstimator::measure(int part, std::string_view text, const TextStyle&, Length maxWidth,
                                int maxLines) {
    const int style = design_.parts()[static_cast<std::size_t>(part)].style;
    const AdvanceTable& table = tables_[static_cast<std::size_t>(style)];
    if (const auto size = estimateText(table, text, maxWidth, maxLines)) {
        return *size;
    }
    unknown_ = unknown_ || maxLines != 1;
    return {maxWidth, table.lineHeight};
}

Length ItemEstimator::ascent(int part) {
    return tables_[static_cast<std::size_t>(design_.parts()[static_cast<std::size_t>(part)].style)].ascent;
}

std::optional<ItemSize> ItemEstimator::estimate(const FillContext& context, const ItemRoom& room) {
    unknown_ = false;
    FillContext own = context;
    own.onlyLayout = onlyLayout_;
    design_.fill(own, content_, changed_);
    const ItemSize size = ItemLayout(design_, content_, *this, boxes_).solve(room);
    return unknown_ ? std::nullopt : std::optional(size);
}

Length ItemEstimator::cut() const {
    const Length endless = Length::px(1'000'000);
    Length cut;
    for (std::size_t i = 0; i < design_.parts().size(); ++i) {
        const PlanPart& part = design_.parts()[i];
        if (!part.isText() || part.lines <= 0 || part.binding < 0 || !boxes_[i].shown) {
            continue;
        }
        const std::string& text = content_.values[static_cast<std::size_t>(part.binding)];
        const auto& table = tables_[static_cast<std::size_t>(part.style)];
        if (const auto whole = estimateText(table, text, endless, 0)) {
            cut += std::max(whole->width - boxes_[i].width * part.lines, Length{});
        }
    }
    return cut;
}

} // namespace scorrere
