#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/weapon/weapon_events.h>

#include <string>
#include <string_view>
#include <vector>

/// Timed intents out of TOML: a list of tables [[intent]], each with the time `at` in seconds and what
/// changes from then on; what it does not name stays as it was. The keys are in docs/range.md.
namespace avrek {

/// Reads intents from a text and reports every fault; there is a value when none is an error. Never throws on
/// bad input.
/// The first table changes `before`, whose time does not count.
Loaded<std::vector<WeaponIntent>> parse_intents(std::string_view text, std::string_view name,
                                                const WeaponIntent& before = {});

/// Reads intents from a file of at most 4 MiB, as parse_intents() does.
Loaded<std::vector<WeaponIntent>> load_intents(const std::string& file, const WeaponIntent& before = {});

} // namespace avrek
