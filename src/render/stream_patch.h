// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/source_spec.h"
#include "engine/page/page_records.h"

#include <string>
#include <vector>

namespace scorrere::render {

/// What one event says of one record.
struct StreamChange {
    enum class Kind : std::uint8_t {
        Put,   ///< `json` is the whole record
        Patch, ///< `json` is a JSON Patch (RFC 6902) for the record it has now
        Remove,
    };
    Kind kind = Kind::Put;
    std::string key;
    std::string json;
    PageRecord base; ///< Patch: the record as it is here; filled in by who has it
};

/// A change ready to be shown.
struct StreamResult {
    bool isRemoval = false;
    bool isPut = false;
    std::string key;
    PageRecord record;
};

/// Takes a JSON Patch for a document whose records stand by key under `records` (a JSON Pointer) apart into
/// what it says of each record. Errors: Syntax, Invalid for what is no patch of records.
Result<std::vector<StreamChange>> streamChanges(const std::string& patch, const std::string& records);

/// Makes the changed records. Changes that do not fit their record are passed over and counted in `refused`.
/// Blocks: for workers.
std::vector<StreamResult> madeStreamed(const std::vector<StreamChange>& changes, const SourceSpec& source,
                                       const std::vector<Field>& fields, int& refused);

} // namespace scorrere::render
