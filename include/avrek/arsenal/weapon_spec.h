#pragma once
#include <avrek/arsenal/ammo_spec.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/arsenal/handling_spec.h>
#include <avrek/arsenal/impact_spec.h>
#include <avrek/arsenal/recoil_spec.h>
#include <avrek/arsenal/region_multiplier.h>
#include <avrek/arsenal/reload_spec.h>
#include <avrek/arsenal/spec_ref.h>
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

/// One kind of weapon: everything about it that is constant during a match. docs/arsenal.md has the ranges
/// and defaults of values in files; code may exceed them where a member says so. validate() finds values that
/// contradict each other.
///
///     const avrek::WeaponSpec rifle{.id = "thorn-rifle", .rounds_per_minute = 720, .magazine = 30};
struct WeaponSpec {
    std::string id{};
    std::vector<TriggerMode> modes{TriggerMode::automatic}; ///< 1 to 8; the first is set at the start
    double rounds_per_minute = 600.0;                       ///< rate of fire in shots, over 0
    Duration press_buffer{};                                ///< a press this much too early fires when ready
    BurstSpec burst{};
    ChargeSpec charge{};
    SpinSpec spin{};

    AmmoFeed feed = AmmoFeed::magazine;
    AmmoSupply supply = AmmoSupply::counted;
    SpecRef<AmmoId> ammo{};    ///< ammunition type; empty: its own, named like the weapon
    std::int32_t magazine = 1; ///< capacity of the magazine or cell, at least 1
    bool chamber = false;      ///< a chambered round comes on top of a full magazine
    std::int32_t reserve = 0;  ///< rounds carried beside the magazine at the start, at least 0
    /// Carry limit of its ammunition type, set by assign_ammo(); no limit before.
    std::int32_t carry_limit = std::numeric_limits<std::int32_t>::max();
    std::int32_t rounds_per_shot = 1; ///< at least 1
    std::int32_t pellets = 1;         ///< per shot, 1 to 64
    HeatSpec heat{};
    CellSpec cell{};
    ReloadSpec reload{};

    SpreadSpec spread{};
    RecoilSpec recoil{};
    AimSpec aim{};
    HandlingSpec handling{};

    Metres range = 100.0; ///< maximum reach of a shot, over 0
    double damage = 0.0;  ///< damage of one pellet before falloff and region, at least 0
    /// Metres flown -> share of the damage, at least 0; empty: always 1.
    Curve falloff{};
    std::vector<RegionMultiplier> region_multipliers{}; ///< at most one per region
    EffectSpec effect{};                                ///< effect of a hit of one pellet

    SpecRef<ProjectileId> projectile{}; ///< launched by each pellet; empty: hitscan or spray
    Radians spray = 0.0;                ///< half-angle of the spray cone, in [0, widest_spread]; 0: none
    BounceSpec bounce{};                ///< hitscan only; speeds do not matter
    PierceSpec pierce{};                ///< hitscan only
    double tracer_speed = 400.0;        ///< drawn speed of a hitscan shot in m/s, over 0
};

/// How a weapon's shots reach their targets.
enum class Delivery : std::uint8_t {
    hitscan,    ///< instantly, along a ray
    projectile, ///< as a projectile that flies
    spray,      ///< as a cone that hits everything in it
};

/// Returns how the shots of `spec` reach their targets.
Delivery delivery_of(const WeaponSpec& spec);

/// Returns the word for a delivery, such as "hitscan".
std::string_view to_string(Delivery delivery);

} // namespace avrek
