// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/live_collection.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/wing_pictures.h"
#include "testing/program/raw_server.h"
#include "workbench/model/hard_records.h"
#include "workbench/model/starting_points.h"

#include <QBuffer>
#include <QDir>
#include <QTemporaryDir>
#include <QTest>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace scorrere::render {
namespace {

using ::testing::HasSubstr;
using Json = nlohmann::ordered_json;

std::shared_ptr<const RecordTable> moths(std::int64_t count) {
    return std::make_shared<const RecordTable>(*service::makeSightings(count, 1));
}

CollectionDocument documentWith(const std::string& design) {
    const auto document = CollectionDocument::parse(service::demoDocument(100), "");
    auto made = document->withDesign(design);
    EXPECT_TRUE(made) << (made ? "" : made.error().text());
    return made ? *made : *document;
}

std::unique_ptr<LiveCollection> live(const CollectionDocument& document, std::int64_t count) {
    auto made = LiveCollection::create(document, moths(count), std::make_shared<service::WingPictures>(),
                                       Estimating::Never);
    EXPECT_TRUE(made) << (made ? "" : made.error().text());
    (*made)->setWindow(392, 700);
    (*made)->frame(0);
    return std::move(*made);
}

TEST(TextCache, ShapesATextOnceForEveryViewThatShowsIt) {
    const CollectionDocument document = documentWith(R"({"items": {"record": {"text": "{status}"}}})");
    auto collection = live(document, 1000);
    std::int64_t now = 0;
    for (int i = 0; i < 60; ++i) {
        collection->run().wheel(Length::px(200));
        collection->frame(now += 8333);
    }
    EXPECT_LE(collection->texts().shapedEver(), 3) << "there are three different texts";
}

TEST(TextCache, ScrollingBackShapesNothing) {
    auto collection = live(*CollectionDocument::parse(service::demoDocument(1), ""), 2000);
    std::int64_t now = 0;
    const auto go = [&](int px) {
        for (int i = 0; i < 100; ++i) {
            collection->run().wheel(Length::px(px));
            collection->frame(now += 8333);
        }
    };
    go(50);
    const std::int64_t there = collection->texts().shapedEver();
    go(-50);
    EXPECT_EQ(collection->texts().shapedEver(), there);
    EXPECT_GT(there, 50);
}

TEST(TextCache, StaysWithinItsBudget) {
    PartSpec part;
    part.type = PartType::Text;
    part.binding = "x";
    const FontSet fonts(*ItemDesign::compile(part, {}, "en"), 1);
    TextCache cache(100'000);
    for (int i = 0; i < 500; ++i) {
        (void)cache.shaped("text number " + std::to_string(i), fonts.faces[0], Length::px(200), 1);
        EXPECT_LE(cache.bytesKept(), 100'000);
    }
    const std::int64_t shaped = cache.shapedEver();
    (void)cache.shaped("text number 499", fonts.faces[0], Length::px(200), 1);
    EXPECT_EQ(cache.shapedEver(), shaped);
    (void)cache.shaped("text number 0", fonts.faces[0], Length::px(200), 1);
    EXPECT_EQ(cache.shapedEver(), shaped + 1) << "the oldest gave way";
}

TEST(LiveCollection, DrawnMarksGrowWithTheText) {
    auto collection =
        live(documentWith(R"({"items": {"record": {"scale": "rarity", "steps": 5, "size": 16}}})"), 50);
    const auto heightOf = [&](double scale) {
        collection->setTextScale(scale);
        collection->frame(8333);
        return collection->run().placements().at(0).box.extent.toPx();
    };
    const double one = heightOf(1);
    EXPECT_DOUBLE_EQ(heightOf(2), 2 * one);
    EXPECT_DOUBLE_EQ(heightOf(1), one);
}

TEST(LiveCollection, AParameterRetonesWhatShowsWithoutFillingOrBuilding) {
    auto collection = live(*CollectionDocument::parse(service::demoDocument(1), ""), 500);
    Parameters parameters = collection->document().parameters;
    ASSERT_EQ(parameters.size(), 1u);
    const auto bads = [&] {
        int count = 0;
        for (const Placement& placement : collection->run().placements()) {
            const ItemView& view = collection->view(placement.view);
            count += static_cast<int>(std::ranges::count(view.content().tones, Tone::Bad));
        }
        return count;
    };
    std::int64_t now = 0;
    while (!collection->isIdle()) { // what is beyond the edge is prepared
        collection->frame(now += 8333);
    }
    parameters[0].number = 20;
    collection->setParameters(parameters);
    const FrameRecord& frame = collection->frame(now += 8333);
    EXPECT_EQ(frame.built, 0);
    EXPECT_EQ(frame.filled, 0);
    const int many = bads();
    EXPECT_GT(many, 3);
    parameters[0].number = 80;
    collection->setParameters(parameters);
    EXPECT_LT(bads(), many);
}

TEST(ItemView, WhatAParameterHidesMovesPartsAtTheNextFill) {
    CollectionDocument document =
        documentWith(R"json({"parameters": {"least": 0}, "items": {"record": {"column": [
        {"text": "{species}"}, {"text": "more", "hide": "@.rarity < $.parameters.least"}]}}})json");
    const auto records = moths(1);
    const auto design = ItemDesign::compile(document.item, document.scope(*records));
    const FontSet fonts(*design, 1);
    TextCache texts(1 << 20);
    SteadyWatch watch;
    CostMeter meter(watch);
    ItemView view;
    view.build(*design);
    const FillContext context{*records, 0, &document.parameters, 0, nullptr, -1, 0};
    const Length both = view.fill(context, {fonts, texts, nullptr}, {Length::px(300)}, meter).height;
    document.parameters[0].number = 9;
    EXPECT_TRUE(view.retone(context));
    EXPECT_LT(view.fill(context, {fonts, texts, nullptr}, {Length::px(300)}, meter).height, both);
}

