#pragma once
#include <avrek/data/level_files.h>

#include <cstddef>
#include <span>
#include <string>
#include <vector>

namespace avrek::detail {

/// Reads the meshes of a glTF file, binary or JSON, that is called `name` in messages. Buffers beside it are
/// read from a directory.
Loaded<std::vector<LevelMesh>> parse_gltf(std::span<const std::byte> bytes, const std::string& name,
                                          bool binary, const std::string& directory,
                                          std::span<const SurfaceSpec> surfaces);

} // namespace avrek::detail
