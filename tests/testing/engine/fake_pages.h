// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/page/pager.h"
#include "engine/record/record_builder.h"
#include "engine/record/record_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace scorrere::testing {

/// A service in memory: an ordered list of keys with versions, given out in any page style.
struct FakeService {
    struct Entry {
        std::string key;
        std::uint64_t version = 1;
        double rank = 0; ///< what cursors go by: it stays when others come and go
    };
    PageStyle style = PageStyle::Number;
    bool tellsTotal = true;
    bool hasTables = false;
    bool saysTheSame = false;      ///< whatever it is asked
    std::int64_t most = 1'000'000; ///< records it gives at a time
    std::vector<Entry> list;
    int made = 0;

    explicit FakeService(PageStyle of, int count, bool total = true) : style(of), tellsTotal(total) {
        for (int i = 0; i < count; ++i) {
            insert(list.size());
        }
    }
    void insert(std::size_t at) {
        const double before = at == 0 ? (list.empty() ? 0 : list.front().rank - 2) : list[at - 1].rank;
        const double after = at == list.size() ? before + 2 : list[at].rank;
        list.insert(list.begin() + static_cast<std::ptrdiff_t>(at),
                    {fmt::format("k{}", made++), 1, (before + after) / 2});
    }
    static const std::vector<Field>& fields() {
        static const std::vector<Field> kFields{{"id", FieldType::Text}, {"n", FieldType::Integer}};
        return kFields;
    }
    static PageRecord record(const Entry& entry) { return {entry.key, entry.version, nullptr, 0}; }
    /// Its key and its version, in a table if they are asked for.
    PageRecord given(const Entry& entry) const {
        if (!hasTables) {
            return record(entry);
        }
        RecordBuilder builder;
        builder.setText(builder.fieldNamed("id"), entry.key);
        builder.setInteger(builder.fieldNamed("n", 1), static_cast<std::int64_t>(entry.version));
        builder.endRecord();
        const auto table = std::make_shared<const RecordTable>(builder.finish());
        return {entry.key, contentHash(*table, 0), table, 0};
    }

    PageAnswer answer(const PageCommand& command, std::int64_t size) const {
        PageAnswer answer;
        size = std::min(size, most);
        const auto end = static_cast<std::int64_t>(list.size());
        std::int64_t from = style == PageStyle::Number ? command.from * size : command.from;
        if (!isPositional(style)) {
            from = 0;
            bool back = false;
            if (!command.token.empty()) {
                back = command.token[0] == '<';
                const double rank = std::stod(command.token.substr(1));
                while (from < end &&
                       list[static_cast<std::size_t>(from)].rank < rank + (back ? -1e-12 : 1e-12)) {
                    ++from;
                }
                from = back ? std::max<std::int64_t>(from - size, 0) : from;
            }
        }
        from = saysTheSame ? 0 : from;
        const std::int64_t until = std::min(from + size, end);
        for (std::int64_t i = from; i < until; ++i) {
            answer.records.push_back(given(list[static_cast<std::size_t>(i)]));
        }
        if (tellsTotal) {
            answer.total = end;
        }
        if (!isPositional(style) && until < end && until > 0) {
            answer.next = fmt::format(">{:.17g}", list[static_cast<std::size_t>(until - 1)].rank);
        }
        if (!isPositional(style) && from > 0 && from < end) {
            answer.previous = fmt::format("<{:.17g}", list[static_cast<std::size_t>(from)].rank);
        }
        return answer;
    }
};

/// Drives a pager as a host would: carries out its edits on a plain list, keeps what it asked for, and
/// delivers answers when told.
struct PagerRig {
    static constexpr std::int64_t kShows = 6;

    PagerRig(const PageRules& rules, FakeService& of) : pager(rules), service(of) {
        pager.start(now);
        drain();
    }

