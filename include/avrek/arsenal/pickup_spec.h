#pragma once
#include <avrek/arsenal/spec_ref.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <cstdint>
#include <string>

namespace avrek {

/// An item that lies about and gives its contents to the combatant that takes it.
struct PickupSpec {
    std::string id{};
    Metres radius = 0.8;     ///< radius of the sphere in which it is touched, over 0
    bool on_request = false; ///< a request takes it, not a touch
    bool only_when_useful = true;
    Duration respawn_delay = Duration::max(); ///< time from being taken to its return; default: never
    double health = 0.0;                      ///< at least 0
    SpecRef<AmmoId> ammo{};
    std::int32_t rounds = 0; ///< rounds of `ammo`, at least 0
    SpecRef<WeaponId> weapon{};
    bool with_reserve = false; ///< the weapon brings WeaponSpec::reserve rounds
    SpecRef<ConditionId> condition{};
    double strength = 1.0;  ///< strength of the condition, over 0
    std::int32_t lives = 0; ///< at least 0
};

} // namespace avrek
