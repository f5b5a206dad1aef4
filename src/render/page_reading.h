// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/source_spec.h"
#include "engine/page/page_records.h"
#include "render/http_call.h"

#include <stop_token>

namespace scorrere::render {

/// Reads one page out of an answer: its records in the fields of the collection, their keys, where the next
/// page is, and how many there are. `page`: its number, for records without a key.
/// Blocks: for workers. Errors: as the readers; Cancelled.
Result<PageAnswer> readPage(const SourceSpec& source, const HttpAnswer& answer,
                            const std::vector<Field>& fields, std::int64_t page, std::stop_token stop);

/// Records with their keys and hashes. A record that lacks the key is known by where it stands.
std::vector<PageRecord> keyedRecords(RecordTable records, const std::vector<std::string>& key,
                                     std::int64_t page);

/// The target of the link with that relation (RFC 8288), resolved; empty: there is none.
std::string linkTarget(const HttpAnswer& answer, const std::string& relation);

/// A Retry-After header's wait in ms, given in seconds or as a date; 0: none, or none that makes sense.
std::int64_t retryAfterMs(const HttpAnswer& answer, std::int64_t nowMs);

} // namespace scorrere::render
