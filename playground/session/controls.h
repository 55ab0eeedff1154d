#pragma once
#include <avrek/skirmish/intent.h>

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// The inputs of a player by name: keys, scripts and help share the names.
namespace avrek::playground {

/// Things that a player holds.
enum class Held : std::uint8_t {
    ahead,
    back,
    left,
    right,
    trigger,
    aim,
    reload,
    guard,
    sprint,
    crouch,
    jump,
    take,
    last_weapon,
    next_mode,
    light_strike,
    heavy_strike,
};

/// Number of things to hold.
inline constexpr std::size_t held_count = 16;

/// Things that happen once.
enum class Command : std::uint8_t {
    pause,        ///< or go on
    step_forward, ///< one tick
    step_back,    ///< one tick
    next_moment,  ///< to the next hit, kill, death or changed value
    previous_moment,
    slower,
    faster,
    next_view,
    undo,
    redo,
    save,    ///< the changed values, as an overlay
    compare, ///< the first values, or the changed ones
    next_entry,
    previous_entry,
    next_number,     ///< the next number of the panel is the one that keys change
    previous_number, ///< the number before
    larger,          ///< that number by a twentieth, or by one
    smaller,
    point_left, ///< that number's point of a curve, by a twentieth of the width of its drawing
    point_right,
    next_preset, ///< changes the values to those of the next preset
    all_keys,    ///< keys that the files do not give in the panel too, or not
    board,       ///< a board to shoot at: 10, 20, 30, 40 m away, or none
    link,        ///< over a simulated link, or alone again
    // From here on things that are shown, or not.
    show_regions,
    show_segments,
    show_cone,     ///< cone of the next shot, and the last hundred directions
    show_sight,    ///< lines from bots to the foes that they see, and the capsules of walkers
    show_recoil,   ///< path of the recoil against that which was pulled
    show_blasts,   ///< lines of sight of explosions
    show_ghosts,   ///< where the server rewound targets to
    show_second,   ///< the picture of the second player over a link, beside the player's
    second_window, ///< that picture in a window of its own
    show_kills,    ///< the last kill over a link, told three ways
    help,
};

/// Number of commands.
inline constexpr std::size_t command_count = 35;

/// Returns whether a command shows a thing, or hides it.
constexpr bool is_switch(Command command) {
    return command >= Command::show_regions;
}

/// Returns the name of a thing to hold, such as "light-strike".
std::string_view name_of(Held held);
/// Returns the name of a command, such as "step-back".
std::string_view name_of(Command command);
/// Returns what a command does, for the help.
std::string_view meaning_of(Command command);
/// Returns the thing to hold of this name, or none.
std::optional<Held> held_named(std::string_view name);
/// Returns the command of this name, or none.
std::optional<Command> command_named(std::string_view name);
/// Returns all names, of things to hold and of commands.
std::vector<std::string> held_names();
std::vector<std::string> command_names();

/// The inputs of a player: what is held, and where it looks.
struct Controls {
    std::uint32_t held = 0;    ///< bit n: the thing with number n
    Look look{};               ///< without recoil
    std::int8_t slot = -1;     ///< swaps to this slot; -1: no swap
    bool has(Held what) const; ///< whether it is held
    void set(Held what, bool is_held);
};

/// Returns the intent of a player with these inputs.
Intent intent_of(const Controls& controls, BodyId who);

/// Turns a look; it goes round, and up or down to the vertical.
Look turned(Look look, Radians left, Radians up);

} // namespace avrek::playground
