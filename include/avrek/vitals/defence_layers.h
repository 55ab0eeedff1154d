#pragma once
#include <avrek/arsenal/defence_spec.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>

/// Defence layers: shields, armour and overheal.
namespace avrek {

/// Points of one defence layer at a known time. Later points are computed.
struct DefenceLayerState {
    double points = 0.0; ///< in [0, DefenceLayerSpec::max]
    Time at{};
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<DefenceLayerState> auto& layer) {
    field("points", layer.points);
    field("at", layer.at);
}

/// Returns the points at `at`, if nothing happens to the body from `state.at` on and it was last damaged at
/// `last_hurt`. A refill begins at `state.at`, and not before DefenceLayerSpec::delay after `last_hurt`.
double points_at(const DefenceLayerSpec& spec, const DefenceLayerState& state, Time last_hurt, Time at);

/// Returns when a layer that refills by itself is full; Time::max() if it is full or never will be.
Time full_at(const DefenceLayerSpec& spec, const DefenceLayerState& state, Time last_hurt);

} // namespace avrek
