// SPDX-License-Identifier: GPL-3.0-or-later
// What reading in pages must reach, over the real demo service on loopback: what a page costs the interface,
// live changes beside none, memory over a million records, and whether the lead is enough.
#include "lines.h"
#include "render/live_collection.h"
#include "render/picture_source.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/survey_server.h"

#include <QApplication>
#include <QImage>
#include <QPainter>
#include <algorithm>
#include <fstream>
#include <malloc.h>
#include <thread>

using namespace scorrere;
using namespace scorrere::bench;

namespace {

constexpr double kFrameMs = 1000.0 / 120;

double residentMiB() {
    std::ifstream status("/proc/self/statm");
    double pages = 0;
    status >> pages >> pages;
    return pages * 4096 / (1 << 20);
}

double allocatedMiB() {
    const struct mallinfo2 info = mallinfo2();
    return static_cast<double>(info.uordblks + info.hblkhd) / (1 << 20);
}

/// The demo collection over its service, its frames made and painted here.
class Reading {
public:
    using Change = std::function<void(CollectionDocument&, render::WireSetup&)>;
    Reading(std::int64_t count, const Change& change) : server_({.count = count}, nullptr) {
        (void)server_.start();
        auto document = CollectionDocument::parse(service::demoServiceDocument(), "").value();
        document.source.sign = {};
        document.source.stream = {};
        document.paging.diskMiB = 0;
        document.source.pages.size = 100;
        render::WireSetup setup;
        change(document, setup);
        setup.source = document.source;
        setup.demoAddress = [this] { return Result<std::string>(server_.address()); };
        auto records = std::make_shared<const RecordTable>(service::makeSightings(20, 1).value());
        setup.fields = records->fields();
        auto made = render::LiveCollection::create(
            document, records, std::make_shared<render::FolderPictures>(QStringList()),
            render::Estimating::Background, std::make_unique<render::PagedRecords>(document.paging, setup));
        live_ = std::move(made.value());
        live_->setWindow(392, 780);
        live_->startPages(0);
        startMs_ = nowMs();
        while (live_->paged()->pager().strip().loaded().empty()) {
            frame();
            std::this_thread::sleep_for(std::chrono::milliseconds(2));
        }
    }
    render::LiveCollection& live() { return *live_; }
    Pager& pager() { return live_->paged()->pager(); }
    /// One frame at the time it is, with everything painted; gives what it cost, ms.
    double frame() {
        QCoreApplication::processEvents();
        const double start = nowMs();
        live_->frame(static_cast<std::int64_t>((start - startMs_) * 1000));
        QPainter painter(&screen_);
        live_->paintWindow(painter, colours_, 1);
        return nowMs() - start;
    }
    /// Scrolls at a speed for a while in real time, a frame each 1/120 s.
    template <typename Each>
    void scroll(double pxPerSecond, double seconds, Each each) {
        const double begin = nowMs();
        double moved = 0;
        for (double due = begin; due < begin + seconds * 1000; due += kFrameMs) {
            while (nowMs() < due) {
                QCoreApplication::processEvents(QEventLoop::AllEvents, 1);
                std::this_thread::sleep_for(std::chrono::microseconds(200));
            }
            const double wanted = (due - begin) / 1000 * pxPerSecond;
            live_->run().wheel(Length::fromPx(wanted - moved));
            moved = wanted;
            each(frame());
        }
    }
    bool showsHole() {
        for (const Placement& placement : live_->run().placements()) {
            if (placement.showing && live_->view(placement.view).isSkeleton()) {
                return true;
            }
        }
        return false;
    }

private:
    service::SurveyServer server_;
    std::unique_ptr<render::LiveCollection> live_;
    render::ItemColours colours_ = render::ItemColours::light();
    QImage screen_{392, 780, QImage::Format_ARGB32_Premultiplied};
    double startMs_ = 0;
};

void pageCost(Lines& lines) {
    Reading reading(1'000'000, [](CollectionDocument&, render::WireSetup&) {});
    std::vector<double> costs;
    std::int64_t came = 0;
    reading.scroll(9000, 20, [&](double) {
        const FrameRecord* record =
            reading.live().run().trace().find(reading.live().run().trace().framesEver());
        std::int64_t now = 0;
        for (const RequestRecord& request : reading.pager().log().entries()) {
            now += request.outcome == AskOutcome::Came ? 1 : 0;
        }
        if (now > came) { // deciding, and taking the page over
            costs.push_back(static_cast<double>(record->costNs[static_cast<std::size_t>(Phase::Decide)]) /
                            1e6);
        }
        came = now;
    });
    lines.atMost("a page of 100 records arriving, in any one frame", percentile(costs, 1), 1, "ms",
                 fmt::format("median {:.3f}, {} pages", median(costs), costs.size()));
}

void streamChanges(Lines& lines, double seconds) {
    const auto scrolled = [&](bool withChanges) {
        Reading reading(100'000, [&](CollectionDocument& document, render::WireSetup&) {
            document.source.stream =
                withChanges ? StreamSpec{"demo:/live?every=10", "/sightings"} : StreamSpec{};
        });
        std::vector<double> frames;
        reading.scroll(1500, seconds, [&](double cost) { frames.push_back(cost); });
        if (withChanges) {
            lines.note(fmt::format("{} new ones came and waited above", reading.pager().waitingCount()));
        }
        return frames;
    };
    const auto with = scrolled(true);
    const auto without = scrolled(false);
    lines.atMost(fmt::format("worst frame in {} s with 100 live changes a second", seconds),
                 percentile(with, 1), 8, "ms", fmt::format("{:.3f} without", percentile(without, 1)));
    lines.atMost("99th of 100 frames", percentile(with, 0.99), 4, "ms",
                 fmt::format("{:.3f} without", percentile(without, 0.99)));
    lines.atMost("the same scroll with live changes, median, against none", median(with) / median(without),
                 1.5, "x");
    lines.atMost("the same scroll with live changes, 99th of 100, against none",
                 percentile(with, 0.99) / percentile(without, 0.99), 1.5, "x");
}

