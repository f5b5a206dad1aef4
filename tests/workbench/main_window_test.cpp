// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/program/window_fixture.h"

#include <QDropEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QMimeData>
#include <filesystem>

namespace scorrere {
namespace {

using ::testing::HasSubstr;
using MainWindowTest = testing::WindowTest;
using workbench::SentenceWord;

const std::string kDesign =
    R"("items": {"record": {"column": [{"text": "{name}", "size": 15}], "padding": 10}})";

std::string collection(const std::string& file, const std::string& items = kDesign) {
    return "{\"scorrere\": 1, \"name\": \"Test\", \"source\": {\"file\": \"" + file + "\"},\n" + items + "}";
}

TEST_F(MainWindowTest, OpensTheDemoAndTheWheelMovesIt) {
    openDemo(20'000);
    EXPECT_EQ(run().offset(), Length{});
    wheel(find("cutaway"), -240);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().offset(), Length::px(240));
    EXPECT_THAT(find<QLabel>("subtitle")->text().toStdString(), HasSubstr("20,000 sightings"));
}

TEST_F(MainWindowTest, ADragLetGoInMotionFliesOn) {
    openDemo(20'000);
    auto* cutaway = find<workbench::Cutaway>("cutaway");
    const QPoint centre = cutaway->windowRect().center().toPoint();
    QTest::mousePress(cutaway, Qt::LeftButton, {}, centre);
    for (int i = 1; i <= 8; ++i) {
        QTest::mouseMove(cutaway, centre - QPoint(0, i * 18), 8);
        QMouseEvent move(QEvent::MouseMove, centre - QPoint(0, i * 18), cutaway->mapToGlobal(centre),
                         Qt::NoButton, Qt::LeftButton, {});
        QCoreApplication::sendEvent(cutaway, &move);
    }
    QTest::mouseRelease(cutaway, Qt::LeftButton, {}, centre - QPoint(0, 144));
    const Length atRelease = run().offset();
    ASSERT_TRUE(settle());
    EXPECT_GT(run().offset(), Length::px(200));
    EXPECT_GT(run().offset(), atRelease);
}

TEST_F(MainWindowTest, KeysMoveByLinesPagesAndToTheEnds) {
    openDemo(20);
    auto* cutaway = find("cutaway");
    cutaway->setFocus();
    QTest::keyClick(cutaway, Qt::Key_Down);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().offset(), Length::px(48));
    QTest::keyClick(cutaway, Qt::Key_End);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().offset() + run().window(), run().total());
    QTest::keyClick(cutaway, Qt::Key_Home);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().offset(), Length{});
}

TEST_F(MainWindowTest, WhatIsPaintedAtAKnownOffsetIsTheRightRecord) {
    openDemo(20'000);
    run().jumpTo(5001); // the header is position 0: record number 5,000, counted from 0
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    const auto& first = run().placements();
    const auto at = std::ranges::find(first, std::int64_t{5001}, &Placement::position);
    ASSERT_NE(at, first.end());
    EXPECT_EQ(at->box.start, Length{});
    const auto sighting = service::makeSighting(5000, 1);
    EXPECT_EQ(live().view(at->view).title().toStdString(), sighting.species);
    EXPECT_EQ(live().nameAt(5001).toStdString(),
              "5,000" == live().nameAt(5001).toStdString() ? "5,000" : "5,001");

    // The same record laid out and painted apart gives the same pixels.
    const auto paint = [](render::LiveCollection& from, int height) {
        QImage image(392, height, QImage::Format_RGB32);
        QPainter painter(&image);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        from.paintWindow(painter, render::ItemColours::light(), 1);
        return image;
    };
    const int height = static_cast<int>(at->box.extent.toPx());
    ASSERT_TRUE(QTest::qWaitFor([&] { return (paint(live(), height), live().pictures().isQuiet()); }));
    const QImage shown = paint(live(), height);
    RecordBuilder builder;
    service::addTo(builder, sighting);
    auto document = *CollectionDocument::parse(this->document()->serialise(), "");
    document.header.reset();
    document.footer.reset();
    document.arrangement = {};
    class NoPictures final : public render::PictureSource {
        Result<render::Picture> load(const QString&, QSize, std::stop_token) const override {
            return Error{ErrorCode::NotFound, "none", "", {}};
        }
    };
    const auto alone =
        render::LiveCollection::create(document, std::make_shared<const RecordTable>(builder.finish()),
                                       std::make_shared<NoPictures>(), render::Estimating::Never);
    ASSERT_TRUE(alone) << alone.error().text();
    (*alone)->setWindow(392, 780);
    (*alone)->frame(0);
    const QImage expected = paint(**alone, height);
    const QRect texts(68, 0, 392 - 68, height); // right of the picture
    EXPECT_EQ(shown.copy(texts), expected.copy(texts));
    QImage blank(texts.size(), QImage::Format_RGB32);
    blank.fill(Qt::white);
    EXPECT_NE(shown.copy(texts), blank);
}

TEST_F(MainWindowTest, TheMapJumps) {
    openDemo(20'000);
    auto* map = find("stripMap");
    QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(30, map->height() / 2));
    ASSERT_TRUE(settle());
    const double share = run().offset().toPx() / run().total().toPx();
    EXPECT_NEAR(share, 0.5, 0.02);
    map->setFocus();
    QTest::keyClick(map, Qt::Key_Home);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().offset(), Length{});
}

