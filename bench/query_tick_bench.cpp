#include "allocations.h"
#include "query_tick.h"

#include <benchmark/benchmark.h>

namespace {

using avrek::BodyId;
using avrek::Time;
using std::chrono::milliseconds;

struct Game {
    avrek::RigSpec rig = bench::jointed_rig();
    avrek::Scene scene{avrek::Level{{}, bench::atrium_meshes()},
                       {.bodies = bench::crowd, .joints = bench::joints}};
    std::size_t tick = 0;
    std::vector<std::optional<avrek::Hit>> hits{};
    std::size_t seen = 0;
    std::size_t bodies_hit = 0;

    Game() {
        for (std::uint32_t body = 0; body < bench::crowd; ++body) {
            if (!scene.add({BodyId{body}, &rig, bench::walker(body, 0)})) {
                std::abort();
            }
        }
    }

    const bench::QueryTick& move() {
        ++tick;
        const bench::QueryTick& asked = bench::query_ticks()[tick % bench::tick_count];
        scene.begin_frame(Time{milliseconds{16 * tick}});
        for (std::uint32_t body = 0; body < bench::crowd; ++body) {
            scene.move(BodyId{body}, std::span{asked.poses}.subspan(body * bench::joints, bench::joints));
        }
        return asked;
    }

    // The casts of bodies, as many of each; each passes through the body that asks.
    void cast(const std::vector<avrek::Cast>& casts) {
        const std::size_t each = casts.size() / bench::crowd;
        for (std::size_t index = 0; index < casts.size(); ++index) {
            hits.push_back(scene.closest_hit(
                casts[index], {.ignores = {BodyId{static_cast<std::uint32_t>(index / each)}}}));
        }
    }

    void answer_tick() {
        hits.clear();
        const bench::QueryTick& asked = move();
        for (const auto* casts : {&asked.shots, &asked.buckshot, &asked.muzzles, &asked.aims}) {
            cast(*casts);
        }
        for (const avrek::Cast& sight : asked.sights) {
            seen += scene.any_hit(sight, {.hits = bench::hides}) ? 0 : 1;
        }
        for (const avrek::Cast& ball : asked.balls) {
            hits.push_back(scene.closest_hit(ball, {}));
        }
        const Time then = scene.now() - milliseconds{100};
        for (std::uint32_t body = 0; body < bench::crowd; ++body) {
            avrek::Cast shot = asked.shots[body];
            shot.begin = shot.end = then;
            hits.push_back(scene.closest_hit(shot, {.ignores = {BodyId{body}}}));
        }
        for (const auto& hit : hits) {
            bodies_hit += hit && hit->body ? 1 : 0;
        }
    }
};

void tick_of_queries(benchmark::State& state) {
    Game game;
    for (int warm = 0; warm < 64; ++warm) {
        game.answer_tick();
    }
    game.seen = game.bodies_hit = 0;
    const std::uint64_t before = allocations();
    for ([[maybe_unused]] const auto& step : state) {
        game.answer_tick();
    }
    const auto ticks = static_cast<double>(state.iterations());
    state.counters["allocations"] = static_cast<double>(allocations() - before);
    state.counters["seen"] = static_cast<double>(game.seen) / ticks;
    state.counters["bodies_hit"] = static_cast<double>(game.bodies_hit) / ticks;
}
BENCHMARK(tick_of_queries)->Unit(benchmark::kMicrosecond);

} // namespace