    void drain() {
        for (PageCommand& command : pager.takeCommands()) {
            switch (command.kind) {
            case PageCommand::Kind::Ask:
                ++asked;
                twice = twice || std::ranges::any_of(
                                     open, [&](const auto& o) { return o.second.page == command.page; });
                afterEnd = afterEnd ||
                           (pager.endKnown() && command.page >= pager.strip().endPage() && command.page > 0);
                open[command.request] = command;
                break;
            case PageCommand::Kind::Cancel:
                open.erase(command.request);
                cancelled.insert(command.request);
                break;
            case PageCommand::Kind::Edit:
                repeat(command.edit);
                break;
            case PageCommand::Kind::StandAt:
                standAt(command.place);
                break;
            }
        }
        compare();
    }
    void repeat(const PlaceEdit& edit) {
        const auto at = places.begin() + edit.place;
        switch (edit.kind) {
        case PlaceEdit::Kind::Insert:
            places.insert(at, static_cast<std::size_t>(edit.count), std::nullopt);
            top += edit.place <= top && !places.empty() && top > 0 ? edit.count : 0;
            break;
        case PlaceEdit::Kind::Erase:
            places.erase(at, at + edit.count);
            top -= edit.place < top ? std::min(edit.count, top - edit.place) : 0;
            break;
        case PlaceEdit::Kind::Move: {
            const auto held = *at;
            places.erase(at);
            places.insert(places.begin() + edit.count, held);
            break;
        }
        case PlaceEdit::Kind::Refill:
            std::fill(at, at + edit.count, std::nullopt);
            break;
        case PlaceEdit::Kind::Far:
            far += edit.count;
            if (std::any_of(at, at + edit.count, [](const auto& held) { return held && !held->empty(); })) {
                wrong = fmt::format("{} at {} are far though they are here", edit.count, edit.place);
            }
            break;
        }
    }
    /// What was not said to hold something else holds what it held.
    void compare() {
        if (static_cast<std::int64_t>(places.size()) != pager.strip().places()) {
            wrong = fmt::format("{} places, not {}", places.size(), pager.strip().places());
            return;
        }
        std::set<std::string> keys;
        for (std::size_t i = 0; i < places.size(); ++i) {
            const PageRecord* record = pager.strip().recordAt(static_cast<std::int64_t>(i));
            const std::string held =
                record == nullptr ? "" : record->key + fmt::format("@{}", record->content);
            if (places[i] && *places[i] != held) {
                wrong = fmt::format("place {} holds {}, nobody said so: {}", i, held, *places[i]);
            }
            if (record != nullptr && !keys.insert(record->key).second) {
                wrong = fmt::format("{} stands twice", record->key);
            }
            places[i] = held;
        }
    }
    void standAt(std::int64_t place) { top = place; }

    void look(double placesPerSecond = 0) {
        const std::int64_t last = std::max<std::int64_t>(pager.strip().places() - 1, 0);
        top = std::clamp<std::int64_t>(top, 0, std::max<std::int64_t>(last - kShows + 1, 0));
        const std::int64_t end = std::min(top + kShows - 1, last);
        pager.look(now,
                   {top, end, std::max<std::int64_t>(top - 3, 0), std::min(end + 3, last), placesPerSecond});
        drain();
        noteSeen();
    }
    void noteSeen() {
        for (std::int64_t i = top; i < std::min(top + kShows, pager.strip().places()); ++i) {
            if (const PageRecord* record = pager.strip().recordAt(i)) {
                seen.insert(record->key);
            }
        }
    }
    void deliver(std::int64_t request) {
        const PageCommand command = open.at(request);
        open.erase(request);
        pager.answered(now, request, service.answer(command, pager.rules().size));
        drain();
    }
    void fail(std::int64_t request, PageFailure::Kind kind, std::int64_t retryAfterMs = 0) {
        open.erase(request);
        pager.failed(now, request, {kind, "it failed", "try again", retryAfterMs, {}});
        drain();
    }
    /// Everything that is asked for comes, and what follows from it, until nothing is asked for any more.
    void calm(int most = 500) {
        look();
        while (!open.empty() && most-- > 0) {
            deliver(open.begin()->first);
            look();
        }
    }
    /// Time passes until nothing waits any more.
    void rest(int most = 500) {
        calm();
        while (pager.wakeAtMs() && most-- > 0) {
            now = *pager.wakeAtMs();
            calm();
        }
    }
    /// Reads on from the top to where nothing more comes.
    void readThrough() {
        top = 0;
        seen.clear();
        rest();
        for (std::int64_t before = -1; before != top || !open.empty();) {
            before = top;
            top += kShows - 1;
            rest();
        }
    }
    std::vector<std::string> keys() {
        std::vector<std::string> all;
        for (std::int64_t i = 0; i < pager.strip().places(); ++i) {
            const PageRecord* record = pager.strip().recordAt(i);
            all.push_back(record == nullptr ? "" : record->key);
        }
        return all;
    }

    Pager pager;
    FakeService& service;
    std::int64_t now = 1000;
    std::int64_t top = 0;
    std::map<std::int64_t, PageCommand> open;
    std::set<std::int64_t> cancelled;
    std::vector<std::optional<std::string>> places;
    std::set<std::string> seen;
    int asked = 0;
    bool twice = false;
    std::int64_t far = 0; ///< places that were said to be far
    bool afterEnd = false;
    std::string wrong; ///< the first thing that was not as it must be
};

} // namespace scorrere::testing
