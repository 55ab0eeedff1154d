#pragma once
#include <avrek/arsenal/link_spec.h>
#include <avrek/core/time.h>
#include <avrek/data/arsenal_values.h>

#include <cstdint>
#include <string_view>
#include <vector>

namespace avrek::playground {

/// Settings of a fight over a link.
struct LinkSettings {
    LinkSpec yours{.latency = std::chrono::milliseconds{60}};  ///< the player's link
    LinkSpec theirs{.latency = std::chrono::milliseconds{60}}; ///< the second player's link
    TickRate rate{64};                  ///< rate of the server, 10 to 128; a change begins anew
    std::int32_t snapshot_interval = 2; ///< ticks, 1 to 16; a change begins anew
    /// Extra delay before remote players are drawn, 0 to 0.3 s; a change begins anew.
    Duration interpolation = std::chrono::milliseconds{70};
};

/// Returns whether a change from one to the other needs a new match.
inline bool begins_anew(const LinkSettings& one, const LinkSettings& other) {
    return one.rate.hertz != other.rate.hertz || one.snapshot_interval != other.snapshot_interval ||
           one.interpolation != other.interpolation;
}

/// Returns the settings as numbers to tune: "link.latency" and so on.
std::vector<ArsenalNumber> numbers_of(const LinkSettings& link);
/// Sets one of them, within its range. Returns false for another path.
bool set_number(LinkSettings& link, std::string_view path, double value);

} // namespace avrek::playground
