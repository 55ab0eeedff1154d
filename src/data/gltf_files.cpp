#include "gltf.h"

#include <filesystem>
#include <fstream>

namespace avrek {

namespace {

constexpr std::size_t max_gltf_bytes = std::size_t{1} << 30;

} // namespace

Loaded<std::vector<LevelMesh>> parse_glb(std::span<const std::byte> bytes, std::string_view name,
                                         std::span<const SurfaceSpec> surfaces) {
    return detail::parse_gltf(bytes, std::string{name}, true, "", surfaces);
}

Loaded<std::vector<LevelMesh>> load_gltf(const std::string& file, std::span<const SurfaceSpec> surfaces) {
    std::error_code problem;
    const auto size = std::filesystem::file_size(file, problem);
    std::ifstream stream{file, std::ios::binary};
    std::vector<std::byte> bytes;
    if (!problem && stream && size <= max_gltf_bytes) {
        bytes.resize(size);
        stream.read(reinterpret_cast<char*>(bytes.data()), static_cast<std::streamsize>(size));
    }
    if (problem || !stream || size > max_gltf_bytes) {
        const std::string why = problem  ? problem.message()
                                : stream ? "it is too large"
                                         : std::string{"it cannot be read"};
        return {std::nullopt,
                {{Severity::error,
                  file,
                  0,
                  0,
                  {},
                  "cannot be read: " + why,
                  "a .glb or .gltf file of at most 1 GiB",
                  {}}}};
    }
    return detail::parse_gltf(bytes, file, std::filesystem::path{file}.extension() == ".glb",
                              std::filesystem::path{file}.parent_path().string(), surfaces);
}

} // namespace avrek
