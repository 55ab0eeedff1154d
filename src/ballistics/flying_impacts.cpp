#include "projectile_states.h"

#include <cmath>

/// Impacts and ends of projectiles.
namespace avrek::detail {

bool Flying::meet(std::size_t index, const Hit& hit, Time at, const Vector3& there) {
    Flight& flight = states_.flights[index];
    Vector3 velocity = chord_velocity(flight, chord_at(states_.chords, index), at);
    if (velocity.squaredNorm() == 0.0) {
        velocity = 1e-9 * flight.launch.direction;
    }
    ProjectileEvent event = event_of(ProjectileEventKind::stopped, flight, at, there, velocity);
    event.hit = hit;
    const bool had_bounced = flight.budget.has_bounced;
    const Impact impact =
        impact_of(world_, surfaces_, hit, velocity, states_.spec.bounce, states_.spec.pierce, flight.budget);
    if (impact.result == ImpactResult::stops || (hit.body && !flight.pierced.add(*hit.body))) {
        return stop(index, event);
    }
    if (impact.result == ImpactResult::pierces) {
        event.kind = ProjectileEventKind::pierced;
        event.velocity_after = velocity;
        events_.push_back(event);
        if (!hit.body) {
            const Metres through = impact.through + 2.0 * states_.spec.radius + off_surface;
            redirect(index, there + through * velocity.normalized(), velocity, at, through);
        }
        return true;
    }
    event.kind = ProjectileEventKind::bounced;
    event.velocity_after = impact.velocity;
    events_.push_back(event);
    flight.leg_since = at;
    flight.leg_from = there;
    redirect(index, there + off_surface * hit.normal, impact.velocity, at, 0.0);
    flight.first_bounce = had_bounced ? flight.first_bounce : flight.flown;
    return true;
}

bool Flying::stop(std::size_t index, const ProjectileEvent& event) {
    Flight& flight = states_.flights[index];
    const auto add = [&](ProjectileEventKind kind) {
        events_.push_back(event);
        events_.back().kind = kind;
    };
    add(ProjectileEventKind::stopped);
    if (event.hit->body && states_.stopped.size() < states_.flights.size()) {
        states_.stopped.push_back({flight, chord_at(states_.chords, index), event.at, *event.hit->body});
    }
    if (states_.spec.sticks) {
        add(ProjectileEventKind::stuck);
        const std::optional<BodyId> body = event.hit->body;
        const std::optional<Pose> pose = body ? world_.body_pose(*body, event.at) : std::nullopt;
        flight.flown = event.flown;
        states_.attach(index, pose ? body : std::nullopt, event.point,
                       pose ? to_local(*pose, event.point) : event.point);
        return false;
    }
    if (states_.spec.blast.radius > 0.0) {
        add(ProjectileEventKind::exploded);
    }
    states_.erase(index);
    return false;
}

void Flying::redirect(std::size_t index, const Vector3& from, const Vector3& velocity, Time at,
                      Metres further) {
    Flight& flight = states_.flights[index];
    flight.flown = flown_at(flight, at) + further;
    flight.chord_begin = flight.now = flight.clear_until = at;
    flight.prepared = false;
    flight.chord_length = 0.0;
    const double seconds = to_seconds(flight.chord_end - at);
    set_chord(states_.chords, index, make_chord(from, velocity, states_.forces, seconds));
}

ProjectileEvent Flying::event_of(ProjectileEventKind kind, const Flight& flight, Time at,
                                 const Vector3& point, const Vector3& velocity) const {
    ProjectileEvent event;
    event.kind = kind;
    event.at = at;
    event.number = flight.number;
    event.projectile = states_.handle_of(flight);
    event.shooter = flight.launch.shooter;
    event.team = flight.launch.team;
    event.shot = flight.launch.shot;
    event.since = flight.leg_since;
    event.from = flight.leg_from;
    event.point = point;
    event.velocity = velocity;
    event.power = power_left(flight.budget, states_.spec.pierce);
    event.flown = flight.stuck ? flight.flown : flown_at(flight, at);
    return event;
}

bool Flying::end(std::size_t index, ProjectileEventKind kind, Time at) {
    const Flight& flight = states_.flights[index];
    const Chord chord = chord_at(states_.chords, index);
    events_.push_back(
        event_of(kind, flight, at, chord_point(flight, chord, at), chord_velocity(flight, chord, at)));
    states_.erase(index);
    return false;
}

} // namespace avrek::detail
