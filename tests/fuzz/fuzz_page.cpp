// SPDX-License-Identifier: GPL-3.0-or-later
//
// A page's answer: its first line is the Link header, the rest the body.
#include "render/page_reading.h"

#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    const std::string text(reinterpret_cast<const char*>(data), size);
    const std::size_t line = std::min(text.find('\n'), text.size());
    render::HttpAnswer answer;
    answer.address = "http://there/list?page=1";
    answer.status = 200;
    answer.headers = {{"Link", text.substr(0, line)},
                      {"Retry-After", text.substr(0, line)},
                      {"X-Total-Count", text.substr(0, line)}};
    answer.body = text.substr(line);
    SourceSpec source;
    source.address = "http://there/list{?page}";
    source.pages.style = size % 2 == 0 ? PageStyle::Link : PageStyle::Next;
    source.pages.next = "$.next";
    source.pages.total = size % 3 == 0 ? "$.total" : "";
    source.key = {"id"};
    const auto page = render::readPage(source, answer, {}, 0, {});
    if (!page && page.error().message.empty()) {
        std::abort();
    }
    if (page && page->total && *page->total > kMostRecords) {
        std::abort();
    }
    (void)render::retryAfterMs(answer, 0);
    return 0;
}
