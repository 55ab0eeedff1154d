#pragma once
#include <avrek/core/time.h>

#include <cstdint>
#include <optional>
#include <string_view>

namespace avrek {

/// How rounds get into a magazine.
enum class ReloadStyle : std::uint8_t {
    magazine, ///< all at once
    rounds,   ///< one after the other: a start, a repeat for each, an end
};

/// What can end a reload before its time.
struct Interruptions {
    bool trigger = false; ///< pulling it, with a round to fire
    bool swap = false;    ///< putting the weapon away
    bool sprint = false;
    bool strike = false;
    bool stun = false;
    friend bool operator==(const Interruptions&, const Interruptions&) = default;
};

/// How a weapon is reloaded.
struct ReloadSpec {
    ReloadStyle style = ReloadStyle::magazine;
    Duration time{}; ///< of the whole reload, or of one repeat when it goes round by round; at least 0
    std::optional<Duration> empty_time{}; ///< as `time`, when the magazine was empty; as partial when none
    std::optional<Duration> commit{}; ///< from the start (of a repeat) to the rounds being in; none: the end
    Duration start{};                 ///< before the first repeat
    std::optional<Duration> empty_start{}; ///< as `start`, when the magazine was empty
    Duration end{};                        ///< after the last repeat
    bool keeps_rounds = true; ///< what was in the magazine stays; otherwise it is thrown away with it
    bool automatic = false;   ///< starts by itself when there is not enough for a shot
    Interruptions cancelled_by{.swap = true, .strike = true, .stun = true};
};

/// The word for `style` in files.
std::string_view to_string(ReloadStyle style);

} // namespace avrek