TEST(LiveCollection, KindsAreRecycledByKind) {
    auto collection = live(documentWith(R"json({"items": {"record": {"text": "{species}"}, "kinds": [
        {"name": "queried", "when": "@.status == 'queried'", "design": {"column": [{"text": "{species}"}, {"text": "?"}]}}]}})json"),
                           2000);
    std::int64_t now = 0;
    const auto status = collection->records().find("status");
    for (int i = 0; i < 200; ++i) {
        collection->run().wheel(Length::px(300));
        collection->frame(now += 8333);
        for (const Placement& placement : collection->run().placements()) {
            const Slot slot = collection->run().arrangement().slotAt(placement.position);
            const bool queried =
                slot.role == Role::Record && collection->records().text(slot.place, *status) == "queried";
            EXPECT_EQ(collection->view(placement.view).design().parts().size(), queried ? 3u : 1u);
        }
    }
    EXPECT_LT(collection->run().recycler().views().size(), 120u);
}

TEST(LiveCollection, APictureThatIsMeasuredWhenItComesMovesNothingThatIsRead) {
    auto collection = live(documentWith(R"({"items": {"record": {"column": [
        {"picture": "wings/{picture}", "aspect": "measured"}, {"text": "{species}"}]}}})"),
                           300);
    collection->run().jumpTo(100);
    std::int64_t now = 8333;
    QImage screen(392, 700, QImage::Format_ARGB32_Premultiplied);
    const auto frame = [&] {
        EXPECT_EQ(collection->frame(now += 8333).jump, Length{});
        QPainter painter(&screen);
        collection->paintWindow(painter, ItemColours::light(), 1);
    };
    frame();
    const Length before = collection->run().total();
    bool resized = false;
    ASSERT_TRUE(QTest::qWaitFor([&] {
        frame();
        resized = resized || collection->run().total() != before;
        return collection->pictures().isQuiet() && resized && collection->isIdle();
    }));
    EXPECT_EQ(collection->run().hold().position, 100);
    EXPECT_EQ(collection->run().hold().onScreen, Length{});
}

