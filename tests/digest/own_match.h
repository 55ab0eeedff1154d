#pragma once
// A match with all that a game can bring, recorded and replayed.
#include "../skirmish/own_game.h"
#include "bots_fight.h"
#include <avrek/core/state_hash.h>

#include <array>
#include <cstdio>
#include <cstdlib>
#include <vector>

namespace avrek::trial {

/// The bots' arsenal with a rig that moves, and rules that never end the match.
inline Arsenal own_arsenal() {
    Arsenal arsenal = make_bots_arsenal();
    BodySpec& body = arsenal.bodies[0];
    body.rig.joints = {{"neck", {{0, 1.5, 0}}}, {"waist", {{0, 0.9, 0}}}};
    body.rig.regions[0] = {"head", {Sphere{{0, 0.16, 0}, 0.14}}, 1};
    body.rig.regions[1] = {
        "torso", {Capsule{{0, -0.5, 0}, {0, 0, 0}, 0.22}, Capsule{{0, 0, 0}, {0, 0.5, 0}, 0.2}}, 0, {0, 2}};
    body.poses = {{.name = "standing", .time = from_seconds(0.15), .joints = {{.name = "neck", .look = 0.7}}},
                  {.name = "crouching", .time = from_seconds(0.21), .shift = {0, -0.4, 0}},
                  {.name = "airborne",
                   .time = from_seconds(0.1),
                   .joints = {{.name = "waist", .turn = turned_to({0.2, 0.5})}}},
                  {.name = "aiming", .time = from_seconds(0.13), .joints = {{.name = "waist", .look = 1}}}};
    body.regeneration = {3.3, from_seconds(0.7), from_seconds(2.1)};
    body.first_conditions = {{"nectar"}};
    for (MatchSpec& rules : arsenal.matches) {
        rules.score_to_win = 0;
        rules.time_limit = Duration::max();
        rules.last_one_wins = false;
        rules.lives.start = -1;
    }
    resolve_references(arsenal);
    return arsenal;
}

constexpr std::uint32_t own_bodies = 8;

/// Input of one tick of a match, and the hash of the state after it.
struct OwnTick {
    std::array<Intent, own_bodies> intents{};
    std::vector<GameAction> actions;
    std::uint64_t hash = 0;
};

/// A match with all that a game can bring.
struct OwnFight {
    Leaping leaping{5};
    Skirmish skirmish;
    Tally tally;

    explicit OwnFight(const Arsenal& arsenal)
        : skirmish(arsenal, bots_level(),
                   {.locomotions = {&leaping},
                    .limits = {.combatants = own_bodies + 2},
                    .snapshot_interval = 2,
                    .snapshot_history = 8},
                   77, bots_plan()) {
        skirmish.set_companion(&tally);
    }
    void advance(const OwnTick& tick, StateHash* events = nullptr) {
        for (const Event& event : skirmish.advance(tick.intents, {}, tick.actions)) {
            ++tally.seen[event.index() % tally.seen.size()];
            if (events != nullptr) {
                events->add(static_cast<std::uint64_t>(time_of(event).time_since_epoch().count()));
            }
        }
    }
};

/// Plays what was recorded from a tick on. The hash of every tick must be the recorded one.
inline void replay_own(OwnFight& fight, std::span<const OwnTick> record) {
    while (fight.skirmish.tick() < std::ssize(record)) {
        const OwnTick& tick = record[static_cast<std::size_t>(fight.skirmish.tick())];
        fight.advance(tick);
        if (fight.skirmish.fight_hash() != tick.hash) {
            std::fprintf(stderr, "the replay differs after tick %lld\n",
                         static_cast<long long>(fight.skirmish.tick()));
            std::exit(1);
        }
    }
}

/// Records a match, replays all of it and its last quarter from a saved state, and returns the number of the
/// states of every tick and of all events.
inline std::uint64_t own_digest(Tick ticks) {
    const Arsenal arsenal = own_arsenal();
    OwnFight fight{arsenal};
    Draw draw{9};
    std::array<Intent, own_bodies> intents{};
    std::vector<OwnTick> record;
    std::vector<std::byte> key_state;
    StateHash hash;
    for (Tick tick = 0; tick < ticks; ++tick) {
        for (std::uint32_t body = 0; body < own_bodies; ++body) {
            Intent& intent = intents[body];
            if (draw.below(20) == 0) {
                intent = {.who = BodyId{body},
                          .yaw = static_cast<float>(draw(-3, 3)),
                          .pitch = static_cast<float>(draw(-0.5, 0.5)),
                          .ahead = static_cast<float>(draw(-1, 1)),
                          .left = static_cast<float>(draw(-1, 1))};
                intent.buttons = Buttons::from_bits(static_cast<std::uint32_t>(draw.below(1U << 27U)));
                intent.game.words[0] = draw.below(99);
            }
        }
        OwnTick& now = record.emplace_back(OwnTick{.intents = intents, .actions = {}});
        while (draw.below(6) == 0) {
            now.actions.push_back(random_action(draw, fight.skirmish, own_bodies));
        }
        fight.advance(now, &hash);
        now.hash = fight.skirmish.fight_hash();
        hash.add(now.hash);
        if (tick == ticks * 3 / 4) {
            key_state.resize(fight.skirmish.saved_size());
            if (fight.skirmish.save(key_state).size() != key_state.size()) {
                std::abort();
            }
        }
    }
    OwnFight again{arsenal};
    replay_own(again, record);
    OwnFight late{arsenal};
    if (!late.skirmish.restore(key_state)) {
        std::abort();
    }
    replay_own(late, record);
    return hash.value();
}

} // namespace avrek::trial
