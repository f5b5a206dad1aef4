// SPDX-License-Identifier: GPL-3.0-or-later
//
// The item: refilling a pooled view beside building one, scrolling back, the extremes of a million records, a
// keystroke on the board, and the richest starting point beside a hand-written painter of the same item.
#include "lines.h"
#include "render/live_collection.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/wing_pictures.h"
#include "workbench/model/opening.h"
#include "workbench/model/starting_points.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/item/item_station.h"
#include "workbench/ui/main_window.h"
#include "workbench/ui/source/source_station.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPainter>
#include <QTemporaryDir>
#include <QTextLayout>
#include <cmath>
#include <cstring>
#include <nlohmann/json.hpp>

using namespace scorrere;
using namespace scorrere::bench;
using namespace scorrere::render;

namespace {

template <typename T>
T& stationOf(const workbench::MainWindow& window) {
    return *window.findChild<T*>();
}

constexpr int kWidth = 392;
constexpr int kHeight = 780;
using Json = nlohmann::ordered_json;

std::shared_ptr<const RecordTable> moths(std::int64_t count) {
    return std::make_shared<const RecordTable>(*service::makeSightings(count, 1));
}

CollectionDocument withItem(const Json& design) {
    auto document = CollectionDocument::parse(service::demoDocument(1000), "");
    auto made = document->withDesign(Json{{"items", {{"record", design}}}}.dump());
    if (!made) {
        fmt::print("{}\n", made.error().text());
        std::exit(2);
    }
    made->arrangement = {};
    return *made;
}

/// Eight parts: two boxes, a picture's place, four texts, a line.
const char* const kEightParts =
    R"({"column": [{"row": [{"picture": "wings/{picture}", "width": 40, "height": 40},
    {"text": "{species}", "weight": 600, "grow": 1}, {"text": "{status}", "size": 11}], "gap": 8},
    {"text": "{site} · {count}", "size": 12}, {"text": "{note}", "size": 13, "lines": 0}, {"line": 1}]})";

void refills(Lines& lines) {
    const auto records = moths(256);
    const CollectionDocument document = withItem(Json::parse(kEightParts));
    const auto design = ItemDesign::compile(document.item, document.scope(*records));
    const FontSet fonts(*design, 1);
    SteadyWatch watch;
    CostMeter meter(watch);
    const auto context = [&](std::int64_t record) {
        return FillContext{*records, record, &document.parameters, 0, nullptr, -1, 0};
    };
    TextCache kept(std::int64_t{64} << 20);
    ItemView pooled;
    pooled.build(*design);
    for (std::int64_t i = 0; i < 64; ++i) {
        pooled.fill(context(i), {fonts, kept, nullptr}, {Length::px(kWidth)}, meter);
    }
    const std::int64_t shaped = kept.shapedEver();
    const auto times = interleaved(
        200, {[&] {
                  for (std::int64_t i = 0; i < 64; ++i) { // a view made, shaped and placed for the first time
                      TextCache none(1);
                      ItemView built;
                      built.build(*design);
                      built.fill(context(i), {fonts, none, nullptr}, {Length::px(kWidth)}, meter);
                  }
              },
              [&] {
                  for (std::int64_t i = 0; i < 64; ++i) {
                      pooled.fill(context(i), {fonts, kept, nullptr}, {Length::px(kWidth)}, meter);
                  }
              }});
    const double build = median(times[0]) / 64 * 1000;
    const double refill = median(times[1]) / 64 * 1000;
    lines.atMost("refill of a pooled view, against building one and placing it", refill / build, 0.05, "x",
                 fmt::format("{:.1f} us", build));
    lines.atMost(fmt::format("refill of a design of {} parts, shaping aside", design->parts().size()), refill,
                 2, "us");
    lines.atMost("texts shaped by 12,800 refills with what was shown before",
                 static_cast<double>(kept.shapedEver() - shaped), 0, "texts");
    // With a date, whose formatter is ICU's.
    const CollectionDocument dated = withItem(Json::parse(
        R"({"column": [{"text": "{species}"}, {"text": "{seen, date, medium}", "missing": "-"}]})"));
    const auto dates = ItemDesign::compile(dated.item, dated.scope(*records));
    const FontSet datedFonts(*dates, 1);
    ItemView view;
    view.build(*dates);
    const auto refillDates = [&] {
        for (std::int64_t i = 0; i < 64; ++i) {
            view.fill(context(i), {datedFonts, kept, nullptr}, {Length::px(kWidth)}, meter);
        }
    };
    refillDates();
    lines.note(fmt::format("a refill with a date in it: {:.1f} us",
                           median(interleaved(200, {refillDates})[0]) / 64 * 1000));
}

