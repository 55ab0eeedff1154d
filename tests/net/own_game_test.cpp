#include "../rounds.h"
#include "../skirmish/own_game.h"
#include "net_rig.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <map>

// The game's half, over a network.
namespace avrek {
namespace {

Intent any_intent(Draw& draw, Tick tick) {
    Intent intent{.yaw = static_cast<float>(draw(-3, 3)),
                  .ahead = static_cast<float>(draw(-1, 1)),
                  .left = static_cast<float>(draw(-1, 1))};
    intent.buttons = Buttons::from_bits(static_cast<std::uint32_t>(draw.below(1U << 27U)) & ~3U);
    intent.game.words[draw.below(4)] = tick % 3 == 0 ? draw.below(1000) : 0;
    return intent;
}

// A rig whose players want something else every few ticks for a while, and stand still at the end.
struct OwnGame {
    trial::NetRig rig;
    Draw draw;
    std::map<std::pair<BodyId, std::uint64_t>, int>
        marks{}; // by event: predicted, then confirmed or withdrawn
    int twice = 0;
    int predicted = 0;
    int withdrawn = 0;

    OwnGame(const Locomotions& locomotions, std::uint64_t seed)
        : rig(3, bare(), trial::bots_arsenal()), draw(seed) {
        rig.settings.skirmish.locomotions = locomotions;
        rig.server = std::make_unique<Server>(rig.data, rig.settings, 11, rig.network.server());
    }
    static Level bare() {
        return Level{{{HalfSpace{world_up(), 0}}, {Box{{{0, 1, 4}, Rotation::Identity()}, {3, 1, 0.4}}}}};
    }
    void count(const Client& client, const ClientEvents& events) {
        for (const OwnEvent& event : events.own) {
            int& mark = marks[{client.you(), event.id}];
            const bool first = event.mark == EventMark::predicted;
            twice += mark == (first ? 0 : 1) ? 0 : 1;
            mark = first ? 1 : 2;
            if (std::holds_alternative<ActionEvent>(event.event)) {
                predicted += first ? 1 : 0;
                withdrawn += event.mark == EventMark::withdrawn ? 1 : 0;
            }
        }
    }
    template <class Play>
    void run(double seconds, const Play& play) {
        const Time until = rig.network.now() + from_seconds(seconds);
        while (rig.network.now() < until) {
            rig.network.advance(rig.network.now() + std::chrono::milliseconds{2});
            for (const auto& client : rig.clients) {
                count(*client, client->receive(rig.network.now()));
                while (client->is_tick_due(rig.network.now())) {
                    count(*client, client->tick(play(*client, client->predicted().tick())));
                }
            }
            while (rig.server->skirmish().now() <= rig.network.now()) {
                rig.server->tick(rig.network.now().time_since_epoch() / std::chrono::seconds{1});
            }
        }
    }
    void stand_still(double seconds) {
        run(seconds, [](const Client&, Tick) { return Intent{}; });
    }
    void expect_equal_ends() {
        const Server& server = *rig.server;
        for (const auto& client : rig.clients) {
            ASSERT_EQ(client->state(), ClientState::playing);
            EXPECT_EQ(client->predicted().find(client->you())->motion,
                      server.skirmish().find(client->you())->motion);
            EXPECT_EQ(client->ledger(), server.ledger_of(client->you()));
        }
        EXPECT_EQ(twice, 0);
    }
};

TEST(OwnLocomotion, IsPredictedToTheLastBitOverACleanLink) {
    const trial::Leaping leaping{9};
    OwnGame game{{&leaping}, 3};
    for (std::uint32_t player = 1; player <= 3; ++player) {
        game.rig.join(game.rig.ticket(player), {.latency = from_seconds(0.1)});
    }
    game.stand_still(2.0); // until the clocks agree
    std::uint64_t before = 0;
    for (const auto& client : game.rig.clients) {
        before += client->counts().corrections;
    }
    game.run(tests_are_slow ? 10 : 60, [&](const Client&, Tick tick) { return any_intent(game.draw, tick); });
    std::uint64_t after = 0;
    for (const auto& client : game.rig.clients) {
        after += client->counts().corrections;
    }
    EXPECT_EQ(after, before);
    game.stand_still(4.0);
    game.expect_equal_ends();
    EXPECT_GT(std::as_const(*game.rig.server).skirmish().find(BodyId{1})->motion.game.used(), 0U);
}

TEST(OwnLocomotion, EndsEqualOverAnyLink) {
    for (int seed = 1; seed <= rounds(12, "AVREK_MATCHES"); ++seed) {
        const trial::Leaping leaping{static_cast<std::uint64_t>(seed)};
        OwnGame game{{&leaping}, static_cast<std::uint64_t>(seed)};
        for (std::uint32_t player = 1; player <= 3; ++player) {
            game.rig.join(game.rig.ticket(player), {.latency = from_seconds(game.draw(0, 0.2)),
                                                    .jitter = from_seconds(game.draw(0, 0.03)),
                                                    .loss = game.draw(0, 0.2)});
        }
        Intent wanted;
        game.run(5, [&](const Client&, Tick tick) {
            wanted = tick % 5 == 0 ? any_intent(game.draw, tick) : wanted;
            return wanted;
        });
        game.stand_still(6.0);
        game.expect_equal_ends();
    }
}

TEST(OwnLocomotion, AnotherVersionIsRefusedWithASentence) {
    const trial::Leaping leaping{1};
    OwnGame game{{&leaping}, 1};
    const trial::Leaping newer{1, "leaping", 2};
    game.rig.settings.skirmish.locomotions = {&newer}; // what the rig gives its clients
    game.rig.join(game.rig.ticket(1));
    game.stand_still(0.5);
    EXPECT_EQ(game.rig.clients[0]->state(), ClientState::refused);
    EXPECT_EQ(game.rig.clients[0]->reason(), "its bodies move by 'leaping 2'; here they move by 'leaping 1'");
}

// The same bytes over and over cost nothing: they are differences from what the server has acknowledged.
TEST(OwnInputs, CostNothingWhileTheyStayTheSame) {
    const auto bytes_up = [](bool with) {
        OwnGame game{{}, 1};
        game.rig.join(game.rig.ticket(1), {.latency = from_seconds(0.1)});
        Intent same;
        same.game.words = {with ? 0x1234567890abcdefU : 0, 0, with ? 77U : 0U, with ? ~0ULL : 0ULL};
        game.run(5, [&](const Client&, Tick) { return same; });
        EXPECT_EQ(std::as_const(*game.rig.server).skirmish().find(BodyId{1})->intent.game, same.game);
        return game.rig.clients[0]->counts().up.bytes[0];
    };
    const auto without = static_cast<double>(bytes_up(false));
    EXPECT_LT(static_cast<double>(bytes_up(true)), without + 200);
}

// A body that the server's game carries about: the client follows and is never corrected for it.
TEST(OwnLocomotion, ABodyThatTheGamePlacesIsNotPredicted) {
    OwnGame game{{}, 1};
    game.rig.join(game.rig.ticket(1), {.latency = from_seconds(0.1)});
    game.stand_still(1.0);
    const std::uint64_t before = game.rig.clients[0]->counts().corrections;
    const Time until = game.rig.network.now() + from_seconds(3);
    while (game.rig.network.now() < until) {
        game.rig.network.advance(game.rig.network.now() + std::chrono::milliseconds{2});
        (void)game.rig.clients[0]->receive(game.rig.network.now());
        while (game.rig.clients[0]->is_tick_due(game.rig.network.now())) {
            (void)game.rig.clients[0]->tick({.ahead = 1.0F});
        }
        while (game.rig.server->skirmish().now() <= game.rig.network.now()) {
            const double way = 0.02 * static_cast<double>(game.rig.server->skirmish().tick() % 200);
            const BodyUpdate carried{.who = BodyId{1}, .position = {way, 2, -way}};
            game.rig.server->tick(0, {}, {&carried, 1});
        }
    }
    EXPECT_LE(game.rig.clients[0]->counts().corrections, before + 1); // when it is picked up
    const Vector3 here = game.rig.clients[0]->predicted().find(BodyId{1})->motion.position;
    const Vector3 there = std::as_const(*game.rig.server).skirmish().find(BodyId{1})->motion.position;
    EXPECT_LT((here - there).norm(), 1.0);
    EXPECT_EQ(here.y(), 2.0);
}

// A game whose commands push, and which refuses every third of a player's.
struct Pushing {
    trial::Tally* tally;
    std::map<std::uint32_t, std::vector<std::uint16_t>>* seen = nullptr; // server: kinds, by player

