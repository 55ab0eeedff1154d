#include "projectile_states.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <tuple>
#include <utility>

namespace avrek {

namespace {

// How far a path may be from the straight lines that stand for it, and how much of its speed it may lose on
// one.
constexpr Metres max_bend = 0.0005;
constexpr double max_slowing = 0.05;
constexpr Radians max_turn = 0.1;

bool comes_first(const ProjectileEvent& one, const ProjectileEvent& other) {
    return std::tie(one.at, one.number, one.flown, one.kind) <
           std::tie(other.at, other.number, other.flown, other.kind);
}

ProjectileEvent launch_event(ProjectileEventKind kind, const Launch& launch, std::uint64_t number,
                             const Vector3& velocity) {
    ProjectileEvent event;
    event.kind = kind;
    event.at = launch.at;
    event.number = number;
    event.shooter = launch.shooter;
    event.team = launch.team;
    event.shot = launch.shot;
    event.since = launch.at;
    event.from = launch.muzzle;
    event.point = launch.muzzle;
    event.velocity = event.velocity_after = velocity;
    return event;
}

Vector3 launch_velocity(const ProjectileSpec& spec, const Launch& launch) {
    return spec.speed * launch.direction + spec.inherit * launch.shooter_velocity;
}

} // namespace

Duration step_of(const ProjectileSpec& spec) {
    double seconds = 1.0 / 64.0;
    const auto is_fine = [&] {
        return 0.125 * std::abs(spec.gravity) * seconds * seconds <= max_bend &&
               spec.drag * spec.speed * seconds <= max_slowing && spec.turn_rate * seconds <= max_turn;
    };
    while (!is_fine() && seconds > 1.0 / 512.0) {
        seconds *= 0.5;
    }
    return from_seconds(seconds); // exact: 1e9 is a multiple of 512
}

ProjectilePool::ProjectilePool(const ProjectileSpec& spec, std::size_t capacity)
    : states_(std::make_unique<detail::ProjectileStates>()) {
    states_->spec = spec;
    states_->forces = {spec.gravity, spec.drag};
    states_->step = step_of(spec);
    states_->flights.resize(capacity);
    states_->chords.resize((capacity + detail::ChordBlock::width - 1) / detail::ChordBlock::width);
    states_->slots.resize(capacity);
    states_->free_slots.reserve(capacity);
    states_->stopped.reserve(std::min<std::size_t>(capacity, 1024)); // beyond that, memory grows once
    for (std::size_t slot = capacity; slot > 0; --slot) {
        states_->free_slots.push_back(static_cast<std::uint32_t>(slot - 1));
    }
}

ProjectilePool::ProjectilePool(const ProjectilePool& other)
    : states_(std::make_unique<detail::ProjectileStates>(*other.states_)) {}
ProjectilePool::ProjectilePool(ProjectilePool&& other) noexcept = default;
ProjectilePool::~ProjectilePool() = default;

ProjectilePool& ProjectilePool::operator=(const ProjectilePool& other) {
    if (this != &other) {
        *states_ = *other.states_;
    }
    return *this;
}

ProjectilePool& ProjectilePool::operator=(ProjectilePool&& other) noexcept = default;

const ProjectileSpec& ProjectilePool::spec() const {
    return states_->spec;
}

std::size_t ProjectilePool::size() const {
    return states_->size;
}

std::size_t ProjectilePool::capacity() const {
    return states_->flights.size();
}

std::optional<ProjectileHandle> ProjectilePool::launch(const Launch& launch,
                                                       std::vector<ProjectileEvent>& events) {
    assert(launch.at >= states_->now);
    return put_in(launch, events);
}

std::optional<ProjectileHandle> ProjectilePool::launch_late(const Launch& launch, const World& world,
                                                            std::span<const SurfaceSpec> surfaces,
                                                            std::vector<ProjectileEvent>& events) {
    detail::ProjectileStates& states = *states_;
    assert(launch.at < states.now);
    const std::optional<ProjectileHandle> handle = put_in(launch, events);
    if (handle) {
        const std::size_t index = states.flying;
        states.flights[states.size - 1].waiting = false;
        states.swap(states.size - 1, index);
        ++states.flying;
        detail::Flying{states, world, surfaces, events}.catch_up(index, launch.at, states.now);
    }
    return handle;
}

std::optional<ProjectileHandle> ProjectilePool::put_in(const Launch& launch,
                                                       std::vector<ProjectileEvent>& events) {
    assert(std::abs(launch.direction.squaredNorm() - 1.0) < 2e-9);
    detail::ProjectileStates& states = *states_;
    const std::uint64_t number = states.launches++;
    const Vector3 velocity = launch_velocity(states.spec, launch);
    if (states.free_slots.empty()) {
        events.push_back(launch_event(ProjectileEventKind::refused, launch, number, velocity));
        return std::nullopt;
    }
    const std::uint32_t slot = states.free_slots.back();
    states.free_slots.pop_back();
    ++states.slots[slot].generation;
    states.slots[slot].used = true;
    states.slots[slot].index = static_cast<std::uint32_t>(states.size);
    detail::Flight& flight = states.flights[states.size];
    flight = {};
    flight.launch = {
        launch.at,   launch.direction, launch.aim_at, launch.shooter, launch.target.value_or(nobody),
        launch.shot, launch.hits,      launch.teams,  launch.team};
    for (const BodyId body : launch.ignores) {
        [[maybe_unused]] const bool fits = flight.pierced.add(body);
        assert(fits);
    }
    flight.number = number;
    flight.slot = slot;
    flight.chord_begin = flight.now = flight.leg_since = launch.at;
    flight.clear_until = launch.at;
    flight.chord_end = detail::next_grid_time(launch.at, states.step);
    flight.leg_from = launch.muzzle;
    flight.budget = full_budget(states.spec.bounce, states.spec.pierce);
    detail::set_chord(
        states.chords, states.size,
        detail::make_chord(launch.muzzle, velocity, states.forces, to_seconds(flight.chord_end - launch.at)));
    ++states.size;
    states.high_water = std::max(states.high_water, states.size);
    ProjectileEvent event = launch_event(ProjectileEventKind::launched, launch, number, velocity);
    event.projectile = states.handle_of(flight);
    events.push_back(event);
    return event.projectile;
}

void ProjectilePool::advance(const World& world, std::span<const SurfaceSpec> surfaces, Span span,
                             std::vector<ProjectileEvent>& events) {
    detail::ProjectileStates& states = *states_;
    const auto first = static_cast<std::ptrdiff_t>(events.size());
    states.stopped.clear();
    detail::Flying flying{states, world, surfaces, events};
    Time at = span.begin;
    while (at < span.end) {
        const Time grid = detail::next_grid_time(at, states.step);
        const Time until = std::min(grid, span.end);
        flying.fly(until);
        if (until == grid) {
            flying.step(grid);
        }
        at = until;
    }
    states.now = span.end;
    std::sort(events.begin() + first, events.end(), comes_first);
}

bool ProjectilePool::fly_on(const ProjectileEvent& stopped, const World& world,
                            std::span<const SurfaceSpec> surfaces, std::vector<ProjectileEvent>& events) {
    detail::ProjectileStates& states = *states_;
    const auto found =
        std::find_if(states.stopped.begin(), states.stopped.end(), [&](const detail::StoppedFlight& one) {
            return one.flight.number == stopped.number && one.at == stopped.at;
        });
    if (found == states.stopped.end() || !stopped.hit || stopped.hit->body != found->body) {
        return false;
    }
    const detail::StoppedFlight before = *found;
    states.stopped.erase(found);
    const std::uint32_t slot = before.flight.slot;
    if (states.slots[slot].used && states.flights[states.slots[slot].index].number == before.flight.number) {
        states.erase(states.slots[slot].index); // it was stuck
    }
    const auto free = std::find(states.free_slots.begin(), states.free_slots.end(), slot);
    if (free == states.free_slots.end()) {
        return false; // another one has been launched in its place
    }
    states.free_slots.erase(free);
    states.slots[slot].used = true;
    const std::size_t index = states.size;
    states.slots[slot].index = static_cast<std::uint32_t>(index);
    states.flights[index] = before.flight;
    detail::set_chord(states.chords, index, before.chord);
    ++states.size;
    detail::Flight& flight = states.flights[index];
    flight.waiting = flight.stuck = false;
    flight.now = before.at;
    const bool passes = flight.pierced.add(before.body);
    states.swap(index, states.flying);
    ++states.flying;
    if (passes) {
        detail::Flying{states, world, surfaces, events}.catch_up(states.flying - 1, before.at, states.now);
    }
    return true;
}

std::optional<ProjectileReadout> ProjectilePool::find(ProjectileHandle projectile) const {
    const detail::ProjectileStates& states = *states_;
    const Time at = states.now;
    if (projectile.slot >= states.slots.size() || !states.slots[projectile.slot].used ||
        states.slots[projectile.slot].generation != projectile.generation) {
        return std::nullopt;
    }
    const std::size_t index = states.slots[projectile.slot].index;
    detail::Flight flight = states.flights[index];
    states.renew(flight);
    const detail::Chord chord = detail::chord_at(states.chords, index);
    ProjectileReadout readout{.position = chord.from,
                              .velocity = flight.stuck ? Vector3(Vector3::Zero()) : chord.from_velocity,
                              .flown = flight.flown,
                              .stuck = flight.stuck,
                              .shooter = flight.launch.shooter,
                              .team = flight.launch.team,
                              .shot = flight.launch.shot,
                              .number = flight.number,
                              .aim_at = flight.launch.aim_at};
    if (flight.launch.target != nobody) {
        readout.target = flight.launch.target;
    }
    if (flight.waiting || flight.stuck || at <= flight.chord_begin) {
        return readout;
    }
    // The smooth path through both ends with their velocities (cubic Hermite interpolation).
    const double whole = to_seconds(flight.chord_end - flight.chord_begin);
    const double share = std::min(1.0, to_seconds(at - flight.chord_begin) / whole);
    const Vector3 way = chord.to - chord.from;
    const Vector3 a = whole * chord.from_velocity - way;
    const Vector3 b = way - whole * chord.to_velocity;
    const double rest = 1.0 - share;
    readout.position = chord.from + share * way + share * rest * (rest * a + share * b);
    readout.velocity = detail::chord_velocity(flight, chord, std::min(at, flight.chord_end));
    readout.flown = detail::flown_at(flight, std::min(at, flight.chord_end));
    return readout;
}

bool ProjectilePool::remove(ProjectileHandle projectile) {
    detail::ProjectileStates& states = *states_;
    if (!find(projectile)) {
        return false;
    }
    states.erase(states.slots[projectile.slot].index);
    return true;
}

void ProjectilePool::clear() {
    while (states_->size > 0) {
        states_->erase(states_->size - 1);
    }
}

bool ProjectilePool::stick(ProjectileHandle projectile, std::optional<BodyId> body, const Vector3& point,
                           const World& world) {
    detail::ProjectileStates& states = *states_;
    const std::optional<ProjectileReadout> readout = find(projectile);
    if (!readout) {
        return false;
    }
    std::size_t index = states.slots[projectile.slot].index;
    states.flights[index].flown = readout->flown;
    const std::optional<Pose> pose = body ? world.body_pose(*body, states.now) : std::nullopt;
    states.attach(index, body, pose ? to_world(*pose, point) : body ? readout->position : point, point);
    index = states.slots[projectile.slot].index;
    states.flights[index].waiting = false;
    return true;
}

void ProjectilePool::add_copies(const ProjectilePool& other) {
    detail::ProjectileStates& states = *states_;
    const detail::ProjectileStates& from = *other.states_;
    assert(states.spec.id == from.spec.id && (from.size == 0 || states.now == from.now));
    states.grid = std::max(states.grid, from.grid);
    for (std::size_t source = 0; source < from.size && !states.free_slots.empty(); ++source) {
        const std::uint32_t slot = states.free_slots.back();
        states.free_slots.pop_back();
        const std::size_t index = states.size;
        ++states.size;
        ++states.slots[slot].generation;
        states.slots[slot].used = true;
        states.slots[slot].index = static_cast<std::uint32_t>(index);
        detail::Flight& flight = states.flights[index];
        flight = from.flights[source];
        from.renew(flight);
        flight.slot = slot;
        detail::set_chord(states.chords, index, detail::chord_at(from.chords, source));
        if (source < from.flying) {
            states.swap(index, states.flying);
            ++states.flying;
        }
    }
    states.high_water = std::max(states.high_water, states.size);
}

std::size_t ProjectilePool::list(std::span<ProjectileHandle> handles) const {
    const detail::ProjectileStates& states = *states_;
    std::size_t count = 0;
    for (std::size_t index = 0; index < states.size && count < handles.size(); ++index) {
        handles[count] = states.handle_of(states.flights[index]);
        ++count;
    }
    std::sort(handles.begin(), handles.begin() + static_cast<std::ptrdiff_t>(count),
              [&](ProjectileHandle one, ProjectileHandle other) {
                  return states.flights[states.slots[one.slot].index].number <
                         states.flights[states.slots[other.slot].index].number;
              });
    return count;
}

std::size_t ProjectilePool::high_water() const {
    return states_->high_water;
}

} // namespace avrek
