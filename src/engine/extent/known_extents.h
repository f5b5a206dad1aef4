// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/extent/length.h"

#include <array>
#include <atomic>
#include <cassert>
#include <cstdint>
#include <memory>
#include <optional>

namespace scorrere {

/// What is known of records' extents, by record, so that whoever arranges them anew elsewhere can take it along.
///
/// Complexity  O(1); 4 bytes for each record of those 16,384 of which any is known.
/// Threads     One writes, any may read meanwhile: each extent is the last one or the one before.
class KnownExtents {
public:
    static constexpr std::int64_t kTogether = 16'384;
    static constexpr std::int64_t kMost = kTogether * 4096; ///< of records beyond nothing is kept

    KnownExtents() = default;
    ~KnownExtents() {
        for (auto& chunk : chunks_) {
            delete chunk.load(std::memory_order_relaxed);
        }
    }
    KnownExtents(const KnownExtents&) = delete;
    KnownExtents& operator=(const KnownExtents&) = delete;

    struct Known {
        Length extent;
        bool isMeasured = false;
        bool operator==(const Known&) const = default;
    };
    /// Requires: 0 <= extent < 2^30 / 64 px.
    void set(std::int64_t record, const Known& known) {
        if (record < 0 || record >= kMost) {
            return;
        }
        std::atomic<Chunk*>& chunk = chunks_[static_cast<std::size_t>(record / kTogether)];
        Chunk* at = chunk.load(std::memory_order_relaxed);
        if (at == nullptr) {
            at = new Chunk();
            chunk.store(at, std::memory_order_release);
        }
        std::atomic<std::uint32_t>& value = (*at)[static_cast<std::size_t>(record % kTogether)];
        assert(known.extent >= Length{} && known.extent.raw() < (std::int64_t{1} << 30));
        const std::uint32_t was = value.load(std::memory_order_relaxed);
        count_ += was == 0 ? 1 : 0;
        value.store((static_cast<std::uint32_t>(known.extent.raw()) << 2) | (known.isMeasured ? 3U : 1U),
                    std::memory_order_relaxed);
    }
    /// A measured one is kept.
    void setEstimated(std::int64_t record, Length extent) {
        if (const auto known = at(record); !known || !known->isMeasured) {
            set(record, {extent, false});
        }
    }
    /// Nothing is known of it any more.
    void forget(std::int64_t record) {
        if (!at(record)) {
            return;
        }
        Chunk& chunk = *chunks_[static_cast<std::size_t>(record / kTogether)].load(std::memory_order_relaxed);
        chunk[static_cast<std::size_t>(record % kTogether)].store(0, std::memory_order_relaxed);
        --count_;
    }
    std::optional<Known> at(std::int64_t record) const {
        if (record < 0 || record >= kMost) {
            return std::nullopt;
        }
        const Chunk* chunk =
            chunks_[static_cast<std::size_t>(record / kTogether)].load(std::memory_order_acquire);
        const std::uint32_t value =
            chunk == nullptr
                ? 0
                : (*chunk)[static_cast<std::size_t>(record % kTogether)].load(std::memory_order_relaxed);
        return value == 0 ? std::nullopt
                          : std::optional(Known{Length::fromRaw(value >> 2), (value & 2U) != 0});
    }
    /// So many records are known. The writer's.
    std::int64_t count() const { return count_; }

private:
    using Chunk = std::array<std::atomic<std::uint32_t>, static_cast<std::size_t>(kTogether)>;
    std::array<std::atomic<Chunk*>, static_cast<std::size_t>(kMost / kTogether)> chunks_{};
    std::int64_t count_ = 0;
};

} // namespace scorrere
