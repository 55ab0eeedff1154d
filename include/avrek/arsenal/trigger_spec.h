#pragma once
#include <avrek/core/curve.h>
#include <avrek/core/time.h>

#include <cstdint>
#include <string_view>

namespace avrek {

/// Rule by which a trigger fires.
enum class TriggerMode : std::uint8_t {
    single,    ///< one shot per press
    automatic, ///< shots as long as the trigger is held
    burst,     ///< a few shots per press, or again and again: see BurstSpec
    charge,    ///< a press gathers power, the release fires
    spin_up,   ///< automatic, at a rate that rises while the trigger is held
};

/// The shots of one press, for TriggerMode::burst. The next burst starts at least one interval of the rate of
/// fire after the last shot.
struct BurstSpec {
    std::int32_t shots = 3;                       ///< 1 to 100
    Duration gap = std::chrono::milliseconds{60}; ///< time between two shots of a burst, over 0
    bool cut_on_release = false;                  ///< releasing the trigger ends the burst
    bool repeats = false;                         ///< bursts as long as the trigger is held
};

/// Gathering of power, for TriggerMode::charge. Power multiplies the damage.
struct ChargeSpec {
    Duration min{};                          ///< releasing earlier drops the charge; at most `full`
    Duration full = std::chrono::seconds{1}; ///< time to full power, over 0
    /// Seconds held -> power, at least 0; empty: proportional, 1 when full.
    Curve power{};
    bool fires_when_full = false; ///< fires at `full`; otherwise it waits for the release
};

/// Rise of the rate of fire, for TriggerMode::spin_up.
struct SpinSpec {
    Duration up = std::chrono::seconds{1};   ///< time from standstill to full speed, over 0
    Duration down = std::chrono::seconds{1}; ///< time from full speed to standstill, over 0
    /// Spin from 0 to 1 -> share of the rate of fire, over 0; empty: always 1.
    Curve rate{};
    double fires_from = 0.0; ///< spin at which the first shot leaves, in [0, 1]
};

/// Returns the word for `mode`, as files write it.
std::string_view to_string(TriggerMode mode);

/// Returns the power after `held`; constant from `full` on.
double charge_power(const ChargeSpec& charge, Duration held);

} // namespace avrek
