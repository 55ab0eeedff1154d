#include "kept_fight.h"

#include "../core/by_id.h"
#include "fields.h"

namespace avrek::detail {

void KeptMatch::keep(const Match& match) {
    const MatchParts& parts = MatchParts::of(match);
    state_ = static_cast<const MatchState&>(parts);
    for (std::uint8_t team = 0; team < team_count; ++team) {
        respawns_left_[team] = match.respawns_left(TeamId{team});
    }
    alert_.clear();
    for (const Combatant& who : parts.combatants) {
        alert_.push_back(parts.is_alert(who));
    }
}

bool KeptMatch::is_alert(BodyId id) const {
    const Combatant* who = find_by_id(state_.combatants, id);
    return who != nullptr && alert_[static_cast<std::size_t>(who - state_.combatants.data())];
}

std::uint64_t KeptMatch::state_hash() const {
    return hash_of_match(*this, state_);
}

void KeptFight::keep(const Skirmish& skirmish) {
    tick_ = skirmish.tick();
    match_.keep(skirmish.match());
    fighters_.assign(skirmish.fighters().begin(), skirmish.fighters().end());
    pools_.clear();
    for (const ProjectilePool& pool : skirmish.projectiles()) {
        pools_.emplace_back(pool);
    }
}

std::uint64_t KeptFight::fight_hash() const {
    return hash_of_fight(*this);
}

} // namespace avrek::detail