TEST(PictureCache, FitsFillsAroundAFocusAndStretchesOnlyWhenAsked) {
    QImage wide(300, 100, QImage::Format_RGB32);
    wide.fill(Qt::red);
    for (int x = 200; x < 300; ++x) {
        for (int y = 0; y < 100; ++y) {
            wide.setPixelColor(x, y, Qt::blue);
        }
    }
    PictureWish wish{QStringLiteral("x"), {50, 50}};
    wish.fit = Fit::Fit;
    EXPECT_EQ(fitted(wide, wish).width(), 50);
    EXPECT_NEAR(fitted(wide, wish).height(), 50 / 3.0, 1);
    wish.fit = Fit::Stretch;
    EXPECT_EQ(fitted(wide, wish).size(), QSize(50, 50));
    wish.fit = Fit::Fill;
    EXPECT_EQ(fitted(wide, wish).size(), QSize(50, 50));
    EXPECT_EQ(fitted(wide, wish).pixelColor(25, 25), QColor(Qt::red));
    wish.focus = {1, 0.5};
    EXPECT_EQ(fitted(wide, wish).pixelColor(25, 25), QColor(Qt::blue));
    wish.radius = 12;
    EXPECT_EQ(fitted(wide, wish).pixelColor(0, 0).alpha(), 0);
}

TEST(PictureCache, WhatNobodyWantsAnyMoreIsCancelled) {
    PictureCache cache(std::make_shared<service::WingPictures>(), 1 << 26);
    std::vector<PictureWish> wishes;
    for (int i = 1; i < 30; ++i) {
        wishes.push_back({QStringLiteral("wings/%1-l11.png").arg(i), {64, 64}});
        cache.hold(wishes.back());
    }
    for (const PictureWish& wish : wishes) {
        cache.letGo(wish.key());
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return cache.isQuiet(); }));
    EXPECT_GE(cache.cancelledEver(), 27) << "two workers may have begun";
    EXPECT_LE(cache.decodedEver(), 2);
}

std::string pictureError(const QByteArray& bytes) {
    const auto picture = decodePicture(bytes, QStringLiteral("p.svg"), {40, 40});
    return picture ? "decoded" : picture.error().text();
}

TEST(DecodePicture, AnSvgThatAsksForAnythingOutsideItselfIsRefused) {
    const auto svg = [](const char* inside) {
        return QByteArray("<svg xmlns='http://www.w3.org/2000/svg' "
                          "xmlns:xlink='http://www.w3.org/1999/xlink' width='20' "
                          "height='10'>") +
               inside + "</svg>";
    };
    EXPECT_EQ(pictureError(svg("<rect width='20' height='10' fill='red'/>")), "decoded");
    EXPECT_THAT(pictureError(svg("<image xlink:href='/etc/passwd' width='9' height='9'/>")),
                HasSubstr("outside itself (/etc/passwd)"));
    EXPECT_THAT(pictureError(svg("<image href='http://127.0.0.1/x.png'/>")), HasSubstr("outside itself"));
    EXPECT_THAT(pictureError(svg("<rect fill='url(file:///x.svg#a)'/>")), HasSubstr("outside itself"));
    EXPECT_THAT(pictureError(svg("<style>@import 'x.css';</style>")), HasSubstr("outside itself"));
    EXPECT_THAT(
        pictureError("<!DOCTYPE svg [<!ENTITY x SYSTEM 'file:///etc/passwd'>]>" + svg("<text>&amp;</text>")),
        HasSubstr("outside itself"));
    EXPECT_EQ(
        pictureError(svg("<defs><linearGradient id='a'/></defs><rect fill='url(#a)' width='5' height='5'/>")),
        "decoded");
    EXPECT_THAT(pictureError("<svg"), HasSubstr("does not decode"));
}

