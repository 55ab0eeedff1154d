#include "allocations.h"
#include "atrium.h"
#include <avrek/ballistics/projectiles.h>

#include <benchmark/benchmark.h>

namespace {

using avrek::ProjectileEvent;
using avrek::ProjectilePool;

// The state of one projectile's path: two points and two velocities.
constexpr std::size_t path_bytes = 12 * sizeof(double);

avrek::ProjectileSpec lobbed(double drag) {
    avrek::ProjectileSpec spec;
    spec.speed = 60.0;
    spec.drag = drag;
    spec.radius = 0.05;
    spec.lifetime = std::chrono::hours{1};
    spec.bounce = {8, 1.0, 1.0, 1e9, 2.0};
    return spec;
}

// All launched within the first tick, from all over the atrium.
ProjectilePool full_pool(const avrek::ProjectileSpec& spec, std::size_t count,
                         std::vector<ProjectileEvent>& events) {
    ProjectilePool pool{spec, count};
    const std::vector<avrek::Ray> rays = bench::atrium_rays(count);
    for (std::size_t index = 0; index < count; ++index) {
        pool.launch({.at = avrek::Time{avrek::Duration{static_cast<std::int64_t>(index % 16'000'000)}},
                     .muzzle = rays[index].origin,
                     .direction = rays[index].direction},
                    events);
    }
    return pool;
}

// A million that fly in an empty scene, one tick at 60 Hz each time.
void fly_free(benchmark::State& state) {
    const auto count = static_cast<std::size_t>(state.range(0));
    std::vector<ProjectileEvent> events;
    events.reserve(2 * count);
    ProjectilePool pool = full_pool(lobbed(0.01 * static_cast<double>(state.range(1))), count, events);
    const avrek::Scene empty;
    avrek::Tick tick = 0;
    for (; tick < 2; ++tick) {
        pool.advance(empty, {}, avrek::tick_span(tick, {60}), events);
    }
    for (auto _ : state) {
        pool.advance(empty, {}, avrek::tick_span(tick, {60}), events);
        ++tick;
    }
    state.SetItemsProcessed(state.iterations() * state.range(0));
    // Each tick holds 64/60 steps.
    state.SetBytesProcessed(state.iterations() * state.range(0) * static_cast<std::int64_t>(path_bytes) * 64 /
                            60);
}
BENCHMARK(fly_free)
    ->ArgNames({"count", "drag%"})
    ->Args({1'000'000, 0})
    ->Args({1'000'000, 1})
    ->Unit(benchmark::kMillisecond);

// The memory's own speed: the same bytes, each read and written once.
void triad_in_place(benchmark::State& state) {
    std::vector<double> a(static_cast<std::size_t>(state.range(0)) * path_bytes / sizeof(double) / 2, 1.0);
    std::vector<double> b(a.size(), 2.0);
    for (auto _ : state) {
        for (std::size_t index = 0; index < a.size(); ++index) {
            const double one = a[index];
            a[index] = one + 1e-9 * b[index];
            b[index] = one;
        }
        benchmark::ClobberMemory();
    }
    state.SetBytesProcessed(state.iterations() * state.range(0) * static_cast<std::int64_t>(path_bytes));
}
BENCHMARK(triad_in_place)->ArgName("count")->Arg(1'000'000)->Unit(benchmark::kMillisecond);

// Many that bounce about the atrium among walking bodies, one tick at 60 Hz each time.
void fly_about_the_atrium(benchmark::State& state) {
    const auto count = static_cast<std::size_t>(state.range(0));
    static const avrek::RigSpec rig = bench::fifteen_capsules();
    avrek::Scene scene{avrek::Level{{}, bench::atrium_meshes()}};
    for (std::uint32_t body = 0; body < static_cast<std::uint32_t>(state.range(1)); ++body) {
        if (!scene.add({avrek::BodyId{body}, &rig, bench::crowd_pose(body)})) {
            return state.SkipWithError("no room");
        }
    }
    std::vector<ProjectileEvent> events;
    events.reserve(8 * count);
    ProjectilePool pool = full_pool(lobbed(0.0), count, events);
    const std::vector<avrek::Ray> rays = bench::atrium_rays(count);
    std::size_t next = 0;
    avrek::Tick tick = 0;
    const auto fly = [&] {
        const avrek::Span span = avrek::tick_span(tick, {60});
        scene.begin_frame(span.end);
        events.clear();
        // New ones for those that have ended, so that there are always as many.
        while (pool.size() < count) {
            next = (next + 1) % count;
            pool.launch({.at = span.begin, .muzzle = rays[next].origin, .direction = rays[next].direction},
                        events);
        }
        pool.advance(scene, bench::arsenal().surfaces, span, events);
        ++tick;
    };
    for (int warm = 0; warm < 60; ++warm) {
        fly();
    }
    const std::uint64_t before = allocations();
    for (auto _ : state) {
        fly();
    }
    state.counters["allocations"] = static_cast<double>(allocations() - before);
    state.counters["there"] = static_cast<double>(pool.size());
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(pool.size()));
}
BENCHMARK(fly_about_the_atrium)
    ->ArgNames({"count", "bodies"})
    ->Args({100'000, 0})
    ->Args({100'000, 64})
    ->Unit(benchmark::kMillisecond)
    ->Iterations(60);

} // namespace
