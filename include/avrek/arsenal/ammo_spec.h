#pragma once
#include <avrek/core/time.h>

#include <cstdint>
#include <string>
#include <string_view>

namespace avrek {

/// One kind of ammunition. Every weapon of a combatant that uses the kind draws on the same reserve.
struct AmmoSpec {
    std::string id{};
    std::int32_t carry_limit = 100'000; ///< rounds that the reserve holds at most, at least 0
};

/// Where a weapon's shots come from.
enum class AmmoFeed : std::uint8_t {
    magazine, ///< a magazine that is reloaded from the reserve
    reserve,  ///< straight from the reserve
    heat,     ///< from nothing: each shot warms the weapon, idling cools it
    cell,     ///< from a magazine that refills itself
};

/// What is counted; the rest never ends.
enum class AmmoSupply : std::uint8_t {
    counted,         ///< all of it
    endless_reserve, ///< the magazine, which is filled from nothing
    endless,         ///< none of it: every shot is free
};

/// Warmth, for AmmoFeed::heat: 0 is cold, and at 1 the weapon locks.
struct HeatSpec {
    double per_shot = 0.1;                           ///< over 0 to 1
    Duration cooling_time = std::chrono::seconds{3}; ///< from 1 to 0, over 0
    Duration delay{};                                ///< after a shot, before it cools, at least 0
    double unlocks_at = 0.0; ///< a locked weapon fires again from this heat on, in [0, 1)
};

/// How a magazine refills itself, for AmmoFeed::cell.
struct CellSpec {
    Duration refill_time = std::chrono::seconds{5}; ///< from empty to full, over 0
    Duration delay{};                               ///< after a shot, before it refills, at least 0
};

/// The word for `feed` in files.
std::string_view to_string(AmmoFeed feed);

/// The word for `supply` in files.
std::string_view to_string(AmmoSupply supply);

} // namespace avrek
