#include "roster.h"

#include <algorithm>
#include <cassert>

namespace avrek::detail {

Outcome Roster::enter(const Entrant& entrant, Time at) {
    assert(!entrant.melee || to_index(*entrant.melee) < fight_.arsenal->melee.size());
    assert(entrant.spawns.size() <= Fighter::max_spawns);
    const Outcome joined = fight_.match.join({.id = entrant.id,
                                              .team = entrant.team,
                                              .body = entrant.body,
                                              .role = entrant.role,
                                              .weapons = entrant.weapons});
    if (!joined) {
        return joined;
    }
    Fighter fighter;
    fighter.id = entrant.id;
    fighter.intent.who = entrant.id;
    fighter.melee = entrant.melee;
    fighter.spread_seed = entrant.spread_seed.value_or(fight_.seed);
    fighter.spawn_count = entrant.spawns.size();
    std::copy(entrant.spawns.begin(), entrant.spawns.end(), fighter.spawns.begin());
    Fighter& there = *fight_.fighters.insert(place_by_id(fight_.fighters, entrant.id), fighter);
    if (entrant.at) {
        there.motion.position = there.position_before = *entrant.at;
        there.look = there.look_before = {entrant.yaw, 0.0};
    } else {
        bodies_.place(there, true);
    }
    there.intent.yaw = static_cast<float>(there.look.yaw);
    there.facing = there.look.yaw;
    there.alive_since = at;
    there.scene_feet = there.motion.position;
    there.in_scene = fight_.scene.add({.id = entrant.id,
                                       .rig = &fight_.body_of(there).rig,
                                       .pose = {there.motion.position, turned_to({there.look.yaw, 0.0})},
                                       .team = entrant.team});
    assert(there.in_scene);
    return joined;
}

bool Roster::leave(BodyId id) {
    const std::size_t index = fight_.index_of(id);
    if (index == fight_.fighters.size()) {
        return false;
    }
    fight_.match.leave(id);
    fight_.scene.remove(id);
    fight_.fighters.erase(fight_.fighters.begin() + static_cast<std::ptrdiff_t>(index));
    return true;
}

} // namespace avrek::detail
