#include "projectile_states.h"
#include <avrek/core/elementary.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace avrek::detail {

namespace {

// For how many steps ahead it is known at most that the level is not met.
constexpr int steps_ahead = 8;
// Flights are so large that the processor does not read ahead by itself.
constexpr std::size_t fetched_ahead = 8;

Ray chord_ray(const Chord& chord) {
    const Vector3 way = chord.to - chord.from;
    const double length = std::sqrt(way.squaredNorm());
    return {chord.from, length > 0.0 ? Vector3(way / length) : world_forward(), length};
}

// Where a flight's whole chord meets the level.
std::optional<Hit> level_hit(const World& world, const Flight& flight, const Chord& chord, Metres radius) {
    return world.closest_hit({chord_ray(chord), radius, flight.chord_begin},
                             {.hits = flight.launch.hits, .bodies = false});
}

} // namespace

// A part of a chord that is flown in one go.
struct Flying::Piece {
    Time begin;
    Time end;
    bool armed = false;
};

void Flying::fly(Time end) {
    states_.launch_waiting(end);
    for (std::size_t index = 0; index < states_.flying;) {
        if (index + fetched_ahead < states_.flying) {
            const Flight& soon = states_.flights[index + fetched_ahead];
            __builtin_prefetch(&soon.now);
            __builtin_prefetch(&soon.flown);
        }
        if (fly_one(index, end)) {
            ++index; // otherwise another one has taken its place
        }
    }
    wait_out(end);
}

// Those that are stuck, until their fuse or their lifetime is over.
void Flying::wait_out(Time end) {
    for (std::size_t index = states_.flying; index < states_.size;) {
        if (!states_.flights[index].stuck || wait_out_one(index, end)) {
            ++index;
        }
    }
}

// Returns whether it is still there.
bool Flying::wait_out_one(std::size_t index, Time end) {
    const Flight& flight = states_.flights[index];
    const Time dies = flight.launch.at + states_.spec.lifetime;
    const bool fused = states_.spec.fuse > Duration::zero();
    const Time goes_off = fused ? flight.launch.at + states_.spec.fuse : Time::max();
    const Time ends = std::min(dies, goes_off);
    Chord chord = chord_at(states_.chords, index);
    const std::optional<Pose> pose =
        flight.stuck_to != nobody ? world_.body_pose(flight.stuck_to, std::min(ends, end)) : std::nullopt;
    if (pose) {
        chord.from = to_world(*pose, flight.stuck_at);
        set_chord(states_.chords, index, chord);
    }
    if (ends >= end) {
        return true;
    }
    events_.push_back(
        event_of(goes_off <= dies ? ProjectileEventKind::exploded : ProjectileEventKind::expired, flight,
                 ends, chord.from, Vector3::Zero()));
    states_.erase(index);
    return false;
}

void Flying::catch_up(std::size_t index, Time from, Time end) {
    const std::uint32_t slot = states_.flights[index].slot;
    const Time grid_of_all = states_.grid;
    Time at = from;
    bool flies = true;
    while (flies && at < end) {
        const Time grid = next_grid_time(at, states_.step);
        const Time until = std::min(grid, end);
        states_.grid = grid - states_.step;
        flies = fly_one(index, until);
        if (flies && until == grid) {
            if (states_.spec.turn_rate > 0.0) {
                turn_to_target(index, grid);
            }
            const Chord done = chord_at(states_.chords, index);
            set_chord(states_.chords, index,
                      make_chord(done.to, done.to_velocity, states_.forces, to_seconds(states_.step)));
        }
        at = until;
    }
    states_.grid = grid_of_all;
    if (!flies && states_.slots[slot].used) { // it is stuck
        wait_out_one(states_.slots[slot].index, end);
    }
}

