#include <avrek/core/state_bytes.h>
#include <avrek/core/state_hash.h>

#include <algorithm>

namespace avrek {

namespace {

constexpr std::size_t block_size = 64;
constexpr std::size_t width = 8;

// Half of a block, which compilers add as widely as the processor can.
using Half = std::uint64_t __attribute__((vector_size(32)));

struct Lanes {
    std::uint64_t sums[width];
    std::uint64_t sums_of_sums[width];
};

// One block after another: for each lane the sum of its words, and the sum of these sums, which tells where a
// word was.
inline __attribute__((always_inline)) void take_blocks(Lanes& lanes, const std::byte* from,
                                                       std::size_t blocks) {
    Half left;
    Half right;
    Half left_sums;
    Half right_sums;
    std::memcpy(&left, lanes.sums, sizeof left);
    std::memcpy(&right, lanes.sums + width / 2, sizeof right);
    std::memcpy(&left_sums, lanes.sums_of_sums, sizeof left_sums);
    std::memcpy(&right_sums, lanes.sums_of_sums + width / 2, sizeof right_sums);
    const auto take = [&](const std::byte* block) {
        Half left_words;
        Half right_words;
        std::memcpy(&left_words, block, sizeof left_words);
        std::memcpy(&right_words, block + sizeof left_words, sizeof right_words);
        left += left_words;
        right += right_words;
        left_sums += left;
        right_sums += right;
    };
    // Eight at a time: a sixth faster than one.
    std::size_t block = 0;
    for (; block + 8 <= blocks; block += 8) {
        for (std::size_t next = 0; next < 8; ++next) {
            take(from + (block + next) * block_size);
        }
    }
    for (; block < blocks; ++block) {
        take(from + block * block_size);
    }
    std::memcpy(lanes.sums, &left, sizeof left);
    std::memcpy(lanes.sums + width / 2, &right, sizeof right);
    std::memcpy(lanes.sums_of_sums, &left_sums, sizeof left_sums);
    std::memcpy(lanes.sums_of_sums + width / 2, &right_sums, sizeof right_sums);
}

void take_portable(Lanes& lanes, const std::byte* from, std::size_t blocks) {
    take_blocks(lanes, from, blocks);
}

#if defined(__x86_64__)
__attribute__((target("avx2"))) void take_wide(Lanes& lanes, const std::byte* from, std::size_t blocks) {
    take_blocks(lanes, from, blocks);
}
#endif

} // namespace

// After Fletcher, "An arithmetic checksum for serial transmissions", 1982, with 64-bit words in eight lanes.
std::uint64_t bytes_check(std::span<const std::byte> bytes) {
    Lanes lanes{};
    const std::size_t blocks = bytes.size() / block_size;
    auto* take = take_portable;
#if defined(__x86_64__)
    if (__builtin_cpu_supports("avx2")) {
        take = take_wide;
    }
#endif
    take(lanes, bytes.data(), blocks);
    std::byte rest[block_size] = {};
    std::copy(bytes.begin() + static_cast<std::ptrdiff_t>(blocks * block_size), bytes.end(), rest);
    take_portable(lanes, rest, 1);
    StateHash hash;
    hash.add(std::uint64_t{bytes.size()});
    for (std::size_t lane = 0; lane < width; ++lane) {
        hash.add(lanes.sums[lane]);
        hash.add(lanes.sums_of_sums[lane]);
    }
    return hash.value();
}

} // namespace avrek
