// SPDX-License-Identifier: GPL-3.0-or-later
// The real window, brought somewhere by changes in any order, shows what one shows that opens the file saved
// there.
#include "testing/program/window_fixture.h"
#include "workbench/model/devices.h"
#include "workbench/ui/look/sentence_word.h"
#include "workbench/ui/source/fields_view.h"

#include <QPainter>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <random>

namespace scorrere::testing {
namespace {

class ChangedFreshWindow : public WindowTest {
protected:
    struct Seen {
        std::vector<std::tuple<std::int64_t, Length, Length>> placements;
        QImage picture;
    };
    Seen seenAt(std::int64_t position) {
        EXPECT_TRUE(settle());
        run().jumpTo(position);
        flow().runner().driver().want();
        EXPECT_TRUE(settle());
        Seen seen;
        for (int i = 0; i < 3; ++i) {
            seen.picture =
                QImage(QSizeF(run().cross().toPx(), run().window().toPx()).toSize(), QImage::Format_RGB32);
            seen.picture.fill(Qt::white);
            QPainter painter(&seen.picture);
            painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
            live().paintWindow(painter, window->look().items, 1);
            painter.end();
            EXPECT_TRUE(QTest::qWaitFor([this] { return live().pictures().isQuiet(); }, 10'000));
            EXPECT_TRUE(settle());
        }
        for (const Placement& placement : run().placements()) {
            if (placement.showing) {
                seen.placements.emplace_back(placement.position, placement.box.start, placement.box.extent);
            }
        }
        return seen;
    }
};

TEST_F(ChangedFreshWindow, WhateverIsChangedInWhateverOrder) {
    const QString path = folder.filePath(QStringLiteral("there.collection.json"));
    for (const unsigned seed : {1U, 2U, 3U, 4U, 5U, 6U, 7U, 8U}) {
        std::mt19937 random(seed);
        const auto any = [&random](int below) {
            return static_cast<int>(random() % static_cast<unsigned>(below));
        };
        window.reset();
        makeWindow();
        openDemo(1000);
        bool dark = false;
        for (int step = 0; step < 8; ++step) {
            CollectionDocument to = *document();
            switch (any(11)) {
            case 9:
                to.arrangement.sideways = std::array<std::optional<Sideways>, 3>{
                    std::nullopt, Sideways{Sideways::Share{0.6}},
                    Sideways{Sideways::Content{Length::px(280)}}}[static_cast<std::size_t>(any(3))];
                window->workspace().change(QStringLiteral("change"), to);
                break;
            case 10:
                to.window.underBars = !to.window.underBars;
                window->workspace().change(QStringLiteral("change"), to);
                break;
            case 7: { // not ragged columns: who stands in which lane depends on where one has been
                GridSpec grid;
                grid.columns.count = 2 + any(2);
                grid.extent = any(2) == 0 ? GridSpec::Extent(GridSpec::AsLine{}) : GridSpec::Aspect{3, 4};
                to.arrangement.form = std::array<decltype(to.arrangement.form), 4>{
                    ListSpec{}, PagerSpec{Length::px(20), false, MarksSpec()}, grid,
                    grid}[static_cast<std::size_t>(any(4))];
                window->workspace().change(QStringLiteral("change"), to);
                break;
            }
            case 8:
                to.asIf = std::array<std::optional<std::int64_t>, 3>{std::nullopt, 5000,
                                                                     90}[static_cast<std::size_t>(any(3))];
                window->workspace().change(QStringLiteral("change"), to);
                break;
            case 0:
                to.window.textScale = std::array{0.85, 1.0, 1.5, 2.0}[static_cast<std::size_t>(any(4))];
                window->workspace().change(QStringLiteral("change"), to);
                break;
            case 1:
                to.window.upright = !to.window.upright;
                window->workspace().change(QStringLiteral("change"), to);
                break;
            case 2:
                to.window.device = workbench::devices()[static_cast<std::size_t>(any(
                                                            static_cast<int>(workbench::devices().size())))]
                                       .name;
                window->workspace().change(QStringLiteral("change"), to);
                break;
            case 3: {
                std::string design = document()->designText();
                const std::size_t at = design.find("{species");
                ASSERT_NE(at, std::string::npos);
                design.insert(at, "x");
                window->workspace().changeDesign(QStringLiteral("edit"), QString::fromStdString(design), {});
                break;
            }
            case 4:
                window->look().setDark(dark = !dark);
                break;
            case 5:
                window->goTo(any(2) == 0 ? QStringLiteral("item") : QStringLiteral("source"));
                QCoreApplication::processEvents();
                break;
            default:
                flow().collection()->run().wheel(Length::px(any(4000) - 1000));
                flow().runner().driver().want();
                break;
            }
            window->goTo(QStringLiteral("flow"));
            QCoreApplication::processEvents();
        }
        const Seen changed = seenAt(70);
        ASSERT_TRUE(isSaved(path));
        window.reset();
        makeWindow();
        window->look().setDark(dark);
        window->workspace().opening().open(path);
        ASSERT_TRUE(QTest::qWaitFor(
            [&] { return !window->workspace().opening().isBusy() && flow().collection() != nullptr; },
            30'000));
        window->goTo(QStringLiteral("flow"));
        const Seen fresh = seenAt(70);
        EXPECT_EQ(changed.placements, fresh.placements) << "seed " << seed;
        EXPECT_EQ(changed.picture, fresh.picture) << "seed " << seed;
    }
}

/// People at their work: words stepped by key, keys pressed on the board, a field made the key.
class AtWork : public ChangedFreshWindow {
protected:
    int any(std::size_t below) { return static_cast<int>(random() % below); }
    void key(QWidget* on, Qt::Key pressed, Qt::KeyboardModifiers with = {}) {
        QTest::keyClick(on, pressed, with);
        QCoreApplication::processEvents();
    }
    void stepWord(workbench::Station& station, const std::vector<const char*>& names) {
        const char* name = names[static_cast<std::size_t>(any(names.size()))];
        auto* word = station.sentence()->findChild<workbench::SentenceWord*>(QString::fromLatin1(name));
        ASSERT_NE(word, nullptr) << name;
        key(word, any(2) == 0 ? Qt::Key_Down : Qt::Key_Up);
    }
    void workInFlow() {
        key(window.get(), Qt::Key_3, Qt::AltModifier);
        if (any(3) == 0) {
            return key(&flow().cutaway(), Qt::Key_T);
        }
        stepWord(flow(), {"wordDevice", "wordHeld", "wordLead", "wordScale"});
    }
    void workInItem() {
        key(window.get(), Qt::Key_2, Qt::AltModifier);
        ASSERT_TRUE(QTest::qWaitFor([&] { return item().isSettled(); }, 60'000));
        if (any(4) == 0) {
            return stepWord(item(), {"wordWidths", "wordScales", "wordDensities"});
        }
        workbench::ExtremesBoard& board = item().board();
        const QRectF place = board.partOnViewport(0, "/items/record");
        ASSERT_FALSE(place.isNull());
        QTest::mouseClick(board.viewport(), Qt::LeftButton, {},
                          QPointF(place.left() + place.width() * (1 + any(8)) / 10,
                                  place.top() + place.height() * (1 + any(8)) / 10)
                              .toPoint());
        switch (any(3)) {
        case 0:
            return key(&board, Qt::Key_Delete);
        case 1:
            return key(&board, Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
        default:
            return key(&board, any(2) == 0 ? Qt::Key_Down : Qt::Key_Up, Qt::AltModifier);
        }
    }
    void workInSource() {
        key(window.get(), Qt::Key_1, Qt::AltModifier);
        ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }, 60'000));
        auto* fields = find<workbench::FieldsView>("fieldsView");
        ASSERT_TRUE(QTest::qWaitFor([&] { return !fields->rows().empty(); }, 60'000));
        if (any(2) == 0) { // a field that no design here asks for
            const auto spare =
                std::ranges::find_if(fields->rows(), [](const workbench::FieldsView::Row& row) {
                    return row.name == "temperature_c" || row.name == "spare";
                });
            fields->select(static_cast<int>(spare - fields->rows().begin()));
            key(fields, Qt::Key_X);
            ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }, 60'000));
            return;
        }
        fields->select(any(fields->rows().size()));
        key(fields, Qt::Key_K);
    }
    /// Records without a collection: their plain design follows their fields.
    void openBare() {
        std::string lines;
        for (int i = 1; i <= 120; ++i) {
            lines += fmt::format(R"({{"id": {}, "name": "Trap {}", "note": "{}", "spare": {}}})", i, i * 7,
                                 std::string(static_cast<std::size_t>(i % 60), 'n'), i % 9) +
                     "\n";
        }
        openFile(write("bare.ndjson", lines));
    }
    Seen seenIn(workbench::MainWindow& of) {
        of.goTo(QStringLiteral("flow"));
        EXPECT_TRUE(QTest::qWaitFor([&] { return !of.workspace().opening().isBusy(); }, 60'000));
        QCoreApplication::processEvents();
        return seenAt(40);
    }
    /// A window of its own that opens the document as it is now.
    void expectAsFresh(const std::string& where) {
        const Seen changed = seenIn(*window);
        const std::string path = write("fresh.collection.json", document()->serialise());
        std::unique_ptr<workbench::MainWindow> other = std::move(window);
        makeWindow();
        openFile(path);
        const Seen fresh = seenIn(*window);
        window = std::move(other);
        window->activateWindow();
        EXPECT_TRUE(QTest::qWaitFor([this] { return window->isActiveWindow(); }));
        EXPECT_EQ(changed.placements, fresh.placements) << where;
        EXPECT_EQ(changed.picture, fresh.picture) << where;
    }
    std::mt19937 random;
};

TEST_F(AtWork, WhateverIsDoneCanBeUndoneDoneAgainSavedAndOpened) {
    for (const unsigned seed : {1U, 2U, 3U, 4U}) {
        random.seed(seed);
        window.reset();
        makeWindow();
        seed == 4 ? openBare() : openDemo(120);
        const std::string start = document()->serialise();
        std::vector<std::string> states{start};
        for (int step = 0; step < 12; ++step) {
            switch (any(5)) {
            case 0:
            case 1:
                workInFlow();
                break;
            case 2:
            case 3:
                workInItem();
                break;
            default:
                workInSource();
            }
            if (document()->serialise() != states.back()) {
                states.push_back(document()->serialise());
                expectAsFresh(fmt::format("seed {}, step {}", seed, step));
            }
        }
        ASSERT_GT(states.size(), 4U) << "hardly anything was changed";
        QUndoStack& undo = window->workspace().undo();
        while (undo.canUndo()) {
            key(window.get(), Qt::Key_Z, Qt::ControlModifier);
            ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }, 60'000));
        }
        EXPECT_EQ(document()->serialise(), start) << "seed " << seed;
        expectAsFresh("all undone");
        while (undo.canRedo()) {
            key(window.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
            ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }, 60'000));
        }
        EXPECT_EQ(document()->serialise(), states.back()) << "seed " << seed;
        expectAsFresh("all done again");
        const QString path = folder.filePath(QStringLiteral("kept.collection.json"));
        ASSERT_TRUE(isSaved(path));
        const std::string kept = document()->serialise(); // the records' path is written from there
        window.reset();
        makeWindow();
        openFile(path.toStdString());
        EXPECT_EQ(document()->serialise(), kept) << "seed " << seed;
    }
}

TEST_F(ChangedFreshWindow, TheLanguageOfAField) {
    const QString path = folder.filePath(QStringLiteral("there.collection.json"));
    std::string text = "id;amount\n";
    for (int i = 1; i <= 300; ++i) {
        text += fmt::format("{};{}.{:03},5\n", i, i, i);
    }
    const std::string records = write("amounts.csv", text);
    for (const std::vector<std::string>& way :
         {std::vector<std::string>{"de"}, std::vector<std::string>{"en", "de"},
          std::vector<std::string>{"de", ""}, std::vector<std::string>{"de", "en", "de"}}) {
        window.reset();
        makeWindow();
        openFile(records);
        window->workspace().changeDesign(
            QStringLiteral("edit"), QStringLiteral(R"({"items": {"record": {"text": "{id}: {amount}"}}})"),
            {});
        for (const std::string& locale : way) {
            SourceSpec to = document()->source;
            FieldChoice amount;
            amount.name = "amount";
            amount.locale = locale;
            amount.type = locale.empty() ? FieldType::Unknown : FieldType::Real;
            to.reading.fields = {amount};
            window->workspace().changeSource(QStringLiteral("language"), to);
            ASSERT_TRUE(QTest::qWaitFor([&] { return !window->workspace().opening().isBusy(); }, 30'000));
        }
        window->goTo(QStringLiteral("flow"));
        const Seen changed = seenAt(70);
        ASSERT_TRUE(isSaved(path));
        window.reset();
        makeWindow();
        openFile(path.toStdString());
        window->goTo(QStringLiteral("flow"));
        const Seen fresh = seenAt(70);
        EXPECT_EQ(changed.placements, fresh.placements) << way.front();
        EXPECT_EQ(changed.picture, fresh.picture) << way.front();
    }
}

} // namespace
} // namespace scorrere::testing
