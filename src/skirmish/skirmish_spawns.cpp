#include <avrek/core/random.h>
#include <avrek/skirmish/skirmish.h>

#include <algorithm>
#include <cmath>

/// Where combatants begin a life, and with what in their hands.
namespace avrek {

namespace {

constexpr Metres safe_from_foes = 12.0; // a spawn point
constexpr Metres taken_within = 1.2;    // so is one that somebody is so near to

} // namespace

// Those who have been given a new life get a place.
void Skirmish::place_respawned() {
    for (std::size_t index = 0; index < fighters_.size(); ++index) {
        Fighter& fighter = fighters_[index];
        if (fighter.to_place) {
            fighter.to_place = false;
            place_body(fighter, match_.combatants()[index], false);
            fighter.position_before = fighter.position;
            fighter.look_before = fighter.look;
            fighter.alive_since = span_.begin;
            keep_intent(index);
            events_.spawns.push_back({span_.begin, fighter.id, fighter.position, fighter.look.yaw});
            emit(EventKind::spawn, span_.begin, events_.spawns.size() - 1);
        }
    }
}

// A spawn point of its own or of its team, at random among those that no foe is near and nobody stands on;
// without any it comes back where it was.
void Skirmish::place_body(Fighter& fighter, const Combatant& who, bool first) {
    const auto [random, unused] = random_pair(
        {seed_, static_cast<std::uint32_t>(fighter.id), RandomPurpose::spawn, fighter.spawned, 0});
    ++fighter.spawned;
    const auto fits = [&](std::size_t spawn) {
        const auto own = std::span{fighter.spawns}.first(fighter.spawn_count);
        const std::optional<TeamId>& team = plan_.spawns[spawn].team;
        return own.empty() ? !team || *team == who.team
                           : std::find(own.begin(), own.end(), spawn) != own.end();
    };
    const auto safety = [&](const Vector3& at) {
        double nearest = safe_from_foes;
        double room = 1.0;
        for (std::size_t other = 0; other < fighters_.size(); ++other) {
            const Combatant& there = match_.combatants()[other];
            if (there.vitals.life == LifeState::dead || there.id == who.id) {
                continue;
            }
            const double distance = std::sqrt((fighters_[other].position - at).squaredNorm());
            if (match_.are_hostile(there, who)) {
                nearest = first ? nearest : std::min(nearest, distance);
            }
            room = distance < taken_within ? 0.25 : room; // somebody stands there
        }
        return room * nearest;
    };
    double safest = -1.0;
    std::size_t count = 0;
    for (std::size_t spawn = 0; spawn < plan_.spawns.size(); ++spawn) {
        const double safe = fits(spawn) ? safety(plan_.spawns[spawn].position) : -1.0;
        if (safe > safest) {
            safest = safe;
            count = 0;
        }
        count += safe >= 0.0 && safe == safest ? 1 : 0;
    }
    auto chosen = static_cast<std::size_t>(random * static_cast<double>(count));
    for (std::size_t spawn = 0; spawn < plan_.spawns.size() && count > 0; ++spawn) {
        if (!fits(spawn) || safety(plan_.spawns[spawn].position) != safest) {
            continue;
        }
        if (chosen == 0) {
            fighter.position = fighter.position_before = plan_.spawns[spawn].position;
            fighter.look = fighter.look_before = {plan_.spawns[spawn].yaw, 0.0};
            fighter.intent.yaw = static_cast<float>(fighter.look.yaw); // which holds without a new intent
            fighter.intent.pitch = 0.0F;
            break;
        }
        --chosen;
    }
    fighter.velocity = Vector3::Zero();
    fighter.kick = {};
    fighter.airborne = false;
    fighter.swing.attack = -1;
}

// Buttons that were held when the life began are held and no presses: a trigger must be pulled again.
void Skirmish::keep_intent(std::size_t index) {
    const WeaponPlan& hands = weapon_plans_[index];
    const Buttons now = fighters_[index].intent.buttons;
    const std::uint32_t before = (std::uint32_t{now.bits()} & ~std::uint32_t{hands.pressed.bits()}) |
                                 std::uint32_t{hands.released.bits()};
    Combatant& who = match_.combatant_at(index);
    who.stated = {};
    state_buttons(Buttons::from_bits(before), who.stated);
    hold_already(who.loadout, who.stated);
}

} // namespace avrek
