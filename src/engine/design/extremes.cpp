// SPDX-License-Identifier: Apache-2.0
#include "engine/design/extremes.h"

#include <algorithm>

namespace scorrere {

std::int64_t longestUnbroken(std::string_view text) {
    std::int64_t longest = 0;
    std::int64_t run = 0;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte <= ' ' || byte == '-' ||
            byte >= 0xe2) { // blanks, hyphens; from here on most scripts break anywhere
            run = 0;
        } else if ((byte & 0xc0) != 0x80) {
            longest = std::max(longest, ++run);
        }
    }
    return longest;
}

std::int64_t rightToLeftCharacters(std::string_view text) {
    std::int64_t count = 0;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        count += byte >= 0xd6 && byte <= 0xdf ? 1 : 0; // lead bytes of U+0580 to U+07FF
    }
    return count;
}

void ExtremesFinder::offer(Extreme extreme, std::int64_t record, std::int64_t score) {
    Best& best = best_[static_cast<std::size_t>(extreme)];
    if (best.record < 0 || score > best.score || (score == best.score && record < best.record)) {
        best = {record, score};
    }
}

void ExtremesFinder::consider(std::int64_t record, Length height, const ItemContent& content, Length cut) {
    ++considered_;
    first_.insert(std::ranges::upper_bound(first_, record), record);
    if (first_.size() > kExtremes + kLeastRecords) {
        first_.pop_back();
    }
    if (cut > Length{}) {
        offer(Extreme::MostCut, record, static_cast<std::int64_t>(cut.toPx()));
    }
    offer(Extreme::Shortest, record, -height.raw());
    offer(Extreme::Tallest, record, height.raw());
    Height& known = heights_[height.raw()];
    if (known.count++ == 0 || record < known.record) {
        known.record = record;
    }
    std::int64_t missing = 0;
    std::int64_t entries = 0;
    for (const FieldHandle field : design_.fields()) {
        const bool there = records_.has(record, field);
        missing += there ? 0 : 1;
        if (there && records_.field(field).type == FieldType::List) {
            // Commas are near enough to tell the longest list from the others.
            entries = std::max<std::int64_t>(entries, std::ranges::count(records_.text(record, field), ',') +
                                                          (records_.text(record, field).size() > 2 ? 1 : 0));
        }
    }
    if (missing > 0) {
        offer(Extreme::MostMissing, record, missing);
    }
    if (entries > 1) {
        offer(Extreme::MostEntries, record, entries);
    }
    std::int64_t word = 0;
    std::int64_t leftwards = 0;
    std::int64_t silent = 0;
    for (std::size_t i = 0; i < design_.parts().size(); ++i) {
        const PlanPart& part = design_.parts()[i];
        if (part.binding < 0) {
            continue;
        }
        const auto binding = static_cast<std::size_t>(part.binding);
        if (part.type == PartType::Picture) {
            if (content.present[binding] == 0) {
                offer(Extreme::NoPicture, record, 0);
            } else if (const auto aspect = static_cast<double>(content.numbers[i]); aspect > 0) {
                considerPicture(record, aspect);
            }
        } else if (content.present[binding] == 0) {
            silent += part.isText() ? 1 : 0;
        } else {
            word = std::max(word, longestUnbroken(content.values[binding]));
            leftwards += rightToLeftCharacters(content.values[binding]);
        }
    }
    if (word > 0) {
        offer(Extreme::LongestWord, record, word);
    }
    if (silent > 0) {
        offer(Extreme::NoText, record, silent);
    }
    if (leftwards > 0) {
        offer(Extreme::RightToLeft, record, leftwards);
    }
}

void ExtremesFinder::considerPicture(std::int64_t record, double aspect) {
    if (aspect <= 0) {
        offer(Extreme::PictureMissing, record, 0);
        return;
    }
    const auto score = static_cast<std::int64_t>(aspect * 1000);
    offer(Extreme::WidestPicture, record, score);
    offer(Extreme::TallestPicture, record, -score);
}

ExtremesFinder::Best ExtremesFinder::median() const {
    std::vector<std::pair<std::int64_t, Height>> all(heights_.begin(), heights_.end());
    std::ranges::sort(all, {}, &std::pair<std::int64_t, Height>::first);
    std::int64_t passed = 0;
    for (const auto& [height, known] : all) {
        passed += known.count;
        if (passed * 2 >= considered_) {
            return {known.record, height};
        }
    }
    return {};
}

std::vector<HardRecord> ExtremesFinder::found() const {
    std::vector<HardRecord> all;
    for (std::size_t i = 0; i < static_cast<std::size_t>(Extreme::Sample); ++i) {
        const auto why = static_cast<Extreme>(i);
        const Best best = why == Extreme::Median ? median() : best_[i];
        if (best.record < 0) {
            continue;
        }
        const Best& other = best_[static_cast<std::size_t>(
            why == Extreme::TallestPicture ? Extreme::WidestPicture : Extreme::TallestPicture)];
        const bool ofPictures = why == Extreme::WidestPicture || why == Extreme::TallestPicture;
        if (ofPictures && best.score == -other.score) {
            continue; // all pictures are alike
        }
        const auto same = std::ranges::find(all, best.record, &HardRecord::record);
        if (same != all.end()) {
            same->why.push_back(why);
        } else {
            all.push_back({best.record, {why}, best.score < 0 ? -best.score : best.score});
        }
    }
    addSamples(all);
    return all;
}

/// Records of other heights, from short to tall; then any.
void ExtremesFinder::addSamples(std::vector<HardRecord>& found) const {
    const auto add = [&found](std::int64_t record) {
        if (std::ranges::find(found, record, &HardRecord::record) == found.end()) {
            found.push_back({record, {Extreme::Sample}, 0});
        }
    };
    if (found.size() < kLeastRecords && heights_.size() > 2) {
        std::vector<std::pair<std::int64_t, Height>> all(heights_.begin(), heights_.end());
        std::ranges::sort(all, {}, &std::pair<std::int64_t, Height>::first);
        const std::size_t wanted = kLeastRecords - found.size();
        for (std::size_t i = 1; i <= wanted && found.size() < kLeastRecords; ++i) {
            add(all[i * all.size() / (wanted + 1)].second.record);
        }
    }
    for (std::size_t i = 0; i < first_.size() && found.size() < kLeastRecords; ++i) {
        add(first_[i]);
    }
}

} // namespace scorrere
