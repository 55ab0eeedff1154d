#include "level_visits.h"
#include <avrek/scene/nearest.h>

#include <algorithm>
#include <array>

namespace avrek::detail {

namespace {

using tree::NearestTriangle;

// A hit without what a place on the level's surface is.
Hit hit_at(const Ray& ray, Metres radius, const Entry& entry) {
    Hit hit;
    hit.distance = entry.distance;
    hit.share = ray.length > 0.0 ? entry.distance / ray.length : 0.0;
    hit.point = point_at(ray, entry.distance);
    if (!entry.inside) {
        hit.point -= radius * entry.normal;
    }
    hit.normal = entry.normal;
    hit.inside = entry.inside;
    hit.back = entry.back;
    return hit;
}

template <class Look>
void pieces_along(const LevelData& level, const Cast& cast, CollisionLayers layers, double limit,
                  const Look& look) {
    for (const std::uint32_t piece : level.half_spaces) {
        if (layers.contains(level.pieces[piece].layer) && !look(piece, limit)) {
            return;
        }
    }
    PieceLeaves<Look> leaves{level, layers, look};
    level.walks->along(level.piece_tree, tree::path_of(cast.ray, cast.radius), limit,
                       visit_leaves<PieceLeaves<Look>>, &leaves);
}

template <class Look>
void triangles_along(const LevelData& level, const Cast& cast, CollisionLayers layers, double limit,
                     const Look& look) {
    struct Visit {
        const LevelData& level;
        CollisionLayers layers;
        const Look& look;
    } visit{level, layers, look};
    level.walks->triangles_along(
        level.triangle_tree, level.triangle_leaves.data(), tree::path_of(cast.ray, cast.radius),
        layers.bits(), limit,
        [](void* context, std::uint32_t leaf, std::uint32_t index, double& to) {
            const auto& [of, wanted, look_at] = *static_cast<const Visit*>(context);
            const tree::TriangleLeaf& triangles = of.triangle_leaves[leaf];
            const Placed at{leaf, index};
            return triangles.number[index] == tree::nothing ||
                   !wanted.contains(static_cast<CollisionLayer>(triangles.layer[index])) ||
                   look_at(at, triangle_of(of, at), to);
        },
        &visit);
}

// The first contact so far: with a piece, or with a triangle. The record of it is made once, at the end.
struct FirstContact {
    Entry entry{};
    std::uint32_t piece = tree::nothing;
    Placed triangle{tree::nothing, 0};
    std::uint32_t part = tree::nothing; // as in Hit

