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

/// Levels out of files: TOML for solid pieces, glTF for meshes. docs/level.md describes both.
namespace avrek {

/// Loads a level out of a `.toml`, `.glb` or `.gltf` file, with the surfaces of an arsenal. All faults are
/// reported at once.
Loaded<Level> load_level(const std::string& file, const Arsenal& arsenal, const LevelSettings& settings = {});

/// A level and what stands in it.
struct Arena {
    Level level{};
    LevelPlan plan{};
};

/// The same with the spawn points, the points to walk to, the hazards and the pickups of the file.
Loaded<Arena> load_arena(const std::string& file, const Arsenal& arsenal, const LevelSettings& settings = {});

/// Where the meshes come from that a level file names.
using MeshSource = std::function<Loaded<std::vector<LevelMesh>>(const std::string& name)>;

/// The same from a text in memory, such as one out of a game's own archive; `name` is what diagnostics call
/// it.
Loaded<Level> parse_level(std::string_view text, std::string_view name, const MeshSource& meshes,
                          const Arsenal& arsenal, const LevelSettings& settings = {});

Loaded<Arena> parse_arena(std::string_view text, std::string_view name, const MeshSource& meshes,
                          const Arsenal& arsenal, const LevelSettings& settings = {});

/// The meshes of a glTF file: those of its nodes, in the axes of the world, one mesh for each part with a
/// material of its own.
Loaded<std::vector<LevelMesh>> load_gltf(const std::string& file, std::span<const SurfaceSpec> surfaces);

/// The same from a `.glb` in memory; `name` is what diagnostics call it.
Loaded<std::vector<LevelMesh>> parse_glb(std::span<const std::byte> bytes, std::string_view name,
                                         std::span<const SurfaceSpec> surfaces);

} // namespace avrek
