// SPDX-License-Identifier: GPL-3.0-or-later
//
// The scroll: Scorrere beside *build everything* (one widget tree an item in a scroll area) and beside a hand
// minimum (a bare painter of the visible rows, from layouts and heights that are there before the clock
// starts).
#include "lines.h"
#include "render/live_collection.h"
#include "render/text_block.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/wing_pictures.h"

#include <QApplication>
#include <QDateTime>
#include <QElapsedTimer>
#include <QLabel>
#include <QLocale>
#include <QPainter>
#include <QScrollArea>
#include <QScrollBar>
#include <QTextLayout>
#include <QVBoxLayout>
#include <cmath>
#include <cstring>
#include <fstream>
#include <functional>
#include <map>
#include <random>
#include <thread>
#include <utility>

using namespace scorrere;
using namespace scorrere::bench;
using namespace scorrere::render;

namespace {

constexpr int kWidth = 392;
constexpr int kHeight = 780;
constexpr double kStep = 137;
const char* const kItem = R"({"items": {"record": {"column": [
    {"row": [{"picture": "wings/{picture}", "width": 40, "height": 40},
        {"column": [
            {"row": [{"text": "{species}", "size": 15, "weight": 600, "grow": 1},
                     {"text": "{status}", "size": 11, "colour": "quiet", "ground": "faint", "padding": [1, 8], "radius": 9}],
             "gap": 8, "align": "center"},
            {"row": [{"text": "{site} · {count}", "size": 12, "colour": "quiet"},
                     {"text": "{seen, date, medium}", "missing": "not dated yet", "size": 12, "colour": "quiet"}],
             "gap": 12},
            {"space": 3}, {"text": "{note}", "size": 13, "lines": 0}], "gap": 1, "grow": 1}],
     "gap": 12, "padding": [12, 16, 11, 16]},
    {"line": 1, "colour": "faint"}]}}})";

double residentMiB() {
    std::ifstream in("/proc/self/statm");
    double pages = 0;
    double resident = 0;
    in >> pages >> resident;
    return resident * 4096 / (1 << 20);
}

/// Only the rows, only what shows: what a patient programmer writes for this one design when all heights are
/// given.
class HandMinimum {
public:
    HandMinimum(const RecordTable& records, const std::vector<double>& starts)
        : records_(records), starts_(starts) {}

    void prepare(std::size_t row) {
        if (rows_.contains(row)) {
            return;
        }
        const auto record = static_cast<std::int64_t>(row);
        const auto text = [&](const char* name) {
            const auto field = records_.find(name);
            return QString::fromStdString(records_.display(record, *field));
        };
        Row made;
        const auto add = [&](const QString& say, int size, int weight, double width, double x, double y,
                             bool quiet) {
            QFont font(textFamily());
            font.setPixelSize(size);
            font.setWeight(static_cast<QFont::Weight>(weight));
            font.setHintingPreference(QFont::PreferNoHinting);
            auto layout = std::make_unique<QTextLayout>(say, font);
            layout->setCacheEnabled(true);
            layout->beginLayout();
            double at = 0;
            while (true) {
                QTextLine line = layout->createLine();
                if (!line.isValid()) {
                    break;
                }
                line.setLineWidth(width);
                line.setPosition(QPointF(0, at));
                at += std::ceil(size * 1.4);
            }
            layout->endLayout();
            made.texts.push_back({std::move(layout), QPointF(x, y), quiet});
        };
        add(text("species"), 15, 600, 220, 68, 12, false);
        add(text("status"), 11, 400, 80, 320, 14, true);
        add(text("site") + QStringLiteral(" · ") + text("count"), 12, 400, 120, 68, 34, true);
        const auto seen = QDateTime::fromString(text("seen"), Qt::ISODate);
        add(seen.isValid() ? QLocale(QLocale::English).toString(seen, QStringLiteral("MMM d, yyyy"))
                           : QStringLiteral("not dated yet"),
            12, 400, 120, 200, 34, true);
        add(text("note"), 13, 400, 308, 68, 56, false);
        rows_.emplace(row, std::move(made));
    }

    void paint(QPainter& painter, double offset, const QImage& picture) {
        painter.fillRect(QRectF(0, 0, kWidth, kHeight), Qt::white);
        auto first = static_cast<std::size_t>(std::upper_bound(starts_.begin(), starts_.end(), offset) -
                                              starts_.begin()) -
                     1;
        for (; first + 1 < starts_.size() && starts_[first] < offset + kHeight; ++first) {
            prepare(first);
            painter.translate(0, starts_[first] - offset);
            painter.drawImage(QRectF(16, 12, 40, 40), picture);
            painter.setPen(Qt::NoPen);
            painter.setBrush(QColor(0xe8, 0xe4, 0xda));
            painter.drawRoundedRect(QRectF(312, 13, 64, 18), 9, 9);
            for (const Text& text : rows_.at(first).texts) {
                painter.setPen(text.quiet ? Qt::darkGray : Qt::black);
                text.layout->draw(&painter, text.at);
            }
            painter.fillRect(QRectF(0, starts_[first + 1] - starts_[first] - 1, kWidth, 1),
                             QColor(0xe8, 0xe4, 0xda));
            painter.translate(0, offset - starts_[first]);
        }
    }
    void forget() { rows_.clear(); }

private:
    struct Text {
        std::unique_ptr<QTextLayout> layout;
        QPointF at;
        bool quiet;
    };
    struct Row {
        std::vector<Text> texts;
    };
    const RecordTable& records_;
    const std::vector<double>& starts_;
    std::map<std::size_t, Row> rows_;
};

std::unique_ptr<LiveCollection> makeStreamed(const CollectionDocument& document,
                                             std::shared_ptr<const RecordTable> records,
                                             Estimating estimating) {
    auto live = LiveCollection::create(document, std::move(records),
                                       std::make_shared<service::WingPictures>(), estimating);
    if (!live) {
        fmt::print("{}\n", live.error().text());
        std::exit(2);
    }
    return std::move(*live);
}

void paintLive(LiveCollection& live, QImage& screen) {
    QPainter painter(&screen);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    live.paintWindow(painter, ItemColours::light(), 1);
}

void paintHand(HandMinimum& hand, QImage& screen, double offset, const QImage& picture) {
    QPainter painter(&screen);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    hand.paint(painter, offset, picture);
}

double buildEverything(const RecordTable& records) {
    const double start = nowMs();
    QScrollArea area;
    auto* all = new QWidget;
    auto* column = new QVBoxLayout(all);
    column->setSpacing(0);
    for (std::int64_t i = 0; i < records.size(); ++i) {
        auto* item = new QWidget;
        auto* row = new QHBoxLayout(item);
        auto* picture = new QLabel;
        picture->setFixedSize(40, 40);
        row->addWidget(picture);
        auto* inner = new QVBoxLayout;
        row->addLayout(inner, 1);
        for (const char* name : {"species", "site", "note"}) {
            auto* label = new QLabel(QString::fromStdString(records.display(i, *records.find(name))));
            label->setWordWrap(true);
            inner->addWidget(label);
        }
        column->addWidget(item);
    }
    area.setWidget(all);
    area.setWidgetResizable(true);
    area.resize(kWidth, kHeight);
    area.show();
    (void)area.grab();
    return nowMs() - start;
}

struct Data {
    std::shared_ptr<const RecordTable> small, middle, large;
};

