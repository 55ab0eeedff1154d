#pragma once
#include <cstddef>
#include <cstdint>

/// How a replay lies in its file. Numbers are little-endian.
namespace avrek::detail {

inline constexpr char replay_mark[8] = {'a', 'v', 'r', 'e', 'k', 'r', 'p', 'l'};
inline constexpr std::uint32_t replay_version = 6;
inline constexpr std::size_t max_replay_part = 64U << 20U; ///< bytes of a part, packed or not

/// Head of a replay file.
struct ReplayFileHead {
    char mark[8];
    std::uint32_t version;
    std::uint32_t unused;
};

/// Head of each part, which is a frame of zstd with a Record in it. The end has sizes of 0.
struct ReplayPartHead {
    std::uint32_t packed;
    std::uint32_t plain;
    std::uint64_t check; ///< XXH3 of the packed bytes
};

} // namespace avrek::detail
