#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/ids.h>
#include <avrek/scene/raycast.h>

#include <vector>

/// What can be hit: the level and the bodies, as plain data that the game fills and moves.
namespace avrek {

/// One solid piece of the level.
struct LevelPiece {
    Shape shape;
    SurfaceId surface{};
};

/// One body: a rig, standing somewhere.
struct SceneBody {
    BodyId id{};
    const RigSpec* rig = nullptr; ///< never null; outlives the scene
    Pose pose;                    ///< of the rig's axes: feet at the origin, facing +Z
};

/// Everything that can be hit.
struct Scene {
    std::vector<LevelPiece> level;
    std::vector<SceneBody> bodies; ///< ids are unique
};

/// The body with this id, or null.
SceneBody* find_body(Scene& scene, BodyId id);
const SceneBody* find_body(const Scene& scene, BodyId id);

} // namespace avrek
