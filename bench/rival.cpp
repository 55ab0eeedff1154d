#include "rival.h"

#include <algorithm>
#include <array>

namespace bench {

namespace {

using avrek::CollisionLayer;

void* buffer(RTCGeometry geometry, RTCBufferType type, RTCFormat format, std::size_t size,
             std::size_t count) {
    return rtcSetNewGeometryBuffer(geometry, type, 0, format, size, count);
}

void bounds_of_ball_triangle(const RTCBoundsFunctionArguments* asked) {
    const auto& triangles = *static_cast<const std::vector<avrek::Triangle>*>(asked->geometryUserPtr);
    const avrek::Triangle& triangle = triangles[asked->primID];
    const avrek::Vector3 low = triangle.a.cwiseMin(triangle.b).cwiseMin(triangle.c);
    const avrek::Vector3 high = triangle.a.cwiseMax(triangle.b).cwiseMax(triangle.c);
    const auto wide = static_cast<float>(1.001 * ball_radius);
    RTCBounds& to = *asked->bounds_o;
    to.lower_x = static_cast<float>(low.x()) - wide;
    to.lower_y = static_cast<float>(low.y()) - wide;
    to.lower_z = static_cast<float>(low.z()) - wide;
    to.upper_x = static_cast<float>(high.x()) + wide;
    to.upper_y = static_cast<float>(high.y()) + wide;
    to.upper_z = static_cast<float>(high.z()) + wide;
}

void sweep_ball(const RTCIntersectFunctionNArguments* asked) {
    if (asked->valid[0] == 0) {
        return;
    }
    const auto& triangles = *static_cast<const std::vector<avrek::Triangle>*>(asked->geometryUserPtr);
    auto& hit = *reinterpret_cast<RTCRayHit*>(asked->rayhit);
    const avrek::Vector3 way = avrek::Vector3{hit.ray.dir_x, hit.ray.dir_y, hit.ray.dir_z}.normalized();
    const avrek::Ray ray{{hit.ray.org_x, hit.ray.org_y, hit.ray.org_z}, way, hit.ray.tfar};
    if (const auto entry = avrek::sweep(ray, ball_radius, triangles[asked->primID])) {
        hit.ray.tfar = static_cast<float>(entry->distance);
        hit.hit.geomID = asked->geomID;
        hit.hit.primID = asked->primID;
    }
}

void pass_own_body(const RTCFilterFunctionNArguments* asked) {
    const auto each = *static_cast<const std::size_t*>(asked->geometryUserPtr);
    const auto& context = *reinterpret_cast<const QueryContext*>(asked->context);
    for (unsigned lane = 0; lane < asked->N; ++lane) {
        if (asked->valid[lane] != 0 && RTCHitN_primID(asked->hit, asked->N, lane) / each == context.ignored) {
            asked->valid[lane] = 0;
        }
    }
}

} // namespace

void RivalScene::add_level() {
    for (unsigned layer = 0; layer < avrek::collision_layer_count; ++layer) {
        std::vector<avrek::MeshVertex> vertices;
        std::vector<std::array<std::uint32_t, 3>> triangles;
        for (const avrek::LevelMesh& mesh : atrium_meshes()) {
            const auto first = static_cast<std::uint32_t>(vertices.size());
            vertices.insert(vertices.end(), mesh.vertices.begin(), mesh.vertices.end());
            for (const avrek::MeshTriangle& triangle : mesh.triangles) {
                if (triangle.layer == static_cast<CollisionLayer>(layer)) {
                    triangles.push_back({first + triangle.corners[0], first + triangle.corners[1],
                                         first + triangle.corners[2]});
                }
            }
        }
        if (triangles.empty()) {
            continue;
        }
        RTCGeometry geometry = rtcNewGeometry(device_, RTC_GEOMETRY_TYPE_TRIANGLE);
        std::memcpy(buffer(geometry, RTC_BUFFER_TYPE_VERTEX, RTC_FORMAT_FLOAT3, 12, vertices.size()),
                    vertices.data(), 12 * vertices.size());
        std::memcpy(buffer(geometry, RTC_BUFFER_TYPE_INDEX, RTC_FORMAT_UINT3, 12, triangles.size()),
                    triangles.data(), 12 * triangles.size());
        rtcSetGeometryMask(geometry, 1U << layer);
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(scene_, geometry);
        rtcReleaseGeometry(geometry);
    }
}

void RivalScene::add_level_for_balls() {
    for (const avrek::LevelMesh& mesh : atrium_meshes()) {
        for (const avrek::MeshTriangle& triangle : mesh.triangles) {
            if (avrek::stops_shots.contains(triangle.layer)) {
                const auto corner = [&](std::size_t index) {
                    return avrek::Vector3(mesh.vertices[triangle.corners[index]].cast<double>());
                };
                triangles_.push_back({corner(0), corner(1), corner(2)});
            }
        }
    }
    RTCGeometry geometry = rtcNewGeometry(device_, RTC_GEOMETRY_TYPE_USER);
    rtcSetGeometryUserPrimitiveCount(geometry, static_cast<unsigned>(triangles_.size()));
    rtcSetGeometryUserData(geometry, &triangles_);
    rtcSetGeometryBoundsFunction(geometry, bounds_of_ball_triangle, nullptr);
    rtcSetGeometryIntersectFunction(geometry, sweep_ball);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene_, geometry);
    rtcReleaseGeometry(geometry);
}

void RivalScene::add_bodies(std::size_t count) {
    body_count_ = count;
    bodies_ = rtcNewGeometry(device_, RTC_GEOMETRY_TYPE_ROUND_LINEAR_CURVE);
    buffer(bodies_, RTC_BUFFER_TYPE_VERTEX, RTC_FORMAT_FLOAT4, 16, 2 * count);
    auto* index =
        static_cast<std::uint32_t*>(buffer(bodies_, RTC_BUFFER_TYPE_INDEX, RTC_FORMAT_UINT, 4, count));
    for (std::uint32_t capsule = 0; capsule < count; ++capsule) {
        index[capsule] = 2 * capsule;
    }
    // Fitting the tree to what has moved is cheaper than building it anew.
    rtcSetGeometryBuildQuality(bodies_, RTC_BUILD_QUALITY_REFIT);
    rtcSetGeometryMask(bodies_, 1U << static_cast<unsigned>(CollisionLayer::bodies));
    rtcSetSceneFlags(scene_, RTC_SCENE_FLAG_DYNAMIC);
    rtcAttachGeometry(scene_, bodies_);
    rtcReleaseGeometry(bodies_);
}

void RivalScene::ignore_bodies(std::size_t capsules_of_each) {
    capsules_of_each_ = capsules_of_each;
    rtcSetGeometryUserData(bodies_, &capsules_of_each_);
    rtcSetGeometryIntersectFilterFunction(bodies_, pass_own_body);
}

void RivalScene::move_bodies(std::span<const avrek::Capsule> capsules, double wider) {
    auto* vertex = static_cast<float*>(rtcGetGeometryBufferData(bodies_, RTC_BUFFER_TYPE_VERTEX, 0));
    for (const avrek::Capsule& capsule : capsules) {
        for (const avrek::Vector3& point : {capsule.from, capsule.to}) {
            for (const double value : {point.x(), point.y(), point.z(), capsule.radius + wider}) {
                *vertex = static_cast<float>(value);
                ++vertex;
            }
        }
    }
    rtcUpdateGeometryBuffer(bodies_, RTC_BUFFER_TYPE_VERTEX, 0);
    rtcCommitGeometry(bodies_);
}

} // namespace bench
