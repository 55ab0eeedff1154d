#include "marksman.h"
#include <avrek/tuning/engagement_trial.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cstddef>

namespace avrek {

namespace {

constexpr BodyId first_id{1};
constexpr BodyId second_id{2};
constexpr Duration warm_up = std::chrono::seconds{3};

SkirmishSettings settings_for(TickRate rate) {
    SkirmishSettings settings;
    settings.rate = rate;
    settings.moves_bodies = false;
    settings.limits = {2, 1, 1, 1};
    settings.projectiles = 16;
    settings.history_frames = 2;
    return settings;
}

BodySpecId body_update(const Arsenal& arsenal, std::size_t from_last) {
    return static_cast<BodySpecId>(arsenal.bodies.size() - 1 - from_last);
}

} // namespace

namespace detail {

// A skirmish that goes back to the same moment before each fight.
struct Stage {
    Skirmish skirmish;
    std::vector<std::byte> saved{};

    Stage(const Arsenal& arsenal, TickRate rate)
        : skirmish(arsenal, engagement_level(), settings_for(rate), 1) {}

    // Everybody is ready, and aims, before anybody is seen.
    void warm(std::span<const Intent> ready) {
        const Tick seen = tick_at(Time{warm_up}, skirmish.settings().rate);
        while (skirmish.tick() < seen) {
            skirmish.advance(ready);
        }
    }
    void save() {
        saved.resize(skirmish.saved_size());
        saved.resize(skirmish.save(saved).size());
    }
    void restore() {
        const Outcome restored = skirmish.restore(saved);
        assert(restored);
        static_cast<void>(restored);
    }
};

} // namespace detail

Level engagement_level() {
    return Level{{{HalfSpace{}, SurfaceId{0}, CollisionLayer::level}}};
}

struct EngagementTrial::Impl {
    Arsenal arsenal;
    detail::Marksman shooter;
    detail::Stage stage;
    Time seen{};

    explicit Impl(const Engagement& asked)
        : arsenal(detail::engagement_arsenal({&asked, 1})), shooter(asked, first_id, Vector3::Zero(), 0.0),
          stage(arsenal, detail::rate_for(shooter.shots())) {
        assert(asked.posture.speed == 0.0 && !asked.posture.airborne);
        Skirmish& skirmish = stage.skirmish;
        (void)skirmish.add(shooter.entrant(TeamId{0}, body_update(arsenal, 1)));
        Entrant target{second_id, TeamId{1}, body_update(arsenal, 0)};
        target.at = shooter.place().target.position;
        target.yaw = pi;
        (void)skirmish.add(target);
        const Intent ready = shooter.ready();
        stage.warm({&ready, 1});
        seen = skirmish.now();
        skirmish.match().edit(second_id)->vitals = vitals_of(asked.target, seen);
        stage.save();
    }

    // The target, on its way around the shooter or where it stands: pushes do not move it, as none are
    // computed.
    BodyUpdate update(Time at) const {
        const Radians around = shooter.across() * to_seconds(at - seen);
        BodyUpdate update;
        update.who = second_id;
        update.position = shooter.place().target.position.z() * direction_of({around, 0.0});
        update.yaw = around + pi;
        return update;
    }

    EngagementEnd fight(std::uint32_t number) {
        stage.restore();
        Skirmish& skirmish = stage.skirmish;
        shooter.begin(skirmish, number, seen);
        EngagementEnd end;
        const Engagement& engagement = shooter.engagement();
        const Time last = seen + engagement.shooter.reaction + engagement.limit;
        const std::uint32_t shots_before = skirmish.find(first_id)->shots;
        while (skirmish.now() < last && !end.death) {
            const Span span = tick_span(skirmish.tick(), skirmish.settings().rate);
            const Intent intent = shooter.think(skirmish);
            const BodyUpdate around = update(span.end);
            const std::span<const Event> events = skirmish.advance({&intent, 1}, {&around, 1});
            shooter.feel(events, span);
            for (const DamageEvent& hurt : events_of<DamageEvent>(events)) {
                if (hurt.who == second_id && !end.first_hit) {
                    end.first_hit = hurt.at - seen;
                }
            }
            for (const DeathEvent& death : events_of<DeathEvent>(events)) {
                if (death.who == second_id && death.at < last) {
                    end.death = death.at - seen;
                }
            }
        }
        end.shots = skirmish.find(first_id)->shots - shots_before;
        return end;
    }
};

EngagementTrial::EngagementTrial(const Engagement& engagement) : impl_(std::make_unique<Impl>(engagement)) {}

EngagementTrial::~EngagementTrial() = default;

EngagementEnd EngagementTrial::fight(std::uint32_t number) {
    return impl_->fight(number);
}

struct DuelTrial::Impl {
    Arsenal arsenal;
    std::array<detail::Marksman, 2> sides;
    std::array<Duration, 2> later;
    detail::Stage stage;
    Time seen{};

