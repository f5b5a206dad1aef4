// SPDX-License-Identifier: Apache-2.0
#include "engine/recycle/recycler.h"

#include <algorithm>
#include <cassert>

namespace scorrere {

namespace {
constexpr std::size_t kUsual = 128; ///< more views than any window shows at once
}

Recycler::Recycler(std::shared_ptr<ItemViews> views)
    : views_(views ? std::move(views) : std::make_shared<ItemViews>()) {
    views_->all.reserve(kUsual);
    views_->waiting.reserve(kUsual);
    alive_.reserve(kUsual);
    leaving_.reserve(kUsual);
}

Recycler::~Recycler() {
    allGone();
    (void)releaseUnless([](std::int64_t) { return false; });
}

ViewId Recycler::carrierOf(std::int64_t position) const {
    const auto it =
        std::ranges::lower_bound(alive_, position, {}, [this](ViewId id) { return view(id).position; });
    return it != alive_.end() && view(*it).position == position ? *it : ViewId{};
}

void Recycler::addAlive(ViewId id, std::int64_t position) {
    at(id).position = position;
    at(id).stale = true;
    ++at(id).turn;
    const auto it =
        std::ranges::lower_bound(alive_, position, {}, [this](ViewId v) { return view(v).position; });
    alive_.insert(it, id);
}

ViewId Recycler::takeWaiting(std::int64_t position, int kind) {
    assert(carrierOf(position).index < 0);
    const auto waiting = std::find_if(views_->waiting.rbegin(), views_->waiting.rend(),
                                      [&](ViewId id) { return view(id).kind == kind; });
    if (waiting == views_->waiting.rend()) {
        return {};
    }
    const ViewId id = *waiting;
    views_->waiting.erase(std::next(waiting).base());
    addAlive(id, position);
    return id;
}

ViewId Recycler::add(std::int64_t position, int kind) {
    const ViewId id{static_cast<int>(views_->all.size())};
    views_->all.push_back({kind, -1, true, 0});
    views_->waiting.reserve(views_->all.capacity());
    alive_.reserve(views_->all.capacity());
    addAlive(id, position);
    return id;
}

void Recycler::release(ViewId id) {
    const std::int64_t position = view(id).position;
    releaseIf([&](const View& v) { return v.position == position; });
}

bool Recycler::leave(ViewId id) {
    const auto waits = std::ranges::find(views_->waiting, id);
    if (waits == views_->waiting.end()) {
        return false;
    }
    views_->waiting.erase(waits);
    leaving_.push_back(id);
    return true;
}

void Recycler::allGone() {
    views_->waiting.insert(views_->waiting.end(), leaving_.begin(), leaving_.end());
    leaving_.clear();
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
    [[maybe_unused]] const std::size_t known = alive_.size() + leaving_.size() + pooled();
    assert(views_.use_count() > 1 ? known <= views().size() : known == views().size());
    for (std::size_t i = 1; i < alive_.size(); ++i) {
        assert(view(alive_[i - 1]).position < view(alive_[i]).position);
    }
    for ([[maybe_unused]] const ViewId id : views_->waiting) {
        assert(view(id).position == -1);
    }
}

} // namespace scorrere