TEST_F(MainWindowTest, TurningKeepsTheHoldPointAndUndoTurnsBack) {
    openDemo(20'000);
    run().jumpTo(9000);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    const HoldPoint before = run().hold();
    QTest::keyClick(window.get(), Qt::Key_T);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().cross(), Length::px(780));
    EXPECT_EQ(run().hold(), before);
    EXPECT_FALSE(window->workspace().undo().isClean());
    QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().cross(), Length::px(392));
    EXPECT_EQ(run().hold(), before);
}

TEST_F(MainWindowTest, AMillionRecordsScrollAndRecycle) {
    const qint64 count = testing::manyRecords();
    openDemo(count);
    EXPECT_EQ(run().arrangement().recordCount(), count);
    run().jumpTo(count / 9 * 7);
    flow().runner().driver().want();
    ASSERT_TRUE(settle());
    EXPECT_LT(run().recycler().views().size(), 40u);
    EXPECT_GT(run().arrangement().knownBefore(count), count / 5 * 4) << "estimated in the background";
    EXPECT_THAT(find<workbench::ViewsInstrument>("itemViews")->summary().toStdString(),
                HasSubstr(QLocale(QLocale::English).toString(count).toStdString()));
}

TEST_F(MainWindowTest, TheSentenceReadsAndItsWordsChangeTheRun) {
    openDemo(20);
    EXPECT_EQ(sentenceOf(flow()).sentence().toStdString(),
              "Show 20 sightings, all, containing anything, in their order, as a list running down, in no "
              "sections, all in one strip, in a tall handset "
              "held upright, "
              "between its bars, "
              "half a screen "
              "ready "
              "beyond, changes in 250 ms, text at 100%, by hand nothing, beside no other.");
    auto* device = find<SentenceWord>("wordDevice");
    device->setFocus();
    QTest::keyClick(device, Qt::Key_Down); // arrow through it
    ASSERT_TRUE(settle());
    EXPECT_EQ(run().cross(), Length::px(820));

    auto* scale = find<SentenceWord>("wordScale");
    QTest::keyClick(scale, Qt::Key_1); // type over it
    auto* line = find<QLineEdit>("wordLine");
    QTest::keyClicks(line, QStringLiteral("30"));
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_TRUE(settle());
    EXPECT_DOUBLE_EQ(live().textScale(), 1.3);
    EXPECT_EQ(scale->word(), QStringLiteral("130%"));

    auto* lead = find<SentenceWord>("wordLead");
    QTest::mouseClick(lead, Qt::LeftButton); // click it
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    auto* list = window->findChildren<QListWidget*>(QStringLiteral("wordList")).last();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(3)).center());
    ASSERT_TRUE(settle());
    EXPECT_DOUBLE_EQ(run().settings().viewLead, 1.0);
    flow().cutaway().setFocus();
    QTest::mouseClick(device, Qt::LeftButton);
    EXPECT_EQ(window->focusWidget(), device);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    list = window->findChildren<QListWidget*>(QStringLiteral("wordList")).last();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(1)).center());
    EXPECT_EQ(window->focusWidget(), &flow().cutaway()) << "whoever pressed a word goes on where they were";
    EXPECT_EQ(window->workspace().undo().count(), 4);
}

TEST_F(MainWindowTest, WordsThatMeanNothingChangeNothing) {
    openDemo(20);
    auto* scale = find<SentenceWord>("wordScale");
    QTest::keyClick(scale, Qt::Key_9);
    auto* line = find<QLineEdit>("wordLine");
    QTest::keyClicks(line, QStringLiteral("9999"));
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(scale->word(), QStringLiteral("100%"));
    EXPECT_DOUBLE_EQ(live().textScale(), 1);
}

