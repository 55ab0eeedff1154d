#pragma once
#include <avrek/ballistics/blast.h>
#include <avrek/scene/world.h>

#include <array>
#include <cmath>
#include <optional>
#include <span>

/// How much of a body is in sight of a point: what blasts and sprays share.
namespace avrek::detail {

/// Where sight lines begin, how far they reach, and as of when.
struct Sight {
    Vector3 from = Vector3::Zero();
    Metres reach = 0.0;
    Time at = present;
};

/// Layers that stand in the way of sight lines.
inline constexpr CollisionLayers blocks_sight{CollisionLayer::level, CollisionLayer::glass};

/// A sight line; none where there is no room for anything between. It ends a little before what it leads to,
/// so that a body in touch with a wall is not behind it.
inline std::optional<Cast> sight_line(const Sight& sight, const Vector3& point) {
    constexpr Metres short_of = 1e-4;
    const Vector3 way = point - sight.from;
    const double distance = std::sqrt(way.squaredNorm());
    if (distance <= short_of) {
        return std::nullopt;
    }
    return Cast{.ray = {sight.from, way / distance, distance - short_of}, .begin = sight.at};
}

/// Whether nothing of the level stands between.
inline bool is_in_sight(const World& world, const Sight& sight, const Vector3& point) {
    const std::optional<Cast> line = sight_line(sight, point);
    return !line || !world.any_hit(*line, {.hits = blocks_sight});
}

/// Calls `look(hit)` for the point of a body that is `touched`, and for up to twelve places around it, as far
/// as lines to them meet the body.
template <class Look>
void each_sight_line(const World& world, const Sight& sight, const Hit& touched, const Look& look) {
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
    const Vector3 way = touched.point - sight.from;
    const double distance = std::sqrt(way.squaredNorm());
    const Across axes = across(distance > 0.0 ? Vector3(way / distance) : world_up());
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
        look(hit);
    }
}

/// The share of the sight lines to a body that reach it, of those that `counts` for their end, and the
/// nearest point that one of them reaches.
template <class Counts>
double exposure_of(const World& world, const Sight& sight, const Hit& touched, const Counts& counts,
                   Hit& nearest) {
    if (touched.inside) {
        nearest = touched;
        nearest.distance = 0.0;
        return 1.0;
    }
    std::array<Hit, blast_sight_lines> ends;
    std::array<Cast, blast_sight_lines> casts;
    std::size_t lines = 0;
    each_sight_line(world, sight, touched, [&](const Hit& hit) {
        if (counts(hit.point)) {
            // Where there is no room for anything between, the cast has no length and does not count.
            ends[lines] = hit;
            casts[lines] = sight_line(sight, hit.point).value_or(Cast{.ray = {}, .begin = sight.at});
            ++lines;
        }
    });
    std::array<bool, blast_sight_lines> is_blocked;
    world.any_hits(std::span{casts}.first(lines), {.hits = blocks_sight}, std::span{is_blocked}.first(lines));
    std::size_t reached = 0;
    for (std::size_t line = 0; line < lines; ++line) {
        if (!is_blocked[line] || casts[line].ray.length == 0.0) {
            if (reached == 0 || ends[line].distance < nearest.distance) {
                nearest = ends[line];
            }
            ++reached;
        }
    }
    return lines > 0 ? static_cast<double>(reached) / static_cast<double>(lines) : 0.0;
}

} // namespace avrek::detail
