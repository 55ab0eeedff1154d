#include <avrek/weapon/spread.h>
#include <avrek/weapon/weapon.h>

#include <benchmark/benchmark.h>

namespace {

avrek::WeaponSpec rifle() {
    avrek::WeaponSpec spec;
    spec.rounds_per_minute = 720.0;
    spec.magazine = 30;
    spec.reserve = 1 << 30;
    spec.reload.time = avrek::from_seconds(2.1);
    spec.spread.hip = avrek::from_degrees(0.7);
    return spec;
}

// Many held weapons, one tick at 60 Hz at a time; each reloads when it is empty.
void advance_held_weapons(benchmark::State& state) {
    const avrek::WeaponSpec spec = rifle();
    std::vector<avrek::WeaponState> weapons(static_cast<std::size_t>(state.range(0)), full_weapon(spec));
    std::vector<avrek::AmmoReserve> reserves(weapons.size(), full_reserve(spec));
    std::vector<avrek::WeaponEvent> events;
    events.reserve(2 * weapons.size());
    avrek::Tick tick = 0;
    for (auto _ : state) {
        const avrek::Span span = avrek::tick_span(tick++, {60});
        events.clear();
        for (std::size_t index = 0; index < weapons.size(); ++index) {
            const avrek::WeaponIntent hold{span.begin, true, weapons[index].rounds == 0};
            advance(spec, weapons[index], reserves[index], span.end, {&hold, 1}, events);
        }
        benchmark::DoNotOptimize(events.data());
    }
    state.SetItemsProcessed(state.iterations() * state.range(0));
}
BENCHMARK(advance_held_weapons)->Arg(1000)->Arg(100'000);

void spread_directions(benchmark::State& state) {
    avrek::RandomKey key{.seed = 1};
    const avrek::Vector3 aim = avrek::direction_of({0.3, 0.1});
    for (auto _ : state) {
        ++key.shot;
        avrek::Vector3 direction = spread_direction(aim, 0.01, key);
        benchmark::DoNotOptimize(direction);
    }
    state.SetItemsProcessed(state.iterations());
}
BENCHMARK(spread_directions);

} // namespace