TEST(DecodePicture, ThirtyThousandSquareIsRefusedUnread) {
    // A PNG header that promises it; nothing of it is there.
    QByteArray png("\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\x75\x30\0\0\x75\x30\x08\x06\0\0\0\x76\x8c\x66\x3c", 33);
    const auto picture = decodePicture(png, QStringLiteral("p.png"), {40, 40});
    ASSERT_FALSE(picture);
    EXPECT_NE(picture.error().text(), "");
    EXPECT_TRUE(picture.error().code == ErrorCode::TooLarge || picture.error().code == ErrorCode::Invalid);
    QImage large(9000, 8000, QImage::Format_Mono);
    large.fill(0);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    ASSERT_TRUE(large.save(&buffer, "PNG"));
    const auto refused = decodePicture(bytes, QStringLiteral("q.png"), {40, 40});
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, ErrorCode::TooLarge);
    EXPECT_THAT(refused.error().text(), HasSubstr("9000 x 8000"));
}

TEST(FolderPictures, NothingOutsideTheFolderIsReadEvenThroughEncodingOrLinks) {
    const QTemporaryDir outer;
    QDir(outer.path()).mkdir(QStringLiteral("in"));
    std::ofstream(outer.filePath(QStringLiteral("secret.png")).toStdString()) << "x";
    std::ofstream(outer.filePath(QStringLiteral("in/a b.txt")).toStdString()) << "no picture";
    ASSERT_TRUE(QFile::link(outer.filePath(QStringLiteral("secret.png")),
                            outer.filePath(QStringLiteral("in/link.png"))));
    const FolderPictures pictures({outer.filePath(QStringLiteral("in"))});
    for (const char* address : {"../secret.png", "%2e%2e/secret.png", "link.png", "/etc/passwd"}) {
        const auto picture = pictures.load(QString::fromLatin1(address), {8, 8}, {});
        ASSERT_FALSE(picture) << address;
        EXPECT_EQ(picture.error().code, ErrorCode::NotFound) << address;
    }
    EXPECT_EQ(pictures.load(QStringLiteral("a%20b.txt"), {8, 8}, {}).error().code, ErrorCode::Invalid);
    // Looked for in turn: beside the collection, then beside its records; by its whole path, too.
    const QTemporaryDir beside;
    const FolderPictures both({beside.path(), outer.filePath(QStringLiteral("in"))});
    for (const QString& address :
         {QStringLiteral("a%20b.txt"), outer.filePath(QStringLiteral("in/a b.txt"))}) {
        EXPECT_EQ(both.load(address, {8, 8}, {}).error().code, ErrorCode::Invalid) << address.toStdString();
    }
    EXPECT_EQ(FolderPictures({}).load(QStringLiteral("etc/passwd"), {8, 8}, {}).error().code,
              ErrorCode::NotFound);
}

TEST(HttpPictures, AreAskedForBesideTheServiceAndNowhereElse) {
    QImage image(30, 20, QImage::Format_RGB32);
    image.fill(Qt::red);
    QByteArray png;
    QBuffer buffer(&png);
    ASSERT_TRUE(image.save(&buffer, "PNG"));
    const auto answer = [](const char* status, const QByteArray& body) {
        return std::string("HTTP/1.1 ") + status + "\r\nContent-Length: " + std::to_string(body.size()) +
               "\r\nConnection: close\r\n\r\n" + body.toStdString();
    };
    const scorrere::testing::RawServer good(answer("200 Fine", png));
    const auto picture = HttpPictures(QString::fromStdString(good.address() + "/api/list"))
                             .load(QStringLiteral("wings/1.png"), {8, 8}, {});
    ASSERT_TRUE(picture) << picture.error().text();
    EXPECT_EQ(picture->natural, QSize(30, 20));
    const scorrere::testing::RawServer gone(answer("404 Gone", {}));
    EXPECT_EQ(HttpPictures(QString::fromStdString(gone.address()))
                  .load(QStringLiteral("/x.png"), {8, 8}, {})
                  .error()
                  .code,
              ErrorCode::NotFound);
    EXPECT_EQ(HttpPictures(QString::fromStdString(gone.address()))
                  .load(QStringLiteral("file:///etc/passwd"), {8, 8}, {})
                  .error()
                  .code,
              ErrorCode::NotFound);
}

