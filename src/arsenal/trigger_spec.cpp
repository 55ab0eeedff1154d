#include <avrek/arsenal/trigger_spec.h>

#include <algorithm>

namespace avrek {

std::string_view to_string(TriggerMode mode) {
    switch (mode) {
    case TriggerMode::single:
        return "single";
    case TriggerMode::automatic:
        return "automatic";
    case TriggerMode::burst:
        return "burst";
    case TriggerMode::charge:
        return "charge";
    case TriggerMode::spin_up:
        return "spin-up";
    }
    return "unknown";
}

double charge_power(const ChargeSpec& charge, Duration held) {
    const Duration counted = std::clamp(held, Duration::zero(), charge.full);
    if (charge.power.points.empty()) {
        return charge.full > Duration::zero() ? to_seconds(counted) / to_seconds(charge.full) : 1.0;
    }
    // A full charge is a whole number of nanoseconds, and its point of the curve need not be one.
    constexpr double rounding = 1e-9;
    const bool full =
        counted == charge.full && charge.power.points.back().x <= to_seconds(charge.full) + rounding;
    return full ? charge.power.points.back().y : value_at(charge.power, to_seconds(counted));
}

} // namespace avrek
