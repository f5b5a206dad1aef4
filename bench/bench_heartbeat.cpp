// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whether the window answers while other programs have the processors: one spinning process a core, at normal
// priority. An event is due each millisecond; how late it comes is compared with a bare event loop in a
// process beside it, which waits for the same scheduler and for nothing else. A gap counts where the bare one
// had none.
#include "lines.h"
#include "workbench/model/opening.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/main_window.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QMetaEnum>
#include <QTemporaryDir>
#include <QTimer>
#include <array>
#include <csignal>
#include <cstdio>
#include <fcntl.h>
#include <poll.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

using namespace scorrere;
using namespace scorrere::bench;
using namespace scorrere::workbench;

namespace {

constexpr double kLimitMs = 33;
constexpr std::size_t kMostGaps = 100'000;

/// Gaps of the bare loop, written by its process and read here: when, and how long.
struct Beside {
    std::size_t count;
    double at[kMostGaps];
    double ms[kMostGaps];
};

pid_t child(const std::function<void()>& does) {
    const pid_t pid = ::fork();
    if (pid == 0) {
        ::prctl(PR_SET_PDEATHSIG, SIGKILL);
        does();
        ::_exit(0);
    }
    return pid;
}

[[noreturn]] void spin() {
    volatile unsigned n = 0;
    while (true) {
        n = n + 1;
    }
}

/// A loop that waits for events and has none but a tick each millisecond.
[[noreturn]] void beat(Beside& to) {
    double last = nowMs();
    while (true) {
        (void)::poll(nullptr, 0, 1);
        const double now = nowMs();
        if (now - last > 10 && to.count < kMostGaps) {
            to.at[to.count] = now;
            to.ms[to.count] = now - last;
            ++to.count;
        }
        last = now;
    }
}

double processorMs() {
    timespec used{};
    ::clock_gettime(CLOCK_THREAD_CPUTIME_ID, &used);
    return static_cast<double>(used.tv_sec) * 1000 + static_cast<double>(used.tv_nsec) / 1e6;
}

/// How long this thread was ready to go on and had no processor, as the kernel counts it.
double queueMs() {
    static const int file = ::open("/proc/thread-self/schedstat", O_RDONLY);
    std::array<char, 96> text{};
    if (file < 0 || ::pread(file, text.data(), text.size() - 1, 0) <= 0) {
        return 0;
    }
    unsigned long long ran = 0;
    unsigned long long waited = 0;
    (void)std::sscanf(text.data(), "%llu %llu", &ran, &waited);
    return static_cast<double>(waited) / 1e6;
}

/// Knows which event took the most processor time, and whom it had painted.
class Application : public QApplication {
public:
    using QApplication::QApplication;
    bool notify(QObject* to, QEvent* event) override {
        if (depth_ > 0 && event->type() != QEvent::Paint) {
            return QApplication::notify(to, event);
        }
        if (depth_ == 0) {
            what_ = fmt::format("{} for {} {}", QMetaEnum::fromType<QEvent::Type>().valueToKey(event->type()),
                                to->metaObject()->className(), to->objectName().toStdString());
            painted_.clear();
        }
        const std::string name = to->metaObject()->className();
        ++depth_;
        const double before = processorMs();
        const bool taken = QApplication::notify(to, event);
        --depth_;
        const double took = processorMs() - before;
        if (depth_ > 0) {
            painted_[name] += took;
        } else if (took > worst_) {
            worst_ = took;
            worstEvent_ = what_;
            worstPainted_ = painted_;
        }
        return taken;
    }
    void begin() { worst_ = 0; }
    std::string worstEvent() const {
        std::string all = fmt::format("{}: {:.1f} ms", worstEvent_, worst_);
        for (const auto& [name, took] : worstPainted_) {
            all += took >= 1 ? fmt::format(", {} {:.1f}", name.substr(name.rfind(':') + 1), took)
                             : std::string();
        }
        return all;
    }

private:
    int depth_ = 0;
    double worst_ = 0;
    std::string what_;
    std::string worstEvent_;
    std::map<std::string, double> painted_; ///< by class
    std::map<std::string, double> worstPainted_;
};

/// The window's own gaps, as a timer of its event loop sees them.
class Heart : public QObject {
public:
    Heart() {
        timer_.setTimerType(Qt::PreciseTimer);
        timer_.setInterval(1);
        connect(&timer_, &QTimer::timeout, this, [this] {
            const double now = nowMs();
            const double used = processorMs();
            const double queued = queueMs();
            if (now - last_ > 10) {
                gaps_.push_back({now, now - last_, used - used_, queued - queued_});
            }
            last_ = now;
            used_ = used;
            queued_ = queued;
        });
        timer_.start();
    }
    void begin() {
        gaps_.clear();
        last_ = nowMs();
        used_ = processorMs();
        queued_ = queueMs();
    }
    struct Worst {
        double ms = 0;        ///< less what the bare loop waited at the same time
        double alone = 0;     ///< with it
        double processor = 0; ///< of that, so much this thread had a processor
        double queued = 0;    ///< and so much it was ready and waited for one: others had them
    };
    Worst worst(const Beside& beside) const {
        Worst worst;
        for (const auto& [at, ms, processor, queued] : gaps_) {
            double bare = 0;
            for (std::size_t i = 0; i < beside.count; ++i) {
                const double from = std::max(beside.at[i] - beside.ms[i], at - ms);
                const double until = std::min(beside.at[i], at);
                bare += std::max(until - from, 0.0);
            }
            if (ms - bare > worst.ms) {
                worst = {ms - bare, ms, processor, queued};
            }
        }
        return worst;
    }

private:
    QTimer timer_;
    struct Gap {
        double at;
        double ms;
        double processor;
        double queued;
    };
    double last_ = nowMs();
    double used_ = processorMs();
    double queued_ = queueMs();
    std::vector<Gap> gaps_;
};

std::unique_ptr<MainWindow> makeWindow(const QTemporaryDir& folder) {
    Surroundings surroundings;
    surroundings.settings =
        std::make_unique<QSettings>(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
    surroundings.secrets = std::make_unique<DesktopSecrets>();
    surroundings.journalFolder = folder.filePath(QStringLiteral("journal"));
    surroundings.askWhatToOpen = [](QWidget*) { return QString(); };
    surroundings.askWhereToSave = [](QWidget*, const QString&) { return QString(); };
    auto window = std::make_unique<MainWindow>(std::move(surroundings));
    window->resize(1280, 800);
    window->show();
    return window;
}

void runFor(int ms) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < ms) {
        QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents | QEventLoop::AllEvents, 5);
    }
}
bool runUntil(const std::function<bool()>& holds, int ms) {
    QElapsedTimer clock;
    clock.start();
    while (!holds() && clock.elapsed() < ms) {
        QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents | QEventLoop::AllEvents, 5);
    }
    return holds();
}

} // namespace