TEST_F(MainWindowTest, PauseStopsTheClockAndStepMakesOneFrame) {
    openDemo(20'000);
    QTest::keyClick(window.get(), Qt::Key_P);
    EXPECT_TRUE(flow().runner().driver().isPaused());
    const std::int64_t frames = run().trace().framesEver();
    run().motion().fling(3000, flow().runner().driver().nowUs());
    QTest::keyClick(window.get(), Qt::Key_Period);
    EXPECT_EQ(run().trace().framesEver(), frames + 1);
    const Length moved = run().offset();
    EXPECT_GT(moved, Length{});
    EXPECT_LT(moved, Length::px(30));
    QTest::mouseClick(find("pause"), Qt::LeftButton);
    ASSERT_TRUE(settle());
    EXPECT_GT(run().offset(), moved);
    QTest::keyClick(window.get(), Qt::Key_S);
    EXPECT_EQ(flow().runner().driver().slowness(), 8);
}

TEST_F(MainWindowTest, ClickingAFrameTellsItsStory) {
    openDemo(20'000);
    auto* frames = find<workbench::FramesInstrument>("frames");
    QTest::mouseClick(frames, Qt::LeftButton, {}, QPoint(10, frames->height() - 60));
    EXPECT_EQ(frames->chosen(), 1);
    EXPECT_THAT(frames->story().toStdString(), HasSubstr("item views built"));
    frames->setFocus();
    QTest::keyClick(frames, Qt::Key_Right);
    EXPECT_EQ(frames->chosen(), 2);
    QTest::keyClick(frames, Qt::Key_Escape);
}

TEST_F(MainWindowTest, OpensFilesOfRecordsDroppedOnIt) {
    const std::string path =
        write("birds.ndjson", "{\"name\":\"Wren\",\"n\":1}\n{\"name\":\"Teal\",\"n\":2}\n");
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(QString::fromStdString(path))});
    QDragEnterEvent enter({50, 50}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(window.get(), &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent drop({50, 50}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(window.get(), &drop);
    ASSERT_TRUE(QTest::qWaitFor([&] { return document() != nullptr; }));
    ASSERT_TRUE(settle());
    EXPECT_EQ(live().records().size(), 2);
    EXPECT_EQ(live().view(run().placements()[0].view).title(), QStringLiteral("Wren"));
}

TEST_F(MainWindowTest, SavesWhatWasChangedAndRemembersIt) {
    write("r.ndjson", "{\"name\":\"Wren\"}\n");
    const std::string path = write("c.collection.json", collection("r.ndjson"));
    openFile(path);
    ASSERT_TRUE(settle());
    QTest::keyClick(window.get(), Qt::Key_T);
    EXPECT_THAT(find<QLabel>("subtitle")->text().toStdString(), HasSubstr("changed"));
    QTest::keyClick(window.get(), Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return find<QLabel>("subtitle")->text().contains(QStringLiteral("saved")); }, 60'000));
    EXPECT_FALSE(CollectionDocument::load(path)->window.upright);
    EXPECT_EQ(found(QStringLiteral("opened before")), QStringList{QString::fromStdString(path)});
}

TEST_F(MainWindowTest, LookTextSizeAndZoomAreRemembered) {
    QTest::keyClick(window.get(), Qt::Key_D, Qt::ControlModifier);
    find<QAction>("larger")->trigger();
    find<QAction>("further")->trigger();
    const int zoom = flow().cutaway().zoom();
    window->close();
    makeWindow();
    EXPECT_TRUE(window->look().isDark());
    EXPECT_DOUBLE_EQ(window->look().textScale(), 1.25);
    EXPECT_EQ(flow().cutaway().zoom(), zoom);
}

TEST_F(MainWindowTest, OpeningCanBeCancelledAndWhatWasOpenStays) {
    openDemo(20);
    window->workspace().opening().openDemo(1'000'000);
    ASSERT_TRUE(
        QTest::qWaitFor([&] { return window->notice().message().contains(QStringLiteral("so far")); }));
    QTest::keyClick(window.get(), Qt::Key_Escape);
    EXPECT_FALSE(window->workspace().opening().isBusy());
    EXPECT_TRUE(window->notice().isHidden());
    QTest::qWait(50);
    EXPECT_EQ(live().records().size(), 20);
}

struct BadFile {
    const char* name;
    const char* file;
    std::string text;
    std::string says;
    friend void PrintTo(const BadFile& file, std::ostream* out) { *out << file.name; }
};

class BadFiles : public MainWindowTest, public ::testing::WithParamInterface<BadFile> {};

TEST_P(BadFiles, GiveAPlainMessageAndWhatWasOpenStays) {
    openDemo(20);
    write("good.ndjson", "{\"name\":\"Wren\"}\n");
    write("nuls.ndjson", std::string(5000, '\0'));
    const std::string path = GetParam().text.empty() ? "/nowhere/" + std::string(GetParam().file)
                                                     : write(GetParam().file, GetParam().text);
    openFile(path);
    EXPECT_FALSE(window->notice().isHidden());
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr(GetParam().says));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("was not opened"));
    EXPECT_EQ(live().records().size(), 20) << "what was open stays open";
    ASSERT_TRUE(settle());
}

INSTANTIATE_TEST_SUITE_P(
    Each, BadFiles,
    ::testing::Values(
        BadFile{"Missing", "none.collection.json", "", "there is no such file"},
        BadFile{"NotJson", "a.collection.json", "{\"scorrere\": 1,\n nope}", "a.collection.json:2:"},
        BadFile{"WrongVersion", "a.collection.json", "{\"scorrere\": 99}", "of version 99"},
        BadFile{"UnknownField", "a.collection.json",
                collection("good.ndjson", R"("items": {"record": {"text": "{nome}"}})"),
                "there is no field \"nome\""},
        BadFile{"SizeIsNoNumber", "a.collection.json",
                collection("good.ndjson", R"("items": {"record": {"text": "x", "size": "big"}})"),
                "\"size\" must be a number"},
        BadFile{"RecordsMissing", "a.collection.json", collection("absent.ndjson"),
                "absent.ndjson: there is no such file"},
        BadFile{"RecordsOfNuls", "a.collection.json", collection("nuls.ndjson"), "it holds NUL bytes"},
        BadFile{"RecordsAlone", "b.ndjson", "{\"a\":\n", "b.ndjson:1:"}),
    [](const auto& given) { return given.param.name; });

TEST_F(MainWindowTest, TwoGigabytesOfNothingAreRefusedWithoutReadingThem) {
    openDemo(20);
    const std::string path = write("big.ndjson", "x");
    std::filesystem::resize_file(path, 0);
    std::filesystem::resize_file(path, std::uintmax_t{2} << 30);
    openFile(path);
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("NUL bytes"));
    EXPECT_EQ(live().records().size(), 20);
}

