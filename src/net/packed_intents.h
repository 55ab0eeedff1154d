#pragma once
#include <avrek/skirmish/intent.h>

#include <cstdint>
#include <span>
#include <vector>

/// Intents as they travel: on a grid, and each as what is not as in the one before.
namespace avrek::detail {

/// An intent as it travels. A client lets it count so itself, so that both ends have the same: looks on 65536
/// steps of a turn, ways on 127 of full speed, times on steps of 2^16 ns.
Intent as_sent(Intent intent);

inline constexpr std::size_t max_packed_intents = 16;

/// Packs intents, of one combatant and in order of their ticks; `who` is left out. `game_since_snapshot` says
/// that the game's bytes are differences from those of the snapshot.
std::vector<std::uint8_t> pack_intents(std::span<const Intent> intents, bool game_since_snapshot = false);

/// Unpacks them again, for `who`; empty when it is no such thing.
std::vector<Intent> unpack_intents(std::span<const std::uint8_t> packed, BodyId who,
                                   bool& game_since_snapshot);

} // namespace avrek::detail