void scrollingBack(Lines& lines) {
    auto live =
        LiveCollection::create(*CollectionDocument::parse(service::demoDocument(1000), ""), moths(20'000),
                               std::make_shared<service::WingPictures>(), Estimating::Never);
    (*live)->setWindow(kWidth, kHeight);
    std::int64_t now = 0;
    const auto go = [&](double px) {
        for (int i = 0; i < 200; ++i) {
            (*live)->run().wheel(Length::fromPx(px));
            (*live)->frame(now += 8333);
        }
    };
    go(60);
    const std::int64_t before = (*live)->texts().shapedEver();
    go(-60);
    const std::int64_t back = (*live)->texts().shapedEver() - before;
    lines.atMost("texts shaped on the way back over 12,000 px", static_cast<double>(back), 0, "texts",
                 fmt::format("{} on the way there, {:.1f} MiB kept", before,
                             static_cast<double>((*live)->texts().bytesKept()) / (1 << 20)));
}

/// The richest starting point, written out by hand: only the rows that show, all texts shaped beforehand, at
/// the places where ours put them.
class HandReading {
public:
    struct Text {
        std::unique_ptr<QTextLayout> layout;
        QPointF at;
        QColor ink;
    };
    struct Row {
        std::vector<Text> texts;
        std::vector<QRectF> grounds;
        QPointF marks;
        int full = -1;
        double height = 0;
        double line = 0;
    };

    void add(const ItemView& view) {
        const ItemDesign& design = view.design();
        Row row;
        row.height = view.height().toPx();
        for (std::size_t i = 0; i < design.parts().size(); ++i) {
            const PlanPart& part = design.parts()[i];
            const PartBox& box = view.boxes()[i];
            if (!box.shown) {
                i = static_cast<std::size_t>(part.subtreeEnd) - 1;
                continue;
            }
            const QRectF at(box.x.toPx(), box.y.toPx(), box.width.toPx(), box.height.toPx());
            if (part.type == PartType::Badge) {
                row.grounds.push_back(at);
            }
            if (part.isText()) {
                const FontSet fonts(design, 1);
                const auto& face = fonts.faces[static_cast<std::size_t>(part.style)];
                auto layout = std::make_unique<QTextLayout>(
                    QString::fromStdString(view.content().values[static_cast<std::size_t>(part.binding)]),
                    face.font);
                layout->setCacheEnabled(true);
                layout->beginLayout();
                QTextLine line = layout->createLine();
                line.setLineWidth(at.width() + 1);
                line.setPosition({0, face.ascent - line.ascent()});
                layout->endLayout();
                row.texts.push_back({std::move(layout),
                                     at.topLeft() + QPointF(part.padding[3].toPx(), part.padding[0].toPx()),
                                     part.colour == "quiet" ? Qt::darkGray : Qt::black});
            } else if (part.type == PartType::Scale) {
                row.marks = at.topLeft();
                row.full = static_cast<int>(view.content().numbers[i]);
            } else if (part.type == PartType::Line) {
                row.line = at.top();
            }
        }
        starts_.push_back(starts_.empty() ? 0 : starts_.back() + rows_.back().height);
        rows_.push_back(std::move(row));
    }
    double height() const { return starts_.back(); }

    void paint(QPainter& painter, double offset) const {
        painter.fillRect(QRectF(0, 0, kWidth, kHeight), Qt::white);
        auto first = static_cast<std::size_t>(std::upper_bound(starts_.begin(), starts_.end(), offset) -
                                              starts_.begin()) -
                     1;
        for (; first < rows_.size() && starts_[first] < offset + kHeight; ++first) {
            const Row& row = rows_[first];
            painter.translate(0, starts_[first] - offset);
            painter.setPen(Qt::NoPen);
            painter.setBrush(QColor(0xe8, 0xe4, 0xda));
            for (const QRectF& ground : row.grounds) {
                painter.drawRoundedRect(ground, 9, 9);
            }
            for (int i = 0; i < 5 && row.full >= 0; ++i) {
                painter.setPen(i < row.full ? QPen(Qt::NoPen) : QPen(Qt::darkGray));
                painter.setBrush(i < row.full ? QBrush(Qt::black) : QBrush(Qt::NoBrush));
                painter.drawEllipse(row.marks + QPointF(4.4 + i * 12.2, 4.4), 4, 4);
            }
            for (const Text& text : row.texts) {
                painter.setPen(text.ink);
                text.layout->draw(&painter, text.at);
            }
            painter.fillRect(QRectF(0, row.line, kWidth, 1), QColor(0xe8, 0xe4, 0xda));
            painter.translate(0, offset - starts_[first]);
        }
    }

private:
    std::vector<Row> rows_;
    std::vector<double> starts_;
};

void richest(Lines& lines) {
    const auto records = moths(3000);
    const std::vector<workbench::StartingPoint> points =
        workbench::startingPoints(*records, "wings/{picture}");
    const CollectionDocument document = withItem(points[4].design);
    const auto design = ItemDesign::compile(document.item, document.scope(*records));
    CollectionDocument bare = document;
    bare.header.reset();
    bare.footer.reset();
    auto live =
        LiveCollection::create(bare, records, std::make_shared<service::WingPictures>(), Estimating::AtOnce);
    (*live)->setWindow(kWidth, kHeight);
    const FontSet fonts(*design, 1);
    TextCache texts(std::int64_t{256} << 20);
    SteadyWatch watch;
    CostMeter meter(watch);
    HandReading hand;
    for (std::int64_t i = 0; i < records->size(); ++i) {
        ItemView view;
        view.build(*design);
        view.fill(FillContext{*records, i, &document.parameters, 0, nullptr, -1, 0}, {fonts, texts, nullptr},
                  {Length::px(kWidth)}, meter);
        hand.add(view);
    }
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    std::vector<double> ours;
    std::vector<double> theirs;
    double at = 0;
    double way = 137;
    (*live)->frame(0);
    for (int i = 0; i < 1000; ++i) {
        way = at + way < 0 || at + way > hand.height() - kHeight ? -way : way;
        at += way;
        double start = nowMs();
        (*live)->run().wheel(Length::fromPx(way));
        (*live)->frame((i + 1) * 8333);
        {
            QPainter painter(&screen);
            painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
            (*live)->paintWindow(painter, ItemColours::light(), 1);
        }
        ours.push_back(nowMs() - start);
        start = nowMs();
        {
            QPainter painter(&screen);
            painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
            hand.paint(painter, at);
        }
        theirs.push_back(nowMs() - start);
    }
    lines.atMost("richest starting point, 137 px a frame, full repaint, median",
                 median(ours) / median(theirs), 1.3, "x hand",
                 fmt::format("{:.2f} ms, by hand {:.2f} ms", median(ours), median(theirs)));
}

workbench::Surroundings surroundings(const QTemporaryDir& folder) {
    workbench::Surroundings made;
    made.settings =
        std::make_unique<QSettings>(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
    made.secrets = std::make_unique<workbench::DesktopSecrets>();
    made.askWhatToOpen = [](QWidget*) { return QString(); };
    made.askWhereToSave = [](QWidget*, const QString&) { return QString(); };
    return made;
}

void turnEvents(const std::function<bool()>& until, int mostMs) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < mostMs && !until()) {
        QCoreApplication::processEvents(QEventLoop::AllEvents | QEventLoop::WaitForMoreEvents, 5);
    }
}

