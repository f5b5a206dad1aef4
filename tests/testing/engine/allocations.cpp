// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/engine/allocations.h"

#include <atomic>
#include <cstdlib>
#include <new>

namespace {
std::atomic<std::int64_t> allocated{0};
}

// The compiler takes the replaced pair apart when it inlines one half of it.
#pragma GCC diagnostic ignored "-Wmismatched-new-delete"

// Counts every allocation of this program. Kept simple: alignment beyond the usual is not used in the engine.
void* operator new(std::size_t size) {
    ++allocated;
    if (void* memory = std::malloc(size == 0 ? 1 : size)) {
        return memory;
    }
    throw std::bad_alloc();
}
void* operator new(std::size_t size, const std::nothrow_t&) noexcept {
    ++allocated;
    return std::malloc(size == 0 ? 1 : size);
}
void operator delete(void* memory) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept {
    std::free(memory);
}

namespace scorrere::testing {

std::int64_t allocationsEver() {
    return allocated;
}

} // namespace scorrere::testing
