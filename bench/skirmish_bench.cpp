#include "allocations.h"
#include "firing.h"
#include <avrek/skirmish/bout.h>

#include <benchmark/benchmark.h>

#include <cstring>

namespace avrek {
namespace {

using bench::Firing;
using bench::lasting_arsenal;

// One tick of all firing: the same hundred ticks of a fight that goes on, whatever the number.
void advance_all_firing(benchmark::State& state) {
    Firing firing{static_cast<std::size_t>(state.range(0))};
    firing.run(128);
    const std::uint64_t before = allocations();
    std::size_t shots = 0;
    std::size_t events = 0;
    for ([[maybe_unused]] const auto& step : state) {
        const std::span<const Event> told = firing.skirmish.advance(firing.next());
        shots += count_of<ShotEvent>(told);
        events += told.size();
    }
    const auto ticks = static_cast<double>(std::max<benchmark::IterationCount>(1, state.iterations()));
    state.counters["allocations"] = static_cast<double>(allocations() - before);
    state.counters["shots/tick"] = static_cast<double>(shots) / ticks;
    state.counters["events/tick"] = static_cast<double>(events) / ticks;
}
BENCHMARK(advance_all_firing)->Arg(64)->Arg(256)->Arg(1024)->Iterations(100)->Unit(benchmark::kMicrosecond);

// The same with bots that fight in earnest, their thinking apart.
void advance_bots(benchmark::State& state) {
    Skirmish skirmish{
        bench::arsenal(), bench::atrium().level, {.limits = {.combatants = 64}}, 3, bench::atrium().plan};
    Bots bots{skirmish};
    BoutSetup setup{.crew = 64, .melee = MeleeId{0}, .shooters = {ShooterId{0}, ShooterId{1}, ShooterId{2}}};
    setup.weapons.resize(bench::arsenal().weapons.size());
    for (std::size_t index = 0; index < setup.weapons.size(); ++index) {
        setup.weapons[index] = static_cast<WeaponId>(index);
    }
    begin_bout(setup, bout_members(setup), skirmish, bots);
    while (skirmish.tick() < 256) {
        skirmish.advance(bots.think(skirmish));
    }
    const std::uint64_t before = allocations();
    for ([[maybe_unused]] const auto& step : state) {
        state.PauseTiming();
        const auto intents = bots.think(skirmish);
        state.ResumeTiming();
        skirmish.advance(intents);
    }
    state.counters["allocations"] = static_cast<double>(allocations() - before);
}
BENCHMARK(advance_bots)->Iterations(2000)->Unit(benchmark::kMicrosecond);

// A ring of states as a rollback keeps them, so that they do not all lie in a cache.
struct Ring {
    std::vector<std::vector<std::byte>> states;
    std::size_t next = 0;

    Ring(std::size_t count, std::size_t size) : states(count, std::vector<std::byte>(size)) {}
    std::vector<std::byte>& take() {
        next = (next + 1) % states.size();
        return states[next];
    }
};

// The arguments are how many states the ring has: 1 lies in the cache.
void copy_bytes(benchmark::State& state) {
    Firing firing{64};
    firing.run(64);
    std::vector<std::byte> from(firing.skirmish.saved_size());
    (void)firing.skirmish.save(from);
    Ring ring{static_cast<std::size_t>(state.range(0)), from.size()};
    for ([[maybe_unused]] const auto& step : state) {
        std::memcpy(ring.take().data(), from.data(), from.size());
        benchmark::ClobberMemory();
    }
    state.counters["bytes"] = static_cast<double>(from.size());
}
BENCHMARK(copy_bytes)->Arg(1)->Arg(64)->Unit(benchmark::kMicrosecond);

void save_state(benchmark::State& state) {
    Firing firing{64};
    firing.run(64);
    Ring ring{static_cast<std::size_t>(state.range(0)), firing.skirmish.saved_size()};
    for ([[maybe_unused]] const auto& step : state) {
        benchmark::DoNotOptimize(firing.skirmish.save(ring.take()));
    }
}
BENCHMARK(save_state)->Arg(1)->Arg(64)->Unit(benchmark::kMicrosecond);

void restore_state(benchmark::State& state) {
    Firing firing{64};
    firing.run(64);
    Ring ring{static_cast<std::size_t>(state.range(0)), firing.skirmish.saved_size()};
    for (std::vector<std::byte>& one : ring.states) {
        (void)firing.skirmish.save(one);
    }
    for ([[maybe_unused]] const auto& step : state) {
        benchmark::DoNotOptimize(firing.skirmish.restore(ring.take()));
    }
}
BENCHMARK(restore_state)->Arg(1)->Arg(64)->Unit(benchmark::kMicrosecond);

// Back by 8 ticks and on again, with 64. The bar is 3.2 ms.
void resimulate_eight_ticks(benchmark::State& state) {
    Firing firing{64};
    firing.run(128);
    std::vector<std::byte> saved(firing.skirmish.saved_size());
    (void)firing.skirmish.save(saved);
    for ([[maybe_unused]] const auto& step : state) {
        (void)firing.skirmish.restore(saved);
        firing.run(8);
    }
}
BENCHMARK(resimulate_eight_ticks)->Unit(benchmark::kMicrosecond);

// All weapons and bodies get other values, to and fro, with 64; with 1 also other rigs. The bar is 1 ms.
void retune_fight(benchmark::State& state) {
    Firing firing{64};
    firing.run(64);
    std::shared_ptr<const Arsenal> arsenals[2];
    for (int which = 0; which < 2; ++which) {
        Arsenal other = lasting_arsenal();
        for (WeaponSpec& weapon : other.weapons) {
            weapon.rounds_per_minute *= 1.0 + 0.1 * which;
            weapon.aim.in += which * std::chrono::milliseconds{20};
        }
        for (BodySpec& body : other.bodies) {
            body.health *= 1.0 + 0.1 * which;
            if (which * state.range(0) == 1) {
                body.rig.regions.front().shapes.front() = Sphere{{0, 0.1, 0}, 0.2};
            }
        }
        resolve_references(other);
        arsenals[which] = std::make_shared<const Arsenal>(std::move(other));
    }
    std::size_t next = 0;
    for ([[maybe_unused]] const auto& step : state) {
        (void)firing.skirmish.retune(arsenals[next % 2]);
        state.PauseTiming();
        ++next;
        firing.run(2);
        state.ResumeTiming();
    }
}
BENCHMARK(retune_fight)->ArgName("rigs")->Arg(0)->Arg(1)->Iterations(400)->Unit(benchmark::kMicrosecond);

void hash_state(benchmark::State& state) {
    Firing firing{64};
    firing.run(64);
    for ([[maybe_unused]] const auto& step : state) {
        benchmark::DoNotOptimize(firing.skirmish.state_hash());
    }
}
BENCHMARK(hash_state)->Unit(benchmark::kMicrosecond);

} // namespace
} // namespace avrek
