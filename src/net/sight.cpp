#include "sight.h"

#include <cmath>

namespace avrek::detail {

bool is_free(const Scene& scene, const Vector3& from, const Vector3& to) {
    const Vector3 way = to - from;
    const double length = std::sqrt(way.squaredNorm());
    return length < 1e-6 || !scene.any_hit({{from, way / length, length}}, {.hits = stops_sight});
}

bool is_in_sight(const Scene& scene, const Vector3& eye, BodyId body, Time at) {
    const std::optional<Pose> pose = scene.pose_of(body, at);
    const RigSpec* rig = scene.rig_of(body);
    if (!pose || rig == nullptr) {
        return false;
    }
    for (std::uint32_t region = 0; region < rig->regions.size(); ++region) {
        if (is_free(scene, eye, pose->position + pose->rotation * aim_point(*rig, RegionId{region}))) {
            return true;
        }
    }
    return false;
}

} // namespace avrek::detail
