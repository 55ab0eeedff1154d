#pragma once
#include "chords.h"
#include <avrek/ballistics/projectiles.h>
#include <avrek/core/state_fields.h>

namespace avrek::detail {

/// Values of a launch that count for the whole flight.
struct Launched {
    Time at{};
    Vector3 direction = world_forward();
    Vector3 aim_at = Vector3::Zero();
    BodyId shooter{};
    BodyId target = nobody;
    std::uint32_t shot = 0;
    CollisionLayers hits{};
    TeamSet teams{};
    TeamId team{};
};

/// All of one projectile but its chord. What is read in every tick comes first, in two lines of the cache.
struct alignas(64) Flight {
    Time now;       ///< up to when it has been flown
    Time chord_end; ///< a grid time
    Time chord_begin;
    // The chord's own values, prepared as soon as it begins. They depend on the chord alone, so that results
    // do not depend on where ticks end.
    Time level_at; ///< it meets the level
    Time arms_at;
    Time parts_at;    ///< it can meet its shooter
    Time way_ends_at; ///< its way after its first bounce is over
    Time clear_until; ///< it cannot meet the level before
    Metres chord_length = 0.0;
    Metres flown = 0.0; ///< up to where its chord begins
    bool prepared = false;
    bool stuck = false;
    bool waiting = true; ///< for its launch
    std::uint32_t slot = 0;
    Launched launch;
    Metres first_bounce = 0.0; ///< distance flown at its first bounce
    ImpactBudget budget;
    IgnoredBodies pierced;
    std::uint64_t number = 0;
    Time leg_since;
    Vector3 leg_from = Vector3::Zero();
    BodyId stuck_to = nobody;
    Vector3 stuck_at = Vector3::Zero(); ///< in the axes of that body, or of the world
};

struct ProjectileSlot {
    std::uint32_t index = 0;
    std::uint32_t generation = 0;
    bool used = false;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Launched> auto& launch) {
    field("at", launch.at);
    field("direction", launch.direction);
    field("aim_at", launch.aim_at);
    field("shooter", launch.shooter);
    field("target", launch.target);
    field("shot", launch.shot);
    field("hits", launch.hits);
    field("teams", launch.teams);
    field("team", launch.team);
}

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Flight> auto& flight) {
    field("launch", flight.launch);
    field("number", flight.number);
    field("slot", flight.slot);
    field("chord_begin", flight.chord_begin);
    field("chord_end", flight.chord_end);
    field("now", flight.now);
    field("leg_since", flight.leg_since);
    field("leg_from", flight.leg_from);
    field("flown", flight.flown);
    field("first_bounce", flight.first_bounce);
    field("prepared", flight.prepared);
    field("chord_length", flight.chord_length);
    field("clear_until", flight.clear_until);
    field("level_at", flight.level_at);
    field("arms_at", flight.arms_at);
    field("parts_at", flight.parts_at);
    field("way_ends_at", flight.way_ends_at);
    field("budget", flight.budget);
    field("pierced", flight.pierced);
    field("stuck", flight.stuck);
    field("waiting", flight.waiting);
    field("stuck_to", flight.stuck_to);
    field("stuck_at", flight.stuck_at);
}

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<ProjectileSlot> auto& slot) {
    field("index", slot.index);
    field("generation", slot.generation);
    field("used", slot.used);
}

/// A projectile as it was when it stopped at a body.
struct StoppedFlight {
    Flight flight{};
    Chord chord{};
    Time at{};
    BodyId body = nobody;
};

/// Flights and their chords lie at the same index: first those that fly, then those that wait or are stuck.
struct ProjectileStates {
    ProjectileSpec spec;
    Forces forces;
    Duration step{};
    BigVector<Flight> flights;
    ChordBlocks chords;
    std::vector<ProjectileSlot> slots;
    std::vector<std::uint32_t> free_slots;
    std::vector<StoppedFlight>
        stopped; ///< in the last span, and in late launches since; not part of the state
    std::size_t flying = 0;
    std::size_t size = 0;
    std::uint64_t launches = 0;
    std::size_t high_water = 0;
    Time now{};
    Time grid{}; ///< the last grid time: where the chords of all that fly begin, but for new ones

    ProjectileHandle handle_of(const Flight& flight) const {
        return {flight.slot, slots[flight.slot].generation};
    }
    void swap(std::size_t one, std::size_t other);
    void erase(std::size_t index);
    /// Those whose launch is before `end` fly from now on.
    void launch_waiting(Time end);
    /// Every chord that ends at `grid` is followed by the next.
    void step_all(Time at);
    /// Lets a flight know of its chord, if a step has given it a new one.
    void renew(Flight& flight) const;
    /// Cuts a flight's chord at a time that lies on it, and lets it go on by the present forces.
    void begin_chord(std::size_t index, Time at, Duration new_step);
    /// Makes a flight stick to a body, at a point in its axes, or to the level. It is at `where` in the
    /// world.
    void attach(std::size_t index, std::optional<BodyId> body, const Vector3& where, const Vector3& point);
    /// From among those that fly to among those that do not.
    void take_down(std::size_t index);
};

/// The first grid time after `at`.
Time next_grid_time(Time at, Duration step);

/// Where a flight is on its chord, `at` lying between the chord's ends.
Vector3 chord_point(const Flight& flight, const Chord& chord, Time at);
Vector3 chord_velocity(const Flight& flight, const Chord& chord, Time at);

/// How far a flight has come at `at`, on its chord.
Metres flown_at(const Flight& flight, Time at);

/// Flies everything, up to and including the next grid time at most.
class Flying {
  public:
    Flying(ProjectileStates& states, const World& world, std::span<const SurfaceSpec> surfaces,
           std::vector<ProjectileEvent>& events)
        : states_(states), world_(world), surfaces_(surfaces), events_(events) {}

    void fly(Time end);
    /// One alone, from a time in the past, such as its launch; what it is renewed with comes from its own
    /// grid times.
    void catch_up(std::size_t index, Time from, Time end);
    /// At a grid time: every chord that ends there is followed by the next.
    void step(Time grid);

  private:
    struct Piece;

    void wait_out(Time end);
    bool wait_out_one(std::size_t index, Time end);
    void prepare(Flight& flight, const Chord& chord) const;
    void look_around(Flight& flight, const Chord& chord) const;
    bool fly_one(std::size_t index, Time end);
    bool fly_piece(std::size_t index, Time end);
    Piece next_piece(const Flight& flight, Time end) const;
    bool may_meet_bodies(const Chord& chord, const Piece& piece) const;
    std::optional<Hit> body_hit(const Flight& flight, const Cast& cast) const;
    Cast cast_of(const Flight& flight, const Chord& chord, const Piece& piece) const;
    std::optional<Hit> proximity(const Flight& flight, const Piece& piece, const Cast& cast) const;
    bool meet(std::size_t index, const Hit& hit, Time at, const Vector3& there);
    bool stop(std::size_t index, const ProjectileEvent& event);
    void redirect(std::size_t index, const Vector3& from, const Vector3& velocity, Time at, Metres further);
    void turn_to_target(std::size_t index, Time grid);
    ProjectileEvent event_of(ProjectileEventKind kind, const Flight& flight, Time at, const Vector3& point,
                             const Vector3& velocity) const;
    bool end(std::size_t index, ProjectileEventKind kind, Time at);

    ProjectileStates& states_;
    const World& world_;
    std::span<const SurfaceSpec> surfaces_;
    std::vector<ProjectileEvent>& events_;
};

} // namespace avrek::detail
