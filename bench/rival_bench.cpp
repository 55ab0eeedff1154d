// The same questions to a ray kernel library: the level as its triangles, bodies as its round curves.
#include "rival.h"

#include <benchmark/benchmark.h>

namespace {

using bench::QueryContext;
using bench::RivalScene;

struct Device {
    RTCDevice device = rtcNewDevice("threads=1");
    ~Device() { rtcReleaseDevice(device); }
};

std::vector<avrek::Capsule> standing_crowd(std::uint32_t count) {
    std::vector<avrek::Capsule> capsules;
    const avrek::RigSpec rig = bench::fifteen_capsules();
    for (std::uint32_t body = 0; body < count; ++body) {
        avrek::Pose pose = bench::crowd_pose(body);
        pose.position += 63 * 0.05 * (pose.rotation * avrek::world_forward());
        for (const avrek::RegionSpec& region : rig.regions) {
            capsules.push_back(std::get<avrek::Capsule>(avrek::to_world(pose, region.shapes.front())));
        }
    }
    return capsules;
}

// With `equal` it passes what a shot passes; without it stops at everything.
void rival_closest_hit(benchmark::State& state) {
    const Device rival;
    RivalScene scene{rival.device};
    scene.add_level();
    const auto capsules = standing_crowd(static_cast<std::uint32_t>(state.range(0)));
    if (!capsules.empty()) {
        scene.add_bodies(capsules.size());
        scene.move_bodies(capsules);
    }
    scene.commit();
    const std::vector<avrek::Ray> rays = bench::atrium_rays(1 << 14);
    const std::uint32_t mask = state.range(1) != 0 ? bench::rival_mask(avrek::stops_shots) : 0xffffffffU;
    QueryContext context;
    std::size_t next = 0;
    std::int64_t hits = 0;
    for (auto _ : state) {
        RTCRayHit hit = bench::rival_ray(rays[next], mask);
        rtcIntersect1(scene.get(), &context.base, &hit);
        benchmark::DoNotOptimize(hit);
        hits += hit.hit.geomID != RTC_INVALID_GEOMETRY_ID ? 1 : 0;
        next = (next + 1) % rays.size();
    }
    state.counters["hit_share"] = static_cast<double>(hits) / static_cast<double>(state.iterations());
}
BENCHMARK(rival_closest_hit)
    ->ArgNames({"bodies", "equal"})
    ->Args({0, 0})
    ->Args({0, 1})
    ->Args({64, 1})
    ->Args({1024, 1});

// Sixteen rays of one cone in each call.
void rival_closest_hits_of_a_cone(benchmark::State& state) {
    constexpr std::size_t each = 16;
    const Device rival;
    RivalScene scene{rival.device};
    scene.add_level();
    scene.commit();
    const std::vector<avrek::Ray> rays = bench::cone_rays(1 << 14, each);
    QueryContext context;
    context.base.flags = RTC_INTERSECT_CONTEXT_FLAG_COHERENT;
    alignas(64) std::array<int, each> valid;
    valid.fill(-1);
    std::size_t next = 0;
    for ([[maybe_unused]] const auto& step : state) {
        RTCRayHit16 hits = bench::rival_rays(std::span{rays}.subspan(next).first<each>(),
                                             bench::rival_mask(avrek::stops_shots));
        rtcIntersect16(valid.data(), scene.get(), &context.base, &hits);
        benchmark::DoNotOptimize(hits);
        next = (next + each) % rays.size();
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(each));
}
BENCHMARK(rival_closest_hits_of_a_cone);

void rival_builds_the_level(benchmark::State& state) {
    for (auto _ : state) {
        const Device rival;
        RivalScene scene{rival.device};
        scene.add_level();
        scene.commit();
        benchmark::DoNotOptimize(scene.get());
    }
}
BENCHMARK(rival_builds_the_level)->Unit(benchmark::kMillisecond)->UseRealTime();

// A tick of queries as query_tick_bench.cpp asks it, but for the rewound shots: the level and the bodies as
// scenes of their own, so that only the bodies are committed anew.
struct RivalGame {
    Device rival;
    RivalScene level{rival.device};
    RivalScene crowd{rival.device};
    RivalScene level_for_balls{rival.device};
    RivalScene crowd_for_balls{rival.device};
    std::vector<avrek::Capsule> capsules{};
    avrek::RigSpec rig = bench::jointed_rig();
    std::size_t tick = 0;
    std::size_t bodies_hit = 0;

