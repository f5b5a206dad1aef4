// SPDX-License-Identifier: Apache-2.0
#include "engine/page/page_log.h"

#include <fmt/format.h>

namespace scorrere {

std::string reasonText(const RequestRecord& record) {
    switch (record.putOff) {
    case PutOff::AlreadyInFlight:
        return "already in flight";
    case PutOff::EnoughInFlight:
        return "enough are in flight";
    case PutOff::EndKnown:
        return "the end is known";
    case PutOff::WaitsToTry:
        return "waits to try again";
    case PutOff::GivenUp:
        return "given up; scroll to it, or try again";
    case PutOff::Offline:
        return "offline";
    case PutOff::No:
        break;
    }
    switch (record.why) {
    case AskReason::FirstLoad:
        return "the first load";
    case AskReason::Shows:
        return "its place shows";
    case AskReason::Ahead:
        return fmt::format("{:.1f} screens ahead of the {}", std::abs(record.screensAhead),
                           record.screensAhead < 0 ? "start" : "end");
    case AskReason::Again:
        return fmt::format("try {}", record.tries);
    case AskReason::User:
        return "asked for again";
    case AskReason::Refresh:
        return fmt::format("generation {}", record.generation);
    case AskReason::Recheck:
        return "it may have changed";
    case AskReason::Query:
        return "another query";
    }
    return {};
}

std::string outcomeText(const RequestRecord& record) {
    switch (record.outcome) {
    case AskOutcome::InFlight:
        return record.fromDisk ? "in flight; shown as kept on disk" : "in flight";
    case AskOutcome::Unchanged:
        return "nothing changed";
    case AskOutcome::Failed:
        return "failed: " + record.message;
    case AskOutcome::Cancelled:
        return "cancelled: left behind";
    case AskOutcome::Replaced:
        return fmt::format("generation {} replaced it", record.generation + 1);
    case AskOutcome::NotAsked:
        return "not asked";
    case AskOutcome::Came:
        break;
    }
    std::string text;
    const auto add = [&text](int count, const char* what) {
        if (count > 0) {
            text += fmt::format("{}{} {}", text.empty() ? "" : ", ", count, what);
        }
    };
    add(record.fresh, "new");
    add(record.known, "known");
    add(record.changed, "changed");
    add(record.gone, "gone");
    return text.empty() ? "empty" : text;
}

RequestRecord& PageLog::add(RequestRecord record) {
    record.number = ++ever_;
    requests_ += record.putOff == PutOff::No ? 1 : 0;
    if (entries_.size() == kKept) {
        entries_.pop_front();
    }
    return entries_.emplace_back(std::move(record));
}

RequestRecord* PageLog::find(std::int64_t number) {
    const std::int64_t first = ever_ - static_cast<std::int64_t>(entries_.size()) + 1;
    return number < first || number > ever_ ? nullptr : &entries_[static_cast<std::size_t>(number - first)];
}

} // namespace scorrere
