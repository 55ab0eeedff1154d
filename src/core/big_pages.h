#pragma once
#include <cstddef>
#include <new>
#include <vector>

#if defined(__linux__)
#include <sys/mman.h>
#endif

namespace avrek::detail {

/// Memory for large arrays that are read all over: asks the system for big pages, so that finding a page
/// costs less than reading it. Only a hint; it works the same without.
template <class Value>
struct BigPages {
    using value_type = Value;
    static constexpr std::size_t page = std::size_t{1} << 21;

    BigPages() = default;
    template <class Other>
    BigPages(const BigPages<Other>&) {} // NOLINT: allocators convert

    Value* allocate(std::size_t count) {
        const std::size_t bytes = count * sizeof(Value);
        const std::size_t alignment = bytes >= page / 2 ? page : alignof(std::max_align_t) * 4;
        void* const memory = ::operator new (rounded(bytes), std::align_val_t{alignment});
#if defined(__linux__)
        if (bytes >= page / 2) {
            madvise(memory, rounded(bytes), MADV_HUGEPAGE);
        }
#endif
        return static_cast<Value*>(memory);
    }

    void deallocate(Value* memory, std::size_t count) {
        const std::size_t bytes = count * sizeof(Value);
        const std::size_t alignment = bytes >= page / 2 ? page : alignof(std::max_align_t) * 4;
        ::operator delete (memory, std::align_val_t{alignment});
    }

    friend bool operator==(const BigPages&, const BigPages&) {
        return true;
    }

  private:
    static std::size_t rounded(std::size_t bytes) {
        return bytes >= page / 2 ? (bytes + page - 1) / page * page : bytes;
    }
};

template <class Value>
using BigVector = std::vector<Value, BigPages<Value>>;

} // namespace avrek::detail