TEST(HttpPictures, FeelTheWeatherAndAreAskedForAgainWhenItClears) {
    QImage image(30, 20, QImage::Format_RGB32);
    image.fill(Qt::red);
    QByteArray png;
    QBuffer buffer(&png);
    ASSERT_TRUE(image.save(&buffer, "PNG"));
    const scorrere::testing::RawServer server(
        "HTTP/1.1 200 Fine\r\nContent-Length: " + std::to_string(png.size()) +
        "\r\nConnection: close\r\n\r\n" + png.toStdString());
    const auto weather = std::make_shared<WeatherNow>();
    Weather storm;
    storm.offline = true;
    weather->set(storm);
    PictureCache cache(
        std::make_shared<HttpPictures>([address = server.address()] { return Result<std::string>(address); },
                                       PictureCalls{weather, nullptr, {}}),
        1 << 20);
    const PictureWish wish{QStringLiteral("wings/1.png"), {8, 8}};
    (void)cache.find(wish);
    ASSERT_TRUE(QTest::qWaitFor([&] { return cache.find(wish).state == PictureState::Broken; }));
    EXPECT_TRUE(cache.find(wish).reason.contains(QStringLiteral("no network")));
    weather->set({});
    EXPECT_EQ(cache.find(wish).state, PictureState::Broken); // nobody asks for ever by itself
    cache.retry();
    ASSERT_TRUE(QTest::qWaitFor([&] { return cache.find(wish).state == PictureState::Ready; }));
    EXPECT_FLOAT_EQ(static_cast<float>(cache.aspectOf(wish.address)), 1.5F);
}

TEST(Contrast, FollowsTheStandardAndEveryToneCanBeRead) {
    EXPECT_NEAR(contrastBetween(Qt::black, Qt::white), 21, 0.01);
    EXPECT_NEAR(contrastBetween(QColor(0x77, 0x77, 0x77), Qt::white), 4.48, 0.01);
    for (const ItemColours& colours : {ItemColours::light(), ItemColours::dark()}) {
        for (std::size_t i = 0; i < kTones; ++i) {
            const auto tone = static_cast<Tone>(i);
            EXPECT_GE(contrastBetween(tone == Tone::Neutral ? colours.ink : colours.inkOf(tone),
                                      colours.groundOf(tone)),
                      4.5)
                << toneWord(tone);
            EXPECT_GE(contrastBetween(colours.inkOf(tone), colours.paper), 4.5) << toneWord(tone);
        }
    }
}

/// Each starting point on the records that break it, as it is painted.
QImage paintedOnExtremes(const CollectionDocument& document,
                         const std::shared_ptr<const RecordTable>& records, const ItemColours& colours) {
    std::vector<HardRecord> hard;
    const workbench::HardQuestion question{
        document, workbench::kRecordDesign, records, std::make_shared<service::WingPictures>(), 340, 1, 0};
    EXPECT_TRUE(workbench::findHardRecords(
        question, {}, [&](const workbench::HardAnswer& answer) { hard = answer.records; }));
    const auto design = ItemDesign::compile(document.item, document.scope(*records));
    const FontSet fonts(*design, 1);
    TextCache texts(1 << 24);
    PictureCache pictures(std::make_shared<service::WingPictures>(), 1 << 26);
    ShapeCache shapes;
    SteadyWatch watch;
    CostMeter meter(watch);
    std::vector<std::unique_ptr<ItemView>> views;
    double height = 0;
    for (const HardRecord& record : hard) {
        views.push_back(std::make_unique<ItemView>());
        views.back()->build(*design);
        height += std::ceil(views.back()
                                ->fill({*records, record.record, &document.parameters, 0, nullptr, -1, 0},
                                       {fonts, texts, &pictures}, {Length::px(340)}, meter)
                                .height.toPx());
        views.back()->wantPictures(pictures, 1);
    }
    EXPECT_TRUE(QTest::qWaitFor([&] { return pictures.isQuiet(); }));
    QImage image(340, static_cast<int>(height), QImage::Format_RGB32);
    image.fill(colours.paper);
    QPainter painter(&image);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    for (const auto& view : views) {
        view->paint(painter, {.colours = colours, .pictures = pictures, .shapes = shapes, .density = 1});
        painter.translate(0, std::ceil(view->height().toPx()));
    }
    return image;
}