std::shared_ptr<const RecordTable> moths(std::int64_t count) {
    return std::make_shared<const RecordTable>(*service::makeSightings(count, 1));
}

/// Real starts of the first rows, and plausible ones behind.
std::vector<double> startsOf(const CollectionDocument& document,
                             const std::shared_ptr<const RecordTable>& records) {
    auto live = makeStreamed(document, records, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    std::vector<double> starts;
    for (std::int64_t i = 0; i <= records->size(); ++i) {
        starts.push_back(live->run().arrangement().startOf(i).toPx());
    }
    return starts;
}

void firstFrames(const CollectionDocument& document, const Data& data, Lines& lines) {
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    const QImage picture = service::drawWings(7, QSize(40, 40));
    const auto starts = startsOf(document, data.small);
    const auto first = [&](const std::shared_ptr<const RecordTable>& records) {
        const double start = nowMs();
        auto live = makeStreamed(document, records, Estimating::Never);
        live->setWindow(kWidth, kHeight);
        live->frame(0);
        paintLive(*live, screen);
        return nowMs() - start; // taking it down is not part of a first frame
    };
    HandMinimum hand(*data.small, starts);
    std::array<std::vector<double>, 3> times;
    for (int round = 0; round < 40; ++round) {
        times[0].push_back(first(data.small));
        times[1].push_back(first(data.large));
        hand.forget();
        const double start = nowMs();
        paintHand(hand, screen, 0, picture);
        times[2].push_back(nowMs() - start);
    }
    const double small = median(times[0]);
    const double large = median(times[1]);
    const double least = median(times[2]);
    lines.atMost("first frame, 1,000,000 against 1,000", large / small, 1.3, "x",
                 fmt::format("{:.2f} ms, {:.2f} ms", large, small));
    lines.atMost("first frame at 1,000,000 against the hand minimum's", large / least, 3, "x",
                 fmt::format("{:.2f} ms", least));
}

struct Scroll {
    std::vector<double> ours;
    std::vector<double> hand;
};

/// Both scroll the same way, 137 px a frame, turn by turn; each frame is painted whole.
Scroll scroll(const CollectionDocument& document, const std::shared_ptr<const RecordTable>& records,
              int frames) {
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    const QImage picture = service::drawWings(7, QSize(40, 40));
    const auto starts = startsOf(document, records);
    HandMinimum hand(*records, starts);
    auto live = makeStreamed(document, records, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    live->frame(0);
    paintLive(*live, screen);
    const double most = std::min(starts.back() - kHeight, frames * kStep);
    for (std::size_t i = 0; i + 1 < starts.size() && starts[i] < most + kHeight; ++i) {
        hand.prepare(i); // its layouts are there beforehand
    }
    Scroll result;
    double at = 0;
    double way = kStep;
    for (int i = 0; i < frames; ++i) {
        QCoreApplication::processEvents(); // pictures arrive between frames, as they do on a screen
        way = at + way > most || at + way < 0 ? -way : way;
        at += way;
        double start = nowMs();
        live->run().wheel(Length::fromPx(way));
        live->frame((i + 1) * 8333);
        paintLive(*live, screen);
        result.ours.push_back(nowMs() - start);
        start = nowMs();
        paintHand(hand, screen, at, picture);
        result.hand.push_back(nowMs() - start);
    }
    return result;
}

void scrolls(const CollectionDocument& document, const Data& data, Lines& lines) {
    const auto one = [&](const char* name, const std::shared_ptr<const RecordTable>& records, bool judge) {
        const double before = residentMiB();
        const Scroll s = scroll(document, records, 1200);
        const double ours = median(s.ours);
        const double hand = median(s.hand);
        const double ours99 = percentile(s.ours, 0.99);
        const double hand99 = percentile(s.hand, 0.99);
        lines.note(fmt::format(
            "{}: ours {:.2f} / {:.2f} ms, by hand {:.2f} / {:.2f} ms (median / p99); {:+.0f} MiB resident",
            name, ours, ours99, hand, hand99, residentMiB() - before));
        if (judge) {
            lines.atMost("scroll of 137 px a frame at 1,000,000, median", ours / hand, 1.3, "x hand");
            lines.atMost("scroll of 137 px a frame at 1,000,000, p99", ours99 / hand99, 2, "x hand");
        }
    };
    one("scroll at 1,000", data.small, false);
    one("scroll at 20,000", data.middle, false);
    one("scroll at 1,000,000", data.large, true);
}

void leaps(const CollectionDocument& document, const Data& data, Lines& lines) {
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    const QImage picture = service::drawWings(7, QSize(40, 40));
    const auto starts = startsOf(document, data.small);
    HandMinimum hand(*data.small, starts);
    auto live = makeStreamed(document, data.large, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    std::int64_t now = 0;
    std::mt19937_64 dice(3);
    const auto frame = [&] {
        live->frame(now += 8333);
        paintLive(*live, screen);
    };
    frame();
    bool wide = false;
    std::vector<double> handTimes, jumps, inserts, widths;
    for (int i = 0; i < 60; ++i) {
        double start = nowMs();
        hand.forget(); // a jump lands among rows that were never shaped
        paintHand(hand, screen, static_cast<double>(dice() % 80'000), picture);
        handTimes.push_back(nowMs() - start);
        start = nowMs();
        live->run().jumpTo(static_cast<std::int64_t>(dice() % 1'000'000));
        frame();
        jumps.push_back(nowMs() - start);
        for (int k = 0; k < 12; ++k) {
            frame();
        }
        live->run().travelTo(Length{});
        for (int k = 0; k < 12; ++k) {
            frame();
        }
        start = nowMs();
        live->insertRecords(0, static_cast<std::int64_t>(dice() % 900'000), 1);
        frame();
        inserts.push_back(nowMs() - start);
    }
    auto plain = makeStreamed(document, data.large, Estimating::Background);
    plain->setWindow(kWidth, kHeight);
    plain->frame(0);
    for (int i = 0; i < 30; ++i) {
        for (QElapsedTimer waited =
                 [] {
                     QElapsedTimer t;
                     t.start();
                     return t;
                 }();
             waited.elapsed() < 60;) {
            QCoreApplication::processEvents();
            plain->frame(now += 8333);
        }
        const double start = nowMs();
        plain->setWindow(wide ? kWidth : 780, wide ? kHeight : 392);
        plain->frame(now += 8333);
        QImage turned(wide ? kWidth : 780, wide ? kHeight : 392, QImage::Format_ARGB32_Premultiplied);
        paintLive(*plain, turned);
        widths.push_back(nowMs() - start);
        wide = !wide;
    }
    const double least = median(handTimes);
    const std::string beside = fmt::format("by hand {:.2f} ms", least);
    lines.atMost("jump to anywhere at 1,000,000, the next frame", median(jumps) / least, 3, "x hand", beside);
    lines.atMost("insert at the top at 1,000,000, the next frame", median(inserts) / least, 3, "x hand",
                 beside);
    lines.atMost("change of width at 1,000,000, the next frame", median(widths) / least, 3, "x hand",
                 fmt::format("{:.2f} ms; {}", median(widths), beside));
}

void estimates(const CollectionDocument& document, const Data& data, Lines& lines) {
    auto live = makeStreamed(document, data.large, Estimating::Background);
    const double begun = nowMs();
    live->setWindow(kWidth, kHeight);
    std::int64_t now = 0;
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    double worst = 0;
    std::int64_t frames = 0;
    double due = nowMs();
    while (live->isEstimating()) {
        for (due += 8.333; nowMs() < due;) { // 120 frames a second, as on a screen
            QCoreApplication::processEvents(QEventLoop::AllEvents, 1);
            std::this_thread::sleep_for(std::chrono::microseconds(200));
        }
        due = std::max(due, nowMs() - 8.333);
        if (frames % 100 == 0) {
            live->run().motion().fling(4000, now);
        }
        const double start = nowMs();
        live->frame(now += 8333);
        paintLive(*live, screen);
        worst = std::max(worst, nowMs() - start);
        ++frames;
    }
    lines.note(fmt::format("estimating 1,000,000 items took {:.1f} s beside {} frames",
                           (nowMs() - begun) / 1000, frames));
    lines.atMost("worst frame while estimating in the background", worst, 8.333, "ms");
    const double estimated = live->run().total().toPx();
    // The truth, by sample: 20,000 items shaped for real, against their estimates.
    auto shaped = makeStreamed(document, data.large, Estimating::Never);
    shaped->setWindow(kWidth, kHeight);
    std::mt19937_64 dice(11);
    double real = 0;
    double thought = 0;
    double exact = 0;
    double sampled = 0;
    for (int i = 0; i < 2500; ++i) {
        shaped->run().jumpTo(static_cast<std::int64_t>(dice() % 999'000));
        shaped->frame(i * 8333);
        for (const Placement& p : shaped->run().placements()) {
            if (p.showing && live->run().arrangement().stateOf(p.position) != ExtentState::Measured) {
                real += p.box.extent.toPx();
                const double estimate = live->run().arrangement().extentOf(p.position).toPx();
                thought += estimate;
                exact += std::abs(estimate - p.box.extent.toPx()) < 0.5 ? 1 : 0;
                sampled += 1;
            }
        }
    }
    lines.atMost(
        fmt::format("length of the whole strip, estimated against measured ({:.0f} sampled)", sampled),
        std::abs(thought / real - 1) * 100, 1, "%",
        fmt::format("{:.1f} % of items exact", exact / sampled * 100));
    for (int i = 0; i < 3000; ++i) {
        live->run().wheel(Length::fromPx(900));
        live->frame(now += 8333);
    }
    lines.atMost("change of the total while scrolling 3,000 frames on",
                 std::abs(live->run().total().toPx() / estimated - 1) * 100, 0.5, "%");
}

void flings(const CollectionDocument& document, const Data& data, Lines& lines) {
    auto live = makeStreamed(document, data.large, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    std::size_t most = 0;
    for (int i = 0; i < 10'000; ++i) {
        if (i % 300 == 0) {
            live->run().motion().fling(20'000, i * 8333);
        }
        live->frame(i * 8333);
        most = std::max(most, live->run().recycler().alive().size());
    }
    lines.atMost("item views built in a fling of 10,000 frames",
                 static_cast<double>(live->run().recycler().views().size()),
                 static_cast<double>(most + Arrangement::kRoles), "views",
                 fmt::format("{} alive at most", most));
}

/// Cards, side by side in one way or another.
constexpr const char* kCard =
    R"({"items": {"record": {"column": [{"picture": "wings/{picture}", "height": 84},
        {"text": "{species}", "size": 13, "weight": 600, "lines": 2},
        {"text": "{site}", "size": 12, "colour": "quiet", "lines": 1}], "gap": 4}}})";

struct Beside {
    std::string name;
    std::function<ArrangementSpec(int beside)> of;
    int usual;
};

ArrangementSpec gridOf(int columns) {
    GridSpec grid;
    grid.columns.count = columns;
    grid.columns.gap = Length::px(8);
    return {{Length::px(12), {}}, grid};
}

ArrangementSpec columnsOf(int lanes) {
    ColumnsSpec columns;
    columns.lanes.count = lanes;
    columns.lanes.gap = Length::px(8);
    return {{Length::px(12), {}}, columns};
}

/// `beside`: ten times as many px of each neighbour show.
ArrangementSpec pagerOf(int beside) {
    PagerSpec pager;
    pager.peek = Length::px(10 * beside);
    return {{Length::px(12), {}}, pager};
}

CollectionDocument cardsOf(const CollectionDocument& document, const ArrangementSpec& arrangement) {
    CollectionDocument cards = *document.withDesign(kCard);
    cards.header.reset();
    cards.footer.reset();
    cards.arrangement = arrangement;
    return cards;
}

/// Only the cells that show, from boxes and layouts that exist.
class HandCells {
public:
    HandCells(const RecordTable& records, std::vector<Box> boxes)
        : records_(records), boxes_(std::move(boxes)) {
        for (const Box& box : boxes_) {
            longest_ = std::max(longest_, box.extent.toPx());
        }
    }

    void prepare(std::size_t cell) {
        if (texts_.contains(cell)) {
            return;
        }
        std::vector<Text> made;
        double at = 88;
        const auto add = [&](const char* field, int size, int weight, bool quiet) {
            QFont font(textFamily());
            font.setPixelSize(size);
            font.setWeight(static_cast<QFont::Weight>(weight));
            font.setHintingPreference(QFont::PreferNoHinting);
            auto layout =
                std::make_unique<QTextLayout>(QString::fromStdString(records_.display(
                                                  static_cast<std::int64_t>(cell), *records_.find(field))),
                                              font);
            layout->setCacheEnabled(true);
            layout->beginLayout();
            double y = 0;
            for (QTextLine line = layout->createLine(); line.isValid(); line = layout->createLine()) {
                line.setLineWidth(boxes_[cell].crossExtent.toPx());
                line.setPosition(QPointF(0, y));
                y += std::ceil(size * 1.4);
            }
            layout->endLayout();
            made.push_back({std::move(layout), at, quiet});
            at += y + 4;
        };
        add("species", 13, 600, false);
        add("site", 12, 400, true);
        texts_.emplace(cell, std::move(made));
    }

    void paint(QImage& screen, double offset, const QImage& picture) {
        QPainter painter(&screen);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        painter.fillRect(screen.rect(), Qt::white);
        const auto from = std::ranges::lower_bound(boxes_, offset - longest_, {},
                                                   [](const Box& box) { return box.start.toPx(); });
        for (auto at = static_cast<std::size_t>(from - boxes_.begin());
             at < boxes_.size() && boxes_[at].start.toPx() < offset + screen.height(); ++at) {
            if (boxes_[at].end().toPx() <= offset) {
                continue;
            }
            prepare(at);
            const QPointF corner(boxes_[at].crossStart.toPx(), boxes_[at].start.toPx() - offset);
            painter.translate(corner);
            painter.drawImage(QPointF(0, 0), picture); // of its size already
            for (const Text& text : texts_.at(at)) {
                painter.setPen(text.quiet ? Qt::darkGray : Qt::black);
                text.layout->draw(&painter, QPointF(0, text.y));
            }
            painter.translate(-corner);
        }
    }
    void forget() { texts_.clear(); }
    double end() const { return boxes_.back().end().toPx(); }

private:
    struct Text {
        std::unique_ptr<QTextLayout> layout;
        double y;
        bool quiet;
    };
    const RecordTable& records_;
    std::vector<Box> boxes_; ///< none starts before one of a lower position
    double longest_ = 0;
    std::map<std::size_t, std::vector<Text>> texts_;
};

std::vector<Box> boxesOf(const CollectionDocument& document,
                         const std::shared_ptr<const RecordTable>& records, std::int64_t count) {
    auto live = makeStreamed(document, records, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    std::vector<Box> boxes;
    if (live->run().arrangement().followsWindow()) { // nothing of it is measured
        for (std::int64_t position = 0; position < count; ++position) {
            boxes.push_back(live->run().arrangement().boxOf(position));
        }
        return boxes;
    }
    for (std::int64_t now = 0; std::cmp_less(boxes.size(), count);) {
        live->frame(now += 8333);
        for (const Placement& placed : live->run().placements()) {
            if (std::cmp_equal(placed.position, boxes.size())) {
                boxes.push_back(live->run().arrangement().boxOf(placed.position));
            }
        }
        live->run().wheel(Length::px(kHeight / 2));
    }
    return boxes;
}

/// ns to measure one item of a million, anywhere, and one of a list, turn by turn.
std::array<double, 2> measuringNs(const ArrangementSpec& spec) {
    constexpr Arrangement::Estimates kThought{Length::px(90), {}, {}};
    std::array<std::unique_ptr<Arrangement>, 2> made{makeArrangement(spec, {}, 1'000'000, kThought),
                                                     makeArrangement({}, {}, 1'000'000, kThought)};
    for (const auto& one : made) {
        one->setCross(Length::px(kWidth));
        (void)one->forgetExtents(kThought);
    }
    std::mt19937_64 dice(11);
    std::array<std::vector<double>, 2> rounds;
    for (int round = 0; round < 18; ++round) {
        for (std::size_t which = 0; which < made.size(); ++which) {
            const double start = nowMs();
            for (int i = 0; i < 10'000; ++i) {
                made[which]->setMeasured(static_cast<std::int64_t>(dice() % 1'000'000),
                                         Length::fromRaw(4000 + static_cast<std::int64_t>(dice() % 4000)));
            }
            rounds[which].push_back((nowMs() - start) * 1e6 / 10'000);
        }
    }
    return {median(rounds[0]), median(rounds[1])};
}

/// The first frame of many beside that of few, turn by turn.
void firstFrame(const CollectionDocument& document, const std::shared_ptr<const RecordTable>& small,
                const std::shared_ptr<const RecordTable>& large, const std::string& name, Lines& lines) {
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    std::array<std::vector<double>, 2> first;
    for (int round = 0; round < 24; ++round) {
        for (const std::size_t which : {0u, 1u}) {
            const double start = nowMs();
            auto live = makeStreamed(document, which == 0 ? small : large, Estimating::Never);
            live->setWindow(kWidth, kHeight);
            live->frame(0);
            paintLive(*live, screen);
            first[which].push_back(nowMs() - start);
        }
    }
    lines.atMost(name + ", first frame, 1,000,000 against 1,000", median(first[1]) / median(first[0]), 1.3,
                 "x", fmt::format("{:.2f} ms, {:.2f} ms", median(first[1]), median(first[0])));
}

/// Both scroll the same way, turn by turn; each frame is painted whole. `end`: of what there is by hand.
template <typename ByHand>
Scroll scrollRows(LiveCollection& live, double end, std::int64_t& now, ByHand paintByHand) {
    Scroll times;
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    double at = 0;
    double way = kStep;
    for (int i = 0; i < 1200; ++i) {
        QCoreApplication::processEvents();
        way = at + way > end - kHeight || at + way < 0 ? -way : way;
        at += way;
        double start = nowMs();
        live.run().wheel(Length::fromPx(way));
        live.frame(now += 8333);
        paintLive(live, screen);
        times.ours.push_back(nowMs() - start);
        start = nowMs();
        paintByHand(at);
        times.hand.push_back(nowMs() - start);
    }
    return times;
}

/// The same of cells.
Scroll scrollCells(LiveCollection& live, HandCells& hand, const QImage& picture, std::int64_t& now,
                   std::vector<double>& copies) {
    Scroll times;
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    QImage copy(screen.size(), screen.format());
    // Where it would come to rest by itself, it follows a finger.
    const bool isDragged = live.run().arrangement().followsWindow();
    ScrollMotion& finger = live.run().motion();
    if (isDragged) {
        finger.press(now, Length{});
    }
    double at = 0;
    double way = kStep;
    for (int i = 0; i < 1200; ++i) {
        QCoreApplication::processEvents();
        way = at + way > hand.end() - kHeight || at + way < 0 ? -way : way;
        at += way;
        double start = nowMs();
        if (isDragged) {
            finger.drag(now, Length::fromPx(-at));
        } else {
            live.run().wheel(Length::fromPx(way));
        }
        live.frame(now += 8333);
        paintLive(live, screen);
        times.ours.push_back(nowMs() - start);
        start = nowMs();
        hand.paint(screen, at, picture);
        times.hand.push_back(nowMs() - start);
        start = nowMs();
        std::memcpy(copy.bits(), screen.constBits(), static_cast<std::size_t>(screen.sizeInBytes()));
        copies.push_back(nowMs() - start);
    }
    finger.letGo(now);
    finger.stop();
    return times;
}

void besides(const CollectionDocument& document, const Data& data, const Beside& how, Lines& lines) {
    const CollectionDocument usual = cardsOf(document, how.of(how.usual));
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    firstFrame(usual, data.small, data.large, how.name, lines);

    const std::vector<Box> boxes = boxesOf(usual, data.large, 6000);
    const QImage picture =
        service::drawWings(7, QSize(static_cast<int>(boxes[0].crossExtent.toPx()), 84)); // of its size
    HandCells hand(*data.large, boxes);
    auto live = makeStreamed(usual, data.large, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    live->frame(0);
    paintLive(*live, screen);
    for (std::size_t cell = 0; cell < 6000; ++cell) {
        hand.prepare(cell);
    }
    std::vector<double> copies;
    std::int64_t now = 0;
    const Scroll times = scrollCells(*live, hand, picture, now, copies);
    const bool isDragged = live->run().arrangement().followsWindow();
    lines.note(
        fmt::format("{}: a plain copy of the window's pixels takes {:.2f} ms", how.name, median(copies)));
    const std::string beside =
        fmt::format("{:.2f} ms, by hand {:.2f}", median(times.ours), median(times.hand));
    lines.atMost(how.name + ", 137 px a frame, median", median(times.ours) / median(times.hand), 1.3,
                 "x hand", beside);
    lines.atMost(how.name + ", 137 px a frame, p99",
                 percentile(times.ours, 0.99) / percentile(times.hand, 0.99), 2, "x hand");

    std::mt19937_64 dice(5);
    std::vector<double> fresh, jumps, changes;
    double moved = 0;
    for (int i = 0; i < 40; ++i) {
        hand.forget();
        double start = nowMs();
        hand.paint(screen, static_cast<double>(dice() % 60'000), picture);
        fresh.push_back(nowMs() - start);
        start = nowMs();
        live->run().jumpTo(static_cast<std::int64_t>(dice() % 1'000'000));
        live->frame(now += 8333);
        paintLive(*live, screen);
        jumps.push_back(nowMs() - start);
        const HoldPoint read = live->run().hold();
        start = nowMs();
        // Another number of columns is another run that stands where the one before stood.
        auto other = makeStreamed(cardsOf(document, how.of(how.usual + (i % 2 == 0 ? 1 : -1))), data.large,
                                  Estimating::Never);
        other->setWindow(kWidth, kHeight);
        other->run().jumpTo(read.position);
        other->frame(0);
        paintLive(*other, screen);
        changes.push_back(nowMs() - start);
        for (const Placement& placed : other->run().placements()) {
            if (placed.position == read.position) {
                moved = std::max(moved, std::abs((placed.box.start - read.onScreen).toPx()));
            }
        }
    }
    lines.atMost(how.name + ", jump to anywhere, the next frame", median(jumps) / median(fresh), 3, "x hand",
                 fmt::format("by hand {:.2f} ms", median(fresh)));
    if (!isDragged) { // a pager has no number of them
        lines.atMost(how.name + ", another number of them, the next frame", median(changes) / median(fresh),
                     3, "x hand");
    }
    lines.note(fmt::format("the item that was read moved {:.2f} px by that", moved));
    const auto [cell, item] = measuringNs(usual.arrangement);
    lines.atMost(how.name + ", one measured of 1,000,000, against one of a list", cell / item, 1.3, "x",
                 fmt::format("{:.0f} ns, {:.0f} ns", cell, item));
}

/// What an arrangement keeps of its items beyond what a list does, in bytes an item.
void memory(const char* name, const ArrangementSpec& spec, Lines& lines) {
    constexpr Arrangement::Estimates kThought{Length::px(90), {}, {}};
    constexpr std::int64_t kItems = 1'000'000;
    const auto bytesOf = [&](const ArrangementSpec& of, bool measured) {
        const auto made = makeArrangement(of, {}, kItems, kThought);
        made->setCross(Length::px(kWidth));
        made->setWindow(Length::px(kHeight));
        (void)made->forgetExtents(kThought);
        if (auto* grid = dynamic_cast<GridArrangement*>(made.get()); grid != nullptr && grid->hasSpans()) {
            std::mt19937_64 dice(7);
            std::vector<std::uint8_t> spans(kItems);
            std::ranges::generate(spans, [&] { return static_cast<std::uint8_t>(dice() % 10 < 3 ? 2 : 1); });
            CellFlow flow(grid->columnsToBe());
            flow.append(spans);
            (void)grid->takeFlow(
                CellFlow(flow)); // a copy, as a worker hands it over, is no larger than it must be
        }
        for (std::int64_t i = 0; measured && i < kItems; ++i) {
            made->recall(i); // as what is shown
            made->setMeasured(i, Length::fromRaw(4000 + i * 7919 % 4000));
        }
        return static_cast<double>(made->memoryBytes()) / static_cast<double>(kItems);
    };
    const ArrangementSpec list;
    lines.atMost(fmt::format("{}, memory beyond a list's, unmeasured", name),
                 bytesOf(spec, false) - bytesOf(list, false), 1.2, "B an item");
    lines.atMost(fmt::format("{}, memory beyond a list's, measured", name),
                 bytesOf(spec, true) - bytesOf(list, true), 8, "B an item");
}

/// The rows by hand, and the headers of their sections, of which the present one stays.
class HandSections {
public:
    HandSections(const RecordTable& records, const std::vector<double>& starts) : rows_(records, starts) {}
    HandMinimum& rows() { return rows_; }
    void add(double start, const QString& name, const QString& count) {
        headers_.push_back({start, layoutOf(name, 13, 600), layoutOf(count, 12, 400)});
    }
    void forget() {
        for (Header& header : headers_) {
            header.name = layoutOf(header.name->text(), 13, 600);
            header.count = layoutOf(header.count->text(), 12, 400);
        }
    }
    void paint(QImage& screen, double offset, const QImage& picture) {
        QPainter painter(&screen);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        rows_.paint(painter, offset, picture);
        std::size_t stays = 0;
        for (std::size_t i = 0; i < headers_.size() && headers_[i].start < offset + kHeight; ++i) {
            stays = headers_[i].start <= offset ? i : stays;
            if (headers_[i].start > offset) {
                paintOne(painter, headers_[i], headers_[i].start - offset);
            }
        }
        paintOne(painter, headers_[stays], 0);
    }
    /// Nothing but headers, all of them folded.
    void paintFolded(QImage& screen) {
        QPainter painter(&screen);
        painter.fillRect(screen.rect(), Qt::white);
        for (int i = 0; i * kHeader < kHeight; ++i) {
            paintOne(painter, headers_[static_cast<std::size_t>(i)], i * kHeader);
        }
    }

private:
    static constexpr int kHeader = 33;
    struct Header {
        double start;
        std::unique_ptr<QTextLayout> name;
        std::unique_ptr<QTextLayout> count;
    };
    static std::unique_ptr<QTextLayout> layoutOf(const QString& text, int size, int weight) {
        QFont font(textFamily());
        font.setPixelSize(size);
        font.setWeight(static_cast<QFont::Weight>(weight));
        auto layout = std::make_unique<QTextLayout>(text, font);
        layout->setCacheEnabled(true);
        layout->beginLayout();
        layout->createLine().setLineWidth(kWidth);
        layout->endLayout();
        return layout;
    }
    static void paintOne(QPainter& painter, const Header& header, double y) {
        painter.fillRect(QRectF(0, y, kWidth, kHeader), Qt::white);
        painter.setPen(Qt::black);
        header.name->draw(&painter, QPointF(16, y + 7));
        painter.setPen(Qt::darkGray);
        header.count->draw(&painter, QPointF(340, y + 8));
        painter.fillRect(QRectF(0, y + kHeader - 1, kWidth, 1), QColor(0xe8, 0xe4, 0xda));
    }

    HandMinimum rows_;
    std::vector<Header> headers_;
};

void sections(const CollectionDocument& usual, Lines& lines) {
    const auto nights = [](std::int64_t count) {
        return std::make_shared<const RecordTable>(*service::makeSightings(count, 1, {}, {}, {true, false}));
    };
    const auto small = nights(1000);
    const auto large = nights(1'000'000);
    CollectionDocument document = usual;
    document.arrangement.sections = SectionsSpec();
    document.arrangement.sections->by.is = SectionBy::Text{"{night, date, ::yMMMMd}"};
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    const QImage picture = service::drawWings(7, QSize(40, 40));
    firstFrame(document, small, large, "sections", lines);
    for (const auto& [name, form] :
         {std::pair{"2 ragged columns", columnsOf(2)}, std::pair{"pager", pagerOf(2)}}) {
        CollectionDocument over = cardsOf(usual, form);
        over.arrangement.sections = document.arrangement.sections;
        firstFrame(over, small, large, fmt::format("sections over {}", name), lines);
    }

    auto live = makeStreamed(document, large, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    Arrangement& arrangement = live->run().arrangement();
    constexpr std::int64_t kRows = 6000;
    std::vector<double> starts;
    for (std::int64_t place = 0; place <= kRows; ++place) {
        starts.push_back(arrangement.startOf(arrangement.positionOf(place)).toPx());
    }
    HandSections hand(*large, starts);
    for (std::int64_t section = 0; section < 40; ++section) {
        const Sections::Stand stand = live->sections()->at(section);
        hand.add(arrangement.startOf(arrangement.positionOf(stand.first) - 1).toPx(),
                 live->sectionName(section), QString::number(stand.records));
    }
    for (std::size_t row = 0; std::cmp_less(row, kRows); ++row) {
        hand.rows().prepare(row);
    }
    std::int64_t now = 0;
    live->frame(now);
    paintLive(*live, screen);
    const Scroll times =
        scrollRows(*live, starts.back(), now, [&](double at) { hand.paint(screen, at, picture); });
    const std::string beside =
        fmt::format("{:.2f} ms, by hand {:.2f}", median(times.ours), median(times.hand));
    lines.atMost("sections of 10 to 1,000 that stay, 137 px a frame, median",
                 median(times.ours) / median(times.hand), 1.3, "x hand", beside);
    lines.atMost("sections of 10 to 1,000 that stay, 137 px a frame, p99",
                 percentile(times.ours, 0.99) / percentile(times.hand, 0.99), 2, "x hand");

    auto& over = dynamic_cast<SectionedArrangement&>(arrangement);
    live->run().regroup([&] { (void)over.takeSections(std::vector<std::int32_t>(20'000, 50), true); });
    std::vector<double> folds, opens, fresh;
    for (int i = 0; i < 30; ++i) {
        live->run().jumpTo(i * 7919 % arrangement.size());
        live->frame(now += 8333);
        hand.forget();
        double start = nowMs();
        hand.paintFolded(screen);
        fresh.push_back(nowMs() - start);
        start = nowMs();
        live->run().regroup([&] { (void)over.setAllFolded(true); });
        live->frame(now += 8333);
        paintLive(*live, screen);
        folds.push_back(nowMs() - start);
        start = nowMs();
        live->run().regroup([&] { (void)over.setAllFolded(false); });
        live->frame(now += 8333);
        paintLive(*live, screen);
        opens.push_back(nowMs() - start);
    }
    lines.atMost("folding 20,000 sections, the next frame", median(folds) / median(fresh), 3, "x hand",
                 fmt::format("{:.2f} ms, by hand {:.2f}; opening them {:.2f} ms", median(folds),
                             median(fresh), median(opens)));
}

constexpr std::array<const char*, 8> kCells{"species", "count",         "site",   "wingspan_mm",
                                            "status",  "temperature_c", "rarity", "note"};

/// Only the rows and the cells that show, each a line of text in its place; the heading and the first column over
/// the others.
class HandTable {
public:
    struct Cell {
        std::unique_ptr<QTextLayout> layout;
        double width = 0;
    };
    HandTable(const RecordTable& records, const TableColumns& columns, std::vector<double> starts)
        : starts_(std::move(starts)) {
        for (std::size_t column = 0; column < kCells.size(); ++column) {
            lefts_.push_back(columns.startOf(column).toPx());
            widths_.push_back(columns.widthOf(column).toPx());
            heading_.push_back(cellOf(QString::fromLatin1(kCells[column]), column, 12, 600));
        }
        for (std::size_t row = 0; row + 1 < starts_.size(); ++row) {
            std::vector<Cell>& cells = rows_.emplace_back();
            for (std::size_t column = 0; column < kCells.size(); ++column) {
                cells.push_back(cellOf(QString::fromStdString(records.display(static_cast<std::int64_t>(row),
                                                                              *records.find(kCells[column]))),
                                       column, 13, 400));
            }
        }
    }
    void paint(QImage& screen, double offset, double across) {
        QPainter painter(&screen);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        painter.fillRect(screen.rect(), Qt::white);
        painter.setPen(Qt::black);
        const double first = lefts_[0] + widths_[0];
        const auto from = std::ranges::upper_bound(starts_, offset) - starts_.begin() - 1;
        const auto paintRow = [&](std::vector<Cell>& cells, double y) {
            for (std::size_t column = 1; column < cells.size(); ++column) {
                const double x = lefts_[column] - across;
                if (x < kWidth && x + widths_[column] > first) {
                    cells[column].layout->draw(&painter, QPointF(x, y + 7));
                }
            }
        };
        const auto each = [&](auto&& does) {
            for (auto row = static_cast<std::size_t>(std::max<std::ptrdiff_t>(from, 0));
                 row < rows_.size() && starts_[row] < offset + kHeight; ++row) {
                does(rows_[row], starts_[row] - offset);
            }
        };
        painter.save();
        painter.setClipRect(QRectF(first, 0, kWidth - first, kHeight));
        each(paintRow);
        painter.restore();
        each([&](std::vector<Cell>& cells, double y) {
            cells[0].layout->draw(&painter, QPointF(lefts_[0], y + 7));
        });
        painter.fillRect(QRectF(0, 0, kWidth, kHeading), QColor(0xe8, 0xe4, 0xda));
        painter.setClipRect(QRectF(first, 0, kWidth - first, kHeading));
        paintRow(heading_, 0);
        painter.setClipping(false);
        heading_[0].layout->draw(&painter, QPointF(lefts_[0], 7));
    }
    double end() const { return starts_.back(); }

private:
    static constexpr int kHeading = 33;
    Cell cellOf(const QString& text, std::size_t column, int size, int weight) {
        QFont font(textFamily());
        font.setPixelSize(size);
        font.setWeight(static_cast<QFont::Weight>(weight));
        Cell made;
        made.layout = std::make_unique<QTextLayout>(
            QFontMetricsF(font).elidedText(text, Qt::ElideRight, widths_[column] + 1), font);
        made.layout->setCacheEnabled(true);
        made.layout->beginLayout();
        made.layout->createLine().setLineWidth(widths_[column] + 2);
        made.layout->endLayout();
        return made;
    }
    std::vector<double> starts_;
    std::vector<double> lefts_;
    std::vector<double> widths_;
    std::vector<Cell> heading_;
    std::vector<std::vector<Cell>> rows_;
};

/// A table of eight columns, wider than the window and scrolled across by a part.
void tables(const CollectionDocument& usual, const Data& data, Lines& lines) {
    std::string cells;
    for (const char* field : kCells) {
        const bool isNote = std::string_view(field) == "note";
        cells += fmt::format(R"({}{{"text": "{{{}}}", "size": 13, "lines": 1{}}})", cells.empty() ? "" : ", ",
                             field, isNote ? R"(, "width": 240)" : "");
    }
    CollectionDocument document = *usual.withDesign(R"({"items": {"record": {"row": [)" + cells +
                                                    R"(], "gap": 16, "padding": [7, 16]}}})");
    document.header.reset();
    document.footer.reset();
    document.arrangement = {{}, TableSpec()};
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    firstFrame(document, data.small, data.large, "table of 8 columns", lines);
    auto live = makeStreamed(document, data.large, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    std::int64_t now = 0;
    live->frame(now);
    constexpr std::int64_t kRows = 6000;
    for (double at = 0; at < kRows * 33; at += kHeight) { // all columns are as wide as they will be
        live->run().wheel(Length::px(kHeight));
        live->frame(now += 8333);
    }
    live->run().travelTo({});
    live->run().acrossMotion().push(Length::px(120));
    live->frame(now += 8333);
    paintLive(*live, screen);
    std::vector<double> starts;
    for (std::int64_t place = 0; place <= kRows; ++place) {
        Arrangement& all = live->run().arrangement();
        starts.push_back(all.startOf(all.positionOf(place)).toPx());
    }
    HandTable hand(*data.large, live->table()->columns(), starts);
    const Scroll times = scrollRows(*live, hand.end(), now, [&](double at) { hand.paint(screen, at, 120); });
    lines.atMost("table of 8 columns, 137 px a frame, median", median(times.ours) / median(times.hand), 1.3,
                 "x hand", fmt::format("{:.2f} ms, by hand {:.2f}", median(times.ours), median(times.hand)));
    lines.atMost(
        "table of 8 columns, 137 px a frame, p99",
        percentile(times.ours, 0.99) / percentile(times.hand, 0.99), 2, "x hand",
        fmt::format("{:.2f} ms, by hand {:.2f}", percentile(times.ours, 0.99), percentile(times.hand, 0.99)));
}

/// Its pictures are one and the same, as by hand: how soon others come is no part of scrolling.
constexpr const char* kStripItem =
    R"({"items": {"record": {"column": [{"text": "{species}", "size": 15, "weight": 600, "lines": 1},
        {"strip": "company", "height": 124, "arrangement": {"list": {"gap": 8, "sideways": 96}},
         "part": {"column": [{"picture": "wings/7-m11.png", "height": 84},
             {"text": "{entry_species}", "size": 12, "weight": 600, "lines": 1},
             {"text": "{entry_count}", "size": 11, "colour": "quiet", "lines": 1}], "gap": 3}}], "gap": 8, "padding": [8, 0]}}})";

/// Only the rows that show, and of each only the cells that do: a title, and in each cell a picture and two lines.
class HandStrips {
public:
    HandStrips(const RecordTable& records, std::vector<double> starts) : starts_(std::move(starts)) {
        EntryList entries;
        std::string text;
        for (std::size_t row = 0; row + 1 < starts_.size(); ++row) {
            const auto record = static_cast<std::int64_t>(row);
            Row& made = rows_.emplace_back();
            made.title = layoutOf(QString::fromStdString(records.display(record, *records.find("species"))),
                                  15, 600, kWidth);
            entries.read(records.text(record, *records.find("company")));
            for (std::size_t cell = 0; cell < entries.size() && cell * 104 < kWidth; ++cell) {
                (void)entries.member(cell, "species", text);
                auto name = layoutOf(QString::fromStdString(text), 12, 600, 96);
                (void)entries.member(cell, "count", text);
                made.cells.push_back({std::move(name), layoutOf(QString::fromStdString(text), 11, 400, 96)});
            }
        }
    }
    void paint(QImage& screen, double offset, const QImage& picture) {
        QPainter painter(&screen);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        painter.fillRect(screen.rect(), Qt::white);
        const auto from = std::ranges::upper_bound(starts_, offset) - starts_.begin() - 1;
        for (auto row = static_cast<std::size_t>(std::max<std::ptrdiff_t>(from, 0));
             row < rows_.size() && starts_[row] < offset + kHeight; ++row) {
            const double y = starts_[row] - offset;
            painter.setPen(Qt::black);
            rows_[row].title->draw(&painter, QPointF(0, y + 8));
            for (std::size_t cell = 0; cell < rows_[row].cells.size(); ++cell) {
                const QPointF at(static_cast<double>(cell) * 104, y + 37);
                painter.drawImage(at, picture); // of its size already
                painter.setPen(Qt::black);
                rows_[row].cells[cell].first->draw(&painter, at + QPointF(0, 87));
                painter.setPen(Qt::darkGray);
                rows_[row].cells[cell].second->draw(&painter, at + QPointF(0, 107));
            }
        }
    }
    double end() const { return starts_.back(); }

private:
    using Layout = std::unique_ptr<QTextLayout>;
    struct Row {
        Layout title;
        std::vector<std::pair<Layout, Layout>> cells;
    };
    static Layout layoutOf(const QString& text, int size, int weight, double width) {
        QFont font(textFamily());
        font.setPixelSize(size);
        font.setWeight(static_cast<QFont::Weight>(weight));
        auto made =
            std::make_unique<QTextLayout>(QFontMetricsF(font).elidedText(text, Qt::ElideRight, width), font);
        made->setCacheEnabled(true);
        made->beginLayout();
        made->createLine().setLineWidth(width + 2);
        made->endLayout();
        return made;
    }
    std::vector<double> starts_;
    std::vector<Row> rows_;
};

/// A list with a strip of twenty in each item.
void strips(const CollectionDocument& usual, Lines& lines) {
    const RecordTable made = *service::makeSightings(2000, 1, {}, {}, {false, false, true});
    const std::vector<FieldHandle> keys{*made.find("id")};
    const auto small = std::make_shared<const RecordTable>(made.asIf(1000, keys));
    const auto large = std::make_shared<const RecordTable>(made.asIf(1'000'000, keys));
    CollectionDocument document = *usual.withDesign(kStripItem);
    document.header.reset();
    document.footer.reset();
    document.arrangement = {};
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    firstFrame(document, small, large, "a strip of 20 in each item", lines);
    auto live = makeStreamed(document, large, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    std::int64_t now = 0;
    live->frame(now);
    paintLive(*live, screen);
    constexpr std::int64_t kRows = 1500;
    std::vector<double> starts;
    for (std::int64_t place = 0; place <= kRows; ++place) {
        starts.push_back(live->run().arrangement().startOf(place).toPx());
    }
    const QImage picture = service::drawWings(7, QSize(96, 84));
    HandStrips hand(*large, starts);
    const Scroll times =
        scrollRows(*live, hand.end(), now, [&](double at) { hand.paint(screen, at, picture); });
    lines.atMost("a strip of 20 in each item, 137 px a frame, median",
                 median(times.ours) / median(times.hand), 1.3, "x hand",
                 fmt::format("{:.2f} ms, by hand {:.2f}", median(times.ours), median(times.hand)));
    lines.atMost("a strip of 20 in each item, 137 px a frame, p99",
                 percentile(times.ours, 0.99) / percentile(times.hand, 0.99), 2, "x hand");
    // A fling of 10,000 frames: as many views as ever showed at once, and what was ready beyond their windows.
    auto flung = makeStreamed(document, large, Estimating::Never);
    flung->setWindow(kWidth, kHeight);
    std::size_t most = 0;
    now = 0;
    for (int i = 0; i < 10'000; ++i) {
        if (i % 240 == 0) {
            flung->run().motion().fling(i % 480 == 0 ? 24'000 : -9'000, now);
        }
        if (i % 60 == 0 && flung->strips().areAny()) {
            flung->strips().showing().front()->run().motion().fling(4'000, now);
        }
        flung->frame(now += 8333);
        std::size_t alive = 0;
        for (const LiveStrips::Strip* strip : flung->strips().showing()) {
            alive += strip->run().recycler().alive().size();
        }
        most = std::max(most, alive);
    }
    lines.atMost("inner strips, item views built in a fling of 10,000 frames",
                 static_cast<double>(flung->strips().viewsBuilt()), static_cast<double>(most) + 8, "views",
                 fmt::format("{} alive at most", most));
}

/// A timetable: watches that overlap in eight lanes, none by day.
void placed(const CollectionDocument& usual, Lines& lines) {
    const auto watches = [](std::int64_t count) {
        return std::make_shared<const RecordTable>(*service::makeSightings(count, 1, {}, {}, {false, true}));
    };
    const auto small = watches(1000);
    const auto large = watches(1'000'000);
    PlacedSpec form;
    form.by.start = "from";
    form.by.end = "until";
    form.by.lane = "site";
    form.by.scale = 1.5;
    form.by.least = Length::px(84);
    ArrangementSpec spec;
    spec.form = form;
    const CollectionDocument document = cardsOf(usual, spec);
    QImage screen(kWidth, kHeight, QImage::Format_ARGB32_Premultiplied);
    firstFrame(document, small, large, "placed", lines);
    auto live = makeStreamed(document, large, Estimating::AtOnce);
    live->setWindow(kWidth, kHeight);
    live->frame(0);
    paintLive(*live, screen);
    std::vector<Box> boxes;
    for (std::int64_t position = 0; position < 3000; ++position) {
        boxes.push_back(live->run().arrangement().boxOf(position));
    }
    HandCells hand(*large, boxes);
    for (std::size_t cell = 0; cell < boxes.size(); ++cell) {
        hand.prepare(cell);
    }
    const QImage picture = service::drawWings(7, QSize(static_cast<int>(boxes[0].crossExtent.toPx()), 84));
    std::vector<double> copies;
    std::int64_t now = 0;
    const Scroll times = scrollCells(*live, hand, picture, now, copies);
    lines.atMost("placed, 137 px a frame, median", median(times.ours) / median(times.hand), 1.3, "x hand",
                 fmt::format("{:.2f} ms, by hand {:.2f}", median(times.ours), median(times.hand)));
    lines.atMost("placed, 137 px a frame, p99", percentile(times.ours, 0.99) / percentile(times.hand, 0.99),
                 2, "x hand");
    std::mt19937_64 dice(5);
    std::vector<double> jumps, fresh;
    for (int i = 0; i < 40; ++i) {
        const std::size_t at = dice() % 2000;
        hand.forget();
        double start = nowMs();
        hand.paint(screen, boxes[at].start.toPx(), picture);
        fresh.push_back(nowMs() - start);
        start = nowMs();
        live->run().jumpTo(static_cast<std::int64_t>(dice() % 1'000'000));
        live->frame(now += 8333);
        paintLive(*live, screen);
        jumps.push_back(nowMs() - start);
    }
    lines.atMost("placed, jump to anywhere, the next frame", median(jumps) / median(fresh), 3, "x hand",
                 fmt::format("by hand {:.2f} ms", median(fresh)));
    lines.note(fmt::format("placed: {:.0f} B an item",
                           static_cast<double>(live->run().arrangement().memoryBytes()) / 1e6));
}

void memoryOfSections(Lines& lines) {
    constexpr Arrangement::Estimates kThought{Length::px(90), {}, {}};
    constexpr std::int64_t kItems = 1'000'000;
    std::vector<std::int32_t> counts;
    for (std::int64_t left = kItems; left > 0; left -= counts.back()) {
        counts.push_back(
            static_cast<std::int32_t>(std::min<std::int64_t>(left, 10 + std::ssize(counts) * 7919 % 991)));
    }
    for (const auto& [name, spec] :
         {std::pair{"a list", ArrangementSpec()}, std::pair{"a grid of 3", gridOf(3)},
          std::pair{"2 ragged columns", columnsOf(2)}}) {
        const auto plain = makeArrangement(spec, {}, kItems, kThought);
        ArrangementSpec in = spec;
        in.sections = SectionsSpec();
        const auto made = makeArrangement(in, {}, kItems, kThought);
        (void)dynamic_cast<SectionedArrangement&>(*made).takeSections(counts, true);
        lines.atMost(fmt::format("sections of 10 to 1,000 over {}, memory", name),
                     (static_cast<double>(made->memoryBytes()) - static_cast<double>(plain->memoryBytes())) /
                         kItems,
                     1, "B an item");
    }
}

} // namespace

/// Records come and go all the while in a window that shows some 60 of them: seen moving, against at once.
void motions(const CollectionDocument& document, const Data& data, Lines& lines) {
    constexpr int kTall = 3400;
    constexpr int kBetween = 24; ///< frames, so that nearly all of them move
    struct Side {
        std::unique_ptr<LiveCollection> live;
        std::vector<double> ms;
    };
    std::array<Side, 2> sides;
    QImage screen(kWidth, kTall, QImage::Format_ARGB32_Premultiplied);
    for (std::size_t side = 0; side < sides.size(); ++side) {
        CollectionDocument of = document;
        of.animation = side == 0 ? AnimationSpec{200, 200, 200, 200, "ease-in-out", 120} : AnimationSpec();
        sides[side].live = makeStreamed(of, data.middle, Estimating::AtOnce);
        sides[side].live->setWindow(kWidth, kTall);
        sides[side].live->frame(0);
    }
    std::size_t most = 0;
    for (int i = 0; i < 900; ++i) {
        QCoreApplication::processEvents();
        for (Side& side : sides) {
            LiveCollection& live = *side.live;
            const std::int64_t place = live.run().arrangement().slotAt(live.run().hold().position).place + 3;
            if (i % kBetween == 0 && place > 3) {
                i % (2 * kBetween) == 0 ? live.insertRecords(place, i, 2) : live.eraseRecords(place, 2);
            }
            const double start = nowMs();
            live.run().wheel(Length::fromPx(i % 400 < 200 ? 7 : -6));
            live.frame((i + 1) * 8333);
            paintLive(live, screen);
            side.ms.push_back(nowMs() - start);
        }
        most = std::max(most, static_cast<std::size_t>(std::ranges::count_if(
                                  sides[0].live->run().placements(),
                                  [](const Placement& placement) { return placement.drawn.has_value(); })));
    }
    const double moving = percentile(sides[0].ms, 0.99);
    const double still = percentile(sides[1].ms, 0.99);
    lines.atMost("scroll with changes seen moving, p99, against the same at once", moving / still, 1.5, "x",
                 fmt::format("{:.2f} against {:.2f} ms; up to {} views move", moving, still, most));
}

int main(int argc, char** argv) {
    const QApplication app(argc, argv);
    const bool everything = argc < 2 || std::strcmp(argv[1], "--quick") != 0;
    Lines lines;
    auto document = CollectionDocument::parse(service::demoDocument(1000), "");
    if (!document) {
        fmt::print("{}\n", document.error().text());
        return 2;
    }
    // The item that the hand minimum paints, whatever the demo looks like by now.
    document = document->withDesign(kItem);
    document->header.reset(); // all three show records and nothing else
    document->footer.reset();
    document->arrangement = {};
    fmt::print("\nThe scroll, a window of {} x {} px, everything repainted each frame\n", kWidth, kHeight);
    double start = nowMs();
    const Data data{moths(1000), moths(20'000), moths(1'000'000)};
    lines.note(fmt::format("making the records took {:.1f} s; {:.0f} MiB resident", (nowMs() - start) / 1000,
                           residentMiB()));
    firstFrames(*document, data, lines);
    scrolls(*document, data, lines);
    besides(*document, data, {"grid of 3", gridOf, 3}, lines);
    besides(*document, data, {"2 ragged columns", columnsOf, 2}, lines);
    besides(*document, data, {"pager", pagerOf, 2}, lines);
    memory("grid of 3", gridOf(3), lines);
    ArrangementSpec spanned = gridOf(3);
    std::get<GridSpec>(spanned.form).spans = {{"wide", 2}};
    memory("grid of 3, three of ten across 2", spanned, lines);
    memory("2 ragged columns", columnsOf(2), lines);
    sections(*document, lines);
    tables(*document, data, lines);
    strips(*document, lines);
    placed(*document, lines);
    memoryOfSections(lines);
    leaps(*document, data, lines);
    estimates(*document, data, lines);
    flings(*document, data, lines);
    motions(*document, data, lines);
    lines.note(
        fmt::format("build everything, 1,000 items: first frame {:.0f} ms", buildEverything(*data.small)));
    if (everything) {
        lines.note(fmt::format("build everything, 20,000 items: first frame {:.0f} ms",
                               buildEverything(*data.middle)));
    }
    return lines.exitCode();
}
