#pragma once
#include "query_tick.h"

#include <embree3/rtcore.h>

#include <cmath>
#include <cstdint>
#include <cstring>
#include <limits>
#include <vector>

/// A ray kernel library to measure against, which Avrek itself does not use.
namespace bench {

/// A scene of it; geometries are added, then it is committed.
class RivalScene {
  public:
    explicit RivalScene(RTCDevice device) : device_(device), scene_(rtcNewScene(device)) {}
    ~RivalScene() { rtcReleaseScene(scene_); }
    RivalScene(const RivalScene&) = delete;
    RivalScene& operator=(const RivalScene&) = delete;

    RTCScene get() const { return scene_; }
    void commit() { rtcCommitScene(scene_); }

    /// Adds the triangles of the demo level, those of each layer as a geometry with the layer as its mask.
    void add_level();
    /// Adds capsules as round segments: two ends with a radius each.
    void add_bodies(std::size_t count);
    /// Gives all capsules their ends and radii.
    void move_bodies(std::span<const avrek::Capsule> capsules, double wider = 0.0);
    /// Passes through the capsules of the body in `QueryContext::ignored`.
    void ignore_bodies(std::size_t capsules_of_each);
    /// Adds triangles as the library's own kind of user geometry: what a ball of `ball_radius` meets.
    void add_level_for_balls();

  private:
    RTCDevice device_;
    RTCScene scene_;
    RTCGeometry bodies_ = nullptr;
    std::size_t body_count_ = 0;
    std::size_t capsules_of_each_ = 1;
    std::vector<avrek::Triangle> triangles_;
};

/// The part of a query besides its ray.
struct QueryContext {
    RTCIntersectContext base{};
    std::uint32_t ignored = 0xffffffffU;

    QueryContext() { rtcInitIntersectContext(&base); }
};

inline RTCRayHit rival_ray(const avrek::Ray& ray, std::uint32_t mask) {
    RTCRayHit hit{};
    hit.ray.org_x = static_cast<float>(ray.origin.x());
    hit.ray.org_y = static_cast<float>(ray.origin.y());
    hit.ray.org_z = static_cast<float>(ray.origin.z());
    hit.ray.dir_x = static_cast<float>(ray.direction.x());
    hit.ray.dir_y = static_cast<float>(ray.direction.y());
    hit.ray.dir_z = static_cast<float>(ray.direction.z());
    hit.ray.tfar = static_cast<float>(ray.length);
    hit.ray.mask = mask;
    hit.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    hit.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
    return hit;
}

/// Sixteen rays for one call.
inline RTCRayHit16 rival_rays(std::span<const avrek::Ray, 16> rays, std::uint32_t mask) {
    RTCRayHit16 hits{};
    for (std::size_t lane = 0; lane < rays.size(); ++lane) {
        const RTCRayHit one = rival_ray(rays[lane], mask);
        hits.ray.org_x[lane] = one.ray.org_x;
        hits.ray.org_y[lane] = one.ray.org_y;
        hits.ray.org_z[lane] = one.ray.org_z;
        hits.ray.dir_x[lane] = one.ray.dir_x;
        hits.ray.dir_y[lane] = one.ray.dir_y;
        hits.ray.dir_z[lane] = one.ray.dir_z;
        hits.ray.tfar[lane] = one.ray.tfar;
        hits.ray.mask[lane] = mask;
        hits.hit.geomID[lane] = RTC_INVALID_GEOMETRY_ID;
        hits.hit.instID[0][lane] = RTC_INVALID_GEOMETRY_ID;
    }
    return hits;
}

/// The mask of what a filter's layers are.
inline std::uint32_t rival_mask(avrek::CollisionLayers layers) {
    return layers.bits();
}

} // namespace bench
