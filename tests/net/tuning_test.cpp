// Values that change in a networked match: in one tick for all.
#include "../rounds.h"
#include "../scene/draw.h"
#include "../test_data.h"
#include "net_rig.h"

#include <gtest/gtest.h>
#include <unistd.h>

#include <filesystem>

namespace avrek {
namespace {

const GameData& halm() {
    static const std::vector<std::string> files{AVREK_SOURCE_DIR "/data/halm-ring.toml"};
    static const Loaded<GameData> data = load_game_data(files, AVREK_SOURCE_DIR "/data/atrium.toml");
    return *data;
}

TuningStep step_of(const std::string& text) {
    return {.texts = {{"o.toml", text}}};
}

// An overlay of some numbers that the arsenal allows, by chance.
TuningStep some_step(Draw& draw, const TunedArsenal& tuned) {
    for (;;) {
        const ArsenalValues values{tuned.texts()};
        std::vector<ArsenalChange> changes;
        for (const char* entry : {"weapon.thorn-rifle", "weapon.reed-carbine", "body.crew", "projectile.seed",
                                  "condition.nectar", "melee.sickle", "match.atrium"}) {
            for (const ArsenalNumber& number : values.numbers_of(entry)) {
                if (draw.below(8) == 0) {
                    const double value = std::clamp(number.value * draw(0.6, 1.6), number.min, number.max);
                    changes.push_back({number.path, number.whole ? std::floor(value) : value});
                }
            }
        }
        const auto text = values.overlay(changes, "o.toml");
        const TuningStep step{.texts = {text ? *text : ArsenalText{}}};
        if (text && !changes.empty() && tuned.with(step)) {
            return step;
        }
    }
}

struct Tried {
    LinkTrialReport report{};
    std::uint64_t corrections = 0;
    std::size_t steps = 0;
};

// A match over bad links, with a step every second or none, recorded and played again.
Tried tried(std::uint64_t seed, bool tunes) {
    const std::string file = ::testing::TempDir() + "avrek-tuning-" + std::to_string(getpid()) + ".replay";
    const auto draw = [seed](std::uint32_t what) { return random_pair({.seed = seed, .shot = what})[0]; };
    LinkTrialSetup setup;
    setup.bout = {
        .crew = 4, .melee = MeleeId{0}, .weapons = {WeaponId{0}, WeaponId{2}}, .shooters = {ShooterId{0}}};
    setup.skirmish.limits.combatants = 4;
    setup.links = {{.latency = from_seconds(0.3 * draw(0)),
                    .jitter = from_seconds(0.04 * draw(1)),
                    .loss = 0.2 * draw(2),
                    .duplicated = 0.05},
                   {.latency = from_seconds(0.02)}};
    setup.joins = {{}, {}, from_seconds(5 * draw(3))};
    LinkTrial match{halm(), setup, seed};
    Server& server = match.server();
    TunedArsenal tuned{halm().texts};
    Draw random{seed};
    ReplayWriter writer;
    EXPECT_TRUE(
        writer.open(file, head_of(server.skirmish(), halm().digest, "atrium", "a test"), {2, 128}).empty());
    Tried result;
    // A bad link sends a packet again and again: all have the last step at some time.
    const auto is_behind = [&](std::size_t player) {
        const ClientState state = match.client(player).state();
        return state != ClientState::playing ||
               hash_of(match.client(player).predicted().arsenal()) != hash_of(server.skirmish().arsenal());
    };
    while (
        server.skirmish().tick() < 480 ||
        (server.skirmish().tick() < 1500 && (is_behind(0) || is_behind(1) || is_behind(2) || is_behind(3)))) {
        if (tunes && server.skirmish().tick() % 64 == 32 && server.skirmish().tick() < 360) {
            const TuningStep step = some_step(random, tuned);
            EXPECT_TRUE(server.retune(step));
            tuned.take(step);
        }
        match.step();
        for (const BodyId player : server.entered()) {
            writer.add(halm().arsenal, server.entrant_of(player));
        }
        for (const TuningStep& step : server.retuned()) {
            writer.retune(step);
            ++result.steps;
        }
        EXPECT_TRUE(writer.tick(server.skirmish(), server.intents(), {}, server.actions()));
    }
    EXPECT_TRUE(writer.close().empty());
    const std::uint64_t end = server.skirmish().state_hash();
    ReplayPlayer player;
    for (const Diagnostic& fault : player.open(file, halm())) {
        ADD_FAILURE() << to_string(fault);
    }
    EXPECT_FALSE(player.departure());
    player.seek(player.length());
    EXPECT_EQ(player.fight().state_hash(), end);
    result.report = match.finish();
    for (const LinkTrialPlayer& one : result.report.players) {
        result.corrections += one.counts.corrections;
    }
    std::filesystem::remove(file);
    return result;
}

TEST(TuningOverLinks, CountsInOneTickForAllAndCostsNoMoreThanACorrection) {
    double extra = 0;
    double steps = 0;
    const auto matches = static_cast<std::uint64_t>(rounds(6, "AVREK_TUNED_MATCHES"));
    for (std::uint64_t seed = 1; seed <= matches; ++seed) {
        const Tried with = tried(seed, true);
        const Tried without = tried(seed, false);
        EXPECT_EQ(without.steps, 0U);
        EXPECT_LT(with.report.ticks, 1500) << "somebody never had the last step";
        extra += static_cast<double>(with.corrections) - static_cast<double>(without.corrections);
        steps += static_cast<double>(4 * with.steps);
        for (const LinkTrialPlayer& player : with.report.players) {
            EXPECT_EQ(player.state, ClientState::playing) << player.member.name << " of match " << seed;
            EXPECT_TRUE(player.ledger_equal) << player.member.name << " of match " << seed;
            EXPECT_TRUE(player.dead_equal && player.notices_equal)
                << player.member.name << ", match " << seed;
            EXPECT_EQ(player.counts.not_understood, 0U);
        }
    }
    EXPECT_GT(steps, static_cast<double>(20 * matches));
    EXPECT_LE(extra, steps) << "corrections more than without steps";
    std::printf("%.0f corrections more for %.0f steps and clients\n", extra, steps);
}

TEST(TuningOverLinks, IsForThoseWhoMayAndSaysWhatIsWrong) {
    trial::NetRig rig;
    rig.data = halm();
    for (PlayerSlot& slot : rig.settings.slots) {
        slot.weapons = {WeaponId{0}};
    }
    rig.server = std::make_unique<Server>(rig.data, rig.settings, 11, rig.network.server());
    const LinkSpec link{.latency = from_seconds(0.06)};
    Client& tuner = rig.join(issue_credentials(rig.issuer, {.match = 1,
                                                            .player = BodyId{1},
                                                            .expires = 1000,
                                                            .server = rig.network.server_key(),
                                                            .may_tune = true}),
                             link);
    Client& other = rig.join(rig.ticket(2), link);
    rig.run(1);
    const auto asks = [&](Client& client, const TuningStep& step) {
        EXPECT_TRUE(client.propose(step));
        std::optional<TuningNews> answer;
        for (int wait = 0; wait < 200 && !answer; ++wait) {
            rig.network.advance(rig.network.now() + std::chrono::milliseconds{5});
            while (rig.server->skirmish().now() <= rig.network.now()) {
                rig.server->tick(0);
            }
            for (const TuningNews& news : client.receive(rig.network.now()).tuned) {
                answer = news.tick < 0 ? std::optional{news} : answer;
            }
        }
        EXPECT_TRUE(answer) << "no answer came";
        return answer.value_or(TuningNews{}).refusals;
    };
    const std::uint64_t before = hash_of(rig.server->skirmish().arsenal());
    const TuningStep quick = step_of("[weapon.thorn-rifle]\nrate_of_fire = 900\n");
    ASSERT_EQ(asks(other, quick).size(), 1U);
    const auto wrong = asks(tuner, step_of("[weapon.thorn-rifle]\nrate_of_fire = 'fast'\nmagasine = 3\n"));
    ASSERT_EQ(wrong.size(), 2U);
    EXPECT_TRUE(wrong[0].starts_with("o.toml:2:")) << wrong[0];
    EXPECT_EQ(asks(tuner, quick).size(), 1U) << "too early";
    rig.run(1.2);
    EXPECT_EQ(hash_of(rig.server->skirmish().arsenal()), before);
    EXPECT_TRUE(asks(tuner, quick).empty());
    rig.run(1);
    EXPECT_NE(hash_of(rig.server->skirmish().arsenal()), before);
    Client& late = rig.join(rig.ticket(3), link);
    rig.run(1);
    for (const Client* client : {&tuner, &other, &late}) {
        EXPECT_EQ(client->state(), ClientState::playing) << client->reason();
        EXPECT_EQ(client->view().arsenal().weapons[0].rounds_per_minute, 900);
        EXPECT_EQ(client->predicted().arsenal().weapons[0].rounds_per_minute, 900);
    }
    EXPECT_FALSE(tuner.propose(step_of(std::string(max_tuning_bytes, '#'))));
}

} // namespace
} // namespace avrek
