#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>
#include <avrek/scene/level.h>
#include <avrek/skirmish/level_plan.h>

#include <cstddef>
#include <functional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Loading levels: TOML for solid pieces, glTF for meshes. docs/level.md describes both.
namespace avrek {

/// Loads a level from a `.toml`, `.glb` or `.gltf` file, with the surfaces of an arsenal. Reports all faults
/// at once.
Loaded<Level> load_level(const std::string& file, const Arsenal& arsenal, const LevelSettings& settings = {});

/// A level with its plan.
struct Arena {
    Level level{};
    LevelPlan plan{};
};

/// Loads a level with the spawn points, waypoints, hazards and pickups of its file.
Loaded<Arena> load_arena(const std::string& file, const Arsenal& arsenal, const LevelSettings& settings = {});

/// Source of the meshes that a level file names.
using MeshSource = std::function<Loaded<std::vector<LevelMesh>>(const std::string& name)>;

/// Parses a level from memory, such as from a game's own archive. `name` is its name in diagnostics.
Loaded<Level> parse_level(std::string_view text, std::string_view name, const MeshSource& meshes,
                          const Arsenal& arsenal, const LevelSettings& settings = {});

/// Parses a level with its plan from memory.
Loaded<Arena> parse_arena(std::string_view text, std::string_view name, const MeshSource& meshes,
                          const Arsenal& arsenal, const LevelSettings& settings = {});

/// Loads the meshes of a glTF file: those of its nodes, in the world's axes, one mesh per part with its own
/// material.
Loaded<std::vector<LevelMesh>> load_gltf(const std::string& file, std::span<const SurfaceSpec> surfaces);

/// Parses a `.glb` from memory. `name` is its name in diagnostics.
Loaded<std::vector<LevelMesh>> parse_glb(std::span<const std::byte> bytes, std::string_view name,
                                         std::span<const SurfaceSpec> surfaces);

} // namespace avrek
