// SPDX-License-Identifier: GPL-3.0-or-later
// What reading records must reach: decoding beside the bulk parser alone, memory beside the raw text, and how
// soon the first records of a large file show while the interface answers.
#include "engine/record/reading.h"
#include "lines.h"
#include "service/moths.h"
#include "workbench/model/opening.h"
#include "workbench/ui/flow/flow_station.h"
#include "workbench/ui/item/item_station.h"
#include "workbench/ui/main_window.h"
#include "workbench/ui/source/source_station.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTimer>
#include <algorithm>
#include <chrono>
#include <cstring>
#include <fstream>
#include <simdjson.h>
#include <sstream>

using namespace scorrere;

namespace {

template <typename T>
T& stationOf(const workbench::MainWindow& window) {
    return *window.findChild<T*>();
}

double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// Touches every field's value as the decoder must, and keeps none: what the parser alone takes.
std::uint64_t touch(simdjson::dom::element record) {
    std::uint64_t sum = 0;
    simdjson::dom::object object;
    if (record.get_object().get(object) != simdjson::SUCCESS) {
        return 0;
    }
    for (const auto member : object) {
        std::string_view text;
        std::int64_t whole = 0;
        double real = 0;
        sum += member.key.size();
        if (member.value.get_string().get(text) == simdjson::SUCCESS) {
            sum += text.size();
        } else if (member.value.get_int64().get(whole) == simdjson::SUCCESS) {
            sum += static_cast<std::uint64_t>(whole);
        } else if (member.value.get_double().get(real) == simdjson::SUCCESS) {
            sum += static_cast<std::uint64_t>(real);
        } else {
            sum += simdjson::minify(member.value).size();
        }
    }
    return sum;
}

/// With `threads` the parser runs its first stage on a thread of its own, as it does when left alone; ours,
/// in the engine, starts none.
std::uint64_t parseLinesAlone(const simdjson::padded_string& text, [[maybe_unused]] bool threads) {
    simdjson::dom::parser parser;
#ifdef SIMDJSON_THREADS_ENABLED
    parser.threaded = threads;
#endif
    simdjson::dom::document_stream records;
    if (parser.parse_many(text, std::size_t{1} << 20).get(records) != simdjson::SUCCESS) {
        return 0;
    }
    std::uint64_t sum = 0;
    for (auto record : records) {
        sum += touch(record.value_unsafe());
    }
    return sum;
}

std::uint64_t parseArrayAlone(const simdjson::padded_string& text) {
    simdjson::dom::parser parser;
    simdjson::dom::array records;
    if (parser.parse(text).get_array().get(records) != simdjson::SUCCESS) {
        return 0;
    }
    std::uint64_t sum = 0;
    for (const simdjson::dom::element record : records) {
        sum += touch(record);
    }
    return sum;
}

std::string sightings(std::int64_t count, service::DataForm form) {
    std::ostringstream out;
    (void)service::writeSightings(out, count, 1, form);
    return out.str();
}

/// The median of several turns, each next to the other: the machine's speed drifts.
void compareDecoding(bench::Lines& lines, const char* name, service::DataForm form) {
    const std::string text = sightings(200'000, form);
    const simdjson::padded_string padded(text);
    std::vector<double> ratios;
    std::vector<double> beside;
    std::uint64_t kept = 0;
    double speed = 0;
    for (int turn = 0; turn < 9; ++turn) {
        const double alone = seconds([&] {
            kept +=
                form == service::DataForm::Ndjson ? parseLinesAlone(padded, false) : parseArrayAlone(padded);
        });
        const double withThread = form == service::DataForm::Ndjson
                                      ? seconds([&] { kept += parseLinesAlone(padded, true); })
                                      : alone;
        ReadOptions options;
        options.form = form == service::DataForm::Ndjson ? SourceForm::Ndjson : SourceForm::Json;
        std::optional<Result<Reading>>
            reading; // given back outside the timing: decoding ends when it is there
        const double ours = seconds([&] { reading.emplace(readRecordsText(text, "bench", options)); });
        const std::int64_t records = *reading ? (*reading)->records.size() : 0;
        ratios.push_back(records == 200'000 ? alone / ours : 0);
        beside.push_back(withThread / ours);
        speed = static_cast<double>(text.size()) / ours / 1e6;
    }
    std::ranges::sort(ratios);
    lines.atLeast(std::string(name) + " decode into columns, of the bulk parser's speed, one thread each",
                  ratios[ratios.size() / 2], 0.5, "x");
    if (form == service::DataForm::Ndjson) {
        lines.note(
            fmt::format("{} beside the bulk parser on two threads: {:.2f} x", name, bench::median(beside)));
    }
    lines.note(fmt::format("{}: {:.1f} {}", std::string(name) + " decode", speed, "MB/s"));
    lines.note(fmt::format("{}: {:.1f} {}", "(checksum)", static_cast<double>(kept % 1000), ""));
}

void compareMemory(bench::Lines& lines) {
    const auto reading = readRecordsText(sightings(200'000, service::DataForm::Ndjson), "m.ndjson", {});
    const RecordTable& table = reading->records;
    std::uint64_t raw = 0;
    for (std::int64_t record = 0; record < table.size(); ++record) {
        for (std::size_t field = 0; field < table.fields().size(); ++field) {
            raw += table.display(record, FieldHandle{static_cast<int>(field)}).size();
        }
    }
    lines.atMost("columnar memory, of the raw text of the values",
                 static_cast<double>(table.memoryBytes()) / static_cast<double>(raw), 1.3, "x");
}

/// Opens a file in the real window while a heartbeat measures how long the interface keeps an event waiting.
void openLarge(bench::Lines& lines, const QString& path, std::int64_t count, const std::string& what) {
    workbench::Surroundings surroundings;
    QTemporaryDir folder;
    surroundings.settings =
        std::make_unique<QSettings>(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
    surroundings.secrets = std::make_unique<workbench::DesktopSecrets>();
    surroundings.askWhatToOpen = [](QWidget*) { return QString(); };
    surroundings.askWhereToSave = [](QWidget*, const QString&) { return QString(); };
    workbench::MainWindow window(std::move(surroundings));
    window.resize(1280, 800);
    window.show();
    QElapsedTimer settle;
    settle.start();
    while (settle.elapsed() < 300) {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
    }
    QTimer beat;
    beat.setTimerType(Qt::PreciseTimer);
    beat.setInterval(2);
    QElapsedTimer since;
    double worst = 0;
    std::vector<double> waits;
    QObject::connect(&beat, &QTimer::timeout, [&] {
        const double late = static_cast<double>(since.nsecsElapsed()) / 1e6 - 2;
        worst = std::max(worst, late);
        waits.push_back(late);
        since.restart();
    });
    QElapsedTimer clock;
    clock.start();
    since.start();
    beat.start();
    window.workspace().opening().open(path);
    double first = -1;
    while (clock.elapsed() < 60'000 && (first < 0 || window.workspace().opening().isBusy())) {
        QCoreApplication::processEvents(QEventLoop::AllEvents | QEventLoop::WaitForMoreEvents, 5);
        auto* live = stationOf<workbench::SourceStation>(window).strip().collection();
        if (first < 0 && live != nullptr && live->records().size() > 0 && !live->run().placements().empty()) {
            first = static_cast<double>(clock.nsecsElapsed()) / 1e6;
        }
    }
    const double whole = static_cast<double>(clock.nsecsElapsed()) / 1e6;
    beat.stop();
    auto* live = stationOf<workbench::FlowStation>(window).collection();
    lines.atMost(what + ": first records show after", first < 0 ? 1e9 : first, 150, "ms");
    lines.atMost(what + ": an event waits at most", worst, 16, "ms");
    std::ranges::sort(waits);
    lines.note(fmt::format("{}: {:.1f} {}", what + ": an event waits, 99th of 100",
                           waits[waits.size() * 99 / 100], "ms"));
    lines.note(fmt::format("{}: {:.1f} {}", what + ": all records after", whole, "ms"));
    lines.atLeast(what + ": records read", live == nullptr ? 0 : static_cast<double>(live->records().size()),
                  static_cast<double>(count), "");
}

} // namespace

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    QApplication::setStyle(QStringLiteral("fusion"));
    const bool quick = argc > 1 && std::strcmp(argv[1], "--quick") == 0;
    bench::Lines lines;
    compareDecoding(lines, "NDJSON", service::DataForm::Ndjson);
    compareDecoding(lines, "JSON", service::DataForm::Json);
    compareMemory(lines);
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("large.ndjson"));
    {
        std::ofstream out(path.toStdString(), std::ios::binary);
        (void)service::writeSightings(out, 1'000'000, 1, service::DataForm::Ndjson);
    }
    for (int turn = 0; turn < (quick ? 1 : 3); ++turn) {
        openLarge(lines, path, 1'000'000, "1,000,000 records, turn " + std::to_string(turn + 1));
    }
    return lines.exitCode();
}
