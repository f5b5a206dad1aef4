// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/opener.h"

#include "render/frame_driver.h"
#include "render/live_collection.h"
#include "service/wing_pictures.h"

#include <QTemporaryDir>
#include <QTest>
#include <fstream>
#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

struct OpenerTest : ::testing::Test {
    QTemporaryDir folder;
    std::string write(const char* name, const std::string& text) {
        const std::string path = folder.filePath(QString::fromLatin1(name)).toStdString();
        std::ofstream(path, std::ios::binary) << text;
        return path;
    }
    /// The titles its first items show.
    std::vector<std::string> titles(const Opened& opened) {
        auto live = render::LiveCollection::create(opened.document, opened.records,
                                                   std::make_shared<service::WingPictures>(),
                                                   render::Estimating::Never);
        EXPECT_TRUE(live) << live.error().text();
        (*live)->setWindow(392, 780);
        (*live)->frame(0);
        std::vector<std::string> found;
        for (const Placement& p : (*live)->run().placements()) {
            found.push_back((*live)->view(p.view).title().toStdString());
        }
        return found;
    }
};

TEST_F(OpenerTest, RecordsAloneGetADesignFromTheirFields) {
    const auto opened = openCollection(
        write("a.ndjson", "{\"id\":7,\"name\":\"Wren\",\"seen\":\"2024-05-01\",\"note\":\"small\"}\n"), {},
        {}, {});
    ASSERT_TRUE(opened) << opened.error().text();
    EXPECT_TRUE(opened->document.path.empty()) << "nothing was written: saving must ask where to";
    EXPECT_EQ(titles(*opened), std::vector<std::string>{"Wren"});
}

TEST_F(OpenerTest, FieldsWithAwkwardNamesDoNotBreakTheDesign) {
    const auto opened = openCollection(
        write(
            "b.json",
            R"([{"first name":"A","{x}":"B","it's":"C","0":"D","a\"b":"E","#":"F","ok":"G","list":[1],"":"H"}])"),
        {}, {}, {});
    ASSERT_TRUE(opened) << opened.error().text();
    EXPECT_EQ(titles(*opened), std::vector<std::string>{"G"});
    const auto none = openCollection(write("n.json", R"([{"a-b":1}])"), {}, {}, {});
    ASSERT_TRUE(none) << none.error().text();
    EXPECT_EQ(titles(*none), std::vector<std::string>{"No field of this record can stand in a text"});
}

TEST_F(OpenerTest, TextsAloneAreACollectionToo) {
    const auto opened = openCollection(write("c.json", R"(["one","two","three"])"), {}, {}, {});
    ASSERT_TRUE(opened) << opened.error().text();
    EXPECT_EQ(titles(*opened), (std::vector<std::string>{"one", "two", "three"}));
}

TEST_F(OpenerTest, ACollectionFileThatIsBrokenIsNotTakenForRecords) {
    const auto opened = openCollection(write("d.collection.json", "{\"scorrere\":2}"), {}, {}, {});
    ASSERT_FALSE(opened);
    EXPECT_EQ(opened.error().code, ErrorCode::Version);
}

TEST_F(OpenerTest, TellsHowFarItIs) {
    std::int64_t told = 0;
    const auto opened = openDemo(50'000, {}, [&](const ReadProgress& progress) {
        told = progress.records;
        EXPECT_EQ(progress.totalBytes, 50'000);
    });
    ASSERT_TRUE(opened);
    EXPECT_EQ(told, 40'000);
}

TEST(FrameDriver, ByHandItStartsAtNoughtAndMovesOnlyWhenTold) {
    render::FrameDriver driver;
    driver.setVirtual(true);
    std::vector<std::int64_t> due;
    QObject::connect(&driver, &render::FrameDriver::frameDue, &driver,
                     [&](std::int64_t us) { due.push_back(us); });
    driver.advance(100);
    driver.want();
    driver.advance(50);
    QCoreApplication::processEvents();
    EXPECT_EQ(due, (std::vector<std::int64_t>{100, 150}));
    EXPECT_EQ(driver.nowUs(), 150);
}

TEST(FrameDriver, PausedItStepsByOneFrame) {
    render::FrameDriver driver;
    driver.setFramePeriodUs(8333);
    driver.setPaused(true);
    const std::int64_t before = driver.nowUs();
    driver.step();
    EXPECT_EQ(driver.nowUs(), before + 8333);
    driver.setPaused(false);
    driver.setSlowness(8);
    EXPECT_GE(driver.nowUs(), before + 8333) << "time never goes back";
}

} // namespace
} // namespace scorrere::workbench
