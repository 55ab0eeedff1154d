#pragma once
#include <avrek/core/time.h>

#include <cstdint>
#include <string>
#include <string_view>

namespace avrek {

/// One type of ammunition. All weapons of a combatant that use the type share one reserve.
struct AmmoSpec {
    std::string id{};
    std::int32_t carry_limit = 100'000; ///< maximum rounds in the reserve, at least 0
};

/// Source of a weapon's shots.
enum class AmmoFeed : std::uint8_t {
    magazine, ///< a magazine that is reloaded from the reserve
    reserve,  ///< the reserve itself
    heat,     ///< no rounds: each shot heats the weapon, idling cools it
    cell,     ///< from a magazine that refills itself
};

/// Ammunition that is counted. The rest never runs out.
enum class AmmoSupply : std::uint8_t {
    counted,         ///< magazine and reserve
    endless_reserve, ///< the magazine; reloads take nothing from the reserve
    endless,         ///< nothing: every shot is free
};

/// Heat, for AmmoFeed::heat. 0 is cold; at 1 the weapon locks.
struct HeatSpec {
    double per_shot = 0.1;                           ///< heat that a shot adds, in (0, 1]
    Duration cooling_time = std::chrono::seconds{3}; ///< time from 1 to 0, over 0
    Duration delay{};                                ///< delay after a shot before it cools, at least 0
    double unlocks_at = 0.0;                         ///< heat at which a locked weapon unlocks, in [0, 1)
};

/// Refilling of a magazine by itself, for AmmoFeed::cell.
struct CellSpec {
    Duration refill_time = std::chrono::seconds{5}; ///< time from empty to full, over 0
    Duration delay{};                               ///< delay after a shot before it refills, at least 0
};

/// Returns the word for a feed, as files write it.
std::string_view to_string(AmmoFeed feed);

/// Returns the word for a supply, as files write it.
std::string_view to_string(AmmoSupply supply);

} // namespace avrek
