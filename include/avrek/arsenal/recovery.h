#pragma once
#include <avrek/core/curve.h>
#include <avrek/core/time.h>

namespace avrek {

/// How something that a shot added goes away again: it stays for a while, then falls along a curve.
struct Recovery {
    Duration delay{}; ///< at least 0
    Curve left{
        {{0.0, 1.0}, {0.4, 0.0}}}; ///< seconds after the delay -> share that is left, in [0, 1], never rising
};

/// The share that is left `since` after the shot: 1 until the delay is over. In closed form: it does not
/// matter how the time was cut into ticks.
double share_left(const Recovery& recovery, Duration since);

} // namespace avrek
