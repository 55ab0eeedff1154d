#include "match_parts.h"

#include <algorithm>
#include <cassert>

namespace avrek {

namespace {

constexpr std::size_t max_found = 128;

Filter touched_by(const HazardSpec& spec, TeamId team) {
    Filter filter{.hits = spec.layers};
    if (spec.side != HazardSide::all) {
        filter.teams = spec.side == HazardSide::others ? TeamSet::all_but(team) : TeamSet{team};
    }
    return filter;
}

void find_hazard_due(HazardState& hazard) {
    hazard.due = Time::max();
    for (std::size_t touch = 0; touch < hazard.touched_count; ++touch) {
        if (hazard.touched[touch].inside) {
            hazard.due = std::min(hazard.due, hazard.touched[touch].next);
        }
    }
}

void forget_touch(HazardState& hazard, std::size_t touch) {
    const auto begin = hazard.touched.begin();
    std::copy(begin + static_cast<std::ptrdiff_t>(touch) + 1,
              begin + static_cast<std::ptrdiff_t>(hazard.touched_count),
              begin + static_cast<std::ptrdiff_t>(touch));
    --hazard.touched_count;
}

} // namespace

std::optional<std::int32_t> Match::lay_hazard(const World& world, const HazardPlacement& placement, Time at,
                                              Events& events) {
    advance(world, at, events);
    if (over_) {
        return std::nullopt;
    }
    auto place = std::find_if(hazards_.begin(), hazards_.end(),
                              [](const HazardState& hazard) { return !hazard.spec; });
    if (place == hazards_.end()) {
        if (hazards_.size() >= limits_.hazards) {
            return std::nullopt;
        }
        place = hazards_.insert(place, HazardState{});
    }
    quiet_until_ = Time::min();
    looked_until_ = std::max(looked_until_, now_);
    const HazardSpec& spec = (*arsenal_)[placement.spec];
    *place = {};
    place->spec = placement.spec;
    place->pose = placement.pose;
    place->team = placement.team;
    place->source = placement.source;
    place->carrier = placement.carrier;
    place->ends = spec.lasts == Duration::max() ? Time::max() : at + spec.lasts;
    return static_cast<std::int32_t>(place - hazards_.begin());
}

void Match::stop_hazard(std::size_t index, Time at, Events& events) {
    HazardState& hazard = hazards_[index];
    for (std::size_t touch = hazard.touched_count; touch > 0; --touch) {
        leave_hazard(index, touch - 1, at, events);
    }
    hazard = {};
    emit(MatchEventKind::hazard_ended, nobody, at, events).index = static_cast<std::int32_t>(index);
}

void Match::leave_hazard(std::size_t index, std::size_t touch, Time at, Events& events) {
    HazardTouch& touched = hazards_[index].touched[touch];
    if (touched.inside) {
        touched.inside = false;
        emit(MatchEventKind::hazard_left, touched.body, at, events).index = static_cast<std::int32_t>(index);
    }
}

void Match::forget_touches(BodyId id, Time at, Events& events) {
    for (std::size_t index = 0; index < hazards_.size(); ++index) {
        HazardState& hazard = hazards_[index];
        for (std::size_t touch = hazard.touched_count; touch > 0; --touch) {
            if (hazard.touched[touch - 1].body == id) {
                leave_hazard(index, touch - 1, at, events);
                forget_touch(hazard, touch - 1);
            }
        }
        if (hazard.spec.has_value() && hazard.carrier == id) {
            stop_hazard(index, at, events);
        }
        find_hazard_due(hazard);
        push_due({due_of(hazard), DueKind::hazard, static_cast<std::uint32_t>(index)});
    }
}

void Match::check_touches(const World& world, Time at, Events& events) {
    for (std::size_t index = 0; index < hazards_.size() && !over_; ++index) {
        if (hazards_[index].spec.has_value()) {
            check_hazard(world, index, at, events);
        }
    }
    std::array<Hit, max_found> found;
    for (std::size_t slot = 0; slot < pickups_.size() && !over_; ++slot) {
        const PickupState& pickup = pickups_[slot];
        const PickupSpec& spec = (*arsenal_)[pickup.spec];
        if (!pickup.there || spec.on_request) {
            continue;
        }
        const std::size_t count = world.overlaps(Sphere{pickup.position, spec.radius}, at,
                                                 {.hits = {CollisionLayer::bodies}}, found);
        for (std::size_t index = 0; index < count && pickup.there; ++index) {
            Combatant* who = find_any(*found[index].body);
            if (who != nullptr && who->role == Role::combatant && who->vitals.life == LifeState::alive &&
                (!spec.only_when_useful || is_useful(spec, *who))) {
                take_pickup(world, slot, *who, at, events);
            }
        }
    }
}

void Match::check_hazard(const World& world, std::size_t slot, Time at, Events& events) {
    HazardState& hazard = hazards_[slot];
    const HazardSpec& spec = (*arsenal_)[*hazard.spec];
    std::array<Hit, max_found> found;
    const std::size_t count =
        world.overlaps(to_world(hazard.pose, spec.volume), at, touched_by(spec, hazard.team), found);
    const auto is_found = [&](BodyId id) {
        return std::any_of(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(count),
                           [id](const Hit& hit) { return hit.body == id; });
    };
    for (std::size_t touch = hazard.touched_count; touch > 0; --touch) {
        HazardTouch& touched = hazard.touched[touch - 1];
        if (!is_found(touched.body)) {
            leave_hazard(slot, touch - 1, at, events);
            if (touched.next <= at) {
                forget_touch(hazard, touch - 1);
            }
        }
    }
    for (std::size_t index = 0; index < count; ++index) {
        const std::optional<BodyId> id = found[index].body;
        const Combatant* who = id ? find_any(*id) : nullptr;
        if (who == nullptr || who->vitals.life == LifeState::dead || who->id == hazard.carrier) {
            continue;
        }
        auto* const end = hazard.touched.data() + hazard.touched_count;
        auto* touched = std::find_if(hazard.touched.data(), end,
                                     [&](const HazardTouch& touch) { return touch.body == *id; });
        if (touched == end) {
            if (hazard.touched_count == HazardState::max_touched) {
                continue;
            }
            *touched = {*id, at, false};
            ++hazard.touched_count;
        }
        if (!touched->inside) {
            touched->inside = true;
            touched->next = std::max(touched->next, at);
            emit(MatchEventKind::hazard_entered, *id, at, events).index = static_cast<std::int32_t>(slot);
        }
    }
    find_hazard_due(hazard);
    push_due({due_of(hazard), DueKind::hazard, static_cast<std::uint32_t>(slot)});
}

void Match::do_hazard(const World& world, std::size_t index, Time at, Events& events) {
    if (hazards_[index].ends == at) {
        stop_hazard(index, at, events);
        return;
    }
    const HazardSpec& spec = (*arsenal_)[*hazards_[index].spec];
    for (std::size_t touch = 0; touch < hazards_[index].touched_count && !over_; ++touch) {
        HazardTouch& touched = hazards_[index].touched[touch];
        Combatant* who = touched.inside && touched.next <= at ? find_any(touched.body) : nullptr;
        if (who == nullptr) {
            continue;
        }
        touched.next += spec.period;
        IncomingHit hit;
        hit.damage.multiply(DamageStepKind::base, spec.damage);
        hit.effect = &spec.effect;
        hit.source = hazards_[index].source;
        const std::size_t before = hazards_[index].touched_count;
        hit_now(world, *who, hit, at, events);
        if (!hazards_[index].spec) {
            return; // it was the life of its carrier
        }
        touch -= hazards_[index].touched_count < before ? 1 : 0; // who died has left it
    }
    find_hazard_due(hazards_[index]);
}

std::optional<std::int32_t> Match::place_pickup(PickupId spec, const Vector3& position) {
    assert(to_index(spec) < arsenal_->pickups.size());
    if (over_ || pickups_.size() >= limits_.pickups) {
        return std::nullopt;
    }
    quiet_until_ = Time::min();
    looked_until_ = std::max(looked_until_, now_);
    pickups_.push_back({spec, position, true, Time::max()});
    return static_cast<std::int32_t>(pickups_.size() - 1);
}

bool Match::is_useful(const PickupSpec& pickup, const Combatant& who) const {
    if (pickup.health > 0.0 && who.vitals.health < who.vitals.maximum) {
        return true;
    }
    if (pickup.rounds > 0) {
        const AmmoId type = *pickup.ammo.spec;
        if (who.loadout.ammo[to_index(type)].rounds < (*arsenal_)[type].carry_limit) {
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
    if (pickup.condition.spec && !body_of(who).immune_set.contains(*pickup.condition.spec) &&
        find_condition(who.vitals, *pickup.condition.spec) == nullptr) {
        return true;
    }
    return pickup.lives > 0 && who.lives >= 0 && who.lives < rules_->lives.max;
}

void Match::take_pickup(const World& world, std::size_t index, Combatant& who, Time at, Events& events) {
    static const EffectSpec healing{.heals = true};
    PickupState& pickup = pickups_[index];
    const PickupSpec& spec = (*arsenal_)[pickup.spec];
    pickup.there = false;
    pickup.back_at = spec.respawn_delay == Duration::max() ? Time::max() : at + spec.respawn_delay;
    push_due({pickup.back_at, DueKind::pickup, static_cast<std::uint32_t>(index)});
    emit(MatchEventKind::pickup_taken, who.id, at, events).index = static_cast<std::int32_t>(index);
    if (spec.health > 0.0) {
        IncomingHit heal;
        heal.damage.multiply(DamageStepKind::base, spec.health);
        heal.effect = &healing;
        hit_now(world, who, heal, at, events);
    }
    if (spec.rounds > 0) {
        add_ammo(*arsenal_, who.loadout, *spec.ammo.spec, spec.rounds);
    }
    if (spec.weapon.spec) {
        weapon_events_.clear();
        const WeaponSpec& weapon = (*arsenal_)[*spec.weapon.spec];
        pick_up_weapon(*arsenal_, who.loadout,
                       {*spec.weapon.spec, stowed_weapon(weapon, who.loadout.now), pickup.position},
                       weapon_events_);
        emit_weapon_events(who.id, events);
    }
    if (spec.condition.spec) {
        change_vitals(world, who, events, [&](Vitals& vitals, auto& felt) {
            return add_condition({arsenal_->conditions, body_of(who), vitals},
                                 {*spec.condition.spec, spec.strength, who.id}, at, felt);
        });
    }
    if (spec.lives > 0 && who.lives >= 0) {
        set_lives(who, std::int64_t{who.lives} + spec.lives, at, events);
    }
}

bool Match::request_pickup(const World& world, BodyId id, Time at, Events& events) {
    advance(world, at, events);
    Combatant* who = find_any(id);
    const std::optional<Pose> pose = world.body_pose(id, at);
    if (over_ || who == nullptr || who->role != Role::combatant || who->vitals.life == LifeState::dead ||
        !pose) {
        return false;
    }
    std::optional<std::size_t> nearest;
    double least = 0.0;
    for (std::size_t index = 0; index < pickups_.size(); ++index) {
        const PickupState& pickup = pickups_[index];
        const PickupSpec& spec = (*arsenal_)[pickup.spec];
        std::array<Hit, 1> found;
        const double away = (pickup.position - pose->position).squaredNorm();
        if (pickup.there && (!nearest || away < least) &&
            world.overlaps(Sphere{pickup.position, spec.radius}, at,
                           {.hits = {CollisionLayer::bodies}, .only = id}, found) > 0) {
            nearest = index;
            least = away;
        }
    }
    if (!nearest) {
        return false;
    }
    const PickupSpec& spec = (*arsenal_)[pickups_[*nearest].spec];
    if (spec.only_when_useful && !is_useful(spec, *who)) {
        emit(MatchEventKind::pickup_refused, id, at, events).index = static_cast<std::int32_t>(*nearest);
        return false;
    }
    take_pickup(world, *nearest, *who, at, events);
    return true;
}

bool Match::take_dropped(const World& world, BodyId id, Metres reach, Time at, Events& events) {
    advance(world, at, events);
    Combatant* who = find_any(id);
    const std::optional<Pose> pose = world.body_pose(id, at);
    if (over_ || who == nullptr || who->vitals.life == LifeState::dead || !pose) {
        return false;
    }
    const std::optional<std::size_t> nearest = weapon_in_reach(dropped_, pose->position, reach);
    weapon_events_.clear();
    if (!nearest || !pick_up_weapon(*arsenal_, who->loadout, dropped_[*nearest], weapon_events_)) {
        return false;
    }
    dropped_.erase(dropped_.begin() + static_cast<std::ptrdiff_t>(*nearest));
    emit_weapon_events(id, events);
    return true;
}

} // namespace avrek
