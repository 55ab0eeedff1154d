#include "../core/shares.h"
#include "projectile_states.h"
#include <avrek/ballistics/melee.h>

#include <algorithm>
#include <utility>

/// Swings and flights under way get new values.
namespace avrek {

namespace {

using detail::part_of;
using detail::share_of;

// How far a swing is: it keeps the share of its present phase.
Duration elapsed_with_share(const MeleeAttackSpec& was, const MeleeAttackSpec& is, Duration elapsed) {
    if (elapsed < was.windup) {
        return std::min(part_of(is.windup, share_of(elapsed, was.windup)), is.windup);
    }
    if (elapsed < was.windup + was.active) {
        const Duration active = part_of(is.active, share_of(elapsed - was.windup, was.active));
        return is.windup + std::min(active, is.active);
    }
    const Duration recovery = part_of(is.recovery, share_of(elapsed - was.windup - was.active, was.recovery));
    return is.windup + is.active + std::min(recovery, is.recovery);
}

bool bend_alike(const ProjectileSpec& one, const ProjectileSpec& other) {
    return one.gravity == other.gravity && one.drag == other.drag && step_of(one) == step_of(other);
}

// Everything that a flight goes by, but for what it does where it ends.
bool fly_alike(const ProjectileSpec& one, const ProjectileSpec& other) {
    return bend_alike(one, other) && one.radius == other.radius && one.lifetime == other.lifetime &&
           one.distance == other.distance && one.fuse == other.fuse &&
           one.arming_distance == other.arming_distance && one.self_hit_after == other.self_hit_after &&
           one.bounce.distance == other.bounce.distance;
}

void take_budget(const ProjectileSpec& was, const ProjectileSpec& is, ImpactBudget& budget) {
    if (was.bounce.count != is.bounce.count) {
        budget.bounces = std::max(0, is.bounce.count - (was.bounce.count - budget.bounces));
    }
    if (was.pierce.energy != is.pierce.energy) {
        budget.energy = is.pierce.energy * power_left(budget, was.pierce);
    }
}

} // namespace

void retune(const MeleeSpec& was, const MeleeSpec& is, MeleeState& state, Time at,
            std::vector<MeleeEvent>& events) {
    if (state.attack < 0) {
        return;
    }
    const MeleeAttackSpec& before = was.attacks[static_cast<std::size_t>(state.attack)];
    const auto same = find_attack(is, before.name);
    if (!same) {
        events.push_back({.kind = MeleeEventKind::cancelled,
                          .at = at,
                          .until = at,
                          .attack = static_cast<std::size_t>(state.attack),
                          .swing = state.swings - 1});
        state.attack = -1;
        return;
    }
    const MeleeAttackSpec& after = is.attacks[*same];
    state.attack = static_cast<std::int32_t>(*same);
    if (before.windup != after.windup || before.active != after.active || before.recovery != after.recovery) {
        state.started = at - elapsed_with_share(before, after, at - state.started);
    }
}

void ProjectilePool::retune(const ProjectileSpec& spec) {
    detail::ProjectileStates& states = *states_;
    const ProjectileSpec was = std::exchange(states.spec, spec);
    states.forces = {spec.gravity, spec.drag};
    const bool same = fly_alike(was, spec);
    for (std::size_t index = 0; index < states.size; ++index) {
        detail::Flight& flight = states.flights[index];
        take_budget(was, spec, flight.budget);
        if (same) {
            continue;
        }
        states.renew(flight);
        const Duration ends =
            spec.fuse > Duration::zero() ? std::min(spec.fuse, spec.lifetime) : spec.lifetime;
        flight.launch.at = std::max(flight.launch.at, states.now - ends); // what is over ends now
        if (!flight.stuck) {
            states.begin_chord(index, std::max(states.now, flight.chord_begin), step_of(spec));
        }
    }
    states.step = step_of(spec);
    states.stopped.clear();
}

void detail::ProjectileStates::begin_chord(std::size_t index, Time at, Duration new_step) {
    detail::Flight& flight = flights[index];
    const detail::Chord chord = detail::chord_at(chords, index);
    const Vector3 from = detail::chord_point(flight, chord, at);
    const Vector3 velocity = detail::chord_velocity(flight, chord, at);
    flight.flown = detail::flown_at(flight, at);
    flight.chord_begin = flight.now = flight.clear_until = at;
    flight.chord_end = detail::next_grid_time(at, new_step);
    flight.chord_length = 0.0;
    flight.prepared = false;
    detail::set_chord(chords, index,
                      detail::make_chord(from, velocity, forces, to_seconds(flight.chord_end - at)));
}

} // namespace avrek
