// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/page/page_rules.h"
#include "engine/record/reading.h"

#include <cstdint>
#include <string>
#include <utility>
#include <vector>

namespace scorrere {

/// How the caller shows who it is. Secrets are named here, never given.
struct SignSpec {
    enum class Kind : std::uint8_t { None, Bearer, Basic, Header };
    Kind kind = Kind::None;
    std::string secret; ///< the name of the token, or of the password
    std::string user;   ///< Basic: who. Header: the header's name
    bool operator==(const SignSpec&) const = default;
};

/// Whether a header of that name would hold a secret, which has its place in SignSpec, not in a file.
bool holdsSecret(std::string name);

struct PageSpec {
    PageStyle style = PageStyle::None;
    std::int64_t size = 20;
    std::string from = "page"; ///< the variable of the address that says which page: number, offset or cursor
    std::string count = "size"; ///< the variable that says how many
    std::int64_t first = 1;     ///< Number: of the first page
    std::string next;           ///< Cursor, Next: JSONPath of what the next call needs
    std::string nextHeader;     ///< Cursor: the header that holds it, instead of a path
    std::string previous;       ///< the same for the page before; empty: one cannot go back
    std::string total;          ///< JSONPath of how many records there are; empty: not told
    bool operator==(const PageSpec&) const = default;
};

/// Where changes come from while the collection is open: Server-Sent Events that carry JSON Patch (RFC 6902).
struct StreamSpec {
    std::string address; ///< URI template; empty: there are none
    std::string records; ///< JSON Pointer under which records stand by their key, as in /sightings
    bool operator==(const StreamSpec&) const = default;
};

/// Where a collection's records come from: exactly one of made-up demo records, a list written into the
/// document, a file, or an address.
struct SourceSpec {
    bool isDemo = false;
    std::int64_t demoCount = 0;
    bool demoByNight = false;
    bool demoWatches = false;
    bool demoCompany = false;
    std::uint64_t demoSeed = 1;

    std::string list;    ///< records typed or pasted in, as text
    std::string file;    ///< relative to the document
    std::string address; ///< URI template (RFC 6570); demo:/ is the demo service

    std::vector<std::pair<std::string, std::string>> variables; ///< of the address
    std::vector<std::pair<std::string, std::string>> headers;
    SignSpec sign;
    PageSpec pages;
    StreamSpec stream;
    std::int64_t timeoutMs = 15'000;

    ReadOptions reading;
    std::vector<std::string> key;

    bool isService() const { return !address.empty(); }
    bool isPaged() const { return isService() && pages.style != PageStyle::None; }
    bool operator==(const SourceSpec&) const = default;
};

} // namespace scorrere
