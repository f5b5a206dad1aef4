// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/picture_source.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <zlib.h>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;

QByteArray svg(const QByteArray& inside) {
    return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"10\" height=\"10\">" + inside + "</svg>";
}

QByteArray packed(const QByteArray& bytes) {
    z_stream stream{};
    EXPECT_EQ(deflateInit2(&stream, 9, Z_DEFLATED, 16 + MAX_WBITS, 8, Z_DEFAULT_STRATEGY), Z_OK);
    QByteArray out(static_cast<qsizetype>(deflateBound(&stream, static_cast<uLong>(bytes.size()))) + 64,
                   '\0');
    stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(bytes.constData()));
    stream.avail_in = static_cast<uInt>(bytes.size());
    stream.next_out = reinterpret_cast<Bytef*>(out.data());
    stream.avail_out = static_cast<uInt>(out.size());
    EXPECT_EQ(deflate(&stream, Z_FINISH), Z_STREAM_END);
    out.resize(static_cast<qsizetype>(stream.total_out));
    deflateEnd(&stream);
    return out;
}

Result<Picture> decoded(const QByteArray& bytes) {
    return decodePicture(bytes, QStringLiteral("p.svg"), {10, 10});
}

TEST(Svg, NestsNoDeeperThanAStackHolds) {
    QByteArray deep;
    for (int i = 0; i < 60'000; ++i) {
        deep += "<g>";
    }
    for (int i = 0; i < 60'000; ++i) {
        deep += "</g>";
    }
    const auto picture = decoded(svg(deep));
    ASSERT_FALSE(picture);
    EXPECT_THAT(picture.error().message, HasSubstr("nests"));
}

TEST(Svg, WhatUsesItselfHasAnEnd) {
    QByteArray doubling = "<defs><g id=\"a0\"><rect width=\"1\" height=\"1\"/></g>";
    for (int i = 1; i < 40; ++i) {
        const QByteArray use = "<use href=\"#a" + QByteArray::number(i - 1) + "\"/>";
        doubling += "<g id=\"a" + QByteArray::number(i) + "\">" + use + use + "</g>";
    }
    const auto bomb = decoded(svg(doubling + "</defs><use href=\"#a39\"/>"));
    ASSERT_FALSE(bomb);
    EXPECT_THAT(bomb.error().message, HasSubstr("again and again"));
    EXPECT_FALSE(decoded(svg("<g id=\"a\"><use href=\"#b\"/></g><g id=\"b\"><use href=\"#a\"/></g>")));
    EXPECT_TRUE(decoded(svg("<g id=\"a\"><rect width=\"5\" height=\"5\"/></g><use href=\"#a\"/>")));
}

TEST(Svg, PackedItIsLookedAtAllTheSame) {
    EXPECT_TRUE(decoded(packed(svg("<rect width=\"5\" height=\"5\"/>"))));
    const QByteArray outside = svg("<image href=\"file:///etc/passwd\" width=\"5\" height=\"5\"/>");
    for (const QByteArray& bytes : {outside, packed(outside)}) {
        const auto picture = decoded(bytes);
        ASSERT_FALSE(picture);
        EXPECT_THAT(picture.error().message, HasSubstr("outside itself (file:///etc/passwd)"));
    }
}

TEST(Svg, WhatIsPackedHasAnEnd) {
    EXPECT_FALSE(decoded(packed(svg(QByteArray(40 << 20, ' '))))) << "some KiB that unpack to 40 MiB";
    QByteArray cut = packed(svg("<rect/>"));
    cut.chop(10);
    EXPECT_THAT(decoded(cut).error().message, HasSubstr("damaged"));
}

TEST(Svg, StylesAskForNothingOutsideEither) {
    EXPECT_FALSE(decoded(svg("<style>.a { fill: url(http://example.org/x) }</style>")));
    EXPECT_FALSE(decoded(svg("<style><![CDATA[ @import 'x.css'; ]]></style>")));
    EXPECT_TRUE(decoded(svg("<style>.a { fill: url(#b) }</style><rect width=\"5\" height=\"5\"/>")));
}

} // namespace
} // namespace scorrere::render
