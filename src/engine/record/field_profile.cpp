// SPDX-License-Identifier: Apache-2.0
//
// Distinct values are counted by sorting a 64-bit hash of each: exact enough to choose a key by (a key is
// then checked value by value), at 8 bytes a record and one field at a time, where a set of the texts would
// take as much memory as the records.
#include "engine/record/field_profile.h"

#include "engine/base/fnv.h"
#include "engine/base/utf8.h"
#include "engine/record/charset.h"
#include "engine/record/json_outline.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <unordered_map>

namespace scorrere {

namespace {

constexpr std::int64_t kStep = 1000;
constexpr std::size_t kSampleLength = 80;

Error cancelled() {
    return Error{ErrorCode::Cancelled, "looking at the fields was cancelled", "", {}};
}

/// Mixed once more, so that all its bits tell.
std::uint64_t hashOf(std::string_view bytes) {
    Fnv hash;
    hash.add(bytes);
    const std::uint64_t folded = hash.value() ^ (hash.value() >> 32);
    return folded * 0x9E3779B97F4A7C15ULL;
}

std::int64_t entriesIn(std::string_view json) {
    const JsonOutline outline = JsonOutline::of(json, {.nodes = 1, .depth = 0});
    return outline.nodes.empty() ? 0 : outline.nodes[0].children;
}

std::string sampleOf(const RecordTable& records, std::int64_t record, FieldHandle field) {
    std::string text = records.display(record, field);
    if (text.size() > kSampleLength) {
        text = std::string(headOf(text, kSampleLength)) + "…";
    }
    return text;
}

class Profiler {
public:
    Profiler(const RecordTable& records, FieldHandle field, std::vector<std::uint64_t>& hashes)
        : records_(records), field_(field), hashes_(hashes) {
        profile_.name = records.field(field).name;
        profile_.type = records.field(field).type;
        profile_.records = records.size();
        hashes_.clear();
    }

    bool run(const std::stop_token& stop, const ShareHandler& far) {
        for (std::int64_t record = 0; record < records_.size(); ++record) {
            if (record % kStep == 0) {
                if (stop.stop_requested()) {
                    return false;
                }
                far(static_cast<double>(record) / static_cast<double>(records_.size()));
            }
            if (records_.has(record, field_)) {
                take(record);
            } else if (profile_.firstWithout < 0) {
                profile_.firstWithout = record;
            }
        }
        std::ranges::sort(hashes_);
        profile_.distinct = std::unique(hashes_.begin(), hashes_.end()) - hashes_.begin();
        profile_.meanLength =
            profile_.present == 0 ? 0 : static_cast<double>(sum_) / static_cast<double>(profile_.present);
        finishRange();
        finishSamples();
        return true;
    }
    FieldProfile profile() { return std::move(profile_); }

private:
    void take(std::int64_t record) {
        ++profile_.present;
        std::int64_t length = 0;
        switch (profile_.type) {
        case FieldType::Text:
        case FieldType::Time: {
            const std::string_view text = records_.text(record, field_);
            hashes_.push_back(hashOf(text));
            length = charactersIn(text);
            profile_.empty += text.empty() ? 1 : 0;
            if (profile_.type == FieldType::Time) {
                range(record, static_cast<double>(parseTime(text).value_or(0)));
            } else if (looksDoubleDecoded(text) && profile_.doubleDecoded++ == 0) {
                profile_.firstDoubleDecoded = record;
            }
            break;
        }
        case FieldType::List:
        case FieldType::Object: {
            const std::string_view json = records_.text(record, field_);
            hashes_.push_back(hashOf(json));
            length = entriesIn(json);
            profile_.empty += length == 0 ? 1 : 0;
            break;
        }
        case FieldType::Integer:
        case FieldType::Real:
        case FieldType::Boolean:
        case FieldType::Unknown: {
            const std::string text = records_.display(record, field_);
            hashes_.push_back(hashOf(text));
            length = static_cast<std::int64_t>(text.size());
            if (profile_.type != FieldType::Boolean) {
                range(record, records_.real(record, field_));
            }
            break;
        }
        }
        sum_ += length;
        if (profile_.shortestRecord < 0 || length < profile_.shortest) {
            profile_.shortest = length;
            profile_.shortestRecord = record;
        }
        if (profile_.longestRecord < 0 || length > profile_.longest) {
            profile_.longest = length;
            profile_.longestRecord = record;
        }
        first_ = first_ < 0 ? record : first_;
    }

