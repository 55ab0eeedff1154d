#pragma once
#include <avrek/core/curve.h>
#include <avrek/core/time.h>

#include <cstdint>
#include <string_view>

namespace avrek {

/// What a trigger does.
enum class TriggerMode : std::uint8_t {
    single,    ///< one shot for each press
    automatic, ///< shots for as long as the trigger is held
    burst,     ///< a few shots for each press
    charge,    ///< a press gathers power, letting go releases it
    spin_up,   ///< as automatic, at a rate that climbs while the trigger is held
};

/// The shots of one press, for TriggerMode::burst. The next burst comes at least one interval of the rate of
/// fire after the last shot.
struct BurstSpec {
    std::int32_t shots = 3;                       ///< 1 to 100
    Duration gap = std::chrono::milliseconds{60}; ///< between two shots of a burst, over 0
    bool cut_on_release = false;                  ///< letting go ends the burst; otherwise it runs to its end
};

/// How power gathers, for TriggerMode::charge. Power multiplies the damage.
struct ChargeSpec {
    Duration min{};                          ///< letting go before drops the charge; at most `full`
    Duration full = std::chrono::seconds{1}; ///< when the power is greatest, over 0
    Curve power{};                ///< seconds held -> power, at least 0; empty: in proportion, 1 when full
    bool fires_when_full = false; ///< releases by itself at `full`; otherwise it waits for letting go
};

/// How the rate climbs, for TriggerMode::spin_up.
struct SpinSpec {
    Duration up = std::chrono::seconds{1};   ///< from standing still to full speed, over 0
    Duration down = std::chrono::seconds{1}; ///< from full speed to standing still, over 0
    Curve rate{};            ///< spin from 0 to 1 -> share of the rate of fire, over 0; empty: always 1
    double fires_from = 0.0; ///< the spin that the first shot waits for, in [0, 1]
};

/// The word for `mode` in files.
std::string_view to_string(TriggerMode mode);

/// The power after `held`: from 0 to what the curve says, level from `full` on.
double charge_power(const ChargeSpec& charge, Duration held);

} // namespace avrek