    void operator()(GameTick& turn) const {
        for (const GameCommand& command : turn.commands) {
            tally->seen[0] += 1;
            if (seen != nullptr) {
                (*seen)[static_cast<std::uint32_t>(command.who)].push_back(command.kind);
            }
            if (turn.predicts || command.kind % 3 != 0) {
                turn.actions.push_back({.at = turn.fight.now(),
                                        .by = command.who,
                                        .tag = command.kind,
                                        .what = PushAction{.who = command.who, .velocity = {2, 3, 0}}});
            }
        }
    }
};

TEST(GameCommands, ArriveOnceInOrderAndWhatTheyDoIsConfirmedOrWithdrawn) {
    for (const double loss : {0.0, 0.05}) {
        OwnGame game{{}, 4};
        trial::Tally server_tally;
        std::map<std::uint32_t, std::vector<std::uint16_t>> seen;
        game.rig.server->skirmish().set_companion(&server_tally);
        game.rig.server->on_tick(Pushing{&server_tally, &seen});
        std::array<trial::Tally, 3> tallies;
        std::array<std::uint16_t, 3> made{};
        std::map<std::uint32_t, std::vector<std::uint32_t>> told;
        for (std::uint32_t player = 1; player <= 3; ++player) {
            Client& client = game.rig.join(
                game.rig.ticket(player),
                {.latency = from_seconds(0.1), .jitter = from_seconds(loss > 0 ? 0.02 : 0), .loss = loss});
            client.set_companion(&tallies[player - 1]);
            client.on_tick(Pushing{&tallies[player - 1]});
        }
        game.stand_still(1.0);
        game.run(6, [&](Client& client, Tick tick) {
            const auto player = static_cast<std::uint32_t>(client.you());
            if (tick % 20 == 3 * player) {
                EXPECT_TRUE(client.command(++made[player - 1], std::as_bytes(std::span{&player, 1})));
            }
            return Intent{};
        });
        game.stand_still(5.0);
        game.expect_equal_ends();
        std::size_t all = 0;
        int refused = 0;
        for (std::uint32_t player = 1; player <= 3; ++player) {
            EXPECT_EQ(seen[player].size(), made[player - 1]);
            EXPECT_TRUE(std::is_sorted(seen[player].begin(), seen[player].end()));
            EXPECT_EQ(tallies[player - 1].seen[0], made[player - 1]); // rolled back with the rest
            all += seen[player].size();
            refused += made[player - 1] / 3;
        }
        EXPECT_EQ(server_tally.seen[0], all);
        EXPECT_EQ(game.predicted, static_cast<int>(all));
        if (loss == 0.0) {
            EXPECT_EQ(game.withdrawn, refused);
        }
    }
}

} // namespace
} // namespace avrek