    void range(std::int64_t record, double value) {
        if (leastRecord_ < 0 || value < least_) {
            least_ = value;
            leastRecord_ = record;
        }
        if (mostRecord_ < 0 || value > largestNumber_) {
            largestNumber_ = value;
            mostRecord_ = record;
        }
    }
    void finishRange() {
        if (leastRecord_ >= 0) {
            profile_.smallest = records_.display(leastRecord_, field_);
            profile_.largest = records_.display(mostRecord_, field_);
        }
    }

    /// The first value, and then those that look most unlike it.
    void finishSamples() {
        const auto add = [this](std::int64_t record) {
            if (record < 0 || profile_.samples.size() >= 3) {
                return;
            }
            std::string sample = sampleOf(records_, record, field_);
            if (!sample.empty() && std::ranges::find(profile_.samples, sample) == profile_.samples.end()) {
                profile_.samples.push_back(std::move(sample));
            }
        };
        add(first_);
        std::int64_t tries = 0;
        for (std::int64_t record = first_ + 1;
             first_ >= 0 && record < records_.size() && tries < 50 && profile_.samples.size() < 2;
             ++record, ++tries) {
            if (records_.has(record, field_)) {
                add(record);
            }
        }
        add(profile_.longestRecord);
        add(profile_.shortestRecord);
        add(mostRecord_);
    }

