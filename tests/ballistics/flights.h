#pragma once
// Flights of one kind of projectile, for tests.
#include <avrek/ballistics/projectiles.h>

#include <gtest/gtest.h>

#include <vector>

namespace avrek::trial {

inline constexpr BodyId thrower{1};
inline constexpr BodyId catcher{2};

inline ProjectileSpec seed() {
    ProjectileSpec spec;
    spec.speed = 40;
    spec.radius = 0.05;
    spec.drag = 0.02;
    spec.lifetime = std::chrono::seconds{3};
    return spec;
}

inline std::vector<ProjectileEvent> fly(ProjectilePool& pool, const World& world, TickRate rate, Tick ticks,
                                        std::span<const SurfaceSpec> surfaces = {}) {
    std::vector<ProjectileEvent> events;
    for (Tick tick = 0; tick < ticks; ++tick) {
        pool.advance(world, surfaces, tick_span(tick, rate), events);
    }
    return events;
}

inline std::vector<ProjectileEvent> fly_one(const ProjectileSpec& spec, const Launch& launch,
                                            const World& world, TickRate rate = {60},
                                            std::span<const SurfaceSpec> surfaces = {}) {
    ProjectilePool pool{spec, 4};
    std::vector<ProjectileEvent> launched;
    EXPECT_TRUE(pool.launch(launch, launched));
    const auto ticks = static_cast<Tick>(to_seconds(spec.lifetime) * rate.hertz) + 2;
    std::vector<ProjectileEvent> events = fly(pool, world, rate, ticks, surfaces);
    EXPECT_EQ(pool.size(), 0U);
    return events;
}
} // namespace avrek::trial
