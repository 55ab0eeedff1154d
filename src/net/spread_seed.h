#pragma once
#include <avrek/core/ids.h>

#include <cstdint>

namespace avrek::detail {

/// Derives the seed of a player's spread from the secret seed of a match, by BLAKE2b. Who knows it finds
/// neither the seed of the match nor that of another player.
std::uint64_t spread_seed_of(std::uint64_t match_seed, BodyId player);

} // namespace avrek::detail
