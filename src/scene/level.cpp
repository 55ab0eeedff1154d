#include "level_data.h"

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

namespace {

Vector3 corner_of(const detail::LevelData& data, std::size_t triangle, std::size_t corner) {
    return data.vertices[data.corners[triangle][corner]].cast<double>();
}

Triangle triangle_of(const detail::LevelData& data, std::size_t index) {
    return {corner_of(data, index, 0), corner_of(data, index, 1), corner_of(data, index, 2)};
}

bool is_flat(const Triangle& triangle) {
    return (triangle.b - triangle.a).cross(triangle.c - triangle.a).squaredNorm() == 0.0;
}

void add_mesh(detail::LevelData& data, const LevelMesh& mesh) {
    const auto first_vertex = static_cast<std::uint32_t>(data.vertices.size());
    data.vertices.insert(data.vertices.end(), mesh.vertices.begin(), mesh.vertices.end());
    for (const MeshTriangle& triangle : mesh.triangles) {
        assert(triangle.layer != CollisionLayer::bodies);
        auto corners = triangle.corners;
        for (std::uint32_t& corner : corners) {
            assert(corner < mesh.vertices.size());
            corner += first_vertex;
        }
        data.corners.push_back(corners);
        data.triangle_surfaces.push_back(triangle.surface);
        data.triangle_layers.push_back(static_cast<std::uint8_t>(triangle.layer));
    }
}

void fill_place(const detail::LevelData& data, detail::tree::TriangleLeaf& leaf, std::uint32_t triangle,
                std::size_t index) {
    leaf.number[index] = triangle;
    if (triangle == detail::tree::nothing) {
        return;
    }
    leaf.surface[index] = static_cast<std::uint32_t>(data.triangle_surfaces[triangle]);
    leaf.layer[index] = data.triangle_layers[triangle];
    for (std::size_t corner = 0; corner < 3; ++corner) {
        const MeshVertex& vertex = data.vertices[data.corners[triangle][corner]];
        for (std::size_t axis = 0; axis < 3; ++axis) {
            leaf.corners[corner][axis][index] = vertex[static_cast<Eigen::Index>(axis)];
        }
    }
}

void build_triangles(detail::LevelData& data) {
    std::vector<Bounds> bounds(data.corners.size()); // those of flat triangles stay empty
    for (std::size_t index = 0; index < data.corners.size(); ++index) {
        const Triangle triangle = triangle_of(data, index);
        if (is_flat(triangle)) {
            ++data.flat_triangles;
        } else {
            bounds[index] = bounds_of(triangle);
            include(data.bounds, bounds[index]);
        }
    }
    data.triangle_tree = detail::tree::build_tree(bounds);
    data.triangle_leaves.assign(data.triangle_tree.leaves.size(), {});
    std::vector<std::uint8_t> layers(data.triangle_leaves.size());
    for (std::size_t leaf = 0; leaf < data.triangle_leaves.size(); ++leaf) {
        for (std::size_t index = 0; index < detail::tree::leaf_width; ++index) {
            const std::uint32_t triangle = data.triangle_tree.leaves[leaf][index];
            fill_place(data, data.triangle_leaves[leaf], triangle, index);
            if (triangle != detail::tree::nothing) {
                layers[leaf] = static_cast<std::uint8_t>(layers[leaf] | 1U << data.triangle_layers[triangle]);
            }
        }
    }
    static_assert(collision_layer_count <= 8, "or they are more than the bits of a byte");
    note_layers(data.triangle_tree, layers);
}

void build_pieces(detail::LevelData& data) {
    std::vector<Bounds> bounds(data.pieces.size()); // those of half-spaces stay empty
    for (std::size_t index = 0; index < data.pieces.size(); ++index) {
        assert(data.pieces[index].layer != CollisionLayer::bodies);
        if (std::holds_alternative<HalfSpace>(data.pieces[index].shape)) {
            data.half_spaces.push_back(static_cast<std::uint32_t>(index));
        } else {
            bounds[index] = bounds_of(data.pieces[index].shape);
            include(data.bounds, bounds[index]);
        }
    }
    data.piece_tree = detail::tree::build_tree(bounds);
}

// Where projectiles need not look for anything.
void build_clearance(detail::LevelData& data) {
    data.clearance = detail::Clearance{data.bounds, data.pieces.size() + data.corners.size()};
    for (const LevelPiece& piece : data.pieces) {
        if (stops_shots.contains(piece.layer) && !std::holds_alternative<HalfSpace>(piece.shape)) {
            data.clearance.mark(bounds_of(piece.shape));
        }
    }
    for (std::size_t index = 0; index < data.corners.size(); ++index) {
        if (stops_shots.contains(static_cast<CollisionLayer>(data.triangle_layers[index]))) {
            data.clearance.mark(triangle_of(data, index));
        }
    }
    data.clearance.finish();
}

} // namespace

Level::Level() : Level(std::vector<LevelPiece>{}) {}

Level::Level(std::vector<LevelPiece> pieces, std::span<const LevelMesh> meshes, LevelSettings settings) {
    auto data = std::make_shared<detail::LevelData>();
    data->pieces = std::move(pieces);
    data->walks = &detail::tree::walks_for(settings.vectors);
    for (const LevelMesh& mesh : meshes) {
        add_mesh(*data, mesh);
    }
    build_pieces(*data);
    build_triangles(*data);
    build_clearance(*data);
    data_ = std::move(data);
}

const std::vector<LevelPiece>& Level::pieces() const {
    return data_->pieces;
}

std::size_t Level::triangle_count() const {
    return data_->corners.size();
}

Triangle Level::triangle(std::size_t index) const {
    assert(index < triangle_count());
    return triangle_of(*data_, index);
}

SurfaceId Level::triangle_surface(std::size_t index) const {
    assert(index < triangle_count());
    return data_->triangle_surfaces[index];
}

CollisionLayer Level::triangle_layer(std::size_t index) const {
    assert(index < triangle_count());
    return static_cast<CollisionLayer>(data_->triangle_layers[index]);
}

std::size_t Level::flat_triangles() const {
    return data_->flat_triangles;
}

const Bounds& Level::bounds() const {
    return data_->bounds;
}

} // namespace avrek
