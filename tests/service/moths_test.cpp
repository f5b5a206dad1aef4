// SPDX-License-Identifier: GPL-3.0-or-later
#include "service/moths.h"

#include "service/wing_pictures.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <set>
#include <sstream>

namespace scorrere::service {
namespace {

TEST(Moths, AreTheSameForTheSameSeed) {
    std::string a;
    std::string b;
    appendJson(a, makeSighting(41, 7));
    appendJson(b, makeSighting(41, 7));
    EXPECT_EQ(a, b);
    std::string c;
    appendJson(c, makeSighting(41, 8));
    EXPECT_NE(a, c);
}

TEST(Moths, FilesAndTablesHoldTheSame) {
    for (const DataForm form : {DataForm::Json, DataForm::Ndjson}) {
        std::stringstream file;
        ASSERT_TRUE(writeSightings(file, 300, 1, form));
        const auto reading = readRecordsText(file.str(), "moths", {});
        ASSERT_TRUE(reading) << reading.error().text();
        const RecordTable* read = &reading->records;
        const auto made = makeSightings(300, 1);
        ASSERT_EQ(read->size(), made->size());
        for (const Field& field : made->fields()) {
            for (std::int64_t i = 0; i < made->size(); ++i) {
                EXPECT_EQ(read->display(i, *read->find(field.name)),
                          made->display(i, *made->find(field.name)));
            }
        }
    }
}

TEST(Moths, AreWhatTheScenarioSays) {
    const auto table = makeSightings(5000, 1);
    int undated = 0;
    int without = 0;
    std::size_t longest = 0;
    std::set<std::string> statuses;
    for (std::int64_t i = 0; i < 5000; ++i) {
        const Sighting s = makeSighting(i, 1);
        undated += s.seen.empty() ? 1 : 0;
        without += s.picture.empty() ? 1 : 0;
        statuses.insert(s.status);
        std::size_t characters = 0;
        for (const char c : s.note) {
            characters += (static_cast<unsigned char>(c) & 0xc0u) != 0x80u ? 1 : 0;
        }
        longest = std::max(longest, characters);
    }
    EXPECT_GT(undated, 100);
    EXPECT_GT(without, 300);
    EXPECT_EQ(statuses.size(), 3u);
    EXPECT_LE(longest, 600u);
    EXPECT_GT(longest, 300u);
    EXPECT_EQ(table->field(*table->find("seen")).type, FieldType::Time);
    EXPECT_EQ(table->field(*table->find("temperature_c")).type, FieldType::Real);
}

TEST(Moths, NoneAndCancelledAreFine) {
    EXPECT_EQ(makeSightings(0, 1)->size(), 0);
    std::stop_source source;
    source.request_stop();
    EXPECT_EQ(makeSightings(10, 1, source.get_token()).error().code, ErrorCode::Cancelled);
}

TEST(WingPictures, AreSymmetricalInSeveralSizesAndShapes) {
    const WingPictures wings;
    const auto image = wings.load(QStringLiteral("wings/17-s11.png"), {}, {});
    ASSERT_TRUE(image);
    EXPECT_EQ(image->natural, QSize(96, 96));
    const QImage mirrored = image->image.mirrored(true, false);
    int apart = 0;
    for (int y = 0; y < 96; ++y) {
        for (int x = 0; x < 96; ++x) {
            apart += std::abs(qGray(image->image.pixel(x, y)) - qGray(mirrored.pixel(x, y))) > 40 ? 1 : 0;
        }
    }
    EXPECT_LT(apart, 96 * 96 / 50);
    EXPECT_EQ(wings.load(QStringLiteral("wings/17-l34.png"), {}, {})->natural, QSize(288, 384));
    EXPECT_EQ(wings.load(QStringLiteral("wings/40-s11.png"), {}, {}).error().code, ErrorCode::NotFound)
        << "lost";
    EXPECT_FALSE(wings.load(QStringLiteral("wings/17.png"), {}, {}));
    EXPECT_FALSE(wings.load(QStringLiteral("/etc/passwd"), {}, {}));
}

} // namespace
} // namespace scorrere::service
