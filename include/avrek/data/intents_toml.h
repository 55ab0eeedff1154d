#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/weapon/weapon_events.h>

#include <string>
#include <string_view>
#include <vector>

/// Timed intents from TOML: a list of tables [[intent]], each with a time `at` in seconds and the changes
/// from then on. Everything else stays as it was. docs/range.md has the keys.
namespace avrek {

/// Maximum number of intents in a file.
inline constexpr std::size_t max_intents = 100'000;

/// Parses intents and reports every fault. Returns a value if none is an error. Never throws on bad input.
/// The first table changes `before`; the time of `before` does not count.
Loaded<std::vector<WeaponIntent>> parse_intents(std::string_view text, std::string_view name,
                                                const WeaponIntent& before = {});

/// Loads intents from a file of at most 4 MiB, as parse_intents().
Loaded<std::vector<WeaponIntent>> load_intents(const std::string& file, const WeaponIntent& before = {});

} // namespace avrek