int main(int argc, char** argv) {
    const bool quick = argc > 1 && std::string_view(argv[1]) == "--quick";
    const qint64 records = quick ? 50'000 : 1'000'000;
    auto* beside = static_cast<Beside*>(
        ::mmap(nullptr, sizeof(Beside), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0));
    std::vector<pid_t> others{child([&] { beat(*beside); })};
    for (unsigned core = 0; core < std::max(std::thread::hardware_concurrency(), 1U); ++core) {
        others.push_back(child(spin));
    }
    Application app(argc, argv);
    QApplication::setStyle(QStringLiteral("fusion"));
    Lines lines;
    lines.note(fmt::format("\nThe window's heartbeat at {} records, {} other processes spinning", records,
                           others.size() - 1));
    const QTemporaryDir folder;
    auto window = makeWindow(folder);
    runFor(1500);
    Heart heart;
    const auto line = [&](const std::string& what, const std::function<void()>& does) {
        app.begin();
        heart.begin();
        does();
        const Heart::Worst worst = heart.worst(*beside);
        lines.atMost(what + ": no event waits longer", worst.ms, kLimitMs, "ms",
                     fmt::format("{:.0f} ms with what the bare loop waited; {:.0f} ms of it on a processor, "
                                 "{:.0f} ms waiting for "
                                 "one; most of one: {}",
                                 worst.alone, worst.processor, worst.queued, app.worstEvent()));
    };
    const auto flow = [&]() -> FlowStation& { return *window->findChild<FlowStation*>(); };
    const auto othersGoOn = [&](bool doThey) {
        for (std::size_t i = 1; i < others.size(); ++i) {
            ::kill(others[i], doThey ? SIGCONT : SIGSTOP);
        }
    };
    /// Orders of what is open: how long until the frame that shows it, what that frame had to do, and the heartbeat.
    const auto orders = [&](const std::string& of, double mostMs, double mostGapMs, double mostFirstMs) {
        const auto order = [&](const std::string& what, const OrderSpec& spec, double most) {
            const std::int64_t before = flow().collection()->ordersEver();
            app.begin();
            heart.begin();
            const double start = nowMs();
            CollectionDocument to = window->workspace().document();
            to.order = spec;
            window->workspace().change(QStringLiteral("order"), to);
            (void)runUntil([&] { return flow().collection()->ordersEver() > before; }, 60'000);
            const double took = nowMs() - start;
            runFor(300);
            const Heart::Worst worst = heart.worst(*beside);
            const render::OrderTold& told = flow().collection()->orderTold();
            lines.atMost(fmt::format("{} of {}: until the frame that shows it", what, of), took, most, "ms",
                         fmt::format("put in order {:.1f}, compared {:.1f}, arranged {:.1f} ms", told.rankMs,
                                     told.compareMs, told.arrangeMs));
            lines.atMost(fmt::format("{} of {}: its landing", what, of), told.landMs, 8, "ms");
            lines.atMost(
                fmt::format("{} of {}: no event waits longer", what, of), worst.ms, mostGapMs, "ms",
                fmt::format("{:.0f} ms of it on a processor, {:.0f} ms waiting for one; most of one: {}",
                            worst.processor, worst.queued, app.worstEvent()));
        };
        OrderSpec filter;
        filter.where = "@.count > 5 && @.wingspan_mm < 40";
        order("filter of what is in no order, all its hits", filter, mostFirstMs);
        OrderSpec shuffle;
        shuffle.shuffled = 1;
        order("shuffle", shuffle, mostMs);
        filter.where = "@.count > 5";
        order("filter", filter, mostMs);
        order("filter taken off", {}, mostMs);
        while (window->workspace().undo().canUndo()) { // nothing is asked when another is opened
            window->workspace().undo().undo();
        }
        runFor(1000);
    };
    /// A thousand edits by key in a burst, one frame's worth after the other.
    const auto edits = [&](const std::string& of) {
        render::LiveCollection& live = *flow().collection();
        RecordEdits all;
        Trace& trace = live.run().trace();
        const std::int64_t first = trace.framesEver();
        heart.begin();
        const double start = nowMs();
        for (int burst = 0; burst < 20; ++burst) {
            for (int i = 0; i < 50; ++i) {
                const std::int64_t record = (burst * 50 + i) * 7919 % live.source()->size();
                auto edit = std::make_shared<RecordEdit>();
                edit->key = std::to_string(record + 1);
                edit->field = "count";
                edit->value = std::to_string(i);
                edit->hint = record;
                all.push_back(std::move(edit));
                live.setEdits(all);
            }
            runFor(8);
        }
        (void)runUntil([&] { return !live.isOrdering(); }, 60'000);
        const double took = nowMs() - start;
        runFor(300);
        const Heart::Worst worst = heart.worst(*beside);
        double longest = 0;
        for (std::size_t i = 0; i < trace.size(); ++i) {
            const FrameRecord& frame = trace.at(i);
            longest = frame.number > first ? std::max(longest, static_cast<double>(frame.totalNs()) / 1e6)
                                           : longest;
        }
        const std::int64_t shown = live.edited() != nullptr ? std::ssize(live.edited()->edits) : 0;
        lines.atMost(fmt::format("1,000 edits in a burst of {}: the longest frame", of), longest, 8, "ms",
                     fmt::format("{} in force {:.0f} ms after the first", shown, took));
        lines.atMost(fmt::format("1,000 edits in a burst of {}: no event waits longer", of), worst.ms, 16,
                     "ms");
        live.setEdits({});
        (void)runUntil([&] { return !live.isOrdering(); }, 60'000);
        runFor(500);
    };
    const auto openAndWait = [&](qint64 count) {
        window->workspace().opening().openDemo(count);
        const bool isThere = runUntil(
            [&] {
                return flow().collection() != nullptr && flow().collection()->records().size() == count &&
                       !window->workspace().opening().isBusy();
            },
            240'000);
        if (!isThere) {
            lines.atMost(fmt::format("{} records never came", count), 1, 0, "");
        }
        runFor(3000);
    };
    const auto shown = [&] {
        return flow().collection() != nullptr && flow().collection()->records().size() == records &&
               !window->workspace().opening().isBusy();
    };
    othersGoOn(false);
    lines.note("orders, with nobody else at work");
    openAndWait(20'000);
    orders("20,000", 50, 16, 50);
    edits("20,000");
    openAndWait(records);
    orders(fmt::format("{}", records), 600, 16, 50);
    edits(fmt::format("{}", records));
    othersGoOn(true);
    lines.note("orders, with the processors taken");
    orders(fmt::format("{}", records), 3000, kLimitMs, 3000);
    lines.note("all else, with the processors taken");
    line("opening", [&] {
        window->workspace().opening().openDemo(records);
        (void)runUntil(shown, 240'000);
        runFor(1000);
    });
    line("going to Item", [&] {
        window->goTo(QStringLiteral("item"));
        runFor(4000);
    });
    line("back to Flow, another width", [&] {
        window->goTo(QStringLiteral("flow"));
        runFor(500);
        CollectionDocument to = window->workspace().document();
        to.window.upright = false;
        window->workspace().change(QStringLiteral("turn"), to);
        runFor(3000);
    });
    line("another design", [&] {
        window->workspace().changeDesign(
            QStringLiteral("edit"), QStringLiteral(R"({"items": {"record": {"text": "{species}"}}})"), {});
        runFor(3000);
        window->workspace().undo().undo();
        runFor(2000);
    });
    line("replacing it", [&] {
        window->workspace().opening().openDemo(20);
        (void)runUntil([&] { return !window->workspace().opening().isBusy(); }, 60'000);
        runFor(1000);
    });
    line("opening it again, and quitting in the middle", [&] {
        window->workspace().opening().openDemo(records);
        runFor(700);
    });
    const double start = nowMs();
    window.reset();
    const bool ended = render::finishWorkers(500);
    lines.atMost("quitting takes", nowMs() - start, 1000, "ms",
                 ended ? "" : "a worker went on, and is ended with it");
    for (const pid_t pid : others) {
        ::kill(pid, SIGKILL);
        ::waitpid(pid, nullptr, 0);
    }
    const int code = lines.exitCode();
    if (!ended) {
        (void)std::fflush(nullptr);
        std::_Exit(code);
    }
    return code;
}
