#pragma once
#include "action_queue.h"
#include "feet_world.h"
#include "match_parts.h"
#include "skirmish_state.h"
#include <avrek/skirmish/blended_poses.h>

#include <vector>

/// Parts that the collaborators of a tick share.
namespace avrek::detail {

/// A fighter's eye, hands and muzzle, and where it aims.
struct Aimed {
    Vector3 eye = Vector3::Zero();
    Vector3 grip = Vector3::Zero();
    Vector3 muzzle = Vector3::Zero();
    Vector3 direction = world_forward();
};

/// Set-up of a fight. Only retune() changes it.
struct FightSetup {
    const Arsenal* arsenal; ///< the one that counts now
    SkirmishSettings settings;
    std::uint64_t seed;
    LevelPlan plan;
    std::vector<const Locomotion*> moved_by{}; ///< by body spec
    FeetWorld feet{};                          ///< world of the match
};

/// Returns the locomotion of each body spec: the one that it names, or else the first.
std::vector<const Locomotion*> movers_of(const Arsenal& arsenal, const Locomotions& locomotions);

/// A fight: its set-up, its state, and the present tick. Collaborators refer to it.
struct Fight : FightSetup, SkirmishState {
    Fight(const Arsenal& its_arsenal, Level level, const SkirmishSettings& its_settings,
          std::uint64_t its_seed, LevelPlan its_plan);
    Fight(const Fight& other);
    Fight& operator=(const Fight&) = delete;

    Span span{}; ///< the present tick
    ActionQueue queue{};
    std::uint32_t disregarded = 0;       ///< intents and updates in this tick
    const World* rewind_world = nullptr; ///< in place of the recorded history

    std::vector<Event>& events() { return MatchParts::of(match).events; }
    MatchParts& parts() { return MatchParts::of(match); }
    Combatant& combatant_at(std::size_t index) { return parts().combatants[index]; }

    /// Returns the index of a fighter; the number of fighters if it is not there.
    std::size_t index_of(BodyId id) const;
    /// Returns the spec of a fighter's body. Precondition (asserted): it is there.
    const BodySpec& body_of(const Fighter& fighter) const {
        return (*arsenal)[match.combatants()[index_of(fighter.id)].body];
    }
    /// Returns what moves bodies of a spec.
    const Locomotion& locomotion_of(BodySpecId body) const { return *moved_by[to_index(body)]; }
    /// Returns what poses bodies.
    const PoseSource& poses() const { return pose_source_or_built_in(settings.poses); }
    /// Returns the rig of a combatant, or null.
    const RigSpec* rig_of(BodyId id) const;
    /// Returns the pool of a weapon that launches projectiles.
    std::size_t pool_of(std::optional<WeaponId> weapon) const {
        return to_index(*(*arsenal)[*weapon].projectile.spec);
    }
    /// Returns the position of a fighter's feet at a time of the tick.
    Vector3 position_at(const Fighter& fighter, Time at) const;
    /// Returns its look, kicks apart. It turns evenly within the tick, by the shorter way.
    Look look_at(const Fighter& fighter, Time at) const;
    /// Returns its eye, hands and muzzle for a view and a position of its feet.
    Aimed aim_of(const Fighter& fighter, const Look& view, const Vector3& at, bool has_weapon) const;
    /// Returns the span in which its hands are busy with the blow under way; an empty one without a blow.
    Span swing_span_of(const Fighter& fighter) const;
    /// Takes its body out of the scene.
    void leave_scene(std::size_t index);
};

} // namespace avrek::detail
