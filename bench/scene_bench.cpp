#include "allocations.h"
#include "atrium.h"

#include <benchmark/benchmark.h>

#include <algorithm>

namespace {

using avrek::BodyId;
using avrek::Time;
using std::chrono::milliseconds;

constexpr std::uint32_t bodies = 64;
constexpr std::size_t ray_count = 1 << 14;

avrek::Level atrium_level(avrek::VectorUse vectors = avrek::VectorUse::widest) {
    return avrek::Level{{}, bench::atrium_meshes(), {.vectors = vectors}};
}

// The level with a crowd that walks: one second of history at 60 Hz.
avrek::Scene crowded(std::uint32_t count) {
    static const avrek::RigSpec rig = bench::fifteen_capsules();
    avrek::Scene scene{atrium_level(), {.bodies = std::max(count, 1U)}};
    for (std::uint32_t body = 0; body < count; ++body) {
        if (!scene.add({BodyId{body}, &rig, bench::crowd_pose(body)})) {
            std::abort();
        }
    }
    for (int frame = 1; frame < 64; ++frame) {
        scene.begin_frame(Time{milliseconds{16 * frame}});
        for (std::uint32_t body = 0; body < count; ++body) {
            avrek::Pose pose = *scene.pose_of(BodyId{body});
            pose.position += 0.05 * (pose.rotation * avrek::world_forward());
            scene.move(BodyId{body}, pose);
        }
        scene.end_frame();
    }
    return scene;
}

// Many rays, one by one, in a turn.
template <class Shoot>
void shoot(benchmark::State& state, const Shoot& shoot_ray) {
    const std::vector<avrek::Ray> rays = bench::atrium_rays(ray_count);
    std::size_t next = 0;
    std::int64_t hits = 0;
    const std::uint64_t before = allocations();
    for (auto _ : state) {
        hits += shoot_ray(rays[next]) ? 1 : 0;
        next = (next + 1) % ray_count;
    }
    state.counters["allocations"] = static_cast<double>(allocations() - before);
    state.counters["hit_share"] = static_cast<double>(hits) / static_cast<double>(state.iterations());
}

void closest_hit_in_the_level(benchmark::State& state) {
    const avrek::Scene scene{atrium_level(static_cast<avrek::VectorUse>(state.range(0)))};
    shoot(state, [&](const avrek::Ray& ray) {
        const auto hit = scene.closest_hit({ray}, {});
        benchmark::DoNotOptimize(hit);
        return hit.has_value();
    });
}
BENCHMARK(closest_hit_in_the_level)->ArgName("vectors")->Arg(2)->Arg(1)->Arg(0);

// The same rays, 64 in one call; the time is that of one ray.
void closest_hits_in_the_level(benchmark::State& state) {
    const avrek::Scene scene{atrium_level(static_cast<avrek::VectorUse>(state.range(0)))};
    constexpr std::size_t batch = 64;
    std::vector<avrek::Cast> casts;
    for (const avrek::Ray& ray : bench::atrium_rays(ray_count)) {
        casts.push_back({ray});
    }
    std::vector<std::optional<avrek::Hit>> hits(batch);
    std::size_t next = 0;
    for (auto _ : state) {
        scene.closest_hits(std::span{casts}.subspan(next, batch), {}, hits);
        benchmark::DoNotOptimize(hits.data());
        next = (next + batch) % ray_count;
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(batch));
}
BENCHMARK(closest_hits_in_the_level)->ArgName("vectors")->Arg(2)->Arg(1)->Arg(0);

// The pellets of one shot in each call.
void closest_hits_of_a_cone(benchmark::State& state) {
    constexpr std::size_t pellets = 8;
    const avrek::Scene scene{atrium_level(static_cast<avrek::VectorUse>(state.range(0)))};
    std::vector<avrek::Cast> casts;
    for (const avrek::Ray& ray : bench::cone_rays(ray_count, pellets)) {
        casts.push_back({ray});
    }
    std::array<std::optional<avrek::Hit>, pellets> hits;
    std::size_t next = 0;
    for ([[maybe_unused]] const auto& step : state) {
        scene.closest_hits(std::span{casts}.subspan(next, hits.size()), {}, hits);
        benchmark::DoNotOptimize(hits);
        next = (next + hits.size()) % ray_count;
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(hits.size()));
}
BENCHMARK(closest_hits_of_a_cone)->ArgName("vectors")->Arg(2)->Arg(1)->Arg(0);

void sight_in_the_level(benchmark::State& state) {
    const avrek::Scene scene{atrium_level()};
    shoot(state, [&](avrek::Ray ray) {
        ray.length = 15.0;
        return scene.any_hit({ray}, {});
    });
}
BENCHMARK(sight_in_the_level);

void sweep_in_the_level(benchmark::State& state) {
    const avrek::Scene scene{atrium_level()};
    const double length = 0.01 * static_cast<double>(state.range(0));
    shoot(state, [&](avrek::Ray ray) {
        ray.length = length;
        return scene.closest_hit({ray, 0.05}, {}).has_value();
    });
}
BENCHMARK(sweep_in_the_level)->ArgName("cm")->Arg(100)->Arg(6000);

void closest_hit_with_bodies(benchmark::State& state) {
    const avrek::Scene scene = crowded(static_cast<std::uint32_t>(state.range(0)));
    shoot(state, [&](const avrek::Ray& ray) {
        const auto hit = scene.closest_hit({ray}, {});
        benchmark::DoNotOptimize(hit);
        return hit && hit->body;
    });
}
BENCHMARK(closest_hit_with_bodies)->ArgName("bodies")->Arg(64)->Arg(1024);

void rewound_hit_with_bodies(benchmark::State& state) {
    const avrek::Scene scene = crowded(bodies);
    const Time at = scene.now() - milliseconds{state.range(0)};
    shoot(state, [&](const avrek::Ray& ray) {
        const auto hit = scene.closest_hit({.ray = ray, .begin = at}, {});
        benchmark::DoNotOptimize(hit);
        return hit && hit->body;
    });
}
BENCHMARK(rewound_hit_with_bodies)->ArgName("ms")->Arg(55)->Arg(203)->Arg(900);

void move_a_body(benchmark::State& state) {
    avrek::Scene scene = crowded(bodies);
    std::uint32_t body = 0;
    for (auto _ : state) {
        scene.move(BodyId{body % bodies}, bench::crowd_pose(body % 97));
        ++body;
    }
}
BENCHMARK(move_a_body);

void remove_and_add_a_body(benchmark::State& state) {
    avrek::Scene scene = crowded(bodies);
    const avrek::RigSpec rig = bench::fifteen_capsules();
    scene.remove(BodyId{0});
    benchmark::DoNotOptimize(scene.add({BodyId{0}, &rig}));
    for (auto _ : state) {
        scene.remove(BodyId{0});
        benchmark::DoNotOptimize(scene.add({BodyId{0}, &rig}));
    }
}
BENCHMARK(remove_and_add_a_body);

void begin_a_frame(benchmark::State& state) {
    avrek::Scene scene = crowded(bodies);
    for (auto _ : state) {
        scene.begin_frame(scene.now() + milliseconds{16});
    }
}
BENCHMARK(begin_a_frame);

void end_a_frame(benchmark::State& state) {
    avrek::Scene scene = crowded(static_cast<std::uint32_t>(state.range(0)));
    for (auto _ : state) {
        scene.end_frame();
    }
}
BENCHMARK(end_a_frame)->ArgName("bodies")->Arg(64)->Arg(256)->Arg(1024);

void build_the_level(benchmark::State& state) {
    const auto& meshes = bench::atrium_meshes();
    std::size_t triangles = 0;
    for (auto _ : state) {
        const avrek::Level level{{}, meshes};
        triangles = level.triangle_count();
    }
    state.counters["triangles"] = static_cast<double>(triangles);
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(triangles));
}
BENCHMARK(build_the_level)->Unit(benchmark::kMillisecond);

} // namespace
