#include <avrek/vitals/defence_layers.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

// When a refill begins; times before the start of the simulation stand for never hurt.
Time refill_begin(const DefenceLayerSpec& spec, const DefenceLayerState& state, Time last_hurt) {
    return last_hurt == Time::min() ? state.at : std::max(state.at, last_hurt + spec.delay);
}

} // namespace

double points_at(const DefenceLayerSpec& spec, const DefenceLayerState& state, Time last_hurt, Time at) {
    double points = state.points;
    if (spec.decay > 0.0) {
        points = std::max(0.0, points - spec.decay * to_seconds(at - state.at));
    }
    if (spec.refill > 0.0) {
        const Time begin = refill_begin(spec, state, last_hurt);
        if (at > begin) {
            points = std::min(spec.max, points + spec.refill * to_seconds(at - begin));
        }
    }
    return points;
}

Time full_at(const DefenceLayerSpec& spec, const DefenceLayerState& state, Time last_hurt) {
    const double missing = spec.max - state.points;
    if (!(spec.refill > 0.0) || missing <= 0.0 || missing / spec.refill > 1e8) {
        return Time::max();
    }
    const auto needed = Duration{static_cast<Duration::rep>(std::ceil(missing / spec.refill * 1e9))};
    return refill_begin(spec, state, last_hurt) + needed;
}

} // namespace avrek
