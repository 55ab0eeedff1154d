#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/vitals/vitals.h>
#include <avrek/weapon/loadout.h>

#include <array>
#include <cstddef>
#include <cstdint>

namespace avrek {

/// What takes part in a match.
enum class Role : std::uint8_t {
    combatant,
    prop, ///< a crate, say: it is hit and destroyed, and that is all
};

/// What somebody has done so far.
struct PlayerStats {
    std::int32_t score = 0;
    std::int32_t kills = 0;
    std::int32_t deaths = 0;
    std::int32_t assists = 0;
    std::uint32_t shots = 0;
    std::uint32_t shots_hit = 0; ///< of them, that damaged somebody hostile
    double damage_dealt = 0.0;   ///< to hostiles, health and points of layers
    double damage_taken = 0.0;
    std::uint64_t recent_hits = 0; ///< bit n: shot `newest_hit` - n has been counted
    std::uint32_t newest_hit = 0;

    /// Share of the shots that hit, in [0, 1]; 0 without shots.
    double accuracy() const;
};

/// One participant: its body, what it carries, its lives and what it has done. Trivially copyable.
struct Combatant {
    BodyId id = nobody;
    std::uint32_t slot = 0; ///< of its own, less than MatchLimits::combatants
    TeamId team{};
    Role role = Role::combatant;
    std::int32_t body = 0;   ///< index into Arsenal::bodies
    std::int32_t lives = -1; ///< left, the present one counted; -1: they are not counted
    bool out = false;        ///< it is dead and does not come back
    Vitals vitals{};
    Loadout loadout{};
    LoadoutIntent stated{};                              ///< as last stated, before what is forbidden
    std::array<std::int32_t, Loadout::slot_count> kit{}; ///< weapons that it starts a life with
    std::size_t kit_size = 0;
    Time respawn_at = Time::max(); ///< when it comes back, while it waits
    Time vanish_at = Time::max();  ///< when its body goes, while it lies
    PlayerStats stats{};
};

} // namespace avrek
