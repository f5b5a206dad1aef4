// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/chronicle.h"

#include "render/http_call.h"
#include "workbench/model/crash_note.h"
#include "workbench/model/keeper.h"
#include "workbench/model/log.h"
#include "workbench/model/opening.h"

#include <fmt/format.h>

namespace scorrere::workbench {

namespace {

constexpr qint64 kBetweenSlowMs = 1000; ///< frames in between are counted

/// Its file, or where its records come from.
std::string nameForLog(const CollectionDocument& document) {
    const SourceSpec& source = document.source;
    return !document.path.empty() ? document.path
           : source.isDemo        ? "the demo"
           : !source.file.empty() ? source.file
           : source.isService()   ? withoutContents(source.address)
                                  : "records that were typed in";
}

void tellCall(const render::HttpCall& call, const Result<render::HttpAnswer>& answer, double ms) {
    const std::string what = fmt::format("call {} {}", call.method, withoutContents(call.address));
    if (!answer) {
        tellLog(LogLevel::Warning,
                fmt::format("{}: {}, {:.0f} ms", what, withoutContents(answer.error()), ms));
        return;
    }
    const bool isFine = answer->status < 400;
    tellLog(isFine ? LogLevel::Info : LogLevel::Warning,
            fmt::format("{}: {}, {} bytes, {:.0f} ms{}", what, answer->status, answer->body.size(), ms,
                        answer->redirects > 0 ? fmt::format(", {} redirects", answer->redirects) : ""));
}

} // namespace

std::string slowFrameLine(const FrameRecord& frame, double budgetMs, std::int64_t more) {
    std::string why;
    for (std::size_t phase = 0; phase < kPhases; ++phase) {
        why += fmt::format("{}{} {:.1f}", phase == 0 ? "" : ", ", phaseName(static_cast<Phase>(phase)),
                           static_cast<double>(frame.costNs[phase]) / 1e6);
    }
    return fmt::format("slow frame {}: {:.1f} ms of {:.1f}: {} ms; {} built, {} filled{}", frame.number,
                       static_cast<double>(frame.totalNs()) / 1e6, budgetMs, why, frame.built, frame.filled,
                       more > 0 ? fmt::format("; {} more since the last", more) : "");
}

Chronicle::Chronicle(Workspace& workspace, CollectionRunner& runner, QObject* parent)
    : QObject(parent), workspace_(workspace), runner_(runner) {
    connect(&workspace_, &Workspace::replaced, this, &Chronicle::tellOpened);
    connect(&workspace_, &Workspace::noticed, this, &Chronicle::tellFailure);
    connect(&workspace_.opening(), &Opening::failed, this, [](const Error& error) {
        tellLog(LogLevel::Warning, "the source cannot be read: " + withoutContents(error));
    });
    connect(&workspace_.keeper(), &Keeper::saved, this,
            [](const QString& path) { tellLog(LogLevel::Info, "saved " + path.toStdString()); });
    connect(&workspace_.findings(), &FindingsBook::changed, this, [this] {
        const int warnings = workspace_.findings().warnings();
        if (warnings != warnings_) {
            warnings_ = warnings;
            std::string where;
            for (const Finding& finding : workspace_.findings().all()) {
                const std::string station = finding.target.station.toStdString();
                if (finding.isWarning && !station.empty() && where.find(station) == std::string::npos) {
                    where += (where.empty() ? " in " : ", ") + station;
                }
            }
            tellLog(LogLevel::Info, fmt::format("findings: {}{}", warnings, where));
        }
    });
    connect(&runner_, &CollectionRunner::framed, this, &Chronicle::tellFrame);
}

void Chronicle::tellFailure(const Notice& notice) {
    if (notice.kind == Notice::Kind::Failed && notice.error) {
        tellLog(LogLevel::Warning, "failed: " + withoutContents(*notice.error));
    }
}

void Chronicle::listenToCalls() {
    render::setHttpListener(tellCall);
}

void Chronicle::tellOpened(bool again) {
    const CollectionDocument& document = workspace_.document();
    const std::string what = nameForLog(document);
    setOpenForNote(what);
    const auto& records = workspace_.opened().records;
    tellLog(LogLevel::Info,
            fmt::format("{} {}: {} records, {} fields{}", again ? "read again" : "opened", what,
                        records ? records->size() : 0, records ? records->fields().size() : 0,
                        document.source.isPaged() ? ", in pages" : ""));
}

void Chronicle::tellFrame() {
    const render::LiveCollection* live = runner_.shown();
    if (live == nullptr || live->run().trace().size() == 0) {
        return;
    }
    const Trace& trace = live->run().trace();
    const FrameRecord& frame = trace.at(trace.size() - 1);
    if (frame.number == lastFrame_) {
        return;
    }
    lastFrame_ = frame.number;
    const double budgetMs = runner_.device().budgetMs();
    if (static_cast<double>(frame.totalNs()) / 1e6 <= budgetMs) {
        return;
    }
    if (sinceSlow_.isValid() && sinceSlow_.elapsed() < kBetweenSlowMs) {
        ++slowUntold_;
        return;
    }
    sinceSlow_.start();
    tellLog(LogLevel::Info, slowFrameLine(frame, budgetMs, slowUntold_));
    slowUntold_ = 0;
}

} // namespace scorrere::workbench

#include "moc_chronicle.cpp"
