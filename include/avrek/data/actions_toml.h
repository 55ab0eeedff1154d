#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>
#include <avrek/skirmish/game_action.h>

#include <string>
#include <string_view>
#include <vector>

/// Actions of a game from TOML, for trials: a list of tables [[action]], each with a time `at` in seconds and
/// one table that is named by its kind. docs/skirmish.md has the keys.
namespace avrek {

/// Maximum number of actions of a file.
inline constexpr std::size_t max_scripted_actions = 10'000;

/// Parses actions and reports every fault. Returns a value if none is an error: the actions in order of time,
/// those of one time in order of the file; validate() finds nothing in them. Never throws on bad input.
Loaded<std::vector<GameAction>> parse_actions(std::string_view text, std::string_view name,
                                              const Arsenal& arsenal);

/// Loads actions from a file of at most 4 MiB, as parse_actions().
Loaded<std::vector<GameAction>> load_actions(const std::string& file, const Arsenal& arsenal);

} // namespace avrek
