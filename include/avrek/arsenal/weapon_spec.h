#pragma once
#include <avrek/arsenal/ammo_spec.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/handling_spec.h>
#include <avrek/arsenal/impact_spec.h>
#include <avrek/arsenal/recoil_spec.h>
#include <avrek/arsenal/region_multiplier.h>
#include <avrek/arsenal/reload_spec.h>
#include <avrek/arsenal/spread_spec.h>
#include <avrek/arsenal/trigger_spec.h>
#include <avrek/core/curve.h>
#include <avrek/core/units.h>

#include <cstdint>
#include <limits>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// One kind of weapon: everything about it that never changes during a match.
/// Ranges and defaults of the values as they stand in a file are in docs/arsenal.md; code may go beyond them
/// where a member says so. validate() tells which values do not go together.
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
    /// The carry limit of its kind of ammo, see assign_ammo(); no limit before.
    std::int32_t carry_limit = std::numeric_limits<std::int32_t>::max();
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
    Curve falloff{}; ///< distance, as flown, in metres -> share of the damage, at least 0; empty: always 1
    std::vector<RegionMultiplier> region_multipliers{}; ///< at most one for each region
    EffectSpec effect{};                                ///< of a hit of one pellet

    std::string projectile{}; ///< what each pellet launches; empty: it arrives at once, or sprays
    Radians spray = 0.0; ///< half-angle of the cone that each shot touches, in [0, widest_spread]; 0: none
    BounceSpec bounce{}; ///< of what arrives at once; speeds do not matter to it
    PierceSpec pierce{}; ///< of what arrives at once
    double tracer_speed = 400.0; ///< m/s at which what arrives at once is drawn, over 0
};

/// How a weapon's shots get to what they hit.
enum class Delivery : std::uint8_t {
    hitscan,    ///< at once
    projectile, ///< as a thing that flies
    spray,      ///< as a cone that touches all within it
};

/// How the shots of `spec` get to what they hit.
Delivery delivery_of(const WeaponSpec& spec);

/// The word for a delivery, such as "at once".
std::string_view to_string(Delivery delivery);

} // namespace avrek
