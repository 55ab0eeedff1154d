#pragma once
#include <chrono>
#include <cstdint>

/// Simulation time: integer nanoseconds, computed from tick and shot numbers, never accumulated.
namespace avrek {

/// A length of time in whole nanoseconds.
using Duration = std::chrono::nanoseconds;

/// The clock of a simulation. It has no `now()`: the caller says what time it is.
struct SimulationClock {
    /// Nanoseconds.
    using duration = Duration;
    /// Integer type of nanoseconds.
    using rep = Duration::rep;
    /// Unit of the clock.
    using period = Duration::period;
    /// A time of the clock.
    using time_point = std::chrono::time_point<SimulationClock>;
    static constexpr bool is_steady = true;
};

/// A time in the simulation. `Time{}` is its start.
using Time = SimulationClock::time_point;

/// A half-open span of time: `begin` belongs to it, `end` does not.
struct Span {
    Time begin;
    Time end;
    friend bool operator==(const Span&, const Span&) = default;
};

/// The number of a tick, counted from 0.
using Tick = std::int64_t;

/// A tick rate in whole ticks per second.
struct TickRate {
    std::int32_t hertz = 60;
};

/// Returns the span of tick `tick`: [tick * 1e9 / hertz, (tick + 1) * 1e9 / hertz) in nanoseconds, rounded
/// down. Exact for every tick that ends within 63 bits of nanoseconds. Precondition (asserted): `tick >= 0`,
/// `rate.hertz >= 1`.
Span tick_span(Tick tick, TickRate rate);

/// Returns the tick whose span contains `at`. Precondition (asserted): `at >= Time{}`, `1 <= rate.hertz <=
/// 1e6`.
Tick tick_at(Time at, TickRate rate);

/// Returns the time of shot `shot` of a held weapon, counted from its shot 0: round(shot * 60e9 /
/// rounds_per_minute) ns. The product is exact up to shot 3e8, so the result is the nearest nanosecond for
/// every span under 50 days. Precondition (asserted): `rounds_per_minute > 0`.
Duration shot_offset(std::uint32_t shot, double rounds_per_minute);

/// Returns `seconds`, rounded to the nearest nanosecond. Precondition (asserted): finite, |seconds| < 9e9.
Duration from_seconds(double seconds);

/// Returns `duration` in seconds.
double to_seconds(Duration duration);

/// Returns `duration` in milliseconds.
double to_milliseconds(Duration duration);

} // namespace avrek
