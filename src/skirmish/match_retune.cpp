#include "../core/shares.h"
#include "match_parts.h"
#include <avrek/arsenal/places.h>
#include <avrek/vitals/retune.h>
#include <avrek/weapon/retune.h>

#include <cassert>

/// A match goes on with the values of another arsenal.
namespace avrek {

namespace detail {

namespace {

// A wait that is under way keeps its share.
void take_wait(Time& end, Time now, Duration was, Duration is) {
    if (end != Time::max()) {
        end = end_with_share(end, now, was, is);
    }
}

void retune_combatant(MatchParts& match, const Arsenal& was, const MatchSpec& rules_was, Combatant& who) {
    const Arsenal& is = *match.arsenal;
    const bool alive = who.vitals.life == LifeState::alive;
    match.vitals_events.clear();
    retune({was.conditions, was[who.body]}, {is.conditions, is[who.body]}, who.vitals,
           match.rules->retuned_health, match.vitals_events);
    if (alive) {
        follow(match, who);
    }
    match.weapon_events.clear();
    retune(was, is, who.loadout, match.weapon_events);
    if (alive) {
        for (WeaponEvent& event : match.weapon_events) {
            event.at = std::max(event.at, match.now); // the weapons of a prop stand still
        }
        emit_weapon_events(match, who);
    }
    take_wait(who.respawn_at, match.now, rules_was.respawn.delay, match.rules->respawn.delay);
    take_wait(who.vanish_at, match.now, rules_was.corpse_lifetime, match.rules->corpse_lifetime);
    if (who.lives >= 0) {
        set_lives(match, who, who.lives, match.now);
    }
}

void retune_hazard(const HazardSpec& was, const HazardSpec& is, HazardState& hazard, Time now) {
    hazard.ends = end_with_share(hazard.ends, now, was.lasts, is.lasts);
    for (std::size_t touch = 0; touch < hazard.touched_count; ++touch) {
        HazardTouch& touched = hazard.touched[touch];
        touched.next = end_with_share(touched.next, now, was.period, is.period);
    }
    find_hazard_due(hazard);
}

// A weapon that lies about has no reserve: what its magazine no longer holds is lost.
void retune_dropped(MatchParts& match, const Arsenal& was, DroppedWeapon& dropped) {
    const Arsenal& is = *match.arsenal;
    AmmoReserve none;
    match.weapon_events.clear();
    retune(was[dropped.weapon], is[dropped.weapon], dropped.state, none, match.weapon_events);
    for (WeaponEvent& event : match.weapon_events) {
        if (event.kind == WeaponEventKind::retuned && event.moved + event.discarded > 0) {
            event.at = match.now;
            event.slot = -1;
            event.discarded += std::max(0, std::exchange(event.moved, 0));
            match.events.emplace_back(HandlingEvent{nobody, dropped.weapon, event});
        }
    }
    match.weapon_events.clear();
}

} // namespace

void MatchParts::set_arsenal(const Arsenal& is) {
    const std::vector<MatchSpec>& before = arsenal->matches;
    for (std::size_t index = 0; index < before.size(); ++index) {
        if (first_rules == &before[index] && index < is.matches.size()) {
            first_rules = &is.matches[index];
            break;
        }
    }
    arsenal = &is;
    set_rules(rules_set);
    schedule.forget();
}

} // namespace detail

void Match::retune(const Arsenal& is) {
    detail::MatchParts& match = *parts_;
    const Arsenal& was = *match.arsenal;
    const MatchSpec& rules_was = *match.rules;
    assert(keeps_places(was, is));
    match.set_arsenal(is);
    if (match.over) {
        return;
    }
    match.events.emplace_back(RetunedEvent{.at = match.now});
    for (Combatant& who : match.combatants) {
        detail::retune_combatant(match, was, rules_was, who);
    }
    for (HazardState& hazard : match.hazards) {
        if (hazard.spec) {
            detail::retune_hazard(was[*hazard.spec], is[*hazard.spec], hazard, match.now);
        }
    }
    for (PickupState& pickup : match.pickups) {
        detail::take_wait(pickup.back_at, match.now, was[pickup.spec].respawn_delay,
                          is[pickup.spec].respawn_delay);
    }
    for (DroppedWeapon& dropped : match.dropped) {
        detail::retune_dropped(match, was, dropped);
    }
    match.schedule.forget();
    refresh_dues(match);
    check_over(match, match.now);
}

} // namespace avrek
