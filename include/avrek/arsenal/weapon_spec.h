#pragma once
#include <avrek/arsenal/ammo_spec.h>
#include <avrek/arsenal/handling_spec.h>
#include <avrek/arsenal/recoil_spec.h>
#include <avrek/arsenal/reload_spec.h>
#include <avrek/arsenal/spread_spec.h>
#include <avrek/arsenal/trigger_spec.h>
#include <avrek/core/curve.h>
#include <avrek/core/units.h>

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// How much more, or less, a hit in one region counts.
struct RegionMultiplier {
    std::string region; ///< a region name of a rig
    double multiplier = 1.0;
};

/// One kind of weapon: everything about it that never changes during a match.
/// Ranges and defaults of the values as they stand in a file are in docs/arsenal.md; code may go beyond them
/// where a member says so. find_contradictions() tells which values do not go together.
struct WeaponSpec {
    std::string id{};
    std::vector<TriggerMode> modes{TriggerMode::automatic}; ///< 1 to 8, the first is set at the start
    double rounds_per_minute = 600.0;                       ///< over 0; of shots, whatever a shot costs
    Duration press_buffer{}; ///< a press this much too early is kept until the weapon is ready
    BurstSpec burst{};
    ChargeSpec charge{};
    SpinSpec spin{};

    AmmoFeed feed = AmmoFeed::magazine;
    AmmoSupply supply = AmmoSupply::counted;
    std::string ammo{};          ///< the kind in the reserve; empty: a kind of its own, named as the weapon
    std::int32_t ammo_kind = -1; ///< its index in Arsenal::ammo, see assign_ammo(); -1 before
    std::int32_t magazine = 1;   ///< rounds that the magazine or cell holds, at least 1
    bool chamber = false;        ///< a round in the chamber comes on top of a full magazine
    std::int32_t reserve = 0;    ///< rounds carried apart from the magazine at the start, at least 0
    std::int32_t rounds_per_shot = 1; ///< at least 1
    std::int32_t pellets = 1;         ///< that leave with each shot, 1 to 64
    HeatSpec heat{};
    CellSpec cell{};
    ReloadSpec reload{};

    SpreadSpec spread{};
    RecoilSpec recoil{};
    AimSpec aim{};
    HandlingSpec handling{};

    Metres range = 100.0; ///< how far a shot reaches, over 0
    double damage =
        0.0;         ///< health points that a hit of one pellet takes before falloff and region, at least 0
    Curve falloff{}; ///< distance in metres -> share of the damage, at least 0; empty: always 1
    std::vector<RegionMultiplier> region_multipliers{}; ///< at most one for each region
};

/// The multiplier of `spec` for hits in `region`: 1 where it names none.
double region_multiplier(const WeaponSpec& spec, std::string_view region);

} // namespace avrek
