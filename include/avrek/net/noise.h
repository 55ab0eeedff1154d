#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <cstddef>
#include <cstdint>
#include <optional>

/// Noises of foes and explosions that a player does not see.
namespace avrek {

/// Kinds of noises.
enum class NoiseKind : std::uint8_t {
    shot,      ///< one shot, or several since the last snapshot
    step,      ///< a step of a foe that walks or runs; who crouches makes none
    explosion, ///< an explosion out of sight
};

/// Number of noise kinds.
inline constexpr std::size_t noise_kind_count = 3;

/// A noise of a foe, or an explosion, that the client is not told the place of: a direction, rounded to a few
/// degrees, and a loudness.
struct Noise {
    NoiseKind kind = NoiseKind::shot;
    std::optional<WeaponId> weapon{}; ///< the weapon behind a shot or an explosion
    Look direction{};                 ///< from the player's eye
    double loudness = 0.0; ///< falls evenly with distance: 1 beside it, 1/15 at the edge of hearing
    Time at{};             ///< server time at which it was told
};

} // namespace avrek
