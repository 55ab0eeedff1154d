// A client knows where foes are that its player could see, in time, and no others.
#include "../rounds.h"
#include "../scene/draw.h"
#include "known_bodies.h"
#include "net_rig.h"
#include "sight.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace avrek {
namespace {

constexpr double room = 7.0; // metres from wall to wall
constexpr int rooms_a_side = 4;
constexpr std::uint32_t walkers = 8;

// Rooms with a door in the middle of each wall between them, and a pillar in each.
Level rooms() {
    std::vector<LevelPiece> pieces{{HalfSpace{world_up(), 0}, SurfaceId{1}}};
    const double half = 0.5 * room * rooms_a_side;
    const auto wall = [&](double x, double z, double along_x, double along_z) {
        pieces.push_back({Box{{{x, 1.5, z}, Rotation::Identity()}, {along_x, 1.5, along_z}}, SurfaceId{2}});
    };
    for (int line = 0; line <= rooms_a_side; ++line) {
        const double at = room * line - half;
        const bool is_outer = line == 0 || line == rooms_a_side;
        for (int cell = 0; cell < rooms_a_side; ++cell) {
            const double middle = room * (cell + 0.5) - half;
            const double part = 0.25 * room - (is_outer ? 0.0 : 0.4);
            for (const double side : {-1.0, 1.0}) {
                const double to = middle + side * (0.5 * room - part);
                wall(at, to, 0.1, part);
                wall(to, at, part, 0.1);
            }
            if (line < rooms_a_side) {
                wall(at + 0.5 * room + 1.2, middle, 0.4, 0.4);
            }
        }
    }
    return Level{std::move(pieces)};
}

// Walkers of two teams who run about in the rooms, and what each knew and where its eye was.
struct Running {
    static constexpr std::int32_t interval = 2;
    Draw draw{5};
    Skirmish fight;
    std::vector<Intent> intents{};
    std::array<detail::KnownBodies, walkers> known{};
    std::map<Tick, std::array<Vector3, walkers>> eyes{};
    std::map<Tick, std::array<std::array<bool, walkers>, walkers>> knew{}; // by snapshots

