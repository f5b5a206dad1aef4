// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/look/page_words.h"

#include <algorithm>
#include <string_view>

namespace scorrere::workbench {

namespace {

struct StyleWord {
    PageStyle style;
    const char* word;
};
constexpr StyleWord kStyles[] = {{PageStyle::None, "one piece"},
                                 {PageStyle::Number, "pages by number"},
                                 {PageStyle::Offset, "pages by offset"},
                                 {PageStyle::Cursor, "pages by cursor"},
                                 {PageStyle::Next, "pages by next address"},
                                 {PageStyle::Link, "pages by Link header"}};

/// The demo service has each style at a place of its own.
struct DemoPlace {
    PageStyle style;
    const char* address;
    const char* items;
    const char* next;
    const char* previous;
    const char* total;
};
constexpr DemoPlace kDemoPlaces[] = {
    {PageStyle::Number, "demo:/sightings{?page,size,sort,status,fault}", "$.data.sightings[*]", "", "",
     "$.total"},
    {PageStyle::Offset, "demo:/by-offset{?offset,limit,sort,status,fault}", "$.sightings[*]", "", "",
     "$.total"},
    {PageStyle::Cursor, "demo:/by-cursor{?cursor,limit,sort,status,fault}", "$.sightings[*]", "$.cursor.next",
     "$.cursor.previous", ""},
    {PageStyle::Next, "demo:/by-next{?limit,sort,status,fault}", "$.sightings[*]", "$.next", "", ""},
    {PageStyle::Link, "demo:/by-link{?size,sort,status,fault}", "$[*]", "", "", ""},
};

} // namespace

QString pageStyleWord(PageStyle style) {
    for (const StyleWord& found : kStyles) {
        if (found.style == style) {
            return QString::fromLatin1(found.word);
        }
    }
    return {};
}

QStringList pageStyleWords() {
    QStringList words;
    for (const StyleWord& style : kStyles) {
        words << QString::fromLatin1(style.word);
    }
    return words;
}

SourceSpec withPageStyle(SourceSpec source, const QString& word, const PageHints& hints) {
    PageSpec& pages = source.pages;
    for (const StyleWord& style : kStyles) {
        if (word == QLatin1String(style.word)) {
            pages.style = style.style;
        }
    }
    source = withPages(std::move(source), pages.style, hints);
    const auto isAt = [&source](const DemoPlace& place) {
        const std::string_view address(place.address);
        return source.address.starts_with(address.substr(0, address.find('{')));
    };
    const auto demo = std::ranges::find(kDemoPlaces, pages.style, &DemoPlace::style);
    if (demo != std::end(kDemoPlaces) && std::ranges::any_of(kDemoPlaces, isAt)) {
        source.address = demo->address;
        source.reading.items = demo->items;
        pages.next = demo->next;
        pages.previous = demo->previous;
        pages.total = demo->total;
    }
    return source;
}

} // namespace scorrere::workbench
