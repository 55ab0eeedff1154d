#include "allocations.h"
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

// A rifle with everything that a weapon can have on it.
avrek::WeaponSpec full_rifle() {
    avrek::WeaponSpec spec = rifle();
    spec.chamber = true;
    spec.reload.commit = avrek::from_seconds(1.5);
    spec.spread.aimed = avrek::from_degrees(0.25);
    spec.spread.moving = {{{0.0, 1.0}, {1.5, 1.2}, {6.0, 2.4}}};
    spec.spread.settle = avrek::from_seconds(0.06);
    spec.spread.bloom.per_shot = {{{0.0, 0.001}, {0.007, 0.004}, {0.03, 0.005}}};
    spec.spread.bloom.most = 0.04;
    spec.recoil.path = {{0.0, 0.006}, {0.001, 0.006}, {-0.001, 0.005}, {0.002, 0.004}};
    spec.recoil.jitter = {0.001, 0.001};
    spec.recoil.returns = 0.65;
    spec.aim.in = avrek::from_seconds(0.24);
    return spec;
}

// Many held weapons, one tick at 60 Hz at a time; each reloads when it is empty. The ticks allocate nothing.
void advance_held(benchmark::State& state, const avrek::WeaponSpec& spec) {
    std::vector<avrek::WeaponState> weapons(static_cast<std::size_t>(state.range(0)), full_weapon(spec));
    std::vector<avrek::AmmoReserve> reserves(weapons.size(), full_reserve(spec));
    std::vector<avrek::WeaponEvent> events;
    events.reserve(3 * weapons.size());
    avrek::Tick tick = 0;
    std::uint64_t before = 0;
    for (auto _ : state) {
        before = before == 0 ? allocations() : before;
        const avrek::Span span = avrek::tick_span(tick++, {60});
        events.clear();
        for (std::size_t index = 0; index < weapons.size(); ++index) {
            const avrek::WeaponIntent hold{
                .at = span.begin, .trigger = true, .reload = weapons[index].rounds == 0};
            advance(spec, weapons[index], reserves[index], span.end, {&hold, 1}, events);
        }
        benchmark::DoNotOptimize(events.data());
    }
    state.counters["allocations"] = static_cast<double>(allocations() - before);
    state.SetItemsProcessed(state.iterations() * state.range(0));
}

void advance_held_weapons(benchmark::State& state) {
    advance_held(state, rifle());
}
BENCHMARK(advance_held_weapons)->Arg(1000)->Arg(100'000);

void advance_held_full_weapons(benchmark::State& state) {
    advance_held(state, full_rifle());
}
BENCHMARK(advance_held_full_weapons)->Arg(1000)->Arg(100'000);

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
