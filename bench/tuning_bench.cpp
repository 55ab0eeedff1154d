// How long the tables of the tuning take to compute.
#include "atrium.h"
#include <avrek/tuning/kill_distribution.h>
#include <avrek/tuning/sensitivity.h>

#include <benchmark/benchmark.h>

#include <array>

namespace {

// Times to kill of all weapons at twelve distances by one profile, within one percent.
void compute_times_to_kill(benchmark::State& state) {
    constexpr std::array distances{2.0, 5.0, 8.0, 12.0, 16.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0};
    const avrek::Arsenal& arsenal = bench::arsenal();
    std::vector<avrek::Engagement> engagements;
    for (const std::string& name : avrek::armament_names(arsenal)) {
        for (const avrek::Metres distance : distances) {
            engagements.push_back(*engagement_of(arsenal, name, arsenal.shooters.front().id,
                                                 arsenal.bodies.front().id, distance));
        }
    }
    for ([[maybe_unused]] const auto& step : state) {
        benchmark::DoNotOptimize(
            avrek::kill_distributions(engagements, {avrek::max_distribution_points, 0.01}));
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(engagements.size()));
}
BENCHMARK(compute_times_to_kill)->Unit(benchmark::kMillisecond);

// The sensitivities of a weapon whose projectiles fly: most of its numbers change no flight.
void compute_sensitivities(benchmark::State& state) {
    const avrek::ArsenalText text = bench::loaded(avrek::read_arsenal_text(bench::data("halm-ring.toml")));
    const avrek::Arsenal& arsenal = bench::arsenal();
    avrek::SensitivitySetup setup;
    setup.armament = "seed-lobber";
    setup.shooter = arsenal.shooters.front().id;
    setup.body = arsenal.bodies.front().id;
    setup.distance = 12.0;
    setup.settings.points = 32;
    std::size_t count = 0;
    for ([[maybe_unused]] const auto& step : state) {
        count = avrek::sensitivities({&text, 1}, setup).size();
    }
    state.counters["numbers"] = static_cast<double>(count);
}
BENCHMARK(compute_sensitivities)->Unit(benchmark::kMillisecond);

} // namespace
