// SPDX-License-Identifier: GPL-3.0-or-later
//
// What hands cost beside the same scroll: gestures, an item lifted through a million, selection, a record at length.
#include "lines.h"
#include "render/job.h"
#include "render/live_collection.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/wing_pictures.h"

#include <QApplication>
#include <QImage>
#include <QPainter>
#include <cstdio>
#include <tuple>

using namespace scorrere;
using namespace scorrere::bench;
using namespace scorrere::render;

namespace {

constexpr double kWindowWidth = 392;
constexpr double kWindowHeight = 780;
constexpr std::int64_t kFrameUs = 8333;

/// A collection by hand, frame by frame, everything painted.
class ByHand {
public:
    ByHand(const CollectionDocument& document, const std::shared_ptr<const RecordTable>& records)
        : screen_(QSize(static_cast<int>(kWindowWidth), static_cast<int>(kWindowHeight)),
                  QImage::Format_ARGB32_Premultiplied) {
        auto made = LiveCollection::create(document, records, std::make_shared<service::WingPictures>(),
                                           Estimating::Background);
        if (!made) {
            fmt::print("{}\n", made.error().text());
            std::exit(2);
        }
        live = std::move(*made);
        live->setWindow(kWindowWidth, kWindowHeight);
        rest();
    }
    /// ms of one frame and its painting.
    double frame() {
        const double start = nowMs();
        live->frame(now += kFrameUs);
        QPainter painter(&screen_);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        live->paintWindow(painter, ItemColours::light(), 1);
        painter.end();
        return nowMs() - start;
    }
    void rest() {
        for (int i = 0;
             i < 100'000 && (i < 20 || !live->isIdle() || live->isEstimating() || live->isOrdering()); ++i) {
            QCoreApplication::processEvents();
            frame();
        }
    }
    double worstJump() const {
        double worst = 0;
        const Trace& trace = live->run().trace();
        for (std::size_t i = 0; i < trace.size(); ++i) {
            worst = std::max(worst, std::abs(trace.at(i).jump.toPx()));
        }
        return worst;
    }
    std::unique_ptr<LiveCollection> live;
    std::int64_t now = 0;

private:
    QImage screen_;
};

CollectionDocument documentBy(const std::string& text, const HandsSpec& hands) {
    auto document = CollectionDocument::parse(text, "");
    if (!document) {
        fmt::print("{}\n", document.error().text());
        std::exit(2);
    }
    document->hands = hands;
    document->order = {};
    return *document;
}

/// A finger that goes up by so much a frame, again and again, given to hands or to the run alone.
std::vector<double> dragged(ByHand& by, bool byHands, int frames) {
    std::vector<double> times;
    const auto at = [](int step) { return QPointF(200, 700 - (step % 40) * 15.0); };
    for (int i = 0; i < frames; ++i) {
        const double start = nowMs();
        ScrollMotion& motion = by.live->run().motion();
        if (i % 40 == 0) {
            byHands ? by.live->press(by.now, at(i)) : motion.press(by.now, Length::fromPx(at(i).y()));
        } else if (i % 40 == 39) {
            byHands ? by.live->release(by.now) : motion.letGo(by.now);
        } else {
            byHands ? by.live->move(by.now, at(i)) : motion.drag(by.now, Length::fromPx(at(i).y()));
        }
        const double gesture = nowMs() - start;
        times.push_back(by.frame() + gesture);
    }
    return times;
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    const bool quick = argc > 1 && std::string_view(argv[1]) == "--quick";
    const std::int64_t count = quick ? 20'000 : 1'000'000;
    Lines lines;
    lines.note(fmt::format("\nBy hand, {} records, everything repainted each frame", count));
    const auto records = std::make_shared<const RecordTable>(*service::makeSightings(count, 1));
    const std::string text = service::demoDocument(service::DemoForm::Hands);
    HandsSpec none;
    HandsSpec all = documentBy(text, {}).hands;
    all.select = SelectMode::Many;
    all.tap = "detail";
    all.doubleTap = "copy";
    all.press = "copy";
    all.atStart = {"verify"};
    all.atEnd = {"remove"};
    all.lift = HandsSpec::Lift::Handle;
    const int frames = quick ? 200 : 1200;
    {
        ByHand plain(documentBy(text, none), records);
        ByHand handed(documentBy(text, all), records);
        ByHand chosen(documentBy(text, all), records);
        chosen.live->hands().selectAll();
        std::vector<double> ours;
        std::vector<double> theirs;
        std::vector<double> marked;
        for (int round = 0; round < 3; ++round) { // turn by turn: the machine's speed drifts
            for (const auto& [by, isByHand, to] :
                 {std::tuple(&plain, false, &theirs), {&handed, true, &ours}, {&chosen, true, &marked}}) {
                const std::vector<double> some = dragged(*by, isByHand, frames / 3);
                to->insert(to->end(), some.begin(), some.end());
            }
        }
        lines.note(fmt::format("with all that shows marked as selected: {:.2f} ms", median(marked)));
        lines.atMost("a drag by hands beside the same scroll: each frame takes longer by",
                     median(ours) - median(theirs), 0.3, "ms",
                     fmt::format("{:.2f} and {:.2f} ms", median(ours), median(theirs)));
    }
    {
        ByHand by(documentBy(text, all), records);
        by.live->run().jumpTo(by.live->run().arrangement().positionOf(count / 2));
        by.rest();
        std::int64_t place = -1;
        for (const Placement& placement : by.live->run().placements()) {
            const Slot slot = by.live->run().arrangement().slotAt(placement.position);
            if (place < 0 && placement.showing && placement.box.start > Length::px(100) &&
                slot.role == Role::Record) {
                place = slot.place;
            }
        }
        const std::string key = by.live->hands().keyAt(place);
        const QPointF from = by.live->hands().pointOf(key, true).value();
        by.live->press(by.now, from);
        for (int i = 1; i <= 20; ++i) {
            by.live->move(by.now, from + QPointF(0, (kWindowHeight - 4 - from.y()) * i / 20));
            by.frame();
        }
        std::vector<double> lifted;
        for (int i = 0; i < frames; ++i) {
            lifted.push_back(by.frame());
        }
        const std::int64_t went = by.live->hands().lifted() ? by.live->hands().lifted()->place - place : 0;
        by.live->release(by.now);
        by.rest();
        std::vector<double> scrolled;
        for (int i = 0; i < frames; ++i) {
            by.live->run().wheel(Length::px(20)); // as fast as the edge does
            scrolled.push_back(by.frame());
        }
        lines.atMost("lifted, with the strip going on at its edge: p99 of a frame",
                     percentile(lifted, 0.99) / percentile(scrolled, 0.99), 1.5, "x",
                     fmt::format("{:.2f} and {:.2f} ms; it went by {} places", percentile(lifted, 0.99),
                                 percentile(scrolled, 0.99), went));
        lines.atMost("what is held moved meanwhile by", by.worstJump(), 0, "px");
        lines.atLeast("places it was carried by", static_cast<double>(went), 50, "");
    }
    {
        ByHand by(documentBy(text, all), records);
        const double start = nowMs();
        by.live->hands().selectAll();
        lines.atMost("select all", nowMs() - start, 16, "ms",
                     fmt::format("{} selected", by.live->hands().selectedCount()));
        double longest = 0;
        OrderSpec filter;
        filter.where = "@.count > 5";
        by.live->setOrder(filter);
        for (int i = 0; i < 20'000 && (by.live->isOrdering() || i < 60); ++i) {
            QCoreApplication::processEvents();
            longest = std::max(longest, by.frame());
        }
        by.live->hands().selection().invert();
        by.live->hands().selectionDone();
        for (int i = 0; i < 300; ++i) {
            by.live->run().wheel(Length::px(60));
            longest = std::max(longest, by.frame());
        }
        lines.atMost("then filter, invert, scroll: the longest frame", longest, 8, "ms",
                     fmt::format("{} selected", by.live->hands().selectedCount()));
    }
    {
        ByHand by(documentBy(text, all), records);
        by.live->run().wheel(Length::fromPx(1234.5));
        by.rest();
        const Length offset = by.live->run().offset();
        const std::size_t views = by.live->run().recycler().views().size();
        const HandItem item = *by.live->hands().itemAt({100, 300});
        const qsizetype objects = by.live->findChildren<QObject*>().size();
        double apart = 0;
        const double start = nowMs();
        for (int i = 0; i < 1000; ++i) {
            by.live->detail().open(item, by.now);
            by.frame();
            by.live->detail().close(by.now);
            by.frame();
            apart = std::max(apart, std::abs((by.live->run().offset() - offset).toPx()));
        }
        const double took = nowMs() - start;
        by.rest();
        lines.atMost("a record at length opened and closed 1,000 times: the strip stands elsewhere by", apart,
                     0, "px", fmt::format("{:.2f} ms each", took / 1000));
        lines.atMost("item views and objects more than before",
                     static_cast<double>(by.live->run().recycler().views().size() - views) +
                         static_cast<double>(by.live->findChildren<QObject*>().size() - objects),
                     0, "");
    }
    const int code = lines.exitCode();
    if (!finishWorkers(500)) {
        std::_Exit(code);
    }
    return code;
}
