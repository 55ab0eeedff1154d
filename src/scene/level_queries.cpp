#include "level_data.h"
#include <avrek/scene/nearest.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

using detail::tree::LeafVisitor;
using detail::tree::Path;

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

Hit hit_near(const Nearest& near) {
    Hit hit;
    hit.distance = near.distance;
    hit.point = near.point;
    hit.normal = near.normal;
    hit.inside = near.distance < 0.0;
    return hit;
}

void mark_piece(const LevelData& level, std::uint32_t piece, Hit& hit) {
    hit.surface = level.pieces[piece].surface;
    hit.layer = level.pieces[piece].layer;
    hit.part = piece;
}

// A triangle as it lies in its leaf.
struct Placed {
    std::uint32_t leaf = 0;
    std::uint32_t index = 0;
};

void mark_triangle(const LevelData& level, const Placed& at, Hit& hit) {
    const detail::tree::TriangleLeaf& leaf = level.triangle_leaves[at.leaf];
    hit.surface = static_cast<SurfaceId>(leaf.surface[at.index]);
    hit.layer = static_cast<CollisionLayer>(leaf.layer[at.index]);
    hit.part = static_cast<std::uint32_t>(level.pieces.size()) + leaf.number[at.index];
}

Triangle triangle_of(const LevelData& level, const Placed& at) {
    const auto& corners = level.triangle_leaves[at.leaf].corners;
    const auto corner = [&](std::size_t index) {
        return Vector3{corners[index][0][at.index], corners[index][1][at.index], corners[index][2][at.index]};
    };
    return {corner(0), corner(1), corner(2)};
}

// Calls `look(piece)` for the half-spaces, and for what a walk over the pieces' tree comes to.
template <class Look>
struct PieceLeaves {
    const LevelData& level;
    CollisionLayers layers;
    const Look& look; // (piece, limit) -> whether to go on

    bool operator()(std::uint32_t leaf, double& limit) const {
        for (const std::uint32_t piece : level.piece_tree.leaves[leaf]) {
            if (piece != detail::tree::nothing && layers.contains(level.pieces[piece].layer) &&
                !look(piece, limit)) {
                return false;
            }
        }
        return true;
    }
};

// The same for triangles: `look(place, corners, limit)`.
template <class Look>
struct TriangleLeaves {
    const LevelData& level;
    CollisionLayers layers;
    const Look& look;

    bool operator()(std::uint32_t leaf, double& limit) const {
        const detail::tree::TriangleLeaf& triangles = level.triangle_leaves[leaf];
        for (std::uint32_t index = 0; index < detail::tree::leaf_width; ++index) {
            const Placed at{leaf, index};
            if (triangles.number[index] != detail::tree::nothing &&
                layers.contains(static_cast<CollisionLayer>(triangles.layer[index])) &&
                !look(at, triangle_of(level, at), limit)) {
                return false;
            }
        }
        return true;
    }
};

template <class Leaves>
bool visit_leaves(void* context, std::uint32_t leaf, double& limit) {
    return (*static_cast<const Leaves*>(context))(leaf, limit);
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
    level.walks->along(level.piece_tree, detail::tree::path_of(cast.ray, cast.radius), limit,
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
        level.triangle_tree, level.triangle_leaves.data(), detail::tree::path_of(cast.ray, cast.radius),
        layers.bits(), limit,
        [](void* context, std::uint32_t leaf, std::uint32_t index, double& to) {
            const auto& [of, wanted, look_at] = *static_cast<const Visit*>(context);
            const detail::tree::TriangleLeaf& triangles = of.triangle_leaves[leaf];
            const Placed at{leaf, index};
            return triangles.number[index] == detail::tree::nothing ||
                   !wanted.contains(static_cast<CollisionLayer>(triangles.layer[index])) ||
                   look_at(at, triangle_of(of, at), to);
        },
        &visit);
}

bool has_level(CollisionLayers layers) {
    return (layers.bits() & ~(1U << static_cast<unsigned>(CollisionLayer::bodies))) != 0;
}