    RivalGame() {
        level.add_level();
        level.commit();
        level_for_balls.add_level_for_balls();
        level_for_balls.commit();
        for (RivalScene* scene : {&crowd, &crowd_for_balls}) {
            scene->add_bodies(bench::crowd * rig.regions.size());
            scene->ignore_bodies(rig.regions.size());
        }
    }

    const bench::QueryTick& move() {
        ++tick;
        const bench::QueryTick& asked = bench::query_ticks()[tick % bench::tick_count];
        capsules.clear();
        for (std::uint32_t body = 0; body < bench::crowd; ++body) {
            for (const avrek::RegionSpec& region : rig.regions) {
                const avrek::Pose& pose = asked.poses[body * bench::joints + region.joint];
                const auto& capsule = std::get<avrek::Capsule>(region.shapes.front());
                capsules.push_back(
                    {to_world(pose, capsule.from), to_world(pose, capsule.to), capsule.radius});
            }
        }
        crowd.move_bodies(capsules);
        crowd.commit();
        crowd_for_balls.move_bodies(capsules, bench::ball_radius);
        crowd_for_balls.commit();
        return asked;
    }

    bench::Answer cast(const avrek::Cast& cast, std::uint32_t ignored) {
        const bool is_ball = cast.radius > 0.0;
        QueryContext context;
        context.ignored = ignored;
        RTCRayHit hit = bench::rival_ray(cast.ray, bench::rival_mask(avrek::stops_shots));
        rtcIntersect1((is_ball ? level_for_balls : level).get(), &context.base, &hit);
        const bool meets_level = hit.hit.geomID != RTC_INVALID_GEOMETRY_ID;
        hit.hit.geomID = RTC_INVALID_GEOMETRY_ID;
        rtcIntersect1((is_ball ? crowd_for_balls : crowd).get(), &context.base, &hit);
        bench::Answer answer;
        if (hit.hit.geomID != RTC_INVALID_GEOMETRY_ID) {
            answer = {hit.ray.tfar, static_cast<std::uint32_t>(hit.hit.primID / rig.regions.size())};
            ++bodies_hit;
        } else if (meets_level) {
            answer.distance = hit.ray.tfar;
        }
        return answer;
    }

    bool sees(const avrek::Cast& sight) {
        QueryContext context;
        RTCRay ray = bench::rival_ray(sight.ray, bench::rival_mask(bench::hides)).ray;
        rtcOccluded1(level.get(), &context.base, &ray);
        return ray.tfar >= 0.0F;
    }
};

void rival_tick_of_queries(benchmark::State& state) {
    RivalGame game;
    std::vector<bench::Answer> answers;
    std::size_t seen = 0;
    for ([[maybe_unused]] const auto& step : state) {
        answers.clear();
        const bench::QueryTick& asked = game.move();
        for (const auto* casts : {&asked.shots, &asked.buckshot, &asked.muzzles, &asked.aims}) {
            const std::size_t each = casts->size() / bench::crowd;
            for (std::size_t index = 0; index < casts->size(); ++index) {
                answers.push_back(game.cast((*casts)[index], static_cast<std::uint32_t>(index / each)));
            }
        }
        for (const avrek::Cast& sight : asked.sights) {
            seen += game.sees(sight) ? 1 : 0;
        }
        for (const avrek::Cast& ball : asked.balls) {
            answers.push_back(game.cast(ball, 0xffffffffU));
        }
        benchmark::DoNotOptimize(answers.data());
    }
    const auto ticks = static_cast<double>(state.iterations());
    state.counters["seen"] = static_cast<double>(seen) / ticks;
    state.counters["bodies_hit"] = static_cast<double>(game.bodies_hit) / ticks;
}
BENCHMARK(rival_tick_of_queries)->Unit(benchmark::kMicrosecond);

} // namespace
