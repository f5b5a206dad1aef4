// SPDX-License-Identifier: GPL-3.0-or-later
//
// Putting 1,000,000 records in order, beside what one would write by hand over the same columns on one thread:
// a loop for the filter, memmem for the search, std::sort for the sort.
#include "engine/change/order_change.h"
#include "engine/order/record_ranking.h"
#include "engine/order/search_words.h"
#include "lines.h"
#include "service/moths.h"

#include <cstring>
#include <memory>
#include <numeric>
#include <random>
#include <unicode/coll.h>

using namespace scorrere;
using namespace scorrere::bench;

namespace {

using Records = RecordRanking::Records;

Records ours(const OrderSpec& spec, const RecordTable& records,
             const std::shared_ptr<FoldedTexts>& folded = nullptr) {
    SlicesInTurn slices;
    auto ranking = RecordRanking::make(spec, {records, "en", {}}, 1, folded);
    return **ranking->rank(records, slices, {});
}

/// Each record of the table with the column of two fields and its row in them.
template <typename Look>
void eachRow(const RecordTable& records, FieldHandle a, FieldHandle b, Look look) {
    for (std::int64_t first = 0; first < records.size();) {
        const RecordTable::Stretch stretch = records.stretchAt(first);
        const Column& columnA = *stretch.column(a);
        const Column& columnB = *stretch.column(b);
        for (std::size_t row = 0; row < stretch.rows; ++row) {
            look(static_cast<std::uint32_t>(first) + static_cast<std::uint32_t>(row), columnA, columnB, row);
        }
        first += static_cast<std::int64_t>(stretch.rows);
    }
}

Records filteredByHand(const RecordTable& records) {
    Records shown;
    eachRow(records, *records.find("count"), *records.find("wingspan_mm"),
            [&](std::uint32_t record, const Column& count, const Column& span, std::size_t row) {
                if (count.has(row) && count.integerAt(row) > 5 && span.has(row) && span.integerAt(row) < 40) {
                    shown.push_back(record);
                }
            });
    return shown;
}

/// Texts folded beforehand, one after the other.
struct Folded {
    std::string bytes;
    std::vector<std::size_t> ends;
};
Folded foldedOf(const RecordTable& records, const char* field) {
    Folded made;
    for (std::int64_t record = 0; record < records.size(); ++record) {
        foldForSearch(records.text(record, *records.find(field)), made.bytes);
        made.bytes += '\0';
        made.ends.push_back(made.bytes.size());
    }
    return made;
}
void searchByHand(const Folded& texts, const std::string& word, std::vector<bool>& found) {
    std::size_t record = 0;
    for (std::size_t at = 0; at < texts.bytes.size();) {
        const void* hit =
            ::memmem(texts.bytes.data() + at, texts.bytes.size() - at, word.data(), word.size());
        if (hit == nullptr) {
            return;
        }
        const auto where = static_cast<std::size_t>(static_cast<const char*>(hit) - texts.bytes.data());
        while (texts.ends[record] <= where) {
            ++record;
        }
        found[record] = true;
        at = texts.ends[record];
    }
}

Records sortedByNumber(const RecordTable& records) {
    std::vector<std::pair<double, std::uint32_t>> keys;
    const FieldHandle field = *records.find("temperature_c");
    for (std::int64_t record = 0; record < records.size(); ++record) {
        keys.emplace_back(records.has(record, field) ? records.real(record, field) : 1e300,
                          static_cast<std::uint32_t>(record));
    }
    std::ranges::sort(keys);
    Records sorted(keys.size());
    std::ranges::transform(keys, sorted.begin(), &std::pair<double, std::uint32_t>::second);
    return sorted;
}

Records sortedByText(const RecordTable& records) {
    UErrorCode status = U_ZERO_ERROR;
    const std::unique_ptr<icu::Collator> collator(icu::Collator::createInstance(icu::Locale("en"), status));
    collator->setAttribute(UCOL_NUMERIC_COLLATION, UCOL_ON, status);
    std::vector<std::pair<std::string, std::uint32_t>> keys;
    const FieldHandle field = *records.find("note");
    for (std::int64_t record = 0; record < records.size(); ++record) {
        std::uint8_t room[4096];
        const std::string_view text = records.text(record, field);
        const std::int32_t made = collator->getSortKey(
            icu::UnicodeString::fromUTF8({text.data(), static_cast<std::int32_t>(text.size())}), room,
            sizeof room);
        keys.emplace_back(records.has(record, field) ? std::string(reinterpret_cast<const char*>(room),
                                                                   static_cast<std::size_t>(made))
                                                     : std::string("\xff"),
                          static_cast<std::uint32_t>(record));
    }
    std::ranges::sort(keys);
    Records sorted(keys.size());
    std::ranges::transform(keys, sorted.begin(), &std::pair<std::string, std::uint32_t>::second);
    return sorted;
}

/// Where each stands now, and the longest ascending run of that.
std::int64_t stayedByHand(const Records& after) {
    std::vector<int> places(after.size());
    for (std::size_t place = 0; place < after.size(); ++place) {
        places[after[place]] = static_cast<int>(place);
    }
    std::vector<int> ends;
    for (const int place : places) {
        const auto at = std::lower_bound(ends.begin(), ends.end(), place);
        at == ends.end() ? ends.push_back(place) : static_cast<void>(*at = place);
    }
    return std::ssize(ends);
}

double ratio(const std::vector<std::vector<double>>& times) {
    return median(times[0]) / median(times[1]);
}
std::string both(const std::vector<std::vector<double>>& times, std::size_t found) {
    return fmt::format("{:.1f} ms against {:.1f} ms by hand; {} shown", median(times[0]), median(times[1]),
                       found);
}

} // namespace

