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
    return value_at(charge.power, to_seconds(counted));
}

} // namespace avrek