TEST_F(MainWindowTest, APictureThatDoesNotDecodeLeavesACrossedPlaceAndTheRestRuns) {
    write("not-a.png", "this is text");
    write("r.ndjson", "{\"p\":\"not-a.png\"}\n{\"p\":\"../../etc/passwd\"}\n{\"p\":\"gone.png\"}\n");
    const std::string path = write(
        "c.collection.json",
        collection("r.ndjson", R"("items": {"record": {"picture": "{+p}", "width": 40, "height": 40}})"));
    openFile(path);
    ASSERT_TRUE(settle());
    auto& pictures = live().pictures();
    const auto state = [&](const char* address) {
        const QString name = QString::fromLatin1(address);
        EXPECT_TRUE(QTest::qWaitFor([&] {
            return pictures.find({name, {40, 40}}).state != render::PictureState::Loading;
        }));
        return pictures.find({name, {40, 40}}).state;
    };
    EXPECT_EQ(state("not-a.png"), render::PictureState::Broken);
    EXPECT_EQ(state("../../etc/passwd"), render::PictureState::Missing);
    EXPECT_EQ(state("gone.png"), render::PictureState::Missing);
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("A picture cannot be shown"));
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("3 pictures so far"));
    (void)window->grab();
    const auto design = [this](const char* fallback) {
        window->workspace().changeDesign(
            QStringLiteral("words for pictures"),
            QStringLiteral(
                R"({"items": {"record": {"picture": "{+p}", "width": 40, "height": 40, "fallback": %1}}})")
                .arg(QLatin1String(fallback)),
            {});
    };
    design(R"({"missing": "none there"})");
    EXPECT_THAT(window->notice().message().toStdString(), HasSubstr("A picture cannot be shown"))
        << "one is broken, and the design has no word for that";
    design(R"({"missing": "none there", "broken": "not to be read"})");
    EXPECT_EQ(window->notice().message(), QString()) << "now it reckons with all of them";
}

TEST_F(MainWindowTest, NoRecordsAtAllIsAStateOfItsOwn) {
    write("r.ndjson", "[]");
    const std::string path = write("c.collection.json", collection("r.ndjson"));
    openFile(path);
    ASSERT_NE(document(), nullptr) << window->notice().message().toStdString();
    EXPECT_EQ(run().arrangement().size(), 0);
    wheel(find("cutaway"), -200);
    (void)window->grab();
}

TEST_F(MainWindowTest, EveryShortcutIsShownOnceBesideItsAction) {
    openDemo(20);
    window->workspace().changeDesign(QStringLiteral("a change"),
                                     QStringLiteral(R"({"items": {"record": {"text": "x"}}})"), {});
    const QStringList all = found({});
    EXPECT_GT(all.size(), 30);
    QSet<QString> seen;
    for (const QString& line : all) {
        const QString keys = line.section(QStringLiteral(", "), -1);
        EXPECT_NE(keys, line) << line.toStdString();
        EXPECT_FALSE(seen.contains(keys)) << line.toStdString();
        seen.insert(keys);
    }
    EXPECT_TRUE(all.contains(QStringLiteral("Turn the device, T")));
}

} // namespace
} // namespace scorrere