    Impl(const Engagement& one, const Engagement& other, Duration one_later, Duration other_later)
        : arsenal(detail::engagement_arsenal(std::array{one, other})),
          sides{detail::Marksman{one, first_id, Vector3::Zero(), 0.0},
                detail::Marksman{other, second_id, place_of(one).target.position, pi}},
          later{one_later, other_later},
          stage(arsenal, TickRate{std::max(detail::rate_for(sides[0].shots()).hertz,
                                           detail::rate_for(sides[1].shots()).hertz)}) {
        assert(one.arsenal == other.arsenal && one.distance == other.distance && one.target_speed == 0.0 &&
               other.target_speed == 0.0);
        Skirmish& skirmish = stage.skirmish;
        (void) // Each has the body that the other shoots at.
            skirmish.add(sides[0].entrant(TeamId{0}, body_update(arsenal, 0)));
        (void)skirmish.add(sides[1].entrant(TeamId{1}, body_update(arsenal, 2)));
        const std::array ready{sides[0].ready(), sides[1].ready()};
        stage.warm(ready);
        seen = skirmish.now();
        skirmish.match().edit(first_id)->vitals = vitals_of(other.target, seen);
        skirmish.match().edit(second_id)->vitals = vitals_of(one.target, seen);
        stage.save();
    }

    DuelEnd fight(std::uint32_t number) {
        stage.restore();
        Skirmish& skirmish = stage.skirmish;
        Time last = seen;
        for (std::size_t side = 0; side < 2; ++side) {
            // Each side of a fight draws its own.
            sides[side].begin(skirmish, 2 * number + static_cast<std::uint32_t>(side), seen, later[side]);
            const Engagement& engagement = sides[side].engagement();
            last = std::max(last, seen + engagement.shooter.reaction + later[side] + engagement.limit);
        }
        const auto alive = [&](BodyId id) {
            return skirmish.match().find(id)->vitals.life == LifeState::alive;
        };
        // Projectiles in flight when the first one dies may still kill the other.
        constexpr Duration aftermath = std::chrono::seconds{3};
        while (skirmish.now() < last && (alive(first_id) || alive(second_id))) {
            const Span span = tick_span(skirmish.tick(), skirmish.settings().rate);
            const std::array intents{sides[0].think(skirmish), sides[1].think(skirmish)};
            std::array<BodyUpdate, 2> stands; // pushes move nobody, as none are computed
            for (std::size_t side = 0; side < 2; ++side) {
                stands[side].who = side == 0 ? first_id : second_id;
                stands[side].position = skirmish.find(stands[side].who)->motion.position;
                stands[side].yaw = intents[side].yaw;
            }
            const std::span<const Event> events = skirmish.advance(intents, stands);
            for (detail::Marksman& side : sides) {
                side.feel(events, span);
            }
            if (!alive(first_id) || !alive(second_id)) {
                last = std::min(last, skirmish.now() + aftermath);
                for (detail::Marksman& side : sides) {
                    side.cease();
                }
            }
        }
        DuelEnd end;
        for (const BodyId id : {first_id, second_id}) {
            const std::size_t side = id == first_id ? 0 : 1;
            end.died[side] = !alive(id);
            end.health[side] = skirmish.match().find(id)->vitals.fraction();
        }
        return end;
    }
};

DuelTrial::DuelTrial(const Engagement& one, const Engagement& other, Duration one_later, Duration other_later)
    : impl_(std::make_unique<Impl>(one, other, one_later, other_later)) {}

DuelTrial::~DuelTrial() = default;

DuelEnd DuelTrial::fight(std::uint32_t number) {
    return impl_->fight(number);
}

} // namespace avrek