    static SkirmishSettings settings() {
        SkirmishSettings set;
        set.snapshot_interval = interval;
        set.history_frames = 64;
        set.snapshot_history = 40;
        set.limits.combatants = walkers;
        return set;
    }
    Running() : fight(trial::bots_arsenal(), rooms(), settings(), 3) {
        for (std::uint32_t id = 0; id < walkers; ++id) {
            const double half = 0.5 * room * rooms_a_side;
            const Vector3 at{room * (id % 4 + 0.5) - half - 1, 0, room * (id / 2 % 4 + 0.5) - half};
            EXPECT_TRUE(
                fight.add({.id = BodyId{id}, .team = TeamId{static_cast<std::uint8_t>(id % 2)}, .at = at}));
            intents.push_back({.who = BodyId{id}, .ahead = 1.0F, .buttons = {Button::sprint}});
        }
    }
    // A tick, and a part of them looks, as on a server.
    void tick(Duration view_delay) {
        for (Intent& intent : intents) {
            intent.yaw += static_cast<float>(draw(-0.25, 0.25));
            intent.yaw = draw.below(60) == 0 ? static_cast<float>(draw(-3, 3)) : intent.yaw;
        }
        fight.advance(intents);
        for (std::uint32_t id = 0; id < walkers; ++id) {
            eyes[fight.tick()][id] = fight.readout(BodyId{id}).eye;
        }
        for (std::uint32_t id = 0; id < walkers; ++id) {
            std::size_t rays = 1'000'000;
            if ((fight.tick() + id / 2) % interval == 0) {
                known[id].look(fight, detail::bodies_to_look_at(fight), BodyId{id}, view_delay, {}, rays);
            }
            for (std::uint32_t other = 0; other < walkers; ++other) {
                knew[fight.tick()][id][other] = known[id].knows(BodyId{other});
            }
        }
        eyes.erase(eyes.begin(), eyes.lower_bound(fight.tick() - 60));
        knew.erase(knew.begin(), knew.lower_bound(fight.tick() - 60));
    }
    // Whether a body could be seen now from anywhere that the player could be by then, by far more rays.
    bool could_be_seen(std::uint32_t who, std::uint32_t other, Duration ahead) const {
        const Vector3 eye = fight.readout(BodyId{who}).eye;
        const Vector3 feet = fight.find(BodyId{other})->motion.position;
        const MovementSpec& moves = fight.arsenal().bodies[0].movement;
        const Metres reach = moves.speed * moves.sprint * to_seconds(ahead) + 0.5;
        for (int at = 0; at < 128; ++at) {
            const double angle = 2.0 * pi * (at % 32) / 32;
            const Vector3 way{sine(angle), 0.0, cosine(angle)};
            const auto wall =
                fight.scene().closest_hit({{eye, way, reach}}, {.hits = {CollisionLayer::level}});
            const Metres free = wall ? std::max(0.0, wall->distance - 0.15) : reach;
            const Vector3 to = eye + std::min(free, reach * (at / 32) / 3.0) * way;
            for (int point = 0; point < 48; ++point) {
                const double turn = 2.0 * pi * (point % 16) / 16;
                const Vector3 off{0.8 * sine(turn), 0.2 + 0.85 * (point / 16), 0.8 * cosine(turn)};
                if (detail::is_free(fight.scene(), to, feet + off)) {
                    return true;
                }
            }
        }
        return false;
    }
};

TEST(Interest, FoesAreKnownBeforeTheyComeIntoSight) {
    int encounters = 0;
    const int enough_encounters = rounds(2'000, "AVREK_ENCOUNTERS");
    for (const double view_delay : {0.12, 0.19, 0.27}) { // round trips of 0, 70 and 150 ms
        Running run;
        const auto ticks = static_cast<Tick>(view_delay * 64);
        std::array<std::array<bool, walkers>, walkers> saw{};
        int met = 0;
        while (3 * met < enough_encounters && run.fight.tick() < 50 * enough_encounters) {
            run.tick(from_seconds(view_delay));
            const Tick shown = run.fight.tick() - ticks;
            if (shown % Running::interval != 0 || run.knew.count(shown) == 0) {
                continue;
            }
            for (std::uint32_t who = 0; who < walkers; ++who) {
                for (std::uint32_t other = 1 - who % 2; other < walkers; other += 2) {
                    const bool sees = detail::is_in_sight(run.fight.scene(), run.eyes[run.fight.tick()][who],
                                                          BodyId{other}, tick_span(shown, {64}).begin);
                    met += sees && !saw[who][other] ? 1 : 0;
                    saw[who][other] = sees;
                    ASSERT_TRUE(!sees || run.knew[shown][who][other])
                        << who << " sees " << other << " in tick " << shown;
                }
            }
        }
        encounters += met;
    }
    EXPECT_GE(encounters, enough_encounters);
}

TEST(Interest, FoesAreForgottenThatCouldNotBeSeenForHalfASecond) {
    Running run;
    std::array<std::array<Tick, walkers>, walkers> seen_at{};
    int samples = 0;
    int unknown = 0;
    int late = 0; // known for too long
    for (int tick = 0; tick < rounds(800); ++tick) {
        run.tick(from_seconds(0.2));
        for (std::uint32_t who = 0; run.fight.tick() % 8 == 0 && who < walkers; ++who) {
            for (std::uint32_t other = 1 - who % 2; other < walkers; other += 2) {
                ++samples;
                const bool knows = run.knew[run.fight.tick()][who][other];
                unknown += knows ? 0 : 1;
                Tick& last = seen_at[who][other];
                last = run.could_be_seen(who, other, from_seconds(0.25)) ? run.fight.tick() : last;
                late += knows && run.fight.tick() - last > 32 ? 1 : 0;
            }
        }
    }
    // The reference looks through no slit of a few centimetres, and not in every tick.
    EXPECT_LE(late, samples / 2000) << "0.0 % of samples";
    EXPECT_GT(unknown, samples / 4);
}

TEST(Interest, AClientIsToldOfItsTeamAndNothingOfFoesBehindAWall) {
    const Level wall{{{HalfSpace{world_up(), 0}, SurfaceId{1}},
                      {Box{{{0, 2, 0}, Rotation::Identity()}, {20, 2, 0.2}}, SurfaceId{2}}}};
    LevelPlan plan;
    plan.spawns = {{{0, 0, 8}, pi, TeamId{0}},
                   {{0, 0, -8}, 0.0, TeamId{1}},
                   {{3, 0, 8}, pi, TeamId{0}},
                   {{3, 0, -8}, 0.0, TeamId{1}}};
    trial::NetRig rig{4, wall, trial::bots_arsenal(), plan};
    for (std::uint32_t player = 1; player <= 4; ++player) {
        rig.join(rig.ticket(player), {.latency = from_seconds(0.05)});
        rig.wants.back() = {};
    }
    rig.run(2.0);
    const auto expect_known = [&](Client& client, std::uint32_t other, bool knows) {
        EXPECT_EQ(client.seen(BodyId{other}).has_value(), knows);
        EXPECT_EQ(client.picture().pose_of(BodyId{other}).has_value(), knows);
        EXPECT_EQ(client.ledger().find(BodyId{other}, "health") != nullptr, knows);
        EXPECT_NE(client.ledger().find(BodyId{other}, "alive"), nullptr);
    };
    expect_known(*rig.clients[0], 3, true);
    expect_known(*rig.clients[0], 2, false);
    expect_known(*rig.clients[1], 4, true);
    expect_known(*rig.clients[1], 1, false);
    rig.wants[0] = {.yaw = static_cast<float>(0.5 * pi), .ahead = 1.0F}; // around the wall, in view of all
    rig.run(9.0);
    EXPECT_TRUE(rig.clients[0]->seen(BodyId{2}) && rig.clients[1]->seen(BodyId{1}));
    EXPECT_EQ(rig.clients[0]->ledger().find(BodyId{2}, "health"), nullptr);
    // The third goes over to the others.
    rig.server->skirmish().match().edit(BodyId{3})->team = TeamId{0};
    rig.run(1.0);
    EXPECT_EQ(rig.clients[0]->ledger().find(BodyId{3}, "health"), nullptr);
    EXPECT_NE(rig.clients[1]->ledger().find(BodyId{3}, "health"), nullptr);
    for (const auto& client : rig.clients) {
        EXPECT_EQ(client->ledger(), rig.server->ledger_of(client->you()));
    }
}

TEST(Interest, GlassHidesNobody) {
    const Level pane{
        {{Box{{{0, 2, 0}, Rotation::Identity()}, {20, 2, 0.1}}, SurfaceId{2}, CollisionLayer::glass},
         {HalfSpace{world_up(), 0}, SurfaceId{1}}}};
    LevelPlan plan;
    plan.spawns = {{{0, 0, 8}, pi, TeamId{0}}, {{0, 0, -8}, 0.0, TeamId{1}}};
    trial::NetRig rig{2, pane, trial::bots_arsenal(), plan};
    for (std::uint32_t player = 1; player <= 2; ++player) {
        rig.join(rig.ticket(player));
        rig.wants.back() = {};
    }
    rig.run(2.0);
    EXPECT_TRUE(rig.clients[0]->seen(BodyId{2}) && rig.clients[1]->seen(BodyId{1}));
}

} // namespace
} // namespace avrek
