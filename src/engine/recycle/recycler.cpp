// SPDX-License-Identifier: Apache-2.0
#include "engine/recycle/recycler.h"

#include <algorithm>
#include <cassert>

namespace scorrere {

namespace {
constexpr std::size_t kUsual = 128; ///< more views than any window shows at once
}

Recycler::Recycler() {
    views_.reserve(kUsual);
    alive_.reserve(kUsual);
    pool_.reserve(kUsual);
}

ViewId Recycler::carrierOf(std::int64_t position) const {
    const auto it =
        std::ranges::lower_bound(alive_, position, {}, [this](ViewId id) { return view(id).position; });
    return it != alive_.end() && view(*it).position == position ? *it : ViewId{};
}

void Recycler::addAlive(ViewId id, std::int64_t position) {
    at(id).position = position;
    at(id).stale = true;
    const auto it =
        std::ranges::lower_bound(alive_, position, {}, [this](ViewId v) { return view(v).position; });
    alive_.insert(it, id);
}

ViewId Recycler::takeWaiting(std::int64_t position, int kind) {
    assert(carrierOf(position).index < 0);
    const auto waiting =
        std::find_if(pool_.rbegin(), pool_.rend(), [&](ViewId id) { return view(id).kind == kind; });
    if (waiting == pool_.rend()) {
        return {};
    }
    const ViewId id = *waiting;
    pool_.erase(std::next(waiting).base());
    addAlive(id, position);
    return id;
}

ViewId Recycler::add(std::int64_t position, int kind) {
    const ViewId id{static_cast<int>(views_.size())};
    views_.push_back({kind, -1, true});
    pool_.reserve(views_.capacity());
    alive_.reserve(views_.capacity());
    addAlive(id, position);
    return id;
}

void Recycler::release(ViewId id) {
    const std::int64_t position = view(id).position;
    releaseIf([&](const View& v) { return v.position == position; });
}

int Recycler::releaseStale() {
    return releaseIf([](const View& v) { return v.stale; });
}

void Recycler::markAllStale() {
    for (const ViewId id : alive_) {
        at(id).stale = true;
    }
}

void Recycler::markStale(std::int64_t position) {
    if (const ViewId id = carrierOf(position); id.index >= 0) {
        at(id).stale = true;
    }
}

void Recycler::inserted(std::int64_t position, std::int64_t count) {
    for (const ViewId id : alive_) {
        at(id).position += at(id).position >= position ? count : 0;
    }
}

void Recycler::erased(std::int64_t position, std::int64_t count) {
    releaseIf([&](const View& v) { return v.position >= position && v.position < position + count; });
    for (const ViewId id : alive_) {
        at(id).position -= at(id).position >= position + count ? count : 0;
    }
}

void Recycler::moved(std::int64_t from, std::int64_t to) {
    for (const ViewId id : alive_) {
        std::int64_t& position = at(id).position;
        if (position == from) {
            position = to;
        } else if (from < position && to >= position) {
            --position;
        } else if (from > position && to <= position) {
            ++position;
        }
    }
    sort();
}

void Recycler::sort() {
    std::ranges::sort(alive_, {}, [this](ViewId id) { return view(id).position; });
}

void Recycler::checkInvariants() const {
    assert(alive_.size() + pool_.size() == views_.size());
    for (std::size_t i = 1; i < alive_.size(); ++i) {
        assert(view(alive_[i - 1]).position < view(alive_[i]).position);
    }
    for ([[maybe_unused]] const ViewId id : pool_) {
        assert(view(id).position == -1);
    }
}

} // namespace scorrere
