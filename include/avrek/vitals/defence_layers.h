#pragma once
#include <avrek/arsenal/defence_spec.h>
#include <avrek/core/time.h>

/// Points over the health: shields, armour, and health beyond its maximum.
namespace avrek {

/// The points of one layer as they were at a known moment; what they are later is computed.
struct DefenceLayerState {
    double points = 0.0; ///< in [0, DefenceLayerSpec::most]
    Time at{};
};

/// The points at `at`, when nothing happens to the body from `state.at` on and it was last hurt at
/// `last_hurt`: a refill begins at `state.at`, and not before DefenceLayerSpec::delay after `last_hurt`.
double points_at(const DefenceLayerSpec& spec, const DefenceLayerState& state, Time last_hurt, Time at);

/// When a layer that returns by itself is full; Time::max() for one that is, or never will be.
Time full_at(const DefenceLayerSpec& spec, const DefenceLayerState& state, Time last_hurt);

} // namespace avrek
