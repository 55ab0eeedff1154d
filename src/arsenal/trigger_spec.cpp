#include "../core/words.h"
#include <avrek/arsenal/trigger_spec.h>

#include <algorithm>

namespace avrek {

std::string_view to_string(TriggerMode mode) {
    static constexpr auto words =
        std::to_array<std::string_view>({"single", "automatic", "burst", "charge", "spin-up"});
    return detail::word_of(words, mode);
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
