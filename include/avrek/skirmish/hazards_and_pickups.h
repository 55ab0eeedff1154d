#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>

/// Hazards and pickups of a match.
namespace avrek {

/// Touches are checked at fixed times, every 1/64 s from the start of the simulation, independent of the tick
/// rate.
inline constexpr Duration touch_step{15'625'000};

/// A body in a hazard.
struct HazardTouch {
    BodyId body = nobody;
    Time next{};         ///< time of the next hit
    bool inside = false; ///< false: it has left; `next` still counts when it returns
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<HazardTouch> auto& touch) {
    field("body", touch.body);
    field("next", touch.next);
    field("inside", touch.inside);
}

/// A placed hazard. Trivially copyable.
struct HazardState {
    static constexpr std::size_t max_touched = 64;

    std::optional<HazardId> spec{}; ///< none: removed
    Pose pose{};
    TeamId team{};          ///< team that placed it
    BodyId source = nobody; ///< combatant that gets credit
    /// The hazard ends with this combatant's life; nobody: no carrier.
    BodyId carrier = nobody;
    Time ends = Time::max();
    Time due = Time::max();                         ///< time of the next hit on a body in it
    std::array<HazardTouch, max_touched> touched{}; ///< further bodies are not touched
    std::size_t touched_count = 0;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<HazardState> auto& hazard) {
    field("spec", hazard.spec);
    field("pose", hazard.pose);
    field("team", hazard.team);
    field("source", hazard.source);
    field("carrier", hazard.carrier);
    field("ends", hazard.ends);
    field("due", hazard.due);
    field("touched_count", hazard.touched_count);
    field.list("touched", hazard.touched, hazard.touched_count);
}

/// A placed pickup. Trivially copyable.
struct PickupState {
    PickupId spec{};
    Vector3 position = Vector3::Zero();
    bool there = true;
    Time back_at = Time::max(); ///< return time while it is gone
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<PickupState> auto& pickup) {
    field("spec", pickup.spec);
    field("position", pickup.position);
    field("there", pickup.there);
    field("back_at", pickup.back_at);
}

} // namespace avrek
