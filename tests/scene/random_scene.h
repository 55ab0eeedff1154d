#pragma once
#include "draw.h"
#include <avrek/scene/nearest.h>
#include <avrek/scene/scene.h>

#include <array>
#include <list>
#include <vector>

/// Random scenes, and the same queries done one thing at a time.
namespace avrek {

inline LevelMesh random_mesh(Draw& draw) {
    LevelMesh mesh;
    // A rough ground whose triangles share corners, on a grid so that axis-parallel rays meet edges.
    const auto cells = static_cast<std::uint32_t>(draw.below(8));
    for (std::uint32_t z = 0; z <= cells; ++z) {
        for (std::uint32_t x = 0; x <= cells; ++x) {
            mesh.vertices.push_back(
                Vector3(x - 4.0, draw.below(2) == 0 ? 0.0 : draw(-1, 1), z - 4.0).cast<float>());
        }
    }
    for (std::uint32_t z = 0; z < cells; ++z) {
        for (std::uint32_t x = 0; x < cells; ++x) {
            const std::uint32_t at = z * (cells + 1) + x;
            mesh.triangles.push_back({{at, at + cells + 1, at + 1}, SurfaceId{1}});
            mesh.triangles.push_back(
                {{at + 1, at + cells + 1, at + cells + 2}, SurfaceId{2}, CollisionLayer::glass});
        }
    }
    const std::size_t loose = draw.below(40);
    for (std::size_t index = 0; index < loose; ++index) {
        const auto first = static_cast<std::uint32_t>(mesh.vertices.size());
        const Vector3 at = draw.point(6);
        for (int corner = 0; corner < 3; ++corner) {
            mesh.vertices.push_back((at + draw.point(draw.below(4) == 0 ? 4 : 0.5)).cast<float>());
        }
        // Now and then one without an area.
        mesh.triangles.push_back({{first, first + 1, draw.below(9) == 0 ? first : first + 2},
                                  SurfaceId{3},
                                  draw.below(3) == 0 ? CollisionLayer::foliage : CollisionLayer::level});
    }
    return mesh;
}

struct RandomScene {
    std::list<RigSpec> rigs; // the scene points to them
    Scene scene{Level{}, {.bodies = 9, .joints = 4, .frames = 5}};
    std::vector<SceneBody> bodies;

    explicit RandomScene(Draw& draw, LevelSettings settings = {}) {
        std::vector<LevelPiece> pieces;
        for (std::size_t count = draw.below(12); count > 0; --count) {
            pieces.push_back({draw.shape(), SurfaceId{static_cast<std::uint32_t>(draw.below(5))},
                              draw.below(4) == 0 ? CollisionLayer::glass : CollisionLayer::level});
        }
        std::vector<LevelMesh> meshes;
        for (std::size_t count = draw.below(3); count > 0; --count) {
            meshes.push_back(random_mesh(draw));
        }
        scene = Scene{Level{pieces, meshes, settings}, {.bodies = 9, .joints = 4, .frames = 5}};
        for (std::size_t count = draw.below(9); count > 0; --count) {
            const RigSpec& rig = add_rig(draw);
            // In falling order of ids, to see that the order is by id.
            bodies.push_back({BodyId{static_cast<std::uint32_t>(20 - bodies.size())}, &rig, draw.pose(5),
                              TeamId{static_cast<std::uint8_t>(draw.below(3))}});
            if (!scene.add(bodies.back())) {
                std::abort();
            }
        }
        for (int frame = 1; frame < 8; ++frame) {
            scene.begin_frame(Time{} + std::chrono::milliseconds{50 * frame});
            for (const SceneBody& body : bodies) {
                Pose pose = *scene.pose_of(body.id);
                pose.position += draw.point(1);
                pose.rotation = pose.rotation * turned_to({draw(-1, 1), draw(-0.3, 0.3)});
                scene.move(body.id, rest_poses(*body.rig, pose));
            }
        }
    }