/// Mean difference of grey values over squares of 4 px: smoothing of letters is not what is looked at.
double difference(const QImage& a, const QImage& b) {
    if (a.size() != b.size()) {
        return 255;
    }
    const QSize small(std::max(1, a.width() / 4), std::max(1, a.height() / 4));
    const QImage one = a.scaled(small, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    const QImage other = b.scaled(small, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    double sum = 0;
    for (int y = 0; y < small.height(); ++y) {
        for (int x = 0; x < small.width(); ++x) {
            const QColor p = one.pixelColor(x, y);
            const QColor q = other.pixelColor(x, y);
            sum += std::max({std::abs(p.red() - q.red()), std::abs(p.green() - q.green()),
                             std::abs(p.blue() - q.blue())});
        }
    }
    return sum / (small.width() * small.height());
}

class GoldenPictures : public ::testing::TestWithParam<std::tuple<int, bool>> {};

TEST_P(GoldenPictures, OfEachStartingPointOnTheExtremes) {
    const auto [index, dark] = GetParam();
    const auto records = moths(400);
    const auto points = workbench::startingPoints(*records, "wings/{picture}");
    const workbench::StartingPoint& point = points[static_cast<std::size_t>(index)];
    const CollectionDocument document = documentWith(Json{{"items", {{"record", point.design}}}}.dump());
    const QImage painted =
        paintedOnExtremes(document, records, dark ? ItemColours::dark() : ItemColours::light());
    std::string name = point.name;
    std::ranges::replace(name, ' ', '-');
    const QString path =
        QStringLiteral(SCORRERE_SOURCE_DIR "/tests/golden/%1-%2.png")
            .arg(QString::fromStdString(name), dark ? QStringLiteral("dark") : QStringLiteral("light"));
    if (qEnvironmentVariableIsSet("SCORRERE_WRITE_GOLDEN")) {
        ASSERT_TRUE(painted.save(path));
    }
    const QImage golden(path);
    ASSERT_FALSE(golden.isNull()) << path.toStdString();
    EXPECT_LT(difference(painted, golden.convertToFormat(QImage::Format_RGB32)), 4.0) << path.toStdString();
}

INSTANTIATE_TEST_SUITE_P(Each, GoldenPictures, ::testing::Combine(::testing::Range(0, 6), ::testing::Bool()),
                         [](const auto& test) {
                             return std::to_string(std::get<0>(test.param)) +
                                    (std::get<1>(test.param) ? "_dark" : "_light");
                         });

TEST(GoldenPictures, TellADesignFromAnother) {
    const auto records = moths(400);
    const CollectionDocument one =
        documentWith(R"({"items": {"record": {"text": "{species}", "padding": 8}}})");
    const CollectionDocument other = documentWith(
        R"({"items": {"record": {"text": "{species}", "padding": 8, "colour": "bad", "weight": 900}}})");
    EXPECT_GT(difference(paintedOnExtremes(one, records, ItemColours::light()),
                         paintedOnExtremes(other, records, ItemColours::light())),
              4.0)
        << "a comparison that lets everything pass is none";
}

} // namespace
} // namespace scorrere::render
