#pragma once
#include <avrek/core/time.h>

#include <algorithm>

/// A value that rises from 0 to 1 in one time and falls back in another, kept as the moment at which the
/// present rise or fall would have begun at its end.
namespace avrek::detail {

inline double ramp_at(Time since, bool rising, Duration up, Duration down, Time at) {
    const Duration whole = rising ? up : down;
    const double gone =
        whole <= Duration::zero() ? 1.0 : std::clamp(to_seconds(at - since) / to_seconds(whole), 0.0, 1.0);
    return rising ? gone : 1.0 - gone;
}

/// The `since` of a ramp that turns at `at` with `value`.
inline Time ramp_since(double value, bool rising, Duration up, Duration down, Time at) {
    return rising ? at - from_seconds(value * to_seconds(up))
                  : at - from_seconds((1.0 - value) * to_seconds(down));
}

} // namespace avrek::detail