    // Adds a random rig.
    const RigSpec& add_rig(Draw& draw) {
        RigSpec& rig = rigs.emplace_back();
        for (std::size_t joint = draw.below(4); joint > 0; --joint) {
            rig.joints.push_back({std::string(joint, 'j'), draw.pose(0.5)});
        }
        for (std::size_t region = 0; region <= draw.below(4); ++region) {
            rig.regions.push_back({"r", {}, static_cast<std::uint32_t>(draw.below(rig.joints.size() + 1))});
            rig.regions.back().shapes.push_back(Capsule{draw.point(0.5), draw.point(0.5), draw(0.02, 0.3)});
            rig.regions.back().shapes.push_back(Sphere{draw.point(0.7), draw(0.02, 0.3)});
            if (draw.below(2) == 1) {
                const std::uint64_t joints = rig.joints.size() + 1;
                rig.regions.back().shape_joints = {static_cast<std::uint32_t>(draw.below(joints)),
                                                   static_cast<std::uint32_t>(draw.below(joints))};
            }
        }
        return rig;
    }

    // Gives all bodies other rigs, in past frames too.
    void change_rigs(Draw& draw) {
        std::vector<const RigSpec*> was;
        std::vector<const RigSpec*> is;
        for (SceneBody& body : bodies) {
            was.push_back(body.rig);
            is.push_back(&add_rig(draw));
            body.rig = is.back();
        }
        scene.change_rigs(was, is, 4);
    }

    Filter filter(Draw& draw) const {
        Filter filter;
        filter.hits = draw.below(3) == 0 ? CollisionLayers{CollisionLayer::level, CollisionLayer::foliage,
                                                           CollisionLayer::bodies}
                                         : stops_shots;
        if (draw.below(4) == 0) {
            filter.teams = {TeamId{0}, TeamId{2}};
        }
        if (draw.below(4) == 0) {
            filter.ignores = {BodyId{20}, BodyId{18}};
        }
        return filter;
    }

    // Everything that the filter lets be hit, each with a hit that says what it is, and `look` at it.
    template <class Look>
    void each(const Filter& filter, Time at, const Look& look) const {
        const Level& level = scene.level();
        const auto pieces = static_cast<std::uint32_t>(level.pieces().size());
        Hit hit;
        for (hit.part = 0; hit.part < pieces; ++hit.part) {
            const LevelPiece& piece = level.pieces()[hit.part];
            hit.surface = piece.surface;
            hit.layer = piece.layer;
            if (filter.hits.contains(piece.layer)) {
                look(hit, Pose{}, piece.shape);
            }
        }
        for (; hit.part < pieces + level.triangle_count(); ++hit.part) {
            const std::size_t index = hit.part - pieces;
            const Triangle triangle = level.triangle(index);
            hit.surface = level.triangle_surface(index);
            hit.layer = level.triangle_layer(index);
            const bool flat = (triangle.b - triangle.a).cross(triangle.c - triangle.a).norm() == 0.0;
            if (filter.hits.contains(hit.layer) && !flat) {
                look(hit, Pose{}, triangle);
            }
        }
        hit.surface = {};
        hit.part = 0;
        for (const SceneBody& body : bodies) {
            hit.body = body.id;
            hit.layer = body.layer;
            if (!filter.hits.contains(body.layer) || !filter.teams.contains(body.team) ||
                filter.ignores.contains(body.id)) {
                continue;
            }
            for (std::size_t region = 0; region < body.rig->regions.size(); ++region) {
                hit.region = static_cast<RegionId>(region);
                const RegionSpec& spec = body.rig->regions[region];
                for (std::size_t shape = 0; shape < spec.shapes.size(); ++shape) {
                    look(hit, *scene.pose_of(body.id, at, joint_of(spec, shape)), spec.shapes[shape]);
                }
            }
        }
    }
};

/// The signed distance to anything that RandomScene::each() looks at.
inline double distance_to(const Triangle& triangle, const Vector3& point) {
    return signed_distance(triangle, point);
}
inline double distance_to(const Shape& shape, const Vector3& point) {
    return std::visit([&point](const auto& solid) { return signed_distance(solid, point); }, shape);
}

inline Ray to_local(const Pose& pose, const Ray& ray) {
    return {to_local(pose, ray.origin), pose.rotation.conjugate() * ray.direction, ray.length};
}

} // namespace avrek
