#pragma once
#include "controls.h"
#include "link_settings.h"
#include <avrek/core/diagnostics.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Scripts: inputs, commands and values at their times, from TOML.
namespace avrek::playground {

/// A step of a script, done at its time.
struct ScriptStep {
    Time at{}; ///< on a clock that a pause does not stop
    std::vector<Held> hold{};
    std::vector<Held> release{};
    std::vector<Command> commands{};
    std::optional<Look> look{};
    std::optional<int> slot{};
    std::map<std::string, double> values{}; ///< by path
    std::string entry{};                    ///< shown in the panel; empty: as before
    std::optional<LinkSettings> link{};     ///< to play over; a link that is there changes
    std::string preset{};                   ///< overlay to take the values of; empty: none
    std::optional<Tick> seek{};
    std::string shot{}; ///< picture to write; empty: none
};

/// Parses a script: `[[do]]` with `at` in seconds, and any of `hold`, `release` (names), `press` (commands),
/// `look` ([yaw, pitch] in degrees), `slot`, `set` (a table of paths and values), `entry`, `seek` (a tick),
/// `preset` (a file), `link` (a table; see docs/playground.md), `shot` (a file). Reports every fault. Steps
/// come in order of time.
Loaded<std::vector<ScriptStep>> parse_script(std::string_view text, std::string_view name);

} // namespace avrek::playground
