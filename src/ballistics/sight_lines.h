#pragma once
#include <avrek/ballistics/blast.h>
#include <avrek/scene/world.h>

#include <array>
#include <cmath>

/// How much of a body is in sight of a point: what blasts and sprays share.
namespace avrek {

/// Where sight lines begin, how far they reach, and as of when.
struct Sight {
    Vector3 from = Vector3::Zero();
    Metres reach = 0.0;
    Time at = present;
};

/// Whether nothing of the level stands between. Sight lines end a little before what they lead to, so that a
/// body in touch with a wall is not behind it.
inline bool is_in_sight(const World& world, const Sight& sight, const Vector3& point) {
    constexpr Metres short_of = 1e-4;
    constexpr CollisionLayers blocks{CollisionLayer::level, CollisionLayer::glass};
    const Vector3 way = point - sight.from;
    const double distance = std::sqrt(way.squaredNorm());
    if (distance <= short_of) {
        return true;
    }
    const Ray ray{sight.from, way / distance, distance - short_of};
    return !world.any_hit({.ray = ray, .begin = sight.at}, {.hits = blocks});
}

/// The share of the sight lines to a body that reach it, of those that `counts` for their end, and the
/// nearest point that one of them reaches. `touched` is a point of the body; the lines lead there and to up
/// to twelve places around it, as far as they meet the body.
template <class Counts>
double exposure_of(const World& world, const Sight& sight, const Hit& touched, const Counts& counts,
                   Hit& nearest) {
    struct Offset {
        Metres left;
        Metres up;
    };
    static constexpr std::array<Offset, blast_sight_lines> offsets{{{0.0, 0.0},
                                                                    {0.2, 0.0},
                                                                    {-0.2, 0.0},
                                                                    {0.0, 0.3},
                                                                    {0.0, -0.3},
                                                                    {0.0, 0.6},
                                                                    {0.0, -0.6},
                                                                    {0.0, 0.9},
                                                                    {0.0, -0.9},
                                                                    {0.15, 0.6},
                                                                    {-0.15, 0.6},
                                                                    {0.15, -0.6},
                                                                    {-0.15, -0.6}}};
    if (touched.inside) {
        nearest = touched;
        nearest.distance = 0.0;
        return 1.0;
    }
    const Vector3 way = touched.point - sight.from;
    const double distance = std::sqrt(way.squaredNorm());
    const Vector3 direction = distance > 0.0 ? Vector3(way / distance) : world_up();
    const Across axes = across(direction);
    int lines = 0;
    int reached = 0;
    for (const Offset& offset : offsets) {
        Hit hit = touched;
        hit.distance = distance;
        if (offset.left != 0.0 || offset.up != 0.0) {
            const Vector3 aim = way + offset.left * axes.left + offset.up * axes.up;
            const Ray ray{sight.from, aim.normalized(), sight.reach};
            const std::optional<Hit> met = world.closest_hit({.ray = ray, .begin = sight.at},
                                                             {.hits = {touched.layer}, .only = touched.body});
            if (!met) {
                continue;
            }
            hit = *met;
        }
        if (!counts(hit.point)) {
            continue;
        }
        ++lines;
        if (is_in_sight(world, sight, hit.point)) {
            if (reached == 0 || hit.distance < nearest.distance) {
                nearest = hit;
            }
            ++reached;
        }
    }
    return lines > 0 ? static_cast<double>(reached) / lines : 0.0;
}

} // namespace avrek
