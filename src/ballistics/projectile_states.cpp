#include "projectile_states.h"

#include <avrek/core/state_hash.h>

#include <cassert>
#include <utility>

namespace avrek::detail {

Time next_grid_time(Time at, Duration step) {
    return Time{(at.time_since_epoch() / step + 1) * step};
}

namespace {

double chord_share(const Flight& flight, Time at) {
    if (at == flight.chord_end) {
        return 1.0;
    }
    return static_cast<double>((at - flight.chord_begin).count()) /
           static_cast<double>((flight.chord_end - flight.chord_begin).count());
}

} // namespace

Vector3 chord_point(const Flight& flight, const Chord& chord, Time at) {
    return at == flight.chord_end ? chord.to
                                  : Vector3(chord.from + chord_share(flight, at) * (chord.to - chord.from));
}

Vector3 chord_velocity(const Flight& flight, const Chord& chord, Time at) {
    return chord.from_velocity + chord_share(flight, at) * (chord.to_velocity - chord.from_velocity);
}

Metres flown_at(const Flight& flight, Time at) {
    return flight.flown + chord_share(flight, at) * flight.chord_length;
}

void ProjectileStates::swap(std::size_t one, std::size_t other) {
    if (one == other) {
        return;
    }
    std::swap(flights[one], flights[other]);
    const Chord chord = chord_at(chords, one);
    set_chord(chords, one, chord_at(chords, other));
    set_chord(chords, other, chord);
    slots[flights[one].slot].index = static_cast<std::uint32_t>(one);
    slots[flights[other].slot].index = static_cast<std::uint32_t>(other);
}

void ProjectileStates::launch_waiting(Time end) {
    for (std::size_t index = flying; index < size; ++index) {
        if (flights[index].waiting && flights[index].launch.at < end) {
            flights[index].waiting = false;
            swap(index, flying);
            ++flying;
        }
    }
}

void ProjectileStates::step_all(Time at) {
    step_chords(chords, flying, forces, to_seconds(step));
    grid = at;
}

void ProjectileStates::renew(Flight& flight) const {
    if (flight.chord_end > grid || flight.stuck) {
        return;
    }
    flight.flown += flight.chord_length;
    flight.chord_length = 0.0;
    flight.chord_begin = grid;
    flight.chord_end = grid + step;
    flight.prepared = false;
}

void ProjectileStates::take_down(std::size_t index) {
    assert(index < flying);
    --flying;
    swap(index, flying);
}

void ProjectileStates::attach(std::size_t index, std::optional<BodyId> body, const Vector3& where,
                              const Vector3& point) {
    Flight& flight = flights[index];
    flight.stuck = true;
    flight.stuck_at = point;
    flight.stuck_to = body.value_or(nobody);
    set_chord(chords, index, {where, Vector3::Zero(), where, Vector3::Zero()});
    if (index < flying) {
        take_down(index);
    }
}

void ProjectileStates::erase(std::size_t index) {
    if (index < flying) {
        take_down(index);
        index = flying;
    }
    swap(index, size - 1);
    --size;
    ProjectileSlot& slot = slots[flights[size].slot];
    slot.used = false;
    free_slots.push_back(flights[size].slot);
}

} // namespace avrek::detail

namespace avrek {

void ProjectilePool::save(StateWriter& to) const {
    const detail::ProjectileStates& states = *states_;
    to.value(static_cast<std::uint64_t>(states.size));
    to.value(static_cast<std::uint64_t>(states.flying));
    to.value(states.launches);
    to.value(states.now);
    to.value(states.grid);
    to.list(states.free_slots);
    to.clean_values(std::span<const detail::ProjectileSlot>{states.slots});
    to.clean_values(std::span<const detail::Flight>{states.flights}.first(states.size));
    to.values(std::span<const detail::ChordBlock>{states.chords}.first(
        (states.size + detail::ChordBlock::width - 1) / detail::ChordBlock::width));
}

bool ProjectilePool::restore(StateReader& from) {
    detail::ProjectileStates& states = *states_;
    std::uint64_t size = 0;
    std::uint64_t flying = 0;
    if (!from.value(size) || !from.value(flying) || size > capacity() || flying > size) {
        return from.fail();
    }
    states.size = size;
    states.flying = flying;
    from.value(states.launches);
    from.value(states.now);
    from.value(states.grid);
    from.list(states.free_slots, capacity());
    from.values(std::span<detail::ProjectileSlot>{states.slots});
    from.values(std::span<detail::Flight>{states.flights}.first(states.size));
    return from.values(std::span<detail::ChordBlock>{states.chords}.first(
        (states.size + detail::ChordBlock::width - 1) / detail::ChordBlock::width));
}

std::uint64_t ProjectilePool::state_hash() const {
    const detail::ProjectileStates& states = *states_;
    StateHash hash;
    hash.add(states.launches);
    hash.add(states.size);
    for (std::size_t index = 0; index < states.size; ++index) {
        detail::Flight flight = states.flights[index];
        states.renew(flight);
        const detail::Chord chord = chord_at(states.chords, index);
        hash.add(flight.number);
        hash.add(flight.chord_begin);
        for (const Vector3& vector : {chord.from, chord.from_velocity, chord.to, chord.to_velocity}) {
            hash.add(vector);
        }
        hash.add(flight.flown);
        hash.add(flight.now);
        hash.add(flight.budget.energy);
        hash.add(static_cast<std::uint64_t>(flight.budget.bounces));
        hash.add(std::uint64_t{flight.budget.has_bounced});
        hash.add(flight.first_bounce);
        hash.add(flight.launch.at);
        hash.add(static_cast<std::uint64_t>(flight.launch.shooter) << 32U | flight.launch.shot);
        hash.add(static_cast<std::uint64_t>(flight.launch.team) << 32U | flight.launch.hits.bits());
        hash.add(static_cast<std::uint64_t>(flight.launch.target));
        for (const BodyId body : flight.pierced) {
            hash.add(static_cast<std::uint64_t>(body));
        }
        hash.add(std::uint64_t{flight.stuck} + 2 * std::uint64_t{flight.waiting});
    }
    return hash.value();
}

} // namespace avrek
