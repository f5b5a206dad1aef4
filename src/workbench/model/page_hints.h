// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/source_spec.h"
#include "workbench/model/answer.h"

#include <optional>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// What an answer tells of the pages it is one of.
struct PageHints {
    std::optional<PageStyle> style;   ///< the likeliest; nothing: it seems to be all there is
    std::string why;                  ///< "its Link header leads to the next page"
    std::vector<std::string> nexts;   ///< JSONPaths of what the next call may need, the likeliest first
    std::vector<std::string> cursors; ///< of those, which are no addresses
    std::vector<std::string> headers; ///< headers that may hold a cursor
    std::string total;                ///< JSONPath of how many records there are; empty: not told
    std::int64_t size = 0;            ///< records that it brought; 0: that is not known
};

/// Looks at the answer's headers and at the members around its records. Cheap: at most a few hundred nodes.
PageHints pageHints(const Answer& answer);

/// The source with another style of pages, and where the next one is as the answer tells. Of the address only
/// the variable that says which page is added when it is missing; how many records a page has is asked only
/// where the address has a place for it; elsewhere it is thought to have as many as came.
SourceSpec withPages(SourceSpec source, PageStyle style, const PageHints& hints);
/// Whether the address has a place for how many records are asked for.
bool asksForSize(const SourceSpec& source);
/// The same source with that place, for somebody who wants another size.
SourceSpec withSizeAsked(SourceSpec source);

} // namespace scorrere::workbench
