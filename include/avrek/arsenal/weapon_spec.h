#pragma once
#include <avrek/core/curve.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// What a held trigger does.
enum class TriggerMode : std::uint8_t {
    single,    ///< one shot for each press
    automatic, ///< shots for as long as the trigger is held
};

/// How much more, or less, a hit in one region counts.
struct RegionMultiplier {
    std::string region; ///< a region name of a rig
    double multiplier = 1.0;
};

/// One kind of weapon: everything about it that never changes during a match.
/// Ranges and defaults of the values as they stand in a file are in docs/arsenal.md; code may go beyond them
/// where a member says so.
struct WeaponSpec {
    std::string id{};
    TriggerMode trigger = TriggerMode::automatic;
    double rounds_per_minute = 600.0; ///< over 0
    std::int32_t magazine = 1;        ///< rounds that the magazine holds, at least 1
    std::int32_t reserve = 0;         ///< rounds carried apart from the magazine at the start, at least 0
    Duration reload_time{};           ///< from the start of a reload to the rounds being in, at least 0
    Radians spread = 0.0;             ///< half-angle of the cone that shots leave in, in [0, pi/2)
    Metres range = 100.0;             ///< how far a shot reaches, over 0
    double damage = 0.0;              ///< health points a hit takes before falloff and region, at least 0
    Curve falloff{}; ///< distance in metres -> share of the damage, at least 0; empty: always 1
    std::vector<RegionMultiplier> region_multipliers{}; ///< at most one for each region
};

/// The multiplier of `spec` for hits in `region`: 1 where it names none.
double region_multiplier(const WeaponSpec& spec, std::string_view region);

/// The word for `mode` in files.
std::string_view to_string(TriggerMode mode);

} // namespace avrek
