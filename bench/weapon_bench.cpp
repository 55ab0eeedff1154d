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
    spec.spread.speed_half_life = avrek::from_seconds(0.06);
    spec.spread.bloom.per_shot = {{{0.0, 0.001}, {0.007, 0.004}, {0.03, 0.005}}};
    spec.spread.bloom.max = 0.04;
    spec.recoil.pattern = {{0.0, 0.006}, {0.001, 0.006}, {-0.001, 0.005}, {0.002, 0.004}};
    spec.recoil.jitter = {0.001, 0.001};
    spec.recoil.recovery_share = 0.65;
    spec.aim.in = avrek::from_seconds(0.24);
    return spec;
}

// Many held weapons, one tick at 60 Hz at a time; each reloads when it is empty. The ticks allocate nothing.
struct HeldWeapons {
    avrek::WeaponSpec spec;
    std::vector<avrek::WeaponState> weapons;
    std::vector<avrek::AmmoReserve> reserves;
    std::vector<avrek::WeaponEvent> events{};
    avrek::Tick tick = 0;

    HeldWeapons(const avrek::WeaponSpec& of, std::size_t count)
        : spec{of}, weapons(count, full_weapon(of)), reserves(count, full_reserve(of)) {
        events.reserve(3 * count);
    }

    template <class IsHeld>
    void advance_all(const IsHeld& is_held) {
        const avrek::Span span = avrek::tick_span(tick, {60});
        events.clear();
        for (std::size_t index = 0; index < weapons.size(); ++index) {
            const avrek::WeaponIntent hold{
                .at = span.begin, .trigger = is_held(index), .reload = weapons[index].rounds == 0};
            advance(spec, weapons[index], reserves[index], span.end, {&hold, 1}, events);
        }
        ++tick;
    }
};

void advance_held(benchmark::State& state, const avrek::WeaponSpec& spec, std::size_t apart) {
    HeldWeapons held{spec, static_cast<std::size_t>(state.range(0))};
    // Weapon i is held from tick i modulo `apart` on: 1 for all at once.
    while (held.tick < static_cast<avrek::Tick>(apart)) {
        held.advance_all(
            [&](std::size_t index) { return held.tick >= static_cast<avrek::Tick>(index % apart); });
    }
    std::uint64_t asked = 0;
    for (auto _ : state) {
        const std::uint64_t start = allocations();
        held.advance_all([](std::size_t) { return true; });
        asked += allocations() - start;
        benchmark::DoNotOptimize(held.events.data());
    }
    state.counters["allocations"] = static_cast<double>(asked);
    state.SetItemsProcessed(state.iterations() * state.range(0));
}

// A magazine and its reload take 276 ticks: pressed in so many of them, the weapons are as mixed as in a
// match.
constexpr std::size_t mixed = 276;

void advance_held_weapons(benchmark::State& state) {
    advance_held(state, rifle(), mixed);
}
BENCHMARK(advance_held_weapons)->Arg(1000)->Arg(100'000);

void advance_held_weapons_in_step(benchmark::State& state) {
    advance_held(state, rifle(), 1);
}
BENCHMARK(advance_held_weapons_in_step)->Arg(100'000);

void advance_held_full_weapons(benchmark::State& state) {
    advance_held(state, full_rifle(), mixed);
}
BENCHMARK(advance_held_full_weapons)->Arg(1000)->Arg(100'000);

void advance_held_full_weapons_in_step(benchmark::State& state) {
    advance_held(state, full_rifle(), 1);
}
BENCHMARK(advance_held_full_weapons_in_step)->Arg(100'000);

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
