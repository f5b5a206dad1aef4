// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <string>

namespace scorrere::service {

/// The demo collection file's text, with `count` made-up sightings as its source.
std::string demoDocument(std::int64_t count, std::uint64_t seed = 1);
/// Other collections of the same sightings, each in another arrangement.
enum class DemoForm : std::uint8_t { Cards, Board, Strip, Pager, Nights, Timetable, Ledger, Company, Hands };
std::string demoDocument(DemoForm form);
/// The same collection over the demo service, in pages.
std::string demoServiceDocument();
/// The demo script's text: drags, flings, jumps, a turn and edits over a collection of any size.
std::string demoScript();

} // namespace scorrere::service
