#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_digest.h>
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/level_files.h>

#include <initializer_list>
#include <span>
#include <string>
#include <vector>

namespace avrek {

/// Data that every machine of a networked match must have alike. A server compares them at the handshake.
struct GameData {
    Arsenal arsenal{};
    ArsenalDigest digest{}; ///< digest of the arsenal's texts
    Arena arena{};          ///< the level with its plan
    /// Texts of the arsenal, for overlays in a running fight; empty for one made in code.
    std::vector<ArsenalText> texts{};
};

/// Loads an arsenal from files that overlay each other, with its digest, and a level; without a file the
/// level is empty. Reports all faults of the arsenal at once, or of the level.
///
///     const Loaded<GameData> data = load_game_data({"data/halm-ring.toml"}, "data/atrium.toml");
[[nodiscard]] Loaded<GameData> load_game_data(std::span<const std::string> arsenal_files,
                                              const std::string& level_file = {});

/// Loads them from files that are listed at the call.
[[nodiscard]] Loaded<GameData> load_game_data(std::initializer_list<std::string> arsenal_files,
                                              const std::string& level_file = {});

} // namespace avrek
