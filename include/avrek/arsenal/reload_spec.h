#pragma once
#include <avrek/core/time.h>

#include <cstdint>
#include <optional>
#include <string_view>

namespace avrek {

/// How rounds get into a magazine.
enum class ReloadStyle : std::uint8_t {
    magazine, ///< all at once
    rounds,   ///< one by one: a start, a repeat for each, an end
};

/// Actions that can cancel a reload.
struct Interruptions {
    bool trigger = false; ///< pulling the trigger, with a round to fire
    bool swap = false;    ///< putting the weapon away
    bool sprint = false;
    bool strike = false;
    bool stun = false;
    friend bool operator==(const Interruptions&, const Interruptions&) = default;
};

/// How a weapon is reloaded.
struct ReloadSpec {
    ReloadStyle style = ReloadStyle::magazine;
    Duration time{};                      ///< whole reload, or one repeat; at least 0
    std::optional<Duration> empty_time{}; ///< reload from an empty magazine; none: as `time`
    /// From the start (of a repeat) until the rounds are in; none: the end.
    std::optional<Duration> commit{};
    Duration start{};                      ///< before the first repeat
    std::optional<Duration> empty_start{}; ///< `start` from an empty magazine; none: as `start`
    Duration end{};                        ///< after the last repeat
    bool keeps_rounds = true;              ///< rounds left in the magazine are kept, not discarded
    bool automatic = false;                ///< starts by itself when too few rounds are left for a shot
    Interruptions cancelled_by{.swap = true, .strike = true, .stun = true};
};

/// Returns the word for `style`, as files write it.
std::string_view to_string(ReloadStyle style);

} // namespace avrek
