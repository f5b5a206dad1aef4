// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace scorrere {

/// What a file held when it was last read or written here: other content means that another program wrote it.
struct FileMark {
    std::uint64_t hash = 0;
    std::uint64_t size = 0;
    bool operator==(const FileMark&) const = default;
    static FileMark of(std::string_view content);
};

/// Puts `content` in a file's place, whole or not at all, whatever happens meanwhile: it is written beside it
/// under a name nobody else has, brought to the disk and moved over. A symbolic link stays one: what it leads
/// to is written. Permissions and, where it may, the owner stay as they were.
///
/// `known`: what the file is expected to hold. Nothing: anything, or it must not be asked about.
/// Errors      Unwritable: it is read-only, or cannot be written; Changed: it holds something else than
/// `known`.
Outcome writeFileSafely(const std::string& path, std::string_view content,
                        const std::optional<FileMark>& known = std::nullopt);

} // namespace scorrere
