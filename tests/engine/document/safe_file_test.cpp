// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/document/safe_file.h"

#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <gtest/gtest.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

namespace scorrere {
namespace {

namespace fs = std::filesystem;

class SafeFile : public ::testing::Test {
protected:
    SafeFile() {
        std::string pattern = (fs::temp_directory_path() / "safe-XXXXXX").string();
        folder = ::mkdtemp(pattern.data());
    }
    ~SafeFile() override { fs::remove_all(folder); }
    std::string at(const char* name) const { return (folder / name).string(); }
    static void put(const std::string& path, const std::string& text) {
        std::ofstream(path, std::ios::binary) << text;
    }
    static std::string textOf(const std::string& path) {
        std::ifstream in(path, std::ios::binary);
        return {std::istreambuf_iterator<char>(in), {}};
    }
    static mode_t modeOf(const std::string& path) {
        struct stat found {};
        EXPECT_EQ(::stat(path.c_str(), &found), 0);
        return found.st_mode & 07777;
    }
    std::size_t files() const {
        return static_cast<std::size_t>(
            std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
    }
    fs::path folder;
};

TEST_F(SafeFile, IsWrittenWholeAndLeavesNothingBeside) {
    ASSERT_TRUE(writeFileSafely(at("a"), "one"));
    ASSERT_TRUE(writeFileSafely(at("a"), "two"));
    EXPECT_EQ(textOf(at("a")), "two");
    EXPECT_EQ(files(), 1U);
}

TEST_F(SafeFile, ASymbolicLinkStaysOneAndItsTargetIsWritten) {
    put(at("target"), "old");
    fs::create_symlink("target", at("link"));
    fs::create_symlink("link", at("chain"));
    ASSERT_TRUE(writeFileSafely(at("chain"), "new"));
    EXPECT_TRUE(fs::is_symlink(at("chain")));
    EXPECT_TRUE(fs::is_symlink(at("link")));
    EXPECT_EQ(textOf(at("target")), "new");
}

TEST_F(SafeFile, PermissionsStay) {
    put(at("private"), "x");
    ASSERT_EQ(::chmod(at("private").c_str(), 0600), 0);
    ASSERT_TRUE(writeFileSafely(at("private"), "y"));
    EXPECT_EQ(modeOf(at("private")), 0600U);
    put(at("shared"), "x");
    ASSERT_EQ(::chmod(at("shared").c_str(), 0664), 0);
    ASSERT_TRUE(writeFileSafely(at("shared"), "y"));
    EXPECT_EQ(modeOf(at("shared")), 0664U);
}

TEST_F(SafeFile, WhatIsReadOnlyStaysAsItIs) {
    put(at("kept"), "x");
    ASSERT_EQ(::chmod(at("kept").c_str(), 0444), 0);
    const Outcome written = writeFileSafely(at("kept"), "y");
    ASSERT_FALSE(written);
    EXPECT_EQ(written.error().code, ErrorCode::Unwritable);
    EXPECT_EQ(textOf(at("kept")), "x");
}

TEST_F(SafeFile, FilesOfOthersBesideItAreLeftAlone) {
    put(at("a.part"), "theirs");
    put(at("victim"), "theirs");
    fs::create_symlink("victim", at("b.part"));
    ASSERT_TRUE(writeFileSafely(at("a"), "x"));
    ASSERT_TRUE(writeFileSafely(at("b"), "x"));
    EXPECT_EQ(textOf(at("a.part")), "theirs");
    EXPECT_EQ(textOf(at("victim")), "theirs");
}

TEST_F(SafeFile, WhatAnotherProgramWroteIsNotOverwrittenUnasked) {
    put(at("a"), "mine");
    const FileMark mark = FileMark::of("mine");
    put(at("a"), "theirs");
    const Outcome written = writeFileSafely(at("a"), "mine again", mark);
    ASSERT_FALSE(written);
    EXPECT_EQ(written.error().code, ErrorCode::Changed);
    EXPECT_EQ(textOf(at("a")), "theirs");
    EXPECT_TRUE(writeFileSafely(at("a"), "mine again")) << "unless that is what is wanted";
}

TEST_F(SafeFile, WhatAProgramThatIsGoneLeftIsTakenAway) {
    const pid_t gone = ::fork();
    if (gone == 0) {
        ::_exit(0);
    }
    int status = 0;
    ASSERT_EQ(::waitpid(gone, &status, 0), gone);
    put(at((".a.scorrere-" + std::to_string(gone) + "-1").c_str()), "torn");
    put(at((".a.scorrere-" + std::to_string(::getpid()) + "-999").c_str()), "of one that lives");
    ASSERT_TRUE(writeFileSafely(at("a"), "x"));
    EXPECT_EQ(files(), 2U);
}

TEST_F(SafeFile, AFolderThatIsNoneIsTold) {
    const Outcome written = writeFileSafely("/nowhere/at/all", "x");
    ASSERT_FALSE(written);
    EXPECT_EQ(written.error().code, ErrorCode::Unwritable);
    EXPECT_EQ(written.error().place.file, "/nowhere/at/all");
}

} // namespace
} // namespace scorrere
