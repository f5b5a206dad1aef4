// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "render/http_call.h"

#include <filesystem>
#include <memory>

struct sqlite3;

namespace scorrere::render {

/// Answers kept on disk from run to run, so that a collection opens with what was last seen.
///
/// Complexity  O(log n) a page.
/// Ownership   Owns its connection. Several processes may use one file.
/// Threads     One thread at a time.
/// Errors      open, keep: Unwritable, with what to do. A file that is damaged is put aside and begun anew.
class PageCache {
public:
    struct Limits {
        std::int64_t bytes = std::int64_t{16} << 20;
        std::int64_t seconds = std::int64_t{7} * 24 * 3600;
    };
    static Result<std::unique_ptr<PageCache>> open(const std::filesystem::path& file, const Limits& limits,
                                                   std::int64_t nowS);
    ~PageCache();
    PageCache(const PageCache&) = delete;
    PageCache& operator=(const PageCache&) = delete;

    /// The answer kept for an address by one who signs as `signer`; nothing: none is.
    std::optional<HttpAnswer> find(const std::string& address, const std::string& signer);
    /// Whole answers only. The oldest make room.
    Outcome keep(const std::string& address, const std::string& signer, const HttpAnswer& answer,
                 std::int64_t nowS);
    std::int64_t bytes() const;
    std::int64_t pages() const;
    /// For tests: how many pages of the file format the file may have.
    void limitFile(int filePages);

private:
    PageCache(sqlite3* database, const Limits& limits) : database_(database), limits_(limits) {}
    std::int64_t ask(const char* query) const;
    Outcome trim(std::int64_t room);

    sqlite3* database_;
    Limits limits_;
    std::int64_t bytes_ = -1; ///< at least what bytes() would say; -1: not counted yet
};

} // namespace scorrere::render