// The first contact so far: with a piece, or with a triangle. The record of it is made once, at the end.
struct FirstContact {
    Entry entry{};
    std::uint32_t piece = detail::tree::nothing;
    Placed triangle{detail::tree::nothing, 0};
    std::uint32_t part = detail::tree::nothing; // as in Hit

    bool is_there() const { return part != detail::tree::nothing; }
    // By World's order: two contacts at the same distance have the same share of the cast.
    bool is_after(double distance, std::uint32_t its_part) const {
        return !is_there() || distance < entry.distance || (distance == entry.distance && its_part < part);
    }
};

std::uint32_t part_of(const LevelData& level, const Placed& at) {
    return static_cast<std::uint32_t>(level.pieces.size()) + level.triangle_leaves[at.leaf].number[at.index];
}

void closest_triangle(const LevelData& level, const Cast& cast, CollisionLayers layers, FirstContact& first) {
    const double limit = first.is_there() ? first.entry.distance : cast.ray.length;
    if (cast.radius == 0.0) {
        detail::tree::NearestTriangle found{limit};
        level.walks->closest_triangle(level.triangle_tree, level.triangle_leaves.data(), cast.ray,
                                      layers.bits(), false, found);
        if (found.triangle != detail::tree::nothing) {
            const Placed at{found.leaf, found.index};
            const Vector3 front = front_of(triangle_of(level, at));
            first = {{found.distance, found.from_front ? front : Vector3(-front), false, !found.from_front},
                     detail::tree::nothing,
                     at,
                     part_of(level, at)};
        }
        return;
    }
    triangles_along(level, cast, layers, limit, [&](const Placed& at, const Triangle& triangle, double& to) {
        const auto entry = sweep(cast.ray, cast.radius, triangle);
        if (entry && first.is_after(entry->distance, part_of(level, at))) {
            first = {*entry, detail::tree::nothing, at, part_of(level, at)};
            to = std::min(to, entry->distance);
        }
        return true;
    });
}

} // namespace

bool comes_before(const Hit& one, const Hit& other) {
    if (one.share != other.share) {
        return one.share < other.share;
    }
    if (one.distance != other.distance) {
        return one.distance < other.distance; // their shares are the same by rounding
    }
    if (one.body != other.body) {
        return one.body < other.body; // none, the level, comes first
    }
    if (one.body) {
        return one.region < other.region;
    }
    return one.part < other.part;
}

void take_nearest(std::optional<Hit>& nearest, const Hit& hit) {
    if (!nearest || comes_before(hit, *nearest)) {
        nearest = hit;
    }
}

void HitList::add(const Hit& hit) {
    if (room_.empty() || (is_full() && !comes_before(hit, room_[size_ - 1]))) {
        return;
    }
    if (!is_full()) {
        ++size_;
    }
    std::size_t index = size_ - 1;
    while (index > 0 && comes_before(hit, room_[index - 1])) {
        room_[index] = room_[index - 1];
        --index;
    }
    room_[index] = hit;
}

