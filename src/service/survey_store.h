// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "service/moths.h"

#include <cstdint>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace scorrere::service {

/// The sightings that the demo service has: those that are made up by number, and what callers changed since it started.
///
/// Ownership   A value of the service's.
/// Threads     All members may be called from any thread.
class SurveyStore {
public:
    /// What became of a change.
    struct Answer {
        int status = 200;
        std::string why; ///< where it was refused
        Sighting sighting;
    };
    using Order = std::shared_ptr<const std::vector<std::int32_t>>;

    SurveyStore(std::int64_t count, std::uint64_t seed) : count_(count), seed_(seed) {}

    /// By the number that orders are made of: those that were added have numbers below 0.
    Sighting at(std::int64_t number) const;
    std::optional<Sighting> withId(std::int64_t id) const;
    /// Which there are, the newest of those that were added first; null: the first `count` as they were made up.
    Order given() const;
    /// Goes up with each change.
    std::int64_t version() const;

    /// JSON Merge Patch (RFC 7396) for one; refused where it does not fit: 404, 422.
    Answer patch(std::int64_t id, const std::string& body);
    /// One more, under an id of its caller's; refused: 409 where that is taken, 422.
    Answer add(const std::string& body);
    /// Refused: 404, and 409 for what is verified.
    Answer remove(std::int64_t id);

private:
    std::optional<Sighting> find(std::int64_t id) const;

    const std::int64_t count_;
    const std::uint64_t seed_;
    mutable std::mutex mutex_;
    std::map<std::int64_t, Sighting> changed_; ///< by id
    std::set<std::int64_t> removed_;           ///< ids
    std::vector<std::int64_t> added_;          ///< ids; the last one is the newest
    std::int64_t version_ = 0;
};

} // namespace scorrere::service
