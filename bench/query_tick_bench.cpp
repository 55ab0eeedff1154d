#include "allocations.h"
#include "query_tick.h"

#include <benchmark/benchmark.h>

#include <algorithm>

namespace {

using avrek::BodyId;
using avrek::Time;
using std::chrono::milliseconds;

struct Game {
    avrek::RigSpec rig = bench::jointed_rig();
    avrek::Scene scene{avrek::Level{{}, bench::atrium_meshes()},
                       {.bodies = bench::crowd, .joints = bench::joints}};
    std::size_t tick = 0;
    bool batched = true;
    std::vector<std::optional<avrek::Hit>> hits{};
    std::array<bool, 1024> met{};
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
        scene.end_frame();
        return asked;
    }

    // The casts of bodies, as many of each; each passes through the body that asks.
    void cast(const std::vector<avrek::Cast>& casts) {
        const std::size_t each = casts.size() / bench::crowd;
        for (std::uint32_t body = 0; body < bench::crowd; ++body) {
            const std::span<const avrek::Cast> its{&casts[body * each], each};
            const avrek::Filter filter{.ignores = {BodyId{body}}};
            if (batched) {
                hits.resize(hits.size() + each);
                scene.closest_hits(its, filter, std::span{hits}.last(each));
                continue;
            }
            for (const avrek::Cast& one : its) {
                hits.push_back(scene.closest_hit(one, filter));
            }
        }
    }

    void look(std::span<const avrek::Cast> sights) {
        const avrek::Filter filter{.hits = bench::hides};
        if (batched) {
            scene.any_hits(sights, filter, std::span{met}.first(sights.size()));
            seen += static_cast<std::size_t>(std::count(met.begin(), met.begin() + sights.size(), false));
            return;
        }
        for (const avrek::Cast& sight : sights) {
            seen += scene.any_hit(sight, filter) ? 0 : 1;
        }
    }

    void answer_tick() {
        hits.clear();
        const bench::QueryTick& asked = move();
        for (const auto* casts : {&asked.shots, &asked.buckshot, &asked.muzzles, &asked.aims}) {
            cast(*casts);
        }
        look(asked.sights);
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
    game.batched = state.range(0) != 0;
    game.hits.reserve(2048);
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
BENCHMARK(tick_of_queries)->ArgName("batched")->Arg(0)->Arg(1)->Unit(benchmark::kMicrosecond);

} // namespace
