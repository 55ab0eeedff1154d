#include "match_parts.h"

#include <array>

/// Pickups of a match, and weapons that lie about.
namespace avrek::detail {

namespace {

bool is_useful(const MatchParts& match, const PickupSpec& pickup, const Combatant& who) {
    if (pickup.health > 0.0 && who.vitals.health < who.vitals.maximum) {
        return true;
    }
    if (pickup.rounds > 0) {
        const AmmoId type = *pickup.ammo.spec;
        if (who.loadout.ammo[to_index(type)].rounds < (*match.arsenal)[type].carry_limit) {
            return true;
        }
    }
    if (pickup.weapon.spec) {
        const auto& slots = who.loadout.slots;
        const auto holds = [&](std::optional<WeaponId> weapon) {
            return std::any_of(slots.begin(), slots.end(),
                               [weapon](const LoadoutSlot& slot) { return slot.weapon == weapon; });
        };
        if (holds(std::nullopt) && !holds(*pickup.weapon.spec)) {
            return true;
        }
    }
    if (pickup.condition.spec && !match.body_of(who).immune_set.contains(*pickup.condition.spec) &&
        find_condition(who.vitals, *pickup.condition.spec) == nullptr) {
        return true;
    }
    return pickup.lives > 0 && who.lives >= 0 && who.lives < match.rules->lives.max;
}

void take_pickup(MatchParts& match, std::size_t index, Combatant& who, Time at) {
    static const EffectSpec healing{.heals = true};
    PickupState& pickup = match.pickups[index];
    const PickupSpec& spec = (*match.arsenal)[pickup.spec];
    pickup.there = false;
    pickup.back_at = spec.respawn_delay == Duration::max() ? Time::max() : at + spec.respawn_delay;
    match.schedule.push({pickup.back_at, DueKind::pickup, static_cast<std::uint32_t>(index)});
    match.events.emplace_back(PickupEvent{at, who.id, PickupChange::taken, index});
    if (spec.health > 0.0) {
        IncomingHit heal;
        heal.damage.multiply(DamageStepKind::base, spec.health);
        heal.effect = &healing;
        hit_now(match, who, heal, at);
    }
    if (spec.rounds > 0) {
        add_ammo(*match.arsenal, who.loadout, *spec.ammo.spec, spec.rounds);
    }
    if (spec.weapon.spec) {
        match.weapon_events.clear();
        const WeaponSpec& weapon = (*match.arsenal)[*spec.weapon.spec];
        pick_up_weapon(*match.arsenal, who.loadout,
                       {*spec.weapon.spec, stowed_weapon(weapon, who.loadout.now), pickup.position},
                       match.weapon_events);
        emit_weapon_events(match, who);
        if (spec.with_reserve && weapon.ammo.spec) {
            add_ammo(*match.arsenal, who.loadout, *weapon.ammo.spec, weapon.reserve);
        }
    }
    if (spec.condition.spec) {
        change_vitals(match, who, [&](const LivingBody& body, auto& felt) {
            return add_condition(body, {*spec.condition.spec, spec.strength, who.id}, at, felt);
        });
    }
    if (spec.lives > 0 && who.lives >= 0) {
        set_lives(match, who, std::int64_t{who.lives} + spec.lives, at);
    }
}

} // namespace

void check_pickups(MatchParts& match, Time at) {
    std::array<Hit, max_found> found;
    for (std::size_t slot = 0; slot < match.pickups.size() && !match.over; ++slot) {
        const PickupState& pickup = match.pickups[slot];
        const PickupSpec& spec = (*match.arsenal)[pickup.spec];
        if (!pickup.there || spec.on_request) {
            continue;
        }
        const std::size_t count = match.world->overlaps(Sphere{pickup.position, spec.radius}, at,
                                                        {.hits = {CollisionLayer::bodies}}, found);
        for (std::size_t index = 0; index < count && pickup.there; ++index) {
            Combatant* who = match.find(*found[index].body);
            if (who != nullptr && who->role == Role::combatant && who->vitals.life == LifeState::alive &&
                (!spec.only_when_useful || is_useful(match, spec, *who))) {
                take_pickup(match, slot, *who, at);
            }
        }
    }
}

std::optional<std::size_t> place_pickup(MatchParts& match, PickupId spec, const Vector3& position) {
    assert(to_index(spec) < match.arsenal->pickups.size());
    if (match.over || match.pickups.size() >= match.limits.pickups) {
        return std::nullopt;
    }
    match.schedule.forget();
    match.looked_until = std::max(match.looked_until, match.now);
    match.pickups.push_back({spec, position, true, Time::max()});
    return match.pickups.size() - 1;
}

bool request_pickup(MatchParts& match, BodyId id, Time at) {
    advance(match, at);
    Combatant* who = match.find(id);
    const std::optional<Pose> pose = match.world->body_pose(id, at);
    if (match.over || who == nullptr || who->role != Role::combatant || who->vitals.life == LifeState::dead ||
        !pose) {
        return false;
    }
    std::optional<std::size_t> nearest;
    double least = 0.0;
    for (std::size_t index = 0; index < match.pickups.size(); ++index) {
        const PickupState& pickup = match.pickups[index];
        const PickupSpec& spec = (*match.arsenal)[pickup.spec];
        std::array<Hit, 1> found;
        const double away = (pickup.position - pose->position).squaredNorm();
        if (pickup.there && (!nearest || away < least) &&
            match.world->overlaps(Sphere{pickup.position, spec.radius}, at,
                                  {.hits = {CollisionLayer::bodies}, .only = id}, found) > 0) {
            nearest = index;
            least = away;
        }
    }
    if (!nearest) {
        return false;
    }
    const PickupSpec& spec = (*match.arsenal)[match.pickups[*nearest].spec];
    if (spec.only_when_useful && !is_useful(match, spec, *who)) {
        match.events.emplace_back(PickupEvent{at, id, PickupChange::refused, *nearest});
        return false;
    }
    take_pickup(match, *nearest, *who, at);
    return true;
}

bool take_dropped(MatchParts& match, BodyId id, Metres reach, Time at) {
    advance(match, at);
    Combatant* who = match.find(id);
    const std::optional<Pose> pose = match.world->body_pose(id, at);
    if (match.over || who == nullptr || who->vitals.life == LifeState::dead || !pose) {
        return false;
    }
    const std::optional<std::size_t> nearest = weapon_in_reach(match.dropped, pose->position, reach);
    match.weapon_events.clear();
    if (!nearest ||
        !pick_up_weapon(*match.arsenal, who->loadout, match.dropped[*nearest], match.weapon_events)) {
        return false;
    }
    match.dropped.erase(match.dropped.begin() + static_cast<std::ptrdiff_t>(*nearest));
    emit_weapon_events(match, *who);
    return true;
}

} // namespace avrek::detail
