#pragma once
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/hits.h>
#include <avrek/vitals/vitals.h>

/// Shared parts of the vitals.
namespace avrek::detail {

/// A body that something happens to.
struct Living : LivingBody {
    std::vector<VitalsEvent>& events;

    const ConditionSpec& spec_of(ConditionId condition) const { return conditions[to_index(condition)]; }
};

/// Damage or healing that nothing stops any more.
struct Harm {
    Damage damage{};
    bool heals = false;
    std::optional<DamageTypeId> type{};
    std::optional<ConditionId> condition{}; ///< that ticked
    BodyId source = nobody;
    std::optional<RegionId> region{};
    Vector3 push = Vector3::Zero();
};

/// Appends the event of a change of the body's state, as it is now.
void emit_body(Living& living, BodyEvent event);

/// Takes the last steps: resistance, layers, clamp.
void suffer(Living& living, const Harm& harm, Time at);

/// Gives points to the layer of this name, if the body has one.
void grant_points(Living& living, std::string_view layer, double points, Time at);

/// Ends the condition in slot `place`.
void end_condition(Living& living, std::size_t index, ConditionReason why, Time at);

/// Ends the conditions that `end` ends, but not `spared`.
void end_conditions_by(Living& living, ConditionEnd end, std::optional<ConditionId> spared, Time at);

/// Lets the condition in slot `place` tick.
void tick_condition(Living& living, std::size_t index, Time at);

/// Ends the state of a body that reacts: it rises, or is active again.
void end_state(Living& living, Time at);

/// Raises or lowers the guard as what it depends on says, and finds what is due next. To be called after
/// every change.
void catch_up(Living& living, Time at);

/// Ends everything that ends with a life.
void lie_dead(Vitals& vitals);

} // namespace avrek::detail
