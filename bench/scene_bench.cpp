#include <avrek/core/random.h>
#include <avrek/scene/scene.h>

#include <benchmark/benchmark.h>

namespace {

// A crowd of bodies of eleven capsules each on a floor, and rays from among them.
void closest_hit_in_a_crowd(benchmark::State& state) {
    avrek::RigSpec rig;
    for (int region = 0; region < 11; ++region) {
        const double height = 0.1 + 0.16 * region;
        rig.regions.push_back({std::string(1, static_cast<char>(0x61 + region)),
                               {avrek::Capsule{{-0.1, height, 0}, {0.1, height, 0}, 0.1}}});
    }
    avrek::Scene scene{avrek::Level{{{avrek::HalfSpace{avrek::world_up(), 0}, avrek::SurfaceId{1}}}}};
    for (std::uint32_t body = 0; body < static_cast<std::uint32_t>(state.range(0)); ++body) {
        const auto [x, z] = avrek::random_pair({.seed = 1, .combatant = body});
        if (!scene.add(
                {avrek::BodyId{body}, &rig, {{40 * x - 20, 0, 40 * z - 20}, avrek::turned_to({x, 0})}})) {
            return state.SkipWithError("no room");
        }
    }
    avrek::RandomKey key{.seed = 2};
    for (auto _ : state) {
        ++key.shot;
        const auto [turn, lift] = avrek::random_pair(key);
        const avrek::Ray ray{{0, 1.5, 0}, avrek::direction_of({6.28 * turn, 0.2 * lift - 0.1}), 100};
        auto hit = scene.closest_hit({ray}, {.ignores = {avrek::BodyId{0}}});
        benchmark::DoNotOptimize(hit);
    }
    state.SetItemsProcessed(state.iterations());
}
BENCHMARK(closest_hit_in_a_crowd)->Arg(2)->Arg(64);

} // namespace
