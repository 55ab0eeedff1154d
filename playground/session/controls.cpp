#include "controls.h"

#include <algorithm>
#include <array>

namespace avrek::playground {

namespace {

constexpr std::array<std::string_view, held_count> held_words{
    "ahead",  "back",   "left", "right", "trigger",     "aim",       "reload",       "guard",
    "sprint", "crouch", "jump", "take",  "last-weapon", "next-mode", "light-strike", "heavy-strike"};

struct CommandWords {
    std::string_view name;
    std::string_view meaning;
};

constexpr std::array<CommandWords, command_count> command_words{{
    {"pause", "pause, or go on"},
    {"step-forward", "one tick forward"},
    {"step-back", "one tick back"},
    {"next-moment", "to the next hit, kill, death or changed value"},
    {"previous-moment", "to the one before"},
    {"slower", "half the speed"},
    {"faster", "twice the speed"},
    {"next-view", "through the eye, from behind, from above"},
    {"undo", "take back the last change"},
    {"redo", "make it again"},
    {"save", "save the changed values as an overlay"},
    {"compare", "the first values, or the changed ones"},
    {"next-entry", "tune the next entry"},
    {"previous-entry", "tune the entry before"},
    {"next-number", "the next number of the panel, for the keys"},
    {"previous-number", "the number before"},
    {"larger", "that number larger by a twentieth"},
    {"smaller", "that number smaller by a twentieth"},
    {"point-left", "that number's point of a curve to the left"},
    {"point-right", "the same to the right"},
    {"next-preset", "the values of the next preset"},
    {"all-keys", "keys that the files do not give, too, or not"},
    {"board", "a board to shoot at, 10 to 40 m away, or none"},
    {"link", "over a simulated link, or alone again"},
    {"show-regions", "hit regions"},
    {"show-segments", "paths of shots with distances"},
    {"show-cone", "cone of the next shot, and where the last hundred went"},
    {"show-sight", "what bots see, and what walkers collide with"},
    {"show-recoil", "the path of the recoil against the pulled one"},
    {"show-blasts", "lines of sight of explosions"},
    {"show-ghosts", "where the server rewound targets to"},
    {"show-second", "the second player's picture"},
    {"second-window", "that picture in a window of its own"},
    {"show-kills", "the last kill told three ways"},
    {"help", "this help"},
}};

// Buttons that stand for a thing to hold.
constexpr std::pair<Held, Button> buttons[] = {
    {Held::trigger, Button::trigger},
    {Held::aim, Button::aim},
    {Held::reload, Button::reload},
    {Held::guard, Button::guard},
    {Held::sprint, Button::sprint},
    {Held::crouch, Button::crouch},
    {Held::jump, Button::jump},
    {Held::take, Button::take},
    {Held::last_weapon, Button::last_weapon},
    {Held::next_mode, Button::next_mode},
};

} // namespace

std::string_view name_of(Held held) {
    return held_words[static_cast<std::size_t>(held)];
}

std::string_view name_of(Command command) {
    return command_words[static_cast<std::size_t>(command)].name;
}

std::string_view meaning_of(Command command) {
    return command_words[static_cast<std::size_t>(command)].meaning;
}

std::optional<Held> held_named(std::string_view name) {
    const auto found = std::find(held_words.begin(), held_words.end(), name);
    return found != held_words.end() ? std::optional{static_cast<Held>(found - held_words.begin())}
                                     : std::nullopt;
}

std::optional<Command> command_named(std::string_view name) {
    const auto found = std::find_if(command_words.begin(), command_words.end(),
                                    [name](const CommandWords& words) { return words.name == name; });
    return found != command_words.end() ? std::optional{static_cast<Command>(found - command_words.begin())}
                                        : std::nullopt;
}

std::vector<std::string> held_names() {
    return {held_words.begin(), held_words.end()};
}

std::vector<std::string> command_names() {
    std::vector<std::string> names;
    for (const CommandWords& words : command_words) {
        names.emplace_back(words.name);
    }
    return names;
}

bool Controls::has(Held what) const {
    return (held >> static_cast<unsigned>(what) & 1U) != 0;
}

void Controls::set(Held what, bool is_held) {
    const std::uint32_t bit = 1U << static_cast<unsigned>(what);
    held = is_held ? held | bit : held & ~bit;
}

Intent intent_of(const Controls& controls, BodyId who) {
    Intent intent{.who = who,
                  .yaw = static_cast<float>(controls.look.yaw),
                  .pitch = static_cast<float>(controls.look.pitch),
                  .slot = controls.slot};
    const auto way = [&controls](Held plus, Held minus) {
        return (controls.has(plus) ? 1.0F : 0.0F) - (controls.has(minus) ? 1.0F : 0.0F);
    };
    intent.ahead = way(Held::ahead, Held::back);
    intent.left = way(Held::left, Held::right);
    if (intent.ahead != 0.0F && intent.left != 0.0F) {
        intent.ahead *= 0.70710678F;
        intent.left *= 0.70710678F;
    }
    for (const auto& [held, button] : buttons) {
        intent.buttons.set(button, controls.has(held));
    }
    intent.strike = controls.has(Held::light_strike)   ? std::int8_t{0}
                    : controls.has(Held::heavy_strike) ? std::int8_t{1}
                                                       : std::int8_t{-1};
    return intent;
}

Look turned(Look look, Radians left, Radians up) {
    return {shortest_turn(look.yaw + left), std::clamp(look.pitch + up, -0.499 * pi, 0.499 * pi)};
}

} // namespace avrek::playground
