// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <cstdlib>
#include <memory>
#include <vector>

namespace scorrere {

/// Names an item view of one run, or of several that share theirs. Views are never destroyed while one of them lives.
struct ViewId {
    int index = -1;
    bool operator==(const ViewId&) const = default;
};

/// The item views that there are, whoever carries something in them: one run's own, or those of all strips of a kind
/// within the items of a run, so that one that goes out of sight leaves its views to the next.
struct ItemViews {
    struct View {
        int kind = 0;
        std::int64_t position = -1;
        bool stale = false;     ///< carries the right item with outdated content
        std::uint32_t turn = 0; ///< so many items it carried so far
    };
    std::vector<View> all;
    std::vector<ViewId> waiting;
};

/// Which item view carries which item: decides who is reused and who must be built.
///
/// Intervals   `position` is the carried item's position, -1 while the view waits in the pool.
/// Complexity  v = views alive, a few dozen: all operations are O(v) at most, none depends on the collection.
///             Nothing allocates once as many views live as ever will.
/// Threads     One thread.
class Recycler {
public:
    using View = ItemViews::View;
    struct Acquired {
        ViewId view;
        bool built = false;
    };

    /// `views`: shared with others; null: its own.
    explicit Recycler(std::shared_ptr<ItemViews> views = nullptr);
    ~Recycler();
    Recycler(const Recycler&) = delete;
    Recycler& operator=(const Recycler&) = delete;

    /// Those of all that share them.
    const std::vector<View>& views() const { return views_->all; }
    const View& view(ViewId id) const { return views_->all[static_cast<std::size_t>(id.index)]; }
    /// Views alive in order of position.
    const std::vector<ViewId>& alive() const { return alive_; }
    const std::vector<ViewId>& waiting() const { return views_->waiting; }
    std::size_t pooled() const { return views_->waiting.size(); }

    /// The view that carries the item, or {-1}.
    ViewId carrierOf(std::int64_t position) const;
    /// A view for an item that none carries: one that waits; else the one of the same kind farthest from it whose
    /// item it `mayTakeFrom` (a predicate on the position); else a new one.
    template <typename MayTakeFrom>
    Acquired acquire(std::int64_t position, int kind, MayTakeFrom mayTakeFrom) {
        if (const ViewId id = takeWaiting(position, kind); id.index >= 0) {
            return {id, false};
        }
        auto farthest = alive_.end();
        std::int64_t distance = 0;
        for (auto it = alive_.begin(); it != alive_.end(); ++it) {
            const View& candidate = view(*it);
            const std::int64_t away = std::abs(candidate.position - position);
            if (candidate.kind == kind && away > distance && mayTakeFrom(candidate.position)) {
                distance = away;
                farthest = it;
            }
        }
        if (farthest == alive_.end()) {
            return {add(position, kind), true};
        }
        const ViewId id = *farthest;
        alive_.erase(farthest);
        addAlive(id, position);
        return {id, false};
    }
    void filled(ViewId id) { at(id).stale = false; }
    /// Sends every view whose item is not `wanted` (a predicate on the position) to the pool; gives how many.
    template <typename Wanted>
    int releaseUnless(Wanted wanted) {
        return releaseIf([&](const View& v) { return !wanted(v.position); });
    }
    /// Sends one view to the pool.
    void release(ViewId id);
    /// Of one that waits: nobody takes it until all are gone; what it carried last is still drawn. False: it does not wait.
    bool leave(ViewId id);
    std::size_t leaving() const { return leaving_.size(); }
    void allGone();
    /// Sends every view whose content is outdated to the pool; gives how many.
    int releaseStale();

    void markAllStale();
    void markStale(std::int64_t position);
    void inserted(std::int64_t at, std::int64_t count);
    /// Views that carried what went are released.
    void erased(std::int64_t at, std::int64_t count);
    void moved(std::int64_t from, std::int64_t to);
    /// All stand elsewhere. `to` gives the new position of one that stood at a position, each another.
    template <typename To>
    void permuted(To to) {
        for (const ViewId id : alive_) {
            at(id).position = to(at(id).position);
        }
        sort();
    }
    void checkInvariants() const;

private:
    View& at(ViewId id) { return views_->all[static_cast<std::size_t>(id.index)]; }
    void sort();
    ViewId takeWaiting(std::int64_t position, int kind);
    ViewId add(std::int64_t position, int kind);
    void addAlive(ViewId id, std::int64_t position);
    template <typename Predicate>
    int releaseIf(Predicate predicate) {
        int released = 0;
        std::erase_if(alive_, [&](ViewId id) {
            View& candidate = at(id);
            if (!predicate(candidate)) {
                return false;
            }
            candidate.position = -1;
            views_->waiting.push_back(id);
            ++released;
            return true;
        });
        return released;
    }

    std::shared_ptr<ItemViews> views_;
    std::vector<ViewId> alive_;
    std::vector<ViewId> leaving_;
};

} // namespace scorrere