std::optional<Hit> closest_in_level(const LevelData& level, const Cast& cast, CollisionLayers layers) {
    if (!has_level(layers)) {
        return std::nullopt;
    }
    FirstContact first;
    if (!level.pieces.empty()) {
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
    closest_triangle(level, cast, layers, first);
    if (!first.is_there()) {
        return std::nullopt;
    }
    std::optional<Hit> hit = hit_at(cast.ray, cast.radius, first.entry);
    if (first.piece != detail::tree::nothing) {
        mark_piece(level, first.piece, *hit);
    } else {
        mark_triangle(level, first.triangle, *hit);
    }
    return hit;
}

Metres clearance_in_level(const LevelData& level, const Vector3& point) {
    double clear = level.clearance.at(point);
    for (const std::uint32_t piece : level.half_spaces) {
        const auto& half_space = std::get<HalfSpace>(level.pieces[piece].shape);
        if (stops_shots.contains(level.pieces[piece].layer)) {
            clear = std::min(clear, half_space.normal.dot(point) - half_space.offset);
        }
    }
    return std::max(0.0, clear);
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
        detail::tree::NearestTriangle nearest{cast.ray.length};
        level.walks->closest_triangle(level.triangle_tree, level.triangle_leaves.data(), cast.ray,
                                      layers.bits(), true, nearest);
        return nearest.triangle != detail::tree::nothing
                   ? std::optional{part_of(level, {nearest.leaf, nearest.index})}
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

void overlap_in_level(const LevelData& level, const Volume& volume, CollisionLayers layers,
                      std::optional<Hit>& nearest) {
    if (!has_level(layers)) {
        return;
    }
    const Vector3 centre = centre_of(volume);
    const Bounds bounds = bounds_of(volume);
    const auto take = [&](const Nearest& near, const auto& part, auto mark) {
        Hit hit = hit_near(near);
        mark(level, part, hit);
        if (!nearest || hit.distance < nearest->distance ||
            (hit.distance == nearest->distance && hit.part < nearest->part)) {
            nearest = hit;
        }
    };
    const auto look_piece = [&](std::uint32_t piece, double&) {
        const Shape& shape = level.pieces[piece].shape;
        if (overlap(volume, shape)) {
            take(avrek::nearest_point(shape, centre), piece, mark_piece);
        }
        return true;
    };
    const auto look_triangle = [&](const Placed& at, const Triangle& triangle, double&) {
        if (overlap(bounds, bounds_of(triangle)) && overlap(volume, triangle)) {
            take(avrek::nearest_point(triangle, centre), at, mark_triangle);
        }
        return true;
    };
    double no_limit = 0.0;
    for (const std::uint32_t piece : level.half_spaces) {
        if (layers.contains(level.pieces[piece].layer)) {
            look_piece(piece, no_limit);
        }
    }
    PieceLeaves<decltype(look_piece)> pieces{level, layers, look_piece};
    level.walks->within(level.piece_tree, bounds, visit_leaves<decltype(pieces)>, &pieces);
    TriangleLeaves<decltype(look_triangle)> triangles{level, layers, look_triangle};
    level.walks->within(level.triangle_tree, bounds, visit_leaves<decltype(triangles)>, &triangles);
}

void nearest_in_level(const LevelData& level, const Vector3& point, CollisionLayers layers, Metres within,
                      std::optional<Hit>& nearest) {
    if (!has_level(layers)) {
        return;
    }
    const auto take = [&](const Nearest& near, const auto& part, auto mark, double& limit) {
        const double best = nearest ? nearest->distance : within;
        Hit hit = hit_near(near);
        mark(level, part, hit);
        if (hit.distance < best || (nearest && hit.distance == best && hit.part < nearest->part)) {
            nearest = hit;
            limit = std::max(0.0, hit.distance);
        }
    };
    const auto look_piece = [&](std::uint32_t piece, double& limit) {
        take(avrek::nearest_point(level.pieces[piece].shape, point), piece, mark_piece, limit);
        return true;
    };
    const auto look_triangle = [&](const Placed& at, const Triangle& triangle, double& limit) {
        take(avrek::nearest_point(triangle, point), at, mark_triangle, limit);
        return true;
    };
    double limit = within;
    for (const std::uint32_t piece : level.half_spaces) {
        if (layers.contains(level.pieces[piece].layer)) {
            look_piece(piece, limit);
        }
    }
    const std::array<double, 3> place{point.x(), point.y(), point.z()};
    PieceLeaves<decltype(look_piece)> pieces{level, layers, look_piece};
    level.walks->around(level.piece_tree, place, limit, visit_leaves<decltype(pieces)>, &pieces);
    if (nearest) {
        limit = std::max(0.0, nearest->distance);
    }
    TriangleLeaves<decltype(look_triangle)> triangles{level, layers, look_triangle};
    level.walks->around(level.triangle_tree, place, limit, visit_leaves<decltype(triangles)>, &triangles);
}

} // namespace avrek
