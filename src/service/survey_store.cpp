// SPDX-License-Identifier: GPL-3.0-or-later
#include "service/survey_store.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace scorrere::service {

namespace {

using SurveyJson = nlohmann::json;

constexpr std::int64_t kMostCounted = 100'000;
constexpr std::array<const char*, 3> kStatuses{"verified", "queried", "provisional"};

/// Puts one member in its place; empty, or why it does not fit.
std::string put(Sighting& to, const std::string& name, const SurveyJson& value) {
    const auto text = [&](std::string& member) {
        member = value.is_string() ? value.get<std::string>() : std::string();
        return value.is_string() || value.is_null() ? std::string() : fmt::format("{} must be a text", name);
    };
    const auto whole = [&](std::int64_t& member, std::int64_t least, std::int64_t most) {
        if (!value.is_number_integer() || value < least || value > most) {
            return fmt::format("{} must be a whole number from {} to {}", name, least, most);
        }
        member = value.get<std::int64_t>();
        return std::string();
    };
    if (name == "id") {
        return value == to.id ? std::string() : "an id does not change";
    }
    if (name == "count") {
        return whole(to.count, 0, kMostCounted);
    }
    if (name == "wingspan_mm") {
        return whole(to.wingspanMm, 1, 400);
    }
    if (name == "rarity") {
        return whole(to.rarity, 1, 5);
    }
    if (name == "temperature_c") {
        to.temperatureC = value.is_number() ? value.get<double>() : 0;
        return value.is_number() ? std::string() : "temperature_c must be a number";
    }
    if (name == "status") {
        if (!value.is_string() || std::ranges::find(kStatuses, value.get<std::string>()) == kStatuses.end()) {
            return "status must be verified, queried or provisional";
        }
        to.status = value.get<std::string>();
        return {};
    }
    if (name == "species" && (!value.is_string() || value.get<std::string>().empty())) {
        return "a sighting has a species";
    }
    if (name == "traits") {
        to.traits.clear();
        for (const SurveyJson& trait : value.is_array() ? value : SurveyJson::array()) {
            to.traits.push_back(trait.is_string() ? trait.get<std::string>() : trait.dump());
        }
        return value.is_array() || value.is_null() ? std::string() : "traits must be a list";
    }
    return name == "species"   ? text(to.species)
           : name == "site"    ? text(to.site)
           : name == "seen"    ? text(to.seen)
           : name == "note"    ? text(to.note)
           : name == "picture" ? text(to.picture)
                               : fmt::format("a sighting has no {}", name);
}

SurveyStore::Answer refused(int status, std::string why) {
    return {status, std::move(why), {}};
}

/// Lays an object over a sighting.
SurveyStore::Answer laidOver(Sighting sighting, const SurveyJson& over) {
    for (const auto& [name, value] : over.items()) {
        if (std::string why = put(sighting, name, value); !why.empty()) {
            return refused(422, std::move(why));
        }
    }
    return {200, {}, std::move(sighting)};
}

} // namespace

std::optional<Sighting> SurveyStore::find(std::int64_t id) const {
    if (const auto changed = changed_.find(id); changed != changed_.end()) {
        return changed->second;
    }
    return id < 1 || id > count_ || removed_.contains(id) ? std::nullopt
                                                          : std::optional(makeSighting(id - 1, seed_));
}

Sighting SurveyStore::at(std::int64_t number) const {
    const std::lock_guard lock(mutex_);
    const std::int64_t id = number < 0 ? added_[static_cast<std::size_t>(-number - 1)] : number + 1;
    const auto changed = changed_.find(id);
    return changed != changed_.end() ? changed->second : makeSighting(number, seed_);
}

std::optional<Sighting> SurveyStore::withId(std::int64_t id) const {
    const std::lock_guard lock(mutex_);
    return find(id);
}

SurveyStore::Order SurveyStore::given() const {
    const std::lock_guard lock(mutex_);
    if (removed_.empty() && added_.empty()) {
        return nullptr;
    }
    auto all = std::make_shared<std::vector<std::int32_t>>();
    for (std::size_t i = added_.size(); i-- > 0;) {
        if (changed_.contains(added_[i])) {
            all->push_back(-1 - static_cast<std::int32_t>(i));
        }
    }
    for (std::int64_t i = 0; i < count_; ++i) {
        if (!removed_.contains(i + 1)) {
            all->push_back(static_cast<std::int32_t>(i));
        }
    }
    return all;
}

std::int64_t SurveyStore::version() const {
    const std::lock_guard lock(mutex_);
    return version_;
}

SurveyStore::Answer SurveyStore::patch(std::int64_t id, const std::string& body) {
    const SurveyJson over = SurveyJson::parse(body, nullptr, false);
    const std::lock_guard lock(mutex_);
    const auto sighting = find(id);
    if (!sighting) {
        return refused(404, "there is no such sighting");
    }
    if (!over.is_object()) {
        return refused(422, "a patch is a JSON object (RFC 7396)");
    }
    Answer answer = laidOver(*sighting, over);
    if (answer.why.empty()) {
        changed_[id] = answer.sighting;
        ++version_;
    }
    return answer;
}

SurveyStore::Answer SurveyStore::add(const std::string& body) {
    const SurveyJson whole = SurveyJson::parse(body, nullptr, false);
    const bool hasId = whole.is_object() && whole.contains("id") && whole["id"].is_number_integer();
    if (!hasId || whole["id"] < 1 || !whole.contains("species")) {
        return refused(422, "a sighting is a JSON object with an id above 0 and a species");
    }
    const auto id = whole["id"].get<std::int64_t>();
    const std::lock_guard lock(mutex_);
    if (find(id)) {
        return refused(409, fmt::format("there is a sighting {} already", id));
    }
    Sighting sighting;
    sighting.id = id;
    sighting.status = "provisional";
    Answer answer = laidOver(std::move(sighting), whole);
    if (answer.why.empty()) {
        answer.status = 201;
        changed_[id] = answer.sighting;
        std::erase(added_, id);
        added_.push_back(id);
        ++version_;
    }
    return answer;
}

SurveyStore::Answer SurveyStore::remove(std::int64_t id) {
    const std::lock_guard lock(mutex_);
    const auto sighting = find(id);
    if (!sighting) {
        return refused(404, "there is no such sighting");
    }
    if (sighting->status == "verified") {
        return refused(409, "what is verified stays: query it first");
    }
    changed_.erase(id);
    if (id <= count_) {
        removed_.insert(id);
    }
    ++version_;
    return {204, {}, *sighting};
}

} // namespace scorrere::service
