// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/page_cache.h"

#include <QTemporaryDir>
#include <array>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <gmock/gmock.h>
#include <sqlite3.h>
#include <thread>
#include <vector>

namespace scorrere::render {
namespace {

namespace fs = std::filesystem;

class PageCacheTest : public ::testing::Test {
protected:
    std::unique_ptr<PageCache> open(PageCache::Limits limits = {}, std::int64_t nowS = 1000) {
        auto cache = PageCache::open(file, limits, nowS);
        EXPECT_TRUE(cache) << cache.error().text();
        return cache ? std::move(*cache) : nullptr;
    }
    static HttpAnswer answer(const std::string& body) {
        HttpAnswer made;
        made.status = 200;
        made.address = "http://there/final";
        made.headers = {{"ETag", "\"1\""}, {"Content-Type", "application/json"}};
        made.charset = "utf-8";
        made.body = body;
        return made;
    }
    static std::string address(int page) { return fmt::format("http://there/?page={}", page); }

    QTemporaryDir folder;
    fs::path file = fs::path(folder.path().toStdString()) / "sub" / "pages.sqlite";
};

TEST_F(PageCacheTest, KeepsAnAnswerWholeFromRunToRun) {
    const std::string body("a\0b", 3);
    ASSERT_TRUE(open()->keep(address(1), "me", answer(body), 1000));
    const auto cache = open();
    const auto kept = cache->find(address(1), "me");
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->body, body);
    EXPECT_EQ(kept->header("etag"), "\"1\"");
    EXPECT_EQ(kept->address, "http://there/final");
    EXPECT_EQ(kept->charset, "utf-8");
    EXPECT_FALSE(cache->find(address(1), "somebody else")); // what one may see is not another's
    EXPECT_FALSE(cache->find(address(2), "me"));
    EXPECT_EQ(fs::status(file).permissions() & (fs::perms::group_all | fs::perms::others_all),
              fs::perms::none);
}

TEST_F(PageCacheTest, TheOldestMakeRoomAndTheTooOldGo) {
    {
        const auto cache = open({.bytes = 10'000, .seconds = 500});
        for (int page = 0; page < 30; ++page) {
            ASSERT_TRUE(cache->keep(address(page), "", answer(std::string(1000, 'x')), 1000 + page));
        }
        EXPECT_LE(cache->bytes(), 10'000);
        EXPECT_TRUE(cache->find(address(29), ""));
        EXPECT_FALSE(cache->find(address(0), ""));
        ASSERT_TRUE(cache->keep(address(99), "", answer(std::string(20'000, 'x')), 1040)); // larger than all
        EXPECT_FALSE(cache->find(address(99), ""));
        EXPECT_TRUE(cache->find(address(29), ""));
    }
    EXPECT_EQ(open({.bytes = 10'000, .seconds = 500}, 1525)->pages(), 5); // those from 1025 on
}

TEST_F(PageCacheTest, CutOffInTheMiddleItLosesTheLastPageOnly) {
    const fs::path copy = fs::path(folder.path().toStdString()) / "cut.sqlite";
    {
        const auto cache = open();
        for (int page = 0; page < 5; ++page) {
            ASSERT_TRUE(cache->keep(address(page), "", answer(std::string(3000, 'a')), 1000));
        }
        const auto whole = fs::file_size(file.string() + "-wal");
        ASSERT_TRUE(cache->keep(address(5), "", answer(std::string(3000, 'b')), 1000));
        // As the files are on the disk when the machine stops while the last page is being written.
        fs::copy_file(file, copy);
        fs::copy_file(file.string() + "-wal", copy.string() + "-wal");
        const auto after = fs::file_size(copy.string() + "-wal");
        ASSERT_GT(after, whole);
        fs::resize_file(copy.string() + "-wal", whole + (after - whole) / 2);
    }
    file = copy;
    const auto cache = open();
    EXPECT_EQ(cache->pages(), 5);
    EXPECT_EQ(cache->find(address(4), "")->body, std::string(3000, 'a'));
    EXPECT_FALSE(cache->find(address(5), ""));
}

TEST_F(PageCacheTest, ADamagedFileIsPutAsideAndBegunAnew) {
    fs::create_directories(file.parent_path());
    std::ofstream(file, std::ios::binary)
        << "this is no database at all, but it is long enough to look at" << std::string(5000, 'z');
    const auto cache = open();
    EXPECT_EQ(cache->pages(), 0);
    EXPECT_TRUE(cache->keep(address(1), "", answer("x"), 1000));
    EXPECT_TRUE(fs::exists(file.string() + ".damaged"));
}

TEST_F(PageCacheTest, AFullDiskIsAnErrorThatSaysWhatToDo) {
    const auto cache = open();
    ASSERT_TRUE(cache->keep(address(1), "", answer("x"), 1000));
    cache->limitFile(8);
    const Outcome full = cache->keep(address(2), "", answer(std::string(200'000, 'x')), 1000);
    ASSERT_FALSE(full);
    EXPECT_EQ(full.error().code, ErrorCode::Unwritable);
    EXPECT_THAT(full.error().text(), ::testing::HasSubstr("Make room on the disk"));
    EXPECT_TRUE(cache->find(address(1), "")); // what was there is there
}

TEST_F(PageCacheTest, WhereNothingCanBeWrittenItSaysSo) {
    file = "/proc/nowhere/pages.sqlite";
    const auto cache = PageCache::open(file, {}, 0);
    ASSERT_FALSE(cache);
    EXPECT_EQ(cache.error().code, ErrorCode::Unwritable);
}

TEST_F(PageCacheTest, NobodyElseReadsItNorWhatIsBesideIt) {
    const auto cache = open();
    ASSERT_TRUE(cache->keep(address(1), "", answer("x"), 1000));
    int files = 0;
    for (const auto& entry : fs::directory_iterator(file.parent_path())) {
        EXPECT_EQ(entry.status().permissions() & (fs::perms::group_all | fs::perms::others_all),
                  fs::perms::none)
            << entry.path();
        ++files;
    }
    EXPECT_GE(files, 3) << "with its log and its index";
}

TEST_F(PageCacheTest, BytesThatWereAlteredAreNotGivenOut) {
    ASSERT_TRUE(open()->keep(address(1), "", answer("count 1"), 1000));
    sqlite3* database = nullptr;
    ASSERT_EQ(sqlite3_open(file.c_str(), &database), SQLITE_OK);
    ASSERT_EQ(sqlite3_exec(database, "UPDATE pages SET body = 'count 9'", nullptr, nullptr, nullptr),
              SQLITE_OK);
    sqlite3_close(database);
    const auto cache = open();
    EXPECT_FALSE(cache->find(address(1), ""));
    ASSERT_TRUE(cache->keep(address(1), "", answer("count 2"), 1000));
    EXPECT_EQ(cache->find(address(1), "")->body, "count 2");
}

TEST_F(PageCacheTest, ProgramsThatOpenItAtOnceDoNotTakeItForDamaged) {
    ASSERT_TRUE(open()->keep(address(1), "", answer("x"), 1000));
    for (int round = 0; round < 60; ++round) {
        std::array<std::string, 3> wrong;
        std::vector<std::jthread> programs;
        for (std::string& one : wrong) {
            programs.emplace_back([this, &one] {
                auto cache = PageCache::open(file, {}, 1000);
                const Outcome kept =
                    cache ? (*cache)->keep(address(2), "", answer("y"), 1000) : Outcome(cache.error());
                one = !kept                             ? kept.error().text()
                      : !(*cache)->find(address(1), "") ? std::string("what was kept is gone")
                                                        : std::string();
            });
        }
        programs.clear();
        for (const std::string& one : wrong) {
            EXPECT_EQ(one, "") << round;
        }
    }
    EXPECT_FALSE(fs::exists(file.string() + ".damaged"));
}

TEST_F(PageCacheTest, WhatAnotherVersionKeptIsLetGo) {
    fs::create_directories(file.parent_path());
    sqlite3* database = nullptr;
    ASSERT_EQ(sqlite3_open(file.c_str(), &database), SQLITE_OK);
    ASSERT_EQ(sqlite3_exec(database,
                           "CREATE TABLE pages(address TEXT, body BLOB); INSERT INTO pages VALUES('a', 'b')",
                           nullptr, nullptr, nullptr),
              SQLITE_OK);
    sqlite3_close(database);
    const auto cache = open();
    EXPECT_EQ(cache->pages(), 0);
    EXPECT_TRUE(cache->keep(address(1), "", answer("x"), 1000));
    EXPECT_FALSE(fs::exists(file.string() + ".damaged"));
}

} // namespace
} // namespace scorrere::render