/// Twenty parts, a dozen specimens; the clock runs from the key until the board is painted.
void keystrokes(Lines& lines, workbench::MainWindow& window) {
    Json column = Json::array();
    for (int i = 0; i < 6; ++i) {
        column.push_back(
            {{"row", Json::array({{{"text", "{species}"}}, {{"badge", "{status}"}}})}, {"gap", 6}});
    }
    column.push_back({{"text", "{note}"}, {"lines", 0}});
    const Json design = {{"column", column}, {"gap", 2}};
    window.workspace().changeDesign(QStringLiteral("bench"),
                                    QString::fromStdString(Json{{"items", {{"record", design}}}}.dump()), {});
    CollectionDocument pinned = window.workspace().document();
    pinned.board.pinned = {100, 200, 300, 400, 500, 600, 700};
    window.workspace().change(QStringLiteral("bench"), std::move(pinned));
    turnEvents([&] { return stationOf<workbench::ItemStation>(window).isSettled(); }, 60'000);
    stationOf<workbench::ItemStation>(window).board().select("/items/record/column/0/row/0");
    auto* line =
        stationOf<workbench::ItemStation>(window).card().findChild<QLineEdit*>(QStringLiteral("bindingLine"));
    line->setFocus();
    line->setCursorPosition(static_cast<int>(line->text().size()));
    turnEvents([] { return false; }, 700);
    std::vector<double> times;
    for (int i = 0; i < 60; ++i) {
        const double start = nowMs();
        const char letter = static_cast<char>('a' + i % 26);
        QKeyEvent press(QEvent::KeyPress, Qt::Key_A + i % 26, Qt::NoModifier, QString(QLatin1Char(letter)));
        QCoreApplication::sendEvent(line, &press);
        stationOf<workbench::ItemStation>(window).board().viewport()->repaint();
        times.push_back(nowMs() - start);
        turnEvents([] { return false; }, 20);
    }
    const auto shown = stationOf<workbench::ItemStation>(window).model().specimens().size();
    const auto parts = stationOf<workbench::ItemStation>(window).model().design()->parts().size();
    lines.atMost(
        fmt::format("a keystroke in a binding, until {} specimens of {} parts show it, p90", shown, parts),
        percentile(times, 0.9), 16, "ms", fmt::format("median {:.1f} ms", median(times)));
}

void extremes(Lines& lines) {
    const QTemporaryDir folder;
    workbench::MainWindow window(surroundings(folder));
    window.resize(1280, 800);
    window.show();
    window.workspace().opening().openDemo(1'000'000);
    turnEvents(
        [&] {
            return stationOf<workbench::FlowStation>(window).collection() != nullptr &&
                   !window.workspace().opening().isBusy() &&
                   stationOf<workbench::FlowStation>(window).collection()->records().size() == 1'000'000;
        },
        60'000);
    turnEvents([&] { return !stationOf<workbench::FlowStation>(window).collection()->isEstimating(); },
               60'000);
    turnEvents([] { return false; }, 300);
    QTimer beat;
    beat.setTimerType(Qt::PreciseTimer);
    beat.setInterval(2);
    QElapsedTimer since;
    double worst = 0;
    QObject::connect(&beat, &QTimer::timeout, [&] {
        worst = std::max(worst, static_cast<double>(since.nsecsElapsed()) / 1e6 - 2);
        since.restart();
    });
    QElapsedTimer clock;
    clock.start();
    since.start();
    beat.start();
    window.goTo(QStringLiteral("item"));
    double first = -1;
    turnEvents(
        [&] {
            if (first < 0 && !stationOf<workbench::ItemStation>(window).model().specimens().empty()) {
                first = static_cast<double>(clock.nsecsElapsed()) / 1e6;
            }
            return stationOf<workbench::ItemStation>(window).isSettled();
        },
        120'000);
    const double whole = static_cast<double>(clock.nsecsElapsed()) / 1e6;
    beat.stop();
    lines.atMost("extremes of 1,000,000 records: first specimens after", first < 0 ? 1e9 : first, 100, "ms");
    lines.atMost("extremes of 1,000,000 records: an event waits at most", worst, 16, "ms");
    lines.note(fmt::format("extremes of 1,000,000 records: all were looked at after {:.0f} ms", whole));
    keystrokes(lines, window);
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    QApplication::setStyle(QStringLiteral("fusion"));
    Lines lines;
    fmt::print("\nThe item\n");
    refills(lines);
    scrollingBack(lines);
    richest(lines);
    extremes(lines);
    return lines.exitCode();
}
