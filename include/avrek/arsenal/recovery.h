#pragma once
#include <avrek/core/curve.h>
#include <avrek/core/time.h>

namespace avrek {

/// How something that a shot added disappears: it stays for a delay, then falls along a curve.
struct Recovery {
    Duration delay{};                     ///< at least 0
    Curve left{{{0.0, 1.0}, {0.4, 0.0}}}; ///< seconds after the delay -> share that remains, never rising
};

/// Returns the share that remains `since` after the shot: 1 until the delay is over. Closed form, independent
/// of the tick rate.
double share_left(const Recovery& recovery, Duration since);

} // namespace avrek
