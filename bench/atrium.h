#pragma once
#include <avrek/core/elementary.h>
#include <avrek/core/random.h>
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/level_files.h>
#include <avrek/scene/scene.h>
#include <avrek/weapon/spread.h>

#include <cstdio>
#include <cstdlib>
#include <string>
#include <vector>

/// The demo level and rays in it, for benchmarks.
namespace bench {

inline std::string data(const std::string& name) {
    return std::string{AVREK_SOURCE_DIR "/data/"} + name;
}

template <class Value>
Value loaded(avrek::Loaded<Value> found) {
    for (const avrek::Diagnostic& fault : found.diagnostics) {
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    if (!found) {
        std::exit(1);
    }
    return std::move(*found);
}

inline const avrek::Arsenal& arsenal() {
    static const avrek::Arsenal arsenal = loaded(avrek::load_arsenal(data("halm-ring.toml")));
    return arsenal;
}

inline const std::vector<avrek::LevelMesh>& atrium_meshes() {
    static const std::vector<avrek::LevelMesh> meshes =
        loaded(avrek::load_gltf(data("atrium.glb"), arsenal().surfaces));
    return meshes;
}

inline const avrek::Arena& atrium() {
    static const avrek::Arena arena = loaded(load_arena(data("atrium.toml"), arsenal()));
    return arena;
}

/// Rays of a fight: from eye height anywhere in the hall, in all directions, mostly level.
inline std::vector<avrek::Ray> atrium_rays(std::size_t count, double length = 60.0) {
    std::vector<avrek::Ray> rays;
    for (std::size_t index = 0; index < count; ++index) {
        avrek::RandomKey key{.seed = 5, .shot = static_cast<std::uint32_t>(index)};
        const auto [x, z] = avrek::random_pair(key);
        key.block = 1;
        const auto [turn, lift] = avrek::random_pair(key);
        rays.push_back({{26 * x - 13, 1.6, 56 * z - 28},
                        avrek::direction_of({2 * avrek::pi * turn, 1.2 * (lift - 0.4)}),
                        length});
    }
    return rays;
}

/// The same in cones of `each` rays, as wide as a shot of pellets.
inline std::vector<avrek::Ray> cone_rays(std::size_t count, std::size_t each) {
    constexpr avrek::Radians widest = 0.045;
    std::vector<avrek::Ray> rays;
    for (const avrek::Ray& axis : atrium_rays(count / each)) {
        for (std::size_t pellet = 0; pellet < each; ++pellet) {
            const avrek::RandomKey key{.seed = 6, .shot = static_cast<std::uint32_t>(rays.size())};
            rays.push_back({axis.origin, avrek::spread_direction(axis.direction, widest, key), axis.length});
        }
    }
    return rays;
}

/// A rig of fifteen capsules, such as a skeleton has.
inline avrek::RigSpec fifteen_capsules() {
    avrek::RigSpec rig;
    const auto add = [&rig](avrek::Vector3 from, avrek::Vector3 to, double radius) {
        rig.regions.push_back({"part", {avrek::Capsule{from, to, radius}}, 0});
    };
    add({0, 1.62, 0}, {0, 1.70, 0.02}, 0.12);
    add({0, 1.42, 0}, {0, 1.55, 0}, 0.07);
    add({0, 1.12, 0}, {0, 1.36, 0}, 0.18);
    add({-0.09, 0.98, 0}, {0.09, 0.98, 0}, 0.14);
    add({0, 1.0, 0}, {0, 1.12, 0}, 0.16);
    for (const double side : {-1.0, 1.0}) {
        add({side * 0.24, 1.40, 0}, {side * 0.33, 1.12, 0.02}, 0.06);
        add({side * 0.33, 1.12, 0.02}, {side * 0.36, 0.86, 0.10}, 0.05);
        add({side * 0.11, 0.88, 0}, {side * 0.13, 0.48, 0.02}, 0.085);
        add({side * 0.13, 0.48, 0.02}, {side * 0.14, 0.07, -0.02}, 0.065);
        add({side * 0.14, 0.05, -0.02}, {side * 0.15, 0.05, 0.16}, 0.05);
    }
    return rig;
}

/// Where body number `index` of a crowd in the hall stands.
inline avrek::Pose crowd_pose(std::uint32_t index) {
    const auto [x, z] = avrek::random_pair({.seed = 9, .combatant = index});
    return {{26 * x - 13, 0.2, 56 * z - 28}, avrek::turned_to({6.28 * x * z, 0})};
}

} // namespace bench
