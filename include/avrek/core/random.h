#pragma once
#include <array>
#include <cstdint>

/// Counter-based random numbers: a pure function of a key, without hidden state. Every machine and every
/// replay draws the same.
namespace avrek {

/// Purpose of a random number, so that two uses never share one.
enum class RandomPurpose : std::uint32_t {
    spread = 1,
    recoil = 2,
    spawn = 3,
    bot = 4,
    link = 5,
};

/// Key of one block of random numbers.
struct RandomKey {
    std::uint64_t seed = 0;      ///< seed of the match
    std::uint32_t combatant = 0; ///< the combatant that draws
    RandomPurpose purpose = RandomPurpose::spread;
    std::uint32_t shot = 0;  ///< which of the combatant's shots
    std::uint32_t block = 0; ///< counts the blocks of one shot
};

/// Returns four independent, uniformly distributed 32-bit words for `key`. Philox 4x32-10 (Salmon, Moraes,
/// Dror and Shaw, "Parallel random numbers: as easy as 1, 2, 3", 2011).
std::array<std::uint32_t, 4> random_words(const RandomKey& key);

/// Returns two independent numbers for `key`, uniform over the multiples of 2^-53 in [0, 1).
std::array<double, 2> random_pair(const RandomKey& key);

} // namespace avrek
