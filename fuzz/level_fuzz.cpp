// Any bytes, as a glTF mesh in its binary form or as a level file: an answer, never a crash, and a level that
// can be asked only without errors. The first byte chooses.
#include <avrek/data/level_files.h>
#include <avrek/scene/scene.h>

#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <string_view>

namespace {

void ask(avrek::Level level) {
    const avrek::Scene scene{std::move(level)};
    const avrek::Ray ray{{0.1, 5.0, 0.2}, avrek::Vector3{0.1, -0.9, 0.2}.normalized(), 20.0};
    if (const auto hit = scene.closest_hit({.ray = ray}, {}); hit && !(hit->distance >= 0.0)) {
        std::abort();
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
    if (size == 0) {
        return 0;
    }
    const std::span<const std::byte> rest = std::as_bytes(std::span{bytes, size}).subspan(1);
    const avrek::Arsenal arsenal{.surfaces = {{.id = "soil"}}};
    const auto no_meshes = [](const std::string& name) {
        return avrek::Loaded<std::vector<avrek::LevelMesh>>{
            std::nullopt, {{avrek::Severity::error, name, 0, 0, {}, "there are no meshes here", {}, {}}}};
    };
    if (bytes[0] % 2 == 0) {
        const auto meshes = avrek::parse_glb(rest, "fuzz.glb", arsenal.surfaces);
        if (meshes) {
            ask(avrek::Level{{}, *meshes});
        }
    } else if (auto level = avrek::parse_level({reinterpret_cast<const char*>(rest.data()), rest.size()},
                                               "fuzz.toml", no_meshes, arsenal)) {
        ask(std::move(*level));
    }
    return 0;
}
