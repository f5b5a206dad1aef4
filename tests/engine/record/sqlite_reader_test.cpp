// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/engine/read_text.h"

#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <sqlite3.h>

namespace scorrere {
namespace {

class SqliteReader : public ::testing::Test {
protected:
    void SetUp() override {
        path_ = (std::filesystem::temp_directory_path() /
                 ("scorrere-" + std::to_string(::getpid()) + "-" +
                  ::testing::UnitTest::GetInstance()->current_test_info()->name() + ".db"))
                    .string();
        std::filesystem::remove(path_);
        ASSERT_EQ(sqlite3_open(path_.c_str(), &db_), SQLITE_OK);
        run("CREATE TABLE sightings(id INTEGER, species TEXT, t REAL, picture BLOB)");
        run("CREATE TABLE \"odd \"\" name\"(x)");
        run("INSERT INTO sightings VALUES(1,'Pale lantern',1.5,x'0102'),(2,NULL,'cold',NULL)");
    }
    void TearDown() override {
        sqlite3_close(db_);
        std::filesystem::remove(path_);
    }
    void run(const char* sql) {
        ASSERT_EQ(sqlite3_exec(db_, sql, nullptr, nullptr, nullptr), SQLITE_OK) << sql;
    }
    Result<Reading> read(const std::string& table = {}, const std::string& query = {}) {
        ReadOptions options;
        options.table = table;
        options.query = query;
        return readRecordsFile(path_, options);
    }
    std::string path_;
    sqlite3* db_ = nullptr;
};

TEST_F(SqliteReader, ReadsTheFirstTableWithItsTypes) {
    const auto reading = read();
    ASSERT_TRUE(reading) << reading.error().text();
    EXPECT_EQ(reading->used.table, "sightings");
    ASSERT_EQ(reading->records.size(), 2);
    EXPECT_EQ(shown(reading->records, 0, "species"), "Pale lantern");
    EXPECT_EQ(shown(reading->records, 0, "picture"), "(blob, 2 bytes)");
    EXPECT_EQ(shown(reading->records, 1, "species"), "-");
    EXPECT_EQ(typeOf(reading->records, "id"), FieldType::Integer);
    EXPECT_EQ(typeOf(reading->records, "t"), FieldType::Text);
    ASSERT_EQ(reading->widenings.size(), 1U);
    EXPECT_EQ(reading->widenings[0].field, "t");
    EXPECT_THAT(*sqliteTables(path_), ::testing::ElementsAre("sightings", "odd \" name"));
    EXPECT_TRUE(read("odd \" name"));
}

TEST_F(SqliteReader, RunsOneQueryThatReads) {
    const auto reading = read({}, "SELECT id * 2 AS twice FROM sightings WHERE id > 1");
    ASSERT_TRUE(reading) << reading.error().text();
    ASSERT_EQ(reading->records.size(), 1);
    EXPECT_EQ(shown(reading->records, 0, "twice"), "4");
    EXPECT_THAT(read({}, "DELETE FROM sightings").error().text(), ::testing::HasSubstr("change"));
    EXPECT_THAT(read({}, "SELECT 1; SELECT 2").error().text(), ::testing::HasSubstr("more than one"));
    EXPECT_THAT(read({}, "SELEC").error().text(), ::testing::HasSubstr("syntax error"));
    EXPECT_THAT(read({}, " ").error().text(), ::testing::HasSubstr("empty"));
    EXPECT_THAT(read("moths").error().text(), ::testing::HasSubstr("moths"));
    EXPECT_EQ(shown(read()->records, 1, "id"), "2") << "nothing was changed";
}

TEST_F(SqliteReader, ALockedDatabaseIsSaidToBe) {
    run("BEGIN EXCLUSIVE");
    const auto reading = read();
    ASSERT_FALSE(reading);
    EXPECT_THAT(reading.error().text(), ::testing::HasSubstr("locked"));
    run("ROLLBACK");
}

TEST_F(SqliteReader, ADamagedDatabaseIsSaidToBe) {
    for (int i = 0; i < 12; ++i) {
        run("INSERT INTO sightings SELECT id, species || hex(randomblob(40)), t, picture FROM sightings");
    }
    run("PRAGMA wal_checkpoint");
    sqlite3_close(db_);
    db_ = nullptr;
    {
        std::fstream file(path_, std::ios::in | std::ios::out | std::ios::binary);
        file.seekp(8192);
        const std::string junk(40'000, '\x5a');
        file.write(junk.data(), static_cast<std::streamsize>(junk.size()));
    }
    const auto reading = read();
    const bool told = reading ? !reading->findings.empty() : true;
    ASSERT_TRUE(told) << "damage must not pass unseen";
    EXPECT_THAT(reading ? reading->findings[0].message : reading.error().text(),
                ::testing::HasSubstr("damaged"));
}

TEST_F(SqliteReader, AFileThatOnlyBeginsLikeOneIsSaidToBeNone) {
    std::ofstream(path_, std::ios::binary | std::ios::trunc)
        << std::string("SQLite format 3\0", 16) << std::string(200, 'x');
    EXPECT_THAT(read().error().text(), ::testing::HasSubstr("not an SQLite database"));
}

TEST_F(SqliteReader, StopsWhenAsked) {
    std::stop_source stop;
    stop.request_stop();
    const auto reading = readRecordsFile(path_, {}, stop.get_token());
    ASSERT_FALSE(reading);
    EXPECT_EQ(reading.error().code, ErrorCode::Cancelled);
}

} // namespace
} // namespace scorrere
