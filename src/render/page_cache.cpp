// SPDX-License-Identifier: Apache-2.0
//
// One row an answer, each written in a transaction of its own into a write-ahead log: what is cut off in the
// middle is that one answer, and the rest opens as it was.
#include "render/page_cache.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sqlite3.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace scorrere::render {

namespace {

constexpr std::int64_t kVersion = 2; ///< pages that were kept by another one are let go: they come again
constexpr const char* kSchema =
    "CREATE TABLE IF NOT EXISTS pages(address TEXT, signer TEXT, at INTEGER, status INTEGER, charset TEXT, "
    "headers TEXT, final TEXT, body BLOB, sum INTEGER, PRIMARY KEY(address, signer));"
    "CREATE INDEX IF NOT EXISTS by_age ON pages(at);"
    "PRAGMA user_version = 2;";

Error failed(const std::filesystem::path& file, const std::string& why) {
    Error error{ErrorCode::Unwritable,
                "pages cannot be kept on disk: " + why,
                "Make room on the disk, or set \"diskMiB\" to 0. The collection itself goes on.",
                {}};
    error.place.file = file.string();
    return error;
}

/// A prepared statement that is finished with its scope.
class Statement {
public:
    Statement(sqlite3* database, const char* text) {
        prepared_ = sqlite3_prepare_v2(database, text, -1, &held_, nullptr);
    }
    ~Statement() { sqlite3_finalize(held_); }
    Statement(const Statement&) = delete;
    Statement& operator=(const Statement&) = delete;
    void bind(int at, const std::string& text) {
        sqlite3_bind_text64(held_, at, text.data(), text.size(), SQLITE_TRANSIENT, SQLITE_UTF8);
    }
    void bind(int at, std::int64_t value) { sqlite3_bind_int64(held_, at, value); }
    void bindBlob(int at, const std::string& bytes) {
        sqlite3_bind_blob64(held_, at, bytes.data(), bytes.size(), SQLITE_TRANSIENT);
    }
    int step() { return held_ == nullptr ? prepared_ : sqlite3_step(held_); }
    std::int64_t whole(int at) { return sqlite3_column_int64(held_, at); }
    std::string text(int at) {
        const auto* bytes = static_cast<const char*>(sqlite3_column_blob(held_, at));
        return bytes == nullptr
                   ? std::string()
                   : std::string(bytes, static_cast<std::size_t>(sqlite3_column_bytes(held_, at)));
    }

private:
    sqlite3_stmt* held_ = nullptr;
    int prepared_ = SQLITE_OK;
};

/// Headers a line each, as they are on the wire.
std::string joined(const HttpHeaders& headers) {
    std::string text;
    for (const auto& [name, value] : headers) {
        text.append(name).append(": ").append(value).append("\n");
    }
    return text;
}

HttpHeaders split(const std::string& text) {
    HttpHeaders headers;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        const std::size_t colon = text.find(": ", at);
        if (colon < end) {
            headers.emplace_back(text.substr(at, colon - at), text.substr(colon + 2, end - colon - 2));
        }
        at = end + 1;
    }
    return headers;
}

enum class State { Sound, Damaged, Unusable };

/// Another program that has it just now, or a disk that is full, is no damage.
State stateOf(int code) {
    const int primary = code & 0xff;
    return primary == SQLITE_OK || primary == SQLITE_ROW           ? State::Sound
           : primary == SQLITE_CORRUPT || primary == SQLITE_NOTADB ? State::Damaged
                                                                   : State::Unusable;
}

State lookedAt(sqlite3* database) {
    { // what is asked is over before anything is changed
        Statement check(database, "PRAGMA quick_check(1)");
        if (const State state = stateOf(check.step()); state != State::Sound) {
            return state;
        }
        if (check.text(0) != "ok") {
            return State::Damaged;
        }
    }
    {
        Statement version(database, "PRAGMA user_version");
        if (const int code = version.step(); code != SQLITE_ROW) {
            return stateOf(code);
        }
        if (version.whole(0) == kVersion) {
            return State::Sound;
        }
    }
    sqlite3_exec(database, "DROP TABLE IF EXISTS pages", nullptr, nullptr, nullptr);
    return stateOf(sqlite3_exec(database, kSchema, nullptr, nullptr, nullptr));
}

/// Of programs that open the same file at once, one looks at it, and mends it, at a time.
class OpeningLock {
public:
    explicit OpeningLock(const std::filesystem::path& file)
        : fd_(::open((file.string() + ".lock").c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0600)) {
        if (fd_ >= 0) {
            (void)::flock(fd_, LOCK_EX);
        }
    }
    ~OpeningLock() {
        if (fd_ >= 0) {
            ::close(fd_);
        }
    }
    OpeningLock(const OpeningLock&) = delete;
    OpeningLock& operator=(const OpeningLock&) = delete;

private:
    int fd_;
};

/// Bytes of a disk do not always stay as they were written.
std::int64_t sumOf(const std::string& address, const HttpAnswer& answer) {
    std::uint64_t hash = 14695981039346656037ull; // FNV-1a
    for (const std::string& part : {address, answer.address, joined(answer.headers), answer.body}) {
        for (const char c : part) {
            hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ull;
        }
        hash = (hash ^ 0xff) * 1099511628211ull;
    }
    return static_cast<std::int64_t>(hash);
}

