#include "level_visits.h"
#include <avrek/scene/nearest.h>

#include <algorithm>

namespace avrek::detail {

namespace {

Hit hit_near(const Nearest& near) {
    Hit hit;
    hit.distance = near.distance;
    hit.point = near.point;
    hit.normal = near.normal;
    hit.inside = near.distance < 0.0;
    return hit;
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

} // namespace avrek::detail