int main(int argc, char** argv) {
    const bool quick = argc > 1 && std::string_view(argv[1]) == "--quick";
    const std::int64_t count = quick ? 100'000 : 1'000'000;
    const RecordTable records = *service::makeSightings(count, 1);
    Lines lines;
    lines.note(
        fmt::format("\nOrders of {} records, one worker, against the same by hand on one thread", count));
    Records mine;
    Records theirs;
    const auto same = [&](const std::string& what) {
        if (mine != theirs) {
            lines.atMost(what + ": it differs from what is made by hand", 1, 0, "");
        }
    };
    OrderSpec filter;
    filter.where = "@.count > 5 && @.wingspan_mm < 40";
    auto times =
        interleaved(15, {[&] { mine = ours(filter, records); }, [&] { theirs = filteredByHand(records); }});
    same("filter");
    lines.atMost("filter by a rule of two comparisons, against a loop", ratio(times), 1.5, "x",
                 both(times, mine.size()));

    OrderSpec search;
    search.containing = "lantern";
    search.within = {"species", "note"};
    const auto folded = std::make_shared<FoldedTexts>();
    const double began = nowMs();
    mine = ours(search, records, folded);
    const double first = nowMs() - began;
    const Folded species = foldedOf(records, "species");
    const Folded note = foldedOf(records, "note");
    times = interleaved(7, {[&] { mine = ours(search, records, folded); },
                            [&] {
                                std::vector<bool> found(static_cast<std::size_t>(count));
                                searchByHand(species, "lantern", found);
                                searchByHand(note, "lantern", found);
                                theirs.clear();
                                for (std::size_t record = 0; record < found.size(); ++record) {
                                    if (found[record]) {
                                        theirs.push_back(static_cast<std::uint32_t>(record));
                                    }
                                }
                            }});
    same("search");
    lines.atMost(
        "search of a word in two text fields, against memmem over the same bytes", ratio(times), 2, "x",
        fmt::format("{}; the first time, which folds them, {:.0f} ms; {:.0f} MiB kept",
                    both(times, mine.size()), first, static_cast<double>(folded->memoryBytes()) / (1 << 20)));

    OrderSpec byNumber;
    byNumber.by = {{"temperature_c", false, false}};
    times =
        interleaved(5, {[&] { mine = ours(byNumber, records); }, [&] { theirs = sortedByNumber(records); }});
    same("sort by number");
    lines.atMost("sort by a number, against std::sort, keys included", ratio(times), 1.5, "x",
                 both(times, mine.size()));

    OrderSpec byText;
    byText.by = {{"note", false, false}};
    times = interleaved(quick ? 3 : 1,
                        {[&] { mine = ours(byText, records); }, [&] { theirs = sortedByText(records); }});
    same("sort by text");
    lines.atMost("sort by a text with collation, against std::sort, keys included", ratio(times), 1.5, "x",
                 both(times, mine.size()));

    OrderSpec shuffle;
    shuffle.shuffled = 1;
    times = interleaved(5, {[&] { mine = ours(shuffle, records); }});
    lines.note(fmt::format("shuffle: {:.1f} ms", median(times[0])));
    for (const std::int64_t each : {100, 1}) { // one in a hundred moved; all of them
        Records after(static_cast<std::size_t>(count));
        std::iota(after.begin(), after.end(), 0U);
        std::mt19937_64 random(1);
        for (std::int64_t i = 0; i < count / each / 2; ++i) {
            std::swap(after[random() % after.size()], after[random() % after.size()]);
        }
        if (each == 1) {
            std::ranges::shuffle(after, random);
        }
        const RecordOrder before(count);
        std::int64_t stayed = 0;
        std::int64_t byHand = 0;
        times = interleaved(5, {[&] {
                                    const auto change = OrderChange::make(before, withPlaces(after, count),
                                                                          {}, -1, ChangeWay::InPlace, {});
                                    stayed = change->stayed();
                                },
                                [&] { byHand = stayedByHand(after); }});
        if (stayed != byHand) {
            lines.atMost("difference: it is not what is found by hand", 1, 0, "");
        }
        lines.atMost(
            fmt::format("difference of two orders, {} moved, against a hand LIS", each == 1 ? "all" : "1 %"),
            ratio(times), 1.3, "x",
            fmt::format("{:.1f} ms against {:.1f} ms by hand; {} stayed", median(times[0]), median(times[1]),
                        stayed));
    }
    return lines.exitCode();
}
