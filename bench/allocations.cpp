#include "allocations.h"

#include <cstdlib>
#include <new>

namespace {

std::uint64_t allocated = 0; // benchmarks run on one thread

} // namespace

std::uint64_t allocations() {
    return allocated;
}

// Sanitizers have an operator new of their own, which must not be taken from them.
#if defined(__has_feature)
#if __has_feature(address_sanitizer) || __has_feature(thread_sanitizer)
#define AVREK_COUNTS_NOTHING
#endif
#endif
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
#define AVREK_COUNTS_NOTHING
#endif

#ifndef AVREK_COUNTS_NOTHING

void* operator new(std::size_t size) {
    ++allocated;
    if (void* memory = std::malloc(size == 0 ? 1 : size)) {
        return memory;
    }
    throw std::bad_alloc{};
}

void* operator new(std::size_t size, std::align_val_t alignment) {
    ++allocated;
    const auto line = static_cast<std::size_t>(alignment);
    if (void* memory = std::aligned_alloc(line, (size + line - 1) / line * line)) {
        return memory;
    }
    throw std::bad_alloc{};
}

void operator delete(void* memory, std::align_val_t) noexcept {
    std::free(memory);
}

void operator delete(void* memory, std::size_t, std::align_val_t) noexcept {
    std::free(memory);
}

void operator delete(void* memory) noexcept {
    std::free(memory);
}

void operator delete(void* memory, std::size_t) noexcept {
    std::free(memory);
}

#endif