// Finds out when on its chord a flight meets the level, arms, and comes to the end of its way.
void Flying::prepare(Flight& flight, const Chord& chord) const {
    const ProjectileSpec& spec = states_.spec;
    const Vector3 way = chord.to - chord.from;
    const double length = std::sqrt(way.squaredNorm());
    const auto time = static_cast<double>((flight.chord_end - flight.chord_begin).count());
    flight.prepared = true;
    flight.chord_length = length;
    flight.level_at = flight.arms_at = flight.parts_at = flight.way_ends_at = Time::max();
    // When it has come so far on the chord; the first nanosecond after.
    const auto when = [&](double distance) {
        const double share = length > 0.0 ? std::clamp(distance / length, 0.0, 1.0) : 0.0;
        return flight.chord_begin + Duration{static_cast<Duration::rep>(std::ceil(time * share))};
    };
    if (flight.flown + length >= spec.arming_distance) {
        flight.arms_at = when(spec.arming_distance - flight.flown);
    }
    if (flight.flown + length >= spec.self_hit_after) {
        flight.parts_at = when(spec.self_hit_after - flight.flown);
    }
    const double way_end = flight.budget.has_bounced
                               ? std::min(flight.first_bounce + spec.bounce.distance, spec.distance)
                               : spec.distance;
    if (flight.flown + length >= way_end) {
        flight.way_ends_at = when(way_end - flight.flown);
    }
    if (flight.clear_until < flight.chord_end) {
        look_around(flight, chord);
    }
    if (flight.clear_until < flight.chord_end) {
        if (const std::optional<Hit> hit = level_hit(world_, flight, chord, spec.radius)) {
            // Before its end in any case: the next chord begins beyond what this one meets.
            const Time last = std::max(flight.chord_begin, flight.chord_end - Duration{1});
            flight.level_at =
                std::min(last, flight.chord_begin + Duration{static_cast<Duration::rep>(time * hit->share)});
        }
    }
}

// Finds a time until which the level cannot be met, by how far off it is in any direction.
void Flying::look_around(Flight& flight, const Chord& chord) const {
    if ((flight.launch.hits.bits() & ~stops_shots.bits()) != 0) {
        return; // the clearance is that of what stops shots
    }
    const double clear = world_.clearance(chord.from) - states_.spec.radius - off_surface;
    if (clear <= flight.chord_length) {
        return;
    }
    // Its chords are no longer than its speed, and what gravity adds to it, allow.
    const Duration ahead = steps_ahead * states_.step;
    const double speed = std::sqrt(chord.from_velocity.squaredNorm());
    const double fastest = speed + std::abs(states_.forces.gravity) * to_seconds(ahead);
    const double seconds = fastest > 0.0 ? std::min(clear / fastest, to_seconds(ahead)) : to_seconds(ahead);
    flight.clear_until =
        std::max(flight.chord_end, flight.chord_begin + Duration{static_cast<Duration::rep>(1e9 * seconds)});
}

bool Flying::fly_one(std::size_t index, Time end) {
    states_.renew(states_.flights[index]);
    while (states_.flights[index].now < end) {
        if (!fly_piece(index, end)) {
            return false;
        }
    }
    return true;
}

Flying::Piece Flying::next_piece(const Flight& flight, Time end) const {
    Piece piece;
    piece.begin = flight.now;
    piece.armed = flight.now >= flight.arms_at;
    const bool parted = flight.now >= flight.parts_at;
    piece.end =
        std::min({end, flight.launch.at + states_.spec.lifetime, flight.way_ends_at, flight.level_at,
                  piece.armed ? Time::max() : flight.arms_at, parted ? Time::max() : flight.parts_at});
    if (states_.spec.fuse > Duration::zero()) {
        piece.end = std::min(piece.end, flight.launch.at + states_.spec.fuse);
    }
    piece.end = std::max(piece.end, piece.begin);
    return piece;
}

// Whether a body may be near the chord in the time of a piece.
bool Flying::may_meet_bodies(const Chord& chord, const Piece& piece) const {
    const double reach = states_.spec.radius + (piece.armed ? states_.spec.proximity : 0.0);
    const Vector3 margin = Vector3::Constant(reach);
    return world_.may_meet_bodies(
        {chord.from.cwiseMin(chord.to) - margin, chord.from.cwiseMax(chord.to) + margin}, piece.begin,
        piece.end);
}

// A piece as a cast.
Cast Flying::cast_of(const Flight& flight, const Chord& chord, const Piece& piece) const {
    const Vector3 from = chord_point(flight, chord, piece.begin);
    const Vector3 way = chord_point(flight, chord, piece.end) - from;
    const double length = std::sqrt(way.squaredNorm());
    const Vector3 direction = length > 0.0 ? Vector3(way / length) : flight.launch.direction;
    return {{from, direction, length}, states_.spec.radius, piece.begin, piece.end};
}

