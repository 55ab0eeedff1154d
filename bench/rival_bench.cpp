// The same rays against a ray kernel library, which Avrek itself does not use: the level as one mesh, bodies
// as its round curves.
#include "atrium.h"

#include <benchmark/benchmark.h>
#include <embree3/rtcore.h>

#include <cmath>
#include <cstring>
#include <limits>

namespace {

struct Rival {
    RTCDevice device = rtcNewDevice(nullptr);
    RTCScene scene = rtcNewScene(device);

    explicit Rival(std::uint32_t crowd) {
        add_level();
        if (crowd > 0) {
            add_bodies(crowd);
        }
        rtcCommitScene(scene);
    }
    ~Rival() {
        rtcReleaseScene(scene);
        rtcReleaseDevice(device);
    }
    Rival(const Rival&) = delete;
    Rival& operator=(const Rival&) = delete;

    void* buffer(RTCGeometry geometry, RTCBufferType type, RTCFormat format, std::size_t size,
                 std::size_t count) {
        return rtcSetNewGeometryBuffer(geometry, type, 0, format, size, count);
    }

    void attach(RTCGeometry geometry) {
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(scene, geometry);
        rtcReleaseGeometry(geometry);
    }

    void add_level() {
        std::vector<avrek::MeshVertex> vertices;
        std::vector<std::array<std::uint32_t, 3>> triangles;
        for (const avrek::LevelMesh& mesh : bench::atrium_meshes()) {
            const auto first = static_cast<std::uint32_t>(vertices.size());
            vertices.insert(vertices.end(), mesh.vertices.begin(), mesh.vertices.end());
            for (const avrek::MeshTriangle& triangle : mesh.triangles) {
                triangles.push_back(
                    {first + triangle.corners[0], first + triangle.corners[1], first + triangle.corners[2]});
            }
        }
        RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
        std::memcpy(buffer(geometry, RTC_BUFFER_TYPE_VERTEX, RTC_FORMAT_FLOAT3, 12, vertices.size()),
                    vertices.data(), 12 * vertices.size());
        std::memcpy(buffer(geometry, RTC_BUFFER_TYPE_INDEX, RTC_FORMAT_UINT3, 12, triangles.size()),
                    triangles.data(), 12 * triangles.size());
        attach(geometry);
    }

    // Round segments: two ends with a radius each.
    void add_bodies(std::uint32_t crowd) {
        const avrek::RigSpec rig = bench::fifteen_capsules();
        const std::size_t count = crowd * rig.regions.size();
        RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_ROUND_LINEAR_CURVE);
        auto* vertex =
            static_cast<float*>(buffer(geometry, RTC_BUFFER_TYPE_VERTEX, RTC_FORMAT_FLOAT4, 16, 2 * count));
        auto* index =
            static_cast<std::uint32_t*>(buffer(geometry, RTC_BUFFER_TYPE_INDEX, RTC_FORMAT_UINT, 4, count));
        for (std::uint32_t body = 0; body < crowd; ++body) {
            avrek::Pose pose = bench::crowd_pose(body);
            pose.position += 63 * 0.05 * (pose.rotation * avrek::world_forward());
            for (const avrek::RegionSpec& region : rig.regions) {
                const auto& capsule = std::get<avrek::Capsule>(region.shapes.front());
                *index = static_cast<std::uint32_t>(
                    2 * (body * rig.regions.size() + static_cast<std::size_t>(&region - rig.regions.data())));
                ++index;
                for (const avrek::Vector3& end : {capsule.from, capsule.to}) {
                    const avrek::Vector3 point = avrek::to_world(pose, end);
                    for (const double value : {point.x(), point.y(), point.z(), capsule.radius}) {
                        *vertex = static_cast<float>(value);
                        ++vertex;
                    }
                }
            }
        }
        attach(geometry);
    }
};

void rival_closest_hit(benchmark::State& state) {
    const Rival rival{static_cast<std::uint32_t>(state.range(0))};
    const std::vector<avrek::Ray> rays = bench::atrium_rays(1 << 14);
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    std::size_t next = 0;
    std::int64_t hits = 0;
    for (auto _ : state) {
        const avrek::Ray& ray = rays[next];
        RTCRayHit hit;
        hit.ray.org_x = static_cast<float>(ray.origin.x());
        hit.ray.org_y = static_cast<float>(ray.origin.y());
        hit.ray.org_z = static_cast<float>(ray.origin.z());
        hit.ray.dir_x = static_cast<float>(ray.direction.x());
        hit.ray.dir_y = static_cast<float>(ray.direction.y());
        hit.ray.dir_z = static_cast<float>(ray.direction.z());
        hit.ray.tnear = 0.0F;
        hit.ray.tfar = static_cast<float>(ray.length);
        hit.ray.time = 0.0F;
        hit.ray.mask = 0xffffffffU;
        hit.ray.flags = 0;
        hit.hit.geomID = RTC_INVALID_GEOMETRY_ID;
        hit.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
        rtcIntersect1(rival.scene, &context, &hit);
        benchmark::DoNotOptimize(hit);
        const bool counted =
            state.range(0) == 0 ? hit.hit.geomID != RTC_INVALID_GEOMETRY_ID : hit.hit.geomID == 1;
        hits += counted ? 1 : 0;
        next = (next + 1) % rays.size();
    }
    state.counters["hit_share"] = static_cast<double>(hits) / static_cast<double>(state.iterations());
}
BENCHMARK(rival_closest_hit)->ArgName("bodies")->Arg(0)->Arg(64);

void rival_builds_the_level(benchmark::State& state) {
    for (auto _ : state) {
        const Rival rival{0};
        benchmark::DoNotOptimize(rival.scene);
    }
}
BENCHMARK(rival_builds_the_level)->Unit(benchmark::kMillisecond)->UseRealTime();

} // namespace
