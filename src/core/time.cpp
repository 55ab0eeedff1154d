#include <avrek/core/time.h>

#include <cassert>
#include <cmath>
#include <limits>

namespace avrek {

namespace {

constexpr std::int64_t nanoseconds_per_second = 1'000'000'000;

// Whole seconds and the rest apart where the product would leave 64 bits; divisions take long.
Time tick_begin(Tick tick, TickRate rate) {
    constexpr Tick fits = std::numeric_limits<std::int64_t>::max() / nanoseconds_per_second;
    if (tick < fits) {
        return Time{Duration{tick * nanoseconds_per_second / rate.hertz}};
    }
    const std::int64_t whole = tick / rate.hertz;
    const std::int64_t rest = tick % rate.hertz;
    return Time{Duration{whole * nanoseconds_per_second + rest * nanoseconds_per_second / rate.hertz}};
}

} // namespace

Span tick_span(Tick tick, TickRate rate) {
    assert(tick >= 0 && rate.hertz >= 1);
    return {tick_begin(tick, rate), tick_begin(tick + 1, rate)};
}

Tick tick_at(Time at, TickRate rate) {
    assert(at >= Time{} && rate.hertz >= 1 && rate.hertz <= 1'000'000);
    const std::int64_t nanoseconds = at.time_since_epoch().count();
    const std::int64_t whole = nanoseconds / nanoseconds_per_second;
    const std::int64_t rest = nanoseconds % nanoseconds_per_second;
    // floor(n * 1e9 / h) <= t exactly when n * 1e9 < (t + 1) * h.
    return whole * rate.hertz + ((rest + 1) * rate.hertz - 1) / nanoseconds_per_second;
}

Duration shot_offset(std::uint32_t shot, double rounds_per_minute) {
    assert(rounds_per_minute > 0.0);
    return Duration{std::llround(static_cast<double>(shot) * 60e9 / rounds_per_minute)};
}

Duration from_seconds(double seconds) {
    assert(std::isfinite(seconds) && std::abs(seconds) < 9e9);
    return Duration{std::llround(seconds * 1e9)};
}

double to_seconds(Duration duration) {
    return static_cast<double>(duration.count()) * 1e-9;
}

double to_milliseconds(Duration duration) {
    return static_cast<double>(duration.count()) * 1e-6;
}

} // namespace avrek
