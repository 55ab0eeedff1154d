#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/vitals/vitals.h>
#include <avrek/weapon/loadout.h>

#include <array>
#include <cstddef>
#include <cstdint>

namespace avrek {

/// Role of a participant.
enum class Role : std::uint8_t {
    combatant,
    prop, ///< an object that can be hit and destroyed, such as a crate
};

/// Statistics of a combatant.
struct PlayerStats {
    std::int32_t score = 0;
    std::int32_t kills = 0;
    std::int32_t deaths = 0;
    std::int32_t assists = 0;
    std::uint32_t shots = 0;
    std::uint32_t shots_hit = 0; ///< shots that damaged a foe
    double damage_dealt = 0.0;   ///< health and defence points of foes
    double damage_taken = 0.0;
    std::uint64_t recent_hits = 0; ///< bit n: shot `newest_hit` - n is counted
    std::uint32_t newest_hit = 0;

    /// Returns the share of shots that hit, in [0, 1]; 0 without shots.
    double accuracy() const;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<PlayerStats> auto& stats) {
    field("score", stats.score);
    field("kills", stats.kills);
    field("deaths", stats.deaths);
    field("assists", stats.assists);
    field("shots", stats.shots);
    field("shots_hit", stats.shots_hit);
    field("damage_dealt", stats.damage_dealt);
    field("damage_taken", stats.damage_taken);
    field("recent_hits", stats.recent_hits);
    field("newest_hit", stats.newest_hit);
}

/// One participant: body, loadout, lives and statistics. Trivially copyable.
struct Combatant {
    BodyId id = nobody;
    std::uint32_t slot = 0; ///< unique, less than MatchLimits::combatants
    TeamId team{};
    Role role = Role::combatant;
    BodySpecId body{};
    std::int32_t lives = -1; ///< lives left, the present one included; -1: not counted
    bool out = false;        ///< dead for good
    Vitals vitals{};
    Loadout loadout{};
    LoadoutIntent stated{};                          ///< last statement, before gating
    std::array<WeaponId, Loadout::slot_count> kit{}; ///< weapons at the start of a life
    std::size_t kit_size = 0;
    Time respawn_at = Time::max(); ///< respawn time while it waits
    Time vanish_at = Time::max();  ///< removal time of its corpse
    PlayerStats stats{};
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Combatant> auto& who) {
    field("id", who.id, FieldUse::not_sent);
    field("slot", who.slot, FieldUse::not_sent);
    field("team", who.team, FieldUse::not_sent);
    field("role", who.role, FieldUse::not_sent);
    field("body", who.body, FieldUse::not_sent);
    field("lives", who.lives);
    field("out", who.out);
    field("vitals", who.vitals);
    field("loadout", who.loadout);
    field("stated", who.stated);
    field("kit_size", who.kit_size, FieldUse::not_sent);
    field.list("kit", who.kit, who.kit_size, FieldUse::not_sent);
    field("respawn_at", who.respawn_at, FieldUse::not_sent);
    field("vanish_at", who.vanish_at, FieldUse::not_sent);
    field("stats", who.stats, FieldUse::not_sent);
}

} // namespace avrek
