// SPDX-License-Identifier: Apache-2.0
//
// Each slice is a segment's records: which of them are shown is one bit each, by columns; where they are sorted, their
// keys are made. All of them are then sorted by the first eight bytes of the first key, a byte at a time from the last
// (a million of them are read and written eight times that way in a third of the time that comparing them takes, and
// it keeps the order of what is alike); what is alike in eight bytes is compared. What was sorted before is merged: what
// comes later costs its own sort and one pass.
#include "engine/order/record_ranking.h"

#include "engine/order/search_words.h"

#include <algorithm>
#include <array>
#include <bit>
#include <fmt/format.h>
#include <functional>
#include <iterator>
#include <utility>

namespace scorrere {

namespace {

Error cancelled() {
    return {ErrorCode::Cancelled, "putting the records in order was stopped", "", {}};
}

std::vector<FieldHandle> searched(const RecordTable& records, const std::vector<std::string>& within,
                                  std::optional<Error>& error) {
    std::vector<FieldHandle> fields;
    for (const std::string& name : within) {
        if (const auto field = records.find(name)) {
            fields.push_back(*field);
        } else if (!error) {
            error = Error{ErrorCode::NotFound,
                          fmt::format("there is no field \"{}\" to search in", name),
                          "Search in fields that the records have.",
                          {}};
            error->place.field = name;
        }
    }
    for (int index = 0; within.empty() && index < static_cast<int>(records.fields().size()); ++index) {
        if (records.field({index}).type == FieldType::Text) {
            fields.push_back({index});
        }
    }
    return fields;
}

constexpr std::size_t kAlikeInASlice = 8192;

bool isAlike(const SortEntry& a, const SortEntry& b) {
    return a.band == b.band && a.head == b.head;
}

/// By band and head, keeping the order of those alike. False: it was stopped.
bool sortByBytes(std::vector<SortEntry>& entries, const std::stop_token& stop) {
    constexpr std::size_t kBytes = sizeof(std::uint64_t) + 1;
    const auto byteOf = [](const SortEntry& entry, std::size_t byte) {
        return byte == kBytes - 1 ? entry.band : static_cast<std::uint8_t>(entry.head >> (8 * byte));
    };
    std::vector<std::array<std::size_t, 256>> counts(kBytes);
    for (const SortEntry& entry : entries) {
        for (std::size_t byte = 0; byte < kBytes; ++byte) {
            ++counts[byte][byteOf(entry, byte)];
        }
    }
    std::vector<SortEntry> other(entries.size());
    for (std::size_t byte = 0; byte < kBytes; ++byte) {
        std::size_t start = 0;
        std::array<std::size_t, 256> starts{};
        for (std::size_t value = 0; value < starts.size(); ++value) {
            starts[value] = std::exchange(start, start + counts[byte][value]);
        }
        if (std::ranges::find(counts[byte], entries.size()) != counts[byte].end()) {
            continue; // all have the same
        }
        if (stop.stop_requested()) {
            return false;
        }
        for (const SortEntry& entry : entries) {
            other[starts[byteOf(entry, byte)]++] = entry;
        }
        entries.swap(other);
    }
    return true;
}

} // namespace

struct RecordRanking::Slice {
    std::vector<SortEntry> entries;
    Records records; ///< where nothing is sorted
};

Result<RecordRanking> RecordRanking::make(const OrderSpec& spec, const Against& against, int hands,
                                          std::shared_ptr<FoldedTexts> folded) {
    auto keys = SortKeys::make(spec, against.records, against.locale, hands);
    if (!keys) {
        return std::move(keys.error());
    }
    RecordRanking made(spec, std::move(*keys));
    made.parameters_ = against.parameters;
    std::optional<Error> error;
    made.within_ = searched(against.records, spec.within, error);
    if (error) {
        return std::move(*error);
    }
    for (int hand = 0; !spec.where.empty() && hand < hands; ++hand) {
        auto rule =
            Rule::compile(spec.where, {against.records, against.locale, &made.parameters_, nullptr, false});
        if (!rule) {
            return std::move(rule.error());
        }
        made.rules_.push_back(std::move(*rule));
    }
    made.words_ = searchWords(spec.containing);
    made.folded_ = folded ? std::move(folded) : std::make_shared<FoldedTexts>();
    return made;
}

void RecordRanking::markIn(const RecordTable& records, std::int64_t first, std::int64_t count, int hand,
                           std::span<std::uint64_t> bits) {
    if (rules_.empty()) {
        std::ranges::fill(bits, ~std::uint64_t{0});
        if (count % 64 != 0) {
            bits.back() = (std::uint64_t{1} << (count % 64)) - 1;
        }
    } else {
        rules_[static_cast<std::size_t>(hand)].mark({records, -1, &parameters_, 0, nullptr, -1, 0}, first,
                                                    count, bits);
    }
    if (!words_.empty()) {
        folded_->keepMatches(records, within_, words_, first, count, bits);
    }
}

void RecordRanking::forget(std::span<const std::uint32_t> changed, std::int64_t from) {
    from = std::min(from, seen_);
    std::vector<bool> isForgotten(static_cast<std::size_t>(seen_));
    std::vector<std::uint32_t> again;
    for (const std::uint32_t record : changed) {
        if (record < from) {
            isForgotten[record] = true;
            again.push_back(record);
        }
    }
    const auto isGone = [&](std::uint32_t record) { return record >= from || isForgotten[record]; };
    std::erase_if(entries_, [&](const SortEntry& entry) { return isGone(entry.record); });
    if (ranked_) {
        auto left = std::make_shared<Records>();
        std::ranges::copy_if(*ranked_, std::back_inserter(*left), std::not_fn(isGone));
        ranked_ = std::move(left);
    }
    std::erase_if(again_, isGone);
    std::vector<std::uint32_t> all;
    std::ranges::merge(again_, again, std::back_inserter(all));
    again_ = std::move(all);
    for (const std::uint32_t record : again_) {
        folded_->forget(record / RecordTable::kSegment);
    }
    if (from < seen_) {
        for (std::int64_t segment = from / RecordTable::kSegment;
             segment <= (seen_ - 1) / RecordTable::kSegment; ++segment) {
            folded_->forget(segment);
        }
    }
    seen_ = from;
}

/// Those that were forgotten one by one.
void RecordRanking::lookAgain(const RecordTable& records, Slice& to) {
    for (const std::uint32_t record : again_) {
        std::uint64_t bit = 1;
        markIn(records, record, 1, 0, {&bit, 1});
        if (bit == 0) {
            continue;
        }
        if (spec_.isSorted()) {
            keys_.add(records, record, 1, {&bit, 1}, 0, to.entries);
        } else {
            to.records.push_back(record);
        }
    }
}

/// False: it was stopped. Requires: entries are in the order of their records.
bool RecordRanking::sort(std::vector<SortEntry>& entries, Slices& slices, const std::stop_token& stop,
                         const ShareHandler& sorted) const {
    const auto tell = [&sorted](double part) {
        if (sorted) {
            sorted(part);
        }
    };
    if (!sortByBytes(entries, stop)) {
        return false;
    }
    if (!keys_.areMoreThanHeads() || entries.empty()) {
        tell(1);
        return true;
    }
    // Where those that are alike begin; so many together that a slice is worth a hand's while.
    std::vector<std::size_t> cuts{0};
    for (std::size_t i = 1; i < entries.size(); ++i) {
        if (i - cuts.back() >= kAlikeInASlice && !isAlike(entries[i - 1], entries[i])) {
            cuts.push_back(i);
        }
    }
    cuts.push_back(entries.size());
    slices.run(std::ssize(cuts) - 1, [&](std::int64_t slice, int) {
        const auto end =
            entries.begin() + static_cast<std::ptrdiff_t>(cuts[static_cast<std::size_t>(slice) + 1]);
        auto from = entries.begin() + static_cast<std::ptrdiff_t>(cuts[static_cast<std::size_t>(slice)]);
        while (from != end && !stop.stop_requested()) {
            auto to =
                std::find_if(from + 1, end, [&](const SortEntry& entry) { return !isAlike(*from, entry); });
            std::sort(from, to, [this](const SortEntry& a, const SortEntry& b) { return keys_.less(a, b); });
            from = to;
        }
        tell(static_cast<double>(cuts[static_cast<std::size_t>(slice) + 1] -
                                 cuts[static_cast<std::size_t>(slice)]) /
             static_cast<double>(entries.size()));
    });
    return !stop.stop_requested();
}

Result<std::shared_ptr<const RecordRanking::Records>>
RecordRanking::rank(const RecordTable& records, Slices& slices, const std::stop_token& stop,
                    std::atomic<std::int64_t>* done, const ShareHandler& sorted) {
    const std::int64_t from = seen_;
    const std::int64_t firstSlice = from / RecordTable::kSegment;
    const std::int64_t count =
        (records.size() + RecordTable::kSegment - 1) / RecordTable::kSegment - firstSlice;
    keys_.setRoom(records);
    folded_->setRoom(records);
    const bool isSorted = spec_.isSorted();
    std::vector<Slice> made(static_cast<std::size_t>(std::max<std::int64_t>(count, 0)));
    slices.run(std::ssize(made), [&](std::int64_t slice, int hand) {
        const std::int64_t start = std::max(from, (firstSlice + slice) * RecordTable::kSegment);
        const std::int64_t end = std::min(records.size(), (firstSlice + slice + 1) * RecordTable::kSegment);
        if (stop.stop_requested() || start >= end) {
            return;
        }
        Slice& to = made[static_cast<std::size_t>(slice)];
        std::array<std::uint64_t, RecordTable::kSegment / 64> room{};
        const std::span<std::uint64_t> bits(room.data(), static_cast<std::size_t>((end - start + 63) / 64));
        markIn(records, start, end - start, hand, bits);
        if (isSorted) {
            keys_.add(records, start, end - start, bits, hand, to.entries);
        } else {
            for (std::size_t word = 0; word < bits.size(); ++word) {
                for (std::uint64_t left = bits[word]; left != 0; left &= left - 1) {
                    to.records.push_back(static_cast<std::uint32_t>(start) +
                                         static_cast<std::uint32_t>(word * 64) +
                                         static_cast<std::uint32_t>(std::countr_zero(left)));
                }
            }
        }
        if (done != nullptr) {
            done->fetch_add(end - start, std::memory_order_relaxed);
        }
    });
    if (stop.stop_requested()) {
        return cancelled();
    }
    auto ranked = std::make_shared<Records>();
    Slice again;
    lookAgain(records, again);
    if (isSorted) {
        std::vector<SortEntry> came = std::move(again.entries);
        for (const Slice& slice : made) {
            came.insert(came.end(), slice.entries.begin(), slice.entries.end());
        }
        if (!sort(came, slices, stop, sorted)) {
            return cancelled();
        }
        std::vector<SortEntry> all(entries_.size() + came.size());
        std::ranges::merge(entries_, came, all.begin(),
                           [this](const SortEntry& a, const SortEntry& b) { return keys_.less(a, b); });
        entries_ = std::move(all);
        ranked->resize(entries_.size());
        std::ranges::transform(entries_, ranked->begin(), &SortEntry::record);
    } else {
        std::size_t sum = again.records.size() + (ranked_ ? ranked_->size() : 0);
        for (const Slice& slice : made) {
            sum += slice.records.size();
        }
        ranked->reserve(sum);
        const Records none;
        std::ranges::merge(ranked_ ? *ranked_ : none, again.records, std::back_inserter(*ranked));
        for (const Slice& slice : made) {
            ranked->insert(ranked->end(), slice.records.begin(), slice.records.end());
        }
        ranked_ = ranked;
    }
    seen_ = records.size();
    again_.clear();
    return std::shared_ptr<const Records>(std::move(ranked));
}

} // namespace scorrere
