#pragma once
#include <avrek/core/time.h>

#include <algorithm>
#include <cmath>

/// Shares of times, where a time goes on with another length.
namespace avrek::detail {

/// Returns a part of a time, rounded up to whole nanoseconds.
inline Duration part_of(Duration whole, double share) {
    return Duration{static_cast<Duration::rep>(std::ceil(static_cast<double>(whole.count()) * share))};
}

/// Returns a part as a share of the whole; 0 of no time.
inline double share_of(Duration part, Duration whole) {
    return whole > Duration::zero() ? static_cast<double>(part.count()) / static_cast<double>(whole.count())
                                    : 0.0;
}

/// Returns when something ends that has lasted `was` in all and lasts `is` now: it keeps the share that is
/// left. One that never ends stays so. One whose length was 0 or without end begins at `now`.
inline Time end_with_share(Time end, Time now, Duration was, Duration is) {
    if (was == is || (end == Time::max() && was != Duration::max())) {
        return end;
    }
    if (is == Duration::max()) {
        return Time::max();
    }
    if (was == Duration::max() || was <= Duration::zero()) {
        return now + is;
    }
    return end <= now ? end : now + part_of(is, share_of(end - now, was));
}

} // namespace avrek::detail
