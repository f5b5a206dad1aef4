// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/page_hints.h"

#include "engine/record/uri_template.h"
#include "render/page_reading.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace scorrere::workbench {

namespace {

constexpr std::int32_t kDeepest = 3;
constexpr std::size_t kMostNodes = 2000;

/// A member's name without the marks that different services put in it.
std::string plain(std::string_view name) {
    std::string out;
    for (const char c : name) {
        const char lower = c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c;
        if (lower != '_' && lower != '-' && lower != '@' && lower != '.') {
            out += lower;
        }
    }
    return out;
}

template <std::size_t N>
bool isOneOf(const std::string& name, const std::array<std::string_view, N>& names) {
    return std::ranges::find(names, name) != names.end();
}

constexpr std::array<std::string_view, 15> kNextNames{
    "next",          "nexturl",       "nextlink", "nextpage",     "nexthref",          "nextcursor",
    "nextpagetoken", "nexttoken",     "cursor",   "continuation", "continuationtoken", "endcursor",
    "after",         "odatanextlink", "pagetoken"};
constexpr std::array<std::string_view, 7> kTotalNames{
    "total", "totalcount", "totalresults", "totalitems", "totalelements", "numfound", "totalrecords"};
constexpr std::array<std::string_view, 3> kPageNames{"page", "pagenumber", "currentpage"};
constexpr std::array<std::string_view, 3> kOffsetNames{"offset", "start", "skip"};
constexpr std::array<std::string_view, 4> kHeaderNames{"xnextcursor", "xnexttoken", "xcontinuationtoken",
                                                       "xnextpagetoken"};

bool looksLikeAddress(std::string_view text) {
    return text.starts_with("http://") || text.starts_with("https://") || text.starts_with('/') ||
           text.starts_with('?') || text.starts_with("./") || text.starts_with("../");
}

} // namespace

PageHints pageHints(const Answer& answer) {
    PageHints hints;
    if (!answer.isCall) {
        return hints;
    }
    if (!render::linkTarget(answer.http, "next").empty()) {
        hints.style = PageStyle::Link;
        hints.why = "its Link header leads to the next page";
    }
    for (const auto& [name, value] : answer.http.headers) {
        if (isOneOf(plain(name), kHeaderNames) && !value.empty()) {
            hints.headers.push_back(name);
        }
    }
    if (answer.items >= 0 && !answer.isPart && !answer.treeIsRecords) {
        hints.size = answer.tree.nodes[static_cast<std::size_t>(answer.items)].children;
    }
    bool hasPage = false;
    bool hasOffset = false;
    const bool isObject = !answer.treeIsRecords && !answer.tree.nodes.empty() &&
                          answer.tree.nodes[0].type == JsonOutline::Type::Object;
    const std::vector<JsonOutline::Node> none;
    const auto& nodes = isObject ? answer.tree.nodes : none; // a list's own members are what records hold
    for (std::size_t i = 1; i < nodes.size() && i < kMostNodes; ++i) {
        const JsonOutline::Node& node = nodes[i];
        if (node.type == JsonOutline::Type::Array || node.depth > kDeepest) {
            i = static_cast<std::size_t>(node.subtreeEnd) - 1; // records, not what stands about them
            continue;
        }
        const std::string name = plain(JsonOutline::nameOf(node, answer.treeText));
        const std::string raw = answer.treeText.substr(node.start, node.end - node.start);
        if (node.type == JsonOutline::Type::String && isOneOf(name, kNextNames) && raw.size() > 2) {
            const std::string path = answer.tree.pathOf(i, answer.treeText);
            hints.nexts.push_back(path);
            if (!looksLikeAddress(unescapedJson(raw))) {
                hints.cursors.push_back(path);
            }
        } else if (node.type == JsonOutline::Type::Number) {
            if (isOneOf(name, kTotalNames) && hints.total.empty()) {
                hints.total = answer.tree.pathOf(i, answer.treeText);
            }
            hasPage = hasPage || isOneOf(name, kPageNames);
            hasOffset = hasOffset || isOneOf(name, kOffsetNames);
        }
    }
    if (!hints.style && !hints.nexts.empty()) {
        const bool isCursor = !hints.cursors.empty() && hints.cursors.front() == hints.nexts.front();
        hints.style = isCursor ? PageStyle::Cursor : PageStyle::Next;
        hints.why = fmt::format("{} tells {}", hints.nexts.front(),
                                isCursor ? "where the next page begins" : "the next page's address");
    } else if (!hints.style && !hints.headers.empty()) {
        hints.style = PageStyle::Cursor;
        hints.why = fmt::format("its header {} tells where the next page begins", hints.headers.front());
    } else if (!hints.style && (hasPage || hasOffset)) {
        hints.style = hasPage ? PageStyle::Number : PageStyle::Offset;
        hints.why = hasPage ? "it says which page it is" : "it says how many records are before it";
    } else if (!hints.style && !hints.total.empty()) {
        hints.style = PageStyle::Number;
        hints.why = fmt::format("{} says how many records there are in all", hints.total);
    }
    return hints;
}

namespace {

bool hasPlaceFor(const std::string& address, const std::string& name) {
    const auto made = UriTemplate::parse(address);
    const std::vector<std::string> names = made ? made->names() : std::vector<std::string>{name};
    return std::ranges::find(names, name) != names.end();
}

void addPlaceFor(std::string& address, const std::string& name) {
    const bool hasQuery = address.find('?') != std::string::npos;
    address += std::string(hasQuery ? "{&" : "{?") + name + "}";
}

} // namespace

bool asksForSize(const SourceSpec& source) {
    return hasPlaceFor(source.address, source.pages.count);
}

SourceSpec withSizeAsked(SourceSpec source) {
    if (!asksForSize(source)) {
        addPlaceFor(source.address, source.pages.count);
    }
    return source;
}

SourceSpec withPages(SourceSpec source, PageStyle style, const PageHints& hints) {
    PageSpec& pages = source.pages;
    pages.style = style;
    pages.from = style == PageStyle::Offset ? "offset" : style == PageStyle::Cursor ? "cursor" : "page";
    pages.count = style == PageStyle::Number || style == PageStyle::Link ? "size" : "limit";
    pages.previous.clear();
    pages.next.clear();
    pages.nextHeader.clear();
    pages.total = style == PageStyle::None ? std::string() : hints.total;
    if (style == PageStyle::Cursor) {
        pages.next = !hints.cursors.empty() ? hints.cursors.front() : std::string();
        if (pages.next.empty() && !hints.headers.empty()) {
            pages.nextHeader = hints.headers.front();
        }
    } else if (style == PageStyle::Next && !hints.nexts.empty()) {
        pages.next = hints.nexts.front();
    }
    const bool calls = style == PageStyle::Number || style == PageStyle::Offset || style == PageStyle::Cursor;
    if (calls && !hasPlaceFor(source.address, pages.from)) {
        addPlaceFor(source.address, pages.from);
    }
    if (hints.size > 0 && !asksForSize(source)) {
        pages.size = hints.size;
    }
    return source;
}

} // namespace scorrere::workbench