    const RecordTable& records_;
    FieldHandle field_;
    std::vector<std::uint64_t>& hashes_;
    FieldProfile profile_;
    std::int64_t sum_ = 0;
    std::int64_t first_ = -1;
    double least_ = 0;
    double largestNumber_ = 0;
    std::int64_t leastRecord_ = -1;
    std::int64_t mostRecord_ = -1;
};

std::string lower(std::string text) {
    std::ranges::transform(text, text.begin(), [](char c) {
        return static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    });
    return text;
}

/// From so many points on a field's name says that it identifies its record.
constexpr int kPromises = 30;
/// From so many on it says so in a word: id, key.
constexpr int kIsCalledKey = 60;

/// How much a field's name and type speak for it being a key.
int keyness(const FieldProfile& profile) {
    const std::string name = lower(profile.name);
    int points = 0;
    points += name == "id" || name == "key" || name == "uuid" || name == "_id" ? 100 : 0;
    points += name.ends_with("_id") || name.ends_with("id") || name.ends_with("key") ? 30 : 0;
    points += name.ends_with("code") || name.ends_with("number") || name.ends_with("slug") ? 20 : 0;
    points += profile.type == FieldType::Integer ? 10 : profile.type == FieldType::Text ? 8 : 0;
    points -= profile.type == FieldType::Real || profile.type == FieldType::Time ? 10 : 0;
    points -= profile.type >= FieldType::List ? 100 : 0;
    points -= profile.longest > 64 ? 40 : 0;
    return points;
}

} // namespace

Result<std::vector<FieldProfile>> profileFields(const RecordTable& records, std::stop_token stop,
                                                const ShareHandler& far) {
    std::vector<FieldProfile> profiles;
    std::vector<std::uint64_t> hashes;
    for (std::size_t i = 0; i < records.fields().size(); ++i) {
        Profiler profiler(records, FieldHandle{static_cast<int>(i)}, hashes);
        const auto within = [&](double share) {
            if (far) {
                far((static_cast<double>(i) + share) / static_cast<double>(records.fields().size()));
            }
        };
        if (!profiler.run(stop, within)) {
            return cancelled();
        }
        profiles.push_back(profiler.profile());
    }
    return profiles;
}

std::optional<std::string> keyOf(const RecordTable& records, std::int64_t record,
                                 const std::vector<FieldHandle>& fields) {
    std::string key;
    for (std::size_t i = 0; i < fields.size(); ++i) {
        if (!records.has(record, fields[i])) {
            return std::nullopt;
        }
        const std::string part = records.display(record, fields[i]);
        if (fields.size() == 1) {
            return part;
        }
        // Lengths keep ("a", "bc") and ("ab", "c") apart.
        key += fmt::format("{}{}:{}", i > 0 ? " " : "", part.size(), part);
    }
    return key;
}

Result<KeyCheck> checkKey(const RecordTable& records, const std::vector<std::string>& fields,
                          std::stop_token stop) {
    KeyCheck check;
    check.fields = fields;
    std::vector<FieldHandle> handles;
    for (const std::string& name : fields) {
        const auto handle = records.find(name);
        if (!handle) {
            Error error{ErrorCode::NotFound,
                        fmt::format("there is no field \"{}\" to know records by", name),
                        "Choose another key.",
                        {}};
            error.place.field = name;
            return error;
        }
        handles.push_back(*handle);
    }
    // First by hash; values are compared only where hashes agree.
    std::vector<std::pair<std::uint64_t, std::int64_t>> hashes;
    hashes.reserve(static_cast<std::size_t>(records.size()));
    for (std::int64_t record = 0; record < records.size(); ++record) {
        if (record % kStep == 0 && stop.stop_requested()) {
            return cancelled();
        }
        if (const auto key = keyOf(records, record, handles)) {
            hashes.emplace_back(hashOf(*key), record);
        } else {
            ++check.missing;
            if (check.without.size() < KeyCheck::kListed) {
                check.without.push_back(record);
            }
        }
    }
    std::ranges::sort(hashes);
    for (std::size_t from = 0; from < hashes.size();) {
        std::size_t until = from + 1;
        while (until < hashes.size() && hashes[until].first == hashes[from].first) {
            ++until;
        }
        std::unordered_map<std::string, std::int64_t> firsts;
        for (std::size_t i = from; until - from > 1 && i < until; ++i) {
            const std::string key = *keyOf(records, hashes[i].second, handles);
            const auto [found, isNew] = firsts.emplace(key, hashes[i].second);
            if (!isNew) {
                ++check.duplicates;
                check.twins.push_back({hashes[i].second, found->second, key});
            }
        }
        from = until;
    }
    std::ranges::sort(check.twins, {}, &KeyCheck::Twin::record);
    if (check.twins.size() > KeyCheck::kListed) {
        check.twins.resize(KeyCheck::kListed);
    }
    return check;
}

Result<std::vector<KeyCandidate>> keyCandidates(const RecordTable& records,
                                                const std::vector<FieldProfile>& profiles,
                                                std::stop_token stop, const ShareHandler& far) {
    std::vector<const FieldProfile*> able;
    std::vector<const FieldProfile*> partial;
    for (const FieldProfile& profile : profiles) {
        const bool whole = profile.present == profile.records && profile.records > 0;
        if (whole && profile.distinct == profile.records && profile.type < FieldType::List) {
            able.push_back(&profile);
        } else if (whole && profile.distinct > 1 && profile.type < FieldType::List &&
                   profile.longest <= 200) {
            partial.push_back(&profile);
        }
    }
    std::ranges::stable_sort(able, std::greater(), [](const FieldProfile* p) { return keyness(*p); });
    std::vector<KeyCandidate> candidates;
    candidates.reserve(able.size());
    for (const FieldProfile* profile : able) {
        candidates.push_back({{profile->name}, "never missing, never twice"});
    }
    if (!candidates.empty()) {
        return candidates;
    }
    std::ranges::stable_sort(partial, std::greater(), [](const FieldProfile* p) { return p->distinct; });
    if (partial.size() > 6) {
        partial.resize(6);
    }
    const double pairs = static_cast<double>(partial.size() * (partial.size() - 1)) / 2;
    double tried = 0;
    for (std::size_t i = 0; i < partial.size(); ++i) {
        for (std::size_t k = i + 1; k < partial.size(); ++k) {
            if (far) {
                far(tried++ / pairs);
            }
            const std::vector<std::string> pair{partial[i]->name, partial[k]->name};
            auto check = checkKey(records, pair, stop);
            if (!check) {
                return std::move(check.error());
            }
            if (check->isUnique()) {
                candidates.push_back({pair, "together never missing, never twice"});
            }
        }
    }
    return candidates;
}

std::optional<std::string> brokenKey(const std::vector<FieldProfile>& profiles) {
    const FieldProfile* best = nullptr;
    bool isKept = false;
    for (const FieldProfile& profile : profiles) {
        const int points = keyness(profile);
        const bool isKey = points >= kIsCalledKey;
        if (points < kPromises) {
            continue;
        }
        if (profile.distinct == profile.records) {
            isKept = true;
        } else if ((isKey || profile.distinct * 10 >= profile.records * 9) &&
                   (best == nullptr || points > keyness(*best))) {
            best = &profile;
        }
    }
    // Where one field keeps its promise another may be of something else: a trap's id.
    const bool isTold = best != nullptr && (!isKept || keyness(*best) >= kIsCalledKey);
    return isTold ? std::optional(best->name) : std::nullopt;
}

} // namespace scorrere