// A body of another team that it comes near to.
std::optional<Hit> Flying::proximity(const Flight& flight, const Piece& piece, const Cast& cast) const {
    if (states_.spec.proximity <= 0.0 || !piece.armed) {
        return std::nullopt;
    }
    Cast wide = cast;
    wide.radius += states_.spec.proximity;
    Filter others{.hits = flight.launch.hits, .teams = TeamSet::all_but(flight.launch.team), .level = false};
    others.ignores.add(flight.launch.shooter);
    std::array<Hit, 1> near;
    // Bodies that are near from the start count too, though they may be going away.
    if (world_.overlaps(Sphere{cast.ray.origin, wide.radius}, piece.begin, others, near) > 0) {
        near[0].share = 0.0;
        return near[0];
    }
    return world_.closest_hit(wide, others);
}

// The first body that it meets. It passes its shooter until it has flown some way and has left it.
std::optional<Hit> Flying::body_hit(const Flight& flight, const Cast& cast) const {
    Filter filter{
        .hits = flight.launch.hits, .teams = flight.launch.teams, .ignores = flight.pierced, .level = false};
    const BodyId shooter = flight.launch.shooter;
    if (flight.now < flight.parts_at) {
        filter.ignores.add(shooter);
    }
    std::optional<Hit> hit = world_.closest_hit(cast, filter);
    if (hit && hit->inside && hit->body == shooter && filter.ignores.add(shooter)) {
        hit = world_.closest_hit(cast, filter);
    }
    return hit;
}

bool Flying::fly_piece(std::size_t index, Time end) {
    Flight& flight = states_.flights[index];
    const Chord chord = chord_at(states_.chords, index);
    if (!flight.prepared) {
        prepare(flight, chord);
    }
    const Piece piece = next_piece(flight, end);
    if (may_meet_bodies(chord, piece)) {
        const Cast cast = cast_of(flight, chord, piece);
        const auto time = static_cast<double>((piece.end - piece.begin).count());
        const std::optional<Hit> hit = body_hit(flight, cast);
        const std::optional<Hit> near = proximity(flight, piece, cast);
        if (near && (!hit || near->share < hit->share)) {
            return this->end(index, ProjectileEventKind::exploded,
                             piece.begin + Duration{static_cast<Duration::rep>(time * near->share)});
        }
        if (hit) {
            flight.now = piece.begin + Duration{static_cast<Duration::rep>(time * hit->share)};
            return meet(index, *hit, flight.now, point_at(cast.ray, hit->share * cast.ray.length));
        }
    }
    flight.now = piece.end;
    if (piece.end == end) {
        return true; // what is due then belongs to the next span
    }
    if (piece.end == flight.level_at) {
        const std::optional<Hit> level = level_hit(world_, flight, chord, states_.spec.radius);
        assert(level);
        return meet(index, *level, piece.end, point_at(chord_ray(chord), level->distance));
    }
    if (states_.spec.fuse > Duration::zero() && piece.end == flight.launch.at + states_.spec.fuse) {
        return this->end(index, ProjectileEventKind::exploded, piece.end);
    }
    if (piece.end == flight.way_ends_at || piece.end == flight.launch.at + states_.spec.lifetime) {
        return this->end(index, ProjectileEventKind::expired, piece.end);
    }
    return true;
}

void Flying::step(Time grid) {
    if (states_.spec.turn_rate > 0.0) {
        for (std::size_t index = 0; index < states_.flying; ++index) {
            turn_to_target(index, grid);
        }
    }
    states_.step_all(grid);
}

void Flying::turn_to_target(std::size_t index, Time grid) {
    const Flight& flight = states_.flights[index];
    const std::optional<Pose> pose =
        flight.launch.target != nobody ? world_.body_pose(flight.launch.target, grid) : std::nullopt;
    Chord chord = chord_at(states_.chords, index);
    const double speed = std::sqrt(chord.to_velocity.squaredNorm());
    if (!pose || speed == 0.0) {
        return;
    }
    const Vector3 heading = chord.to_velocity / speed;
    const Vector3 towards = to_world(*pose, flight.launch.aim_at) - chord.to;
    const Vector3 across_heading = towards - towards.dot(heading) * heading;
    const double off = std::sqrt(across_heading.squaredNorm());
    const double most = states_.spec.turn_rate * to_seconds(states_.step);
    const double turn = std::min(most, arc_tangent(off, towards.dot(heading)));
    if (off == 0.0 || turn <= 0.0) {
        return;
    }
    chord.to_velocity = speed * (cosine(turn) * heading + (sine(turn) / off) * across_heading);
    set_chord(states_.chords, index, chord);
}

} // namespace avrek::detail