void memory(Lines& lines, std::int64_t count) {
    Reading reading(count,
                    [](CollectionDocument& document, render::WireSetup&) { document.paging.keep = 12; });
    // By tenths of the way: what is resident, and what of it is allocated and not given back.
    std::array<std::vector<double>, 10> resident;
    std::array<std::vector<double>, 10> allocated;
    const double start = nowMs();
    Run& run = reading.live().run();
    std::size_t most = 0;
    std::int64_t frames = 0;
    while (true) {
        const auto& placements = run.placements();
        const std::int64_t last = placements.empty() ? 0 : placements.back().position;
        if (last >= run.arrangement().size() - 2) {
            break;
        }
        if (!reading.showsHole()) {
            run.wheel(Length::px(700));
        }
        reading.frame();
        most = std::max(most, reading.pager().strip().loaded().size());
        if (++frames % 100 == 0) { // asking walks all that is free
            const auto tenth = static_cast<std::size_t>(std::min<std::int64_t>(last * 10 / count, 9));
            resident[tenth].push_back(residentMiB());
            allocated[tenth].push_back(allocatedMiB());
        }
    }
    const auto told = [](const auto& tenths) {
        std::string text;
        for (const std::vector<double>& samples : tenths) {
            text += fmt::format(" {:.1f}", median(samples));
        }
        return text;
    };
    lines.atMost(fmt::format("resident memory, last tenth of {} records against the second, medians", count),
                 median(resident[9]) / median(resident[1]), 1.05, "x",
                 fmt::format("most {:.0f} MiB, {:.0f} MiB; {:.0f} s", percentile(resident[9], 1),
                             percentile(resident[1], 1), (nowMs() - start) / 1000));
    lines.note("resident, by tenths, MiB:" + told(resident));
    lines.note("of it allocated:" + told(allocated));
    lines.atMost("pages in memory at most", static_cast<double>(most), 13, "pages");
}

struct Holes {
    int frames = 0;
    int withHoles = 0;
};

Holes holesAt(double pxPerSecond, std::int64_t latencyMs, bool naive, double seconds) {
    Reading reading(1'000'000, [&](CollectionDocument& document, render::WireSetup& setup) {
        document.source.pages.size = 20;
        setup.weather.latencyMs = latencyMs;
        if (naive) { // ask when the last item shows
            document.paging.lead = 0;
            document.paging.leadMs = 0;
        }
    });
    reading.scroll(0, 2, [](double) {}); // the pages ahead of the start come, too
    Holes holes;
    reading.scroll(pxPerSecond, seconds, [&](double) {
        ++holes.frames;
        holes.withHoles += reading.showsHole() ? 1 : 0;
    });
    return holes;
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    const bool isShort = argc > 1 && std::string(argv[1]) == "--short";
    fmt::print("\nReading in pages, over the demo service on this machine\n");
    Lines lines;
    if (argc > 1 && std::string(argv[1]) == "--memory") { // alone: it takes ten minutes
        memory(lines, argc > 2 ? std::stoll(argv[2]) : 1'000'000);
        return lines.exitCode();
    }
    pageCost(lines);
    const Holes steady = holesAt(3000, 50, false, 15);
    lines.atMost("frames that show an unloaded item, 3,000 px/s, 50 ms", steady.withHoles, 0, "frames",
                 fmt::format("of {}", steady.frames));
    const Holes steadyNaive = holesAt(3000, 50, true, 15);
    lines.note(fmt::format("asked only when the last item shows: {} of {}", steadyNaive.withHoles,
                           steadyNaive.frames));
    const Holes fast = holesAt(12'000, 300, false, 15);
    const Holes fastNaive = holesAt(12'000, 300, true, 15);
    lines.note(
        fmt::format("at 12,000 px/s and 300 ms: {} of {} frames show an unloaded item; asked only when the "
                    "last item shows: {} of {}",
                    fast.withHoles, fast.frames, fastNaive.withHoles, fastNaive.frames));
    streamChanges(lines, isShort ? 10 : 60);
    memory(lines, isShort ? 100'000 : 1'000'000);
    return lines.exitCode();
}