    bool is_there() const { return part != tree::nothing; }
    // By World's order: two contacts at the same distance have the same share of the cast.
    bool is_after(double distance, std::uint32_t its_part) const {
        return !is_there() || distance < entry.distance || (distance == entry.distance && its_part < part);
    }
};

void meet_triangles(const LevelData& level, const Cast& cast, CollisionLayers layers, FirstContact& first) {
    const double limit = first.is_there() ? first.entry.distance : cast.ray.length;
    triangles_along(level, cast, layers, limit, [&](const Placed& at, const Triangle& triangle, double& to) {
        const auto entry = sweep(cast.ray, cast.radius, triangle);
        if (entry && first.is_after(entry->distance, part_of(level, at))) {
            first = {*entry, tree::nothing, at, part_of(level, at)};
            to = std::min(to, entry->distance);
        }
        return true;
    });
}

// The first contact with a piece.
void meet_pieces(const LevelData& level, const Cast& cast, CollisionLayers layers, FirstContact& first) {
    if (level.pieces.empty()) {
        return;
    }
    pieces_along(level, cast, layers, cast.ray.length, [&](std::uint32_t piece, double& limit) {
        const auto entry = sweep(cast.ray, cast.radius, level.pieces[piece].shape);
        if (entry && first.is_after(entry->distance, piece)) {
            first.entry = *entry;
            first.piece = first.part = piece;
            limit = std::min(limit, entry->distance);
        }
        return true;
    });
}

void record(const LevelData& level, const Cast& cast, const FirstContact& first,
            std::optional<Hit>& nearest) {
    if (!first.is_there()) {
        nearest.reset();
        return;
    }
    Hit& hit = nearest.emplace(hit_at(cast.ray, cast.radius, first.entry));
    if (first.piece != tree::nothing) {
        mark_piece(level, first.piece, hit);
    } else {
        mark_triangle(level, first.triangle, hit);
    }
}

// The same of a triangle that a ray hits.
void record(const LevelData& level, const Cast& cast, const NearestTriangle& found,
            std::optional<Hit>& nearest) {
    const Placed at{found.leaf, found.index};
    const Vector3 front = front_of(triangle_of(level, at));
    Hit& hit = nearest.emplace();
    hit.distance = found.distance;
    hit.share = cast.ray.length > 0.0 ? found.distance / cast.ray.length : 0.0;
    hit.point = point_at(cast.ray, found.distance);
    hit.normal = found.from_front ? front : Vector3(-front);
    hit.back = !found.from_front;
    mark_triangle(level, at, hit);
}

// Casts that are answered in one go.
constexpr std::size_t max_batch = 64;

bool has_ball(std::span<const Cast> casts) {
    return std::any_of(casts.begin(), casts.end(), [](const Cast& cast) { return cast.radius > 0.0; });
}

template <class Answers, class Batch>
void each_batch(std::span<const Cast> casts, Answers answers, const Batch& batch) {
    for (std::size_t first = 0; first < casts.size(); first += max_batch) {
        const std::size_t count = std::min(casts.size() - first, max_batch);
        batch(casts.subspan(first, count), answers.subspan(first, count));
    }
}

} // namespace

void closest_in_level(const LevelData& level, const Cast& cast, CollisionLayers layers,
                      std::optional<Hit>& nearest) {
    nearest.reset();
    if (!has_level(layers)) {
        return;
    }
    FirstContact first;
    meet_pieces(level, cast, layers, first);
    if (cast.radius > 0.0) {
        meet_triangles(level, cast, layers, first);
    } else {
        NearestTriangle found = tree::none_before(first.is_there() ? first.entry.distance : cast.ray.length);
        level.walks->closest_triangle(level.triangle_tree, level.triangle_leaves.data(), cast.ray,
                                      layers.bits(), false, found);
        if (found.is_there()) {
            record(level, cast, found, nearest);
            return;
        }
    }
    record(level, cast, first, nearest);
}

void closest_in_level(const LevelData& level, std::span<const Cast> casts, CollisionLayers layers,
                      std::span<std::optional<Hit>> nearest) {
    each_batch(casts, nearest, [&](std::span<const Cast> some, std::span<std::optional<Hit>> hits) {
        if (!has_level(layers) || has_ball(some)) {
            for (std::size_t index = 0; index < some.size(); ++index) {
                closest_in_level(level, some[index], layers, hits[index]);
            }
            return;
        }
        std::array<NearestTriangle, max_batch> found;
        for (std::size_t index = 0; index < some.size(); ++index) {
            FirstContact first;
            meet_pieces(level, some[index], layers, first);
            record(level, some[index], first, hits[index]);
            found[index] =
                tree::none_before(first.is_there() ? first.entry.distance : some[index].ray.length);
        }
        level.walks->closest_triangles(level.triangle_tree, level.triangle_leaves.data(), some, layers.bits(),
                                       false, found.data());
        for (std::size_t index = 0; index < some.size(); ++index) {
            if (found[index].is_there()) {
                record(level, some[index], found[index], hits[index]);
            }
        }
    });
}

std::optional<std::uint32_t> any_in_level(const LevelData& level, const Cast& cast, CollisionLayers layers) {
    if (!has_level(layers)) {
        return std::nullopt;
    }
    std::optional<std::uint32_t> found;
    pieces_along(level, cast, layers, cast.ray.length, [&](std::uint32_t piece, double&) {
        if (sweep(cast.ray, cast.radius, level.pieces[piece].shape)) {
            found = piece;
        }
        return !found;
    });
    if (found) {
        return found;
    }
    if (cast.radius == 0.0) {
        NearestTriangle nearest = tree::none_before(cast.ray.length);
        level.walks->closest_triangle(level.triangle_tree, level.triangle_leaves.data(), cast.ray,
                                      layers.bits(), true, nearest);
        return nearest.is_there() ? std::optional{part_of(level, {nearest.leaf, nearest.index})}
                                  : std::nullopt;
    }
    triangles_along(level, cast, layers, cast.ray.length,
                    [&](const Placed& at, const Triangle& triangle, double&) {
                        if (sweep(cast.ray, cast.radius, triangle)) {
                            found = part_of(level, at);
                        }
                        return !found;
                    });
    return found;
}

void any_in_level(const LevelData& level, std::span<const Cast> casts, CollisionLayers layers,
                  std::span<bool> met) {
    each_batch(casts, met, [&](std::span<const Cast> some, std::span<bool> answers) {
        if (!has_level(layers) || !level.pieces.empty() || has_ball(some)) {
            for (std::size_t index = 0; index < some.size(); ++index) {
                answers[index] = any_in_level(level, some[index], layers).has_value();
            }
            return;
        }
        std::array<NearestTriangle, max_batch> found;
        for (std::size_t index = 0; index < some.size(); ++index) {
            found[index] = tree::none_before(some[index].ray.length);
        }
        level.walks->closest_triangles(level.triangle_tree, level.triangle_leaves.data(), some, layers.bits(),
                                       true, found.data());
        for (std::size_t index = 0; index < some.size(); ++index) {
            answers[index] = found[index].is_there();
        }
    });
}

void every_in_level(const LevelData& level, const Cast& cast, CollisionLayers layers, HitList& found) {
    if (!has_level(layers)) {
        return;
    }
    const Ray& ray = cast.ray;
    pieces_along(level, cast, layers, ray.length, [&](std::uint32_t piece, double&) {
        const Shape& shape = level.pieces[piece].shape;
        const auto entry = sweep(ray, cast.radius, shape);
        if (!entry) {
            return true;
        }
        Hit hit = hit_at(ray, cast.radius, *entry);
        mark_piece(level, piece, hit);
        found.add(hit);
        const double leaves = exit_distance(ray, shape);
        if (cast.radius == 0.0 && leaves < ray.length) {
            hit = hit_at(ray, 0.0, {leaves, nearest_point(shape, point_at(ray, leaves)).normal, false, true});
            mark_piece(level, piece, hit);
            found.add(hit);
        }
        return true;
    });
    triangles_along(level, cast, layers, ray.length,
                    [&](const Placed& at, const Triangle& triangle, double&) {
                        if (const auto entry = sweep(ray, cast.radius, triangle)) {
                            Hit hit = hit_at(ray, cast.radius, *entry);
                            if (hit.back && cast.radius == 0.0) {
                                hit.normal = -hit.normal; // outwards: where a closed mesh is left
                            }
                            mark_triangle(level, at, hit);
                            found.add(hit);
                        }
                        return true;
                    });
}

} // namespace avrek::detail