sqlite3* opened(const std::filesystem::path& file) {
    sqlite3* database = nullptr;
    // What was read may be private; the library gives its other files the permissions of this one.
    if (const int fd = ::open(file.c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0600); fd >= 0) {
        (void)::fchmod(fd, 0600);
        ::close(fd);
    }
    if (sqlite3_open_v2(file.c_str(), &database, SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE, nullptr) !=
        SQLITE_OK) {
        sqlite3_close(database);
        return nullptr;
    }
    sqlite3_busy_timeout(database, 5000);
    sqlite3_exec(database,
                 "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA auto_vacuum=INCREMENTAL;",
                 nullptr, nullptr, nullptr);
    return database;
}

} // namespace

Result<std::unique_ptr<PageCache>> PageCache::open(const std::filesystem::path& file, const Limits& limits,
                                                   std::int64_t nowS) {
    std::error_code ignored;
    std::filesystem::create_directories(file.parent_path(), ignored);
    const OpeningLock lock(file);
    sqlite3* database = opened(file);
    State state = database == nullptr ? State::Unusable : lookedAt(database);
    if (state == State::Damaged) {
        sqlite3_close(database);
        for (const char* more : {"", "-wal", "-shm"}) {
            std::filesystem::rename(file.string() + more, file.string() + ".damaged" + more, ignored);
        }
        database = opened(file);
        state = database == nullptr ? State::Unusable : lookedAt(database);
    }
    if (state != State::Sound) {
        const std::string why = database == nullptr ? "the file cannot be opened" : sqlite3_errmsg(database);
        sqlite3_close(database);
        return failed(file, why);
    }
    std::unique_ptr<PageCache> cache(new PageCache(database, limits));
    Statement old(database, "DELETE FROM pages WHERE at < ?");
    old.bind(1, nowS - limits.seconds);
    old.step();
    if (Outcome trimmed = cache->trim(0); !trimmed) {
        return std::move(trimmed.error());
    }
    return cache;
}

PageCache::~PageCache() {
    sqlite3_close(database_);
}

std::optional<HttpAnswer> PageCache::find(const std::string& address, const std::string& signer) {
    Statement query(
        database_,
        "SELECT status, charset, headers, final, body, sum FROM pages WHERE address = ? AND signer = ?");
    query.bind(1, address);
    query.bind(2, signer);
    if (query.step() != SQLITE_ROW) {
        return std::nullopt;
    }
    HttpAnswer answer;
    answer.status = static_cast<int>(query.whole(0));
    answer.charset = query.text(1);
    answer.headers = split(query.text(2));
    answer.address = query.text(3);
    answer.body = query.text(4);
    if (query.whole(5) != sumOf(address, answer)) {
        return std::nullopt; // altered since: the service will tell, and that is kept instead
    }
    return answer;
}

Outcome PageCache::keep(const std::string& address, const std::string& signer, const HttpAnswer& answer,
                        std::int64_t nowS) {
    const auto size = static_cast<std::int64_t>(answer.body.size());
    if (size > limits_.bytes) {
        return done(); // it would push everything else out
    }
    if (Outcome trimmed = trim(size); !trimmed) {
        return trimmed;
    }
    Statement insert(database_, "INSERT OR REPLACE INTO pages VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?)");
    insert.bind(1, address);
    insert.bind(2, signer);
    insert.bind(3, nowS);
    insert.bind(4, answer.status);
    insert.bind(5, answer.charset);
    insert.bind(6, joined(answer.headers));
    insert.bind(7, answer.address);
    insert.bindBlob(8, answer.body);
    insert.bind(9, sumOf(address, answer));
    if (insert.step() != SQLITE_DONE) {
        return failed(sqlite3_db_filename(database_, nullptr), sqlite3_errmsg(database_));
    }
    return done();
}

/// The oldest go until so many bytes more have room.
Outcome PageCache::trim(std::int64_t room) {
    // Counted anew only when it seems too much: what is replaced makes the count too high.
    while ((bytes_ < 0 ? bytes_ = bytes() : bytes_) + room > limits_.bytes) {
        if (sqlite3_exec(database_,
                         "DELETE FROM pages WHERE at <= (SELECT at FROM pages ORDER BY at LIMIT 1 OFFSET "
                         "(SELECT count(*) / 10 FROM pages)); PRAGMA incremental_vacuum;",
                         nullptr, nullptr, nullptr) != SQLITE_OK) {
            return failed(sqlite3_db_filename(database_, nullptr), sqlite3_errmsg(database_));
        }
        bytes_ = bytes();
        if (bytes_ == 0) {
            break;
        }
    }
    bytes_ += room;
    return done();
}

std::int64_t PageCache::ask(const char* query) const {
    Statement asked(database_, query);
    return asked.step() == SQLITE_ROW ? asked.whole(0) : 0;
}

std::int64_t PageCache::bytes() const {
    return ask("SELECT total(length(body)) FROM pages");
}

std::int64_t PageCache::pages() const {
    return ask("SELECT count(*) FROM pages");
}

void PageCache::limitFile(int filePages) {
    sqlite3_exec(database_, fmt::format("PRAGMA max_page_count = {}", filePages).c_str(), nullptr, nullptr,
                 nullptr);
}

} // namespace scorrere::render
