#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/skirmish/game_action.h>
#include <avrek/skirmish/intent.h>
#include <avrek/skirmish/skirmish.h>

#include <cstddef>
#include <cstdint>
#include <functional>
#include <span>
#include <vector>

/// The game's turn before each tick, on servers and on predicting clients.
namespace avrek {

/// A request of a player to the game, sent once and reliably, such as "put a wall there".
struct GameCommand {
    BodyId who = nobody;            ///< the player's combatant
    Tick tick = 0;                  ///< tick that it was made for; on servers it can be past by now
    std::uint16_t kind = 0;         ///< the game's own number
    std::vector<std::byte> bytes{}; ///< at most `max_command_bytes`
};

/// Maximum size of a command in bytes.
inline constexpr std::size_t max_command_bytes = 256;

/// One turn of the game: intents and commands to look at, actions to add.
struct GameTick {
    const Skirmish& fight; ///< at the start of the tick; a client's has the player's own combatant alone
    std::span<const Intent> intents;       ///< intents of this tick; a combatant without one repeats its last
    std::span<const GameCommand> commands; ///< in order of arrival; on clients the player's own
    std::vector<GameAction>& actions;      ///< add to them
    bool predicts = false;                 ///< on clients, where a tick can be done again after a correction
};

/// The game's turn. A pure function of the tick and of the CompanionState of the fight: clients repeat it.
///
///     server.on_tick([&](GameTick& tick) {
///         for (const GameCommand& command : tick.commands) {
///             tick.actions.push_back({.at = tick.fight.now(), .by = command.who, .tag = put_wall,
///                                     .what = HazardAction{.hazard = wall, .pose = pose_in(command)}});
///         }
///     });
using GameTickHook = std::function<void(GameTick&)>;

} // namespace avrek
