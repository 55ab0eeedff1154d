#include "../rounds.h"
#include "playground_rig.h"

#include <gtest/gtest.h>

// The playground over a link.
namespace avrek::playground {
namespace {

using nlohmann::json;

Duration milliseconds(double count) {
    return from_seconds(count / 1000.0);
}

// Over a link the player sees, hits and tunes what the server has; alone, the fight has waited.
TEST(PlaygroundLink, PlaysOverALink) {
    Session session{demo(), {.crew = 5}};
    play(session, 20);
    const std::uint64_t alone = session.fight().state_hash();
    session.set("weapon.thorn-rifle.damage", 30);
    session.connect({.yours = {.latency = std::chrono::milliseconds{100}, .loss = 0.02}});
    play(session, 64);
    ASSERT_TRUE(session.is_linked());
    EXPECT_EQ(session.fight().arsenal().weapons[0].damage, 30) << "the values that count when it begins";
    session.controls().set(Held::trigger, true);
    session.controls().set(Held::ahead, true);
    const Vector3 before = session.fight().find(session.player())->motion.position;
    std::size_t shots = 0;
    for (int frame = 0; frame < 128; ++frame) {
        session.advance(tick);
        shots += count_of<ShotEvent>(session.events());
    }
    EXPECT_GT(shots, 5U);
    EXPECT_GT((session.fight().find(session.player())->motion.position - before).squaredNorm(), 1.0);
    EXPECT_FALSE(session.picture().tracers.empty());
    const auto& figures = session.linked()->figures();
    ASSERT_GT(figures.size(), 2U);
    EXPECT_NEAR(to_milliseconds(figures.back().round_trip), 100.0, 30.0);
    EXPECT_GT(figures.back().down.all_bytes(), 500U);
    session.set("weapon.thorn-rifle.damage", 44);
    session.command(Command::pause);
    EXPECT_EQ(session.notice(), "a fight over a link goes on");
    play(session, 96);
    EXPECT_EQ(session.fight().arsenal().weapons[0].damage, 44);
    EXPECT_EQ(session.linked()->server()->arsenal().weapons[0].damage, 44);
    session.connect({.yours = {.latency = std::chrono::milliseconds{240}}});
    play(session, 200);
    EXPECT_NEAR(to_milliseconds(figures.back().round_trip), 240.0, 40.0);
    EXPECT_EQ(report_of(session)["link"]["playing"], true);
    session.command(Command::link);
    EXPECT_EQ(session.linked(), nullptr);
    EXPECT_EQ(session.fight().state_hash(), alone);
    play(session, 2);
    EXPECT_EQ(session.fight().arsenal().weapons[0].damage, 44);
}

// A server with an empty slot, and a player's end of the network, whose time the test sets.
struct Elsewhere {
    LinkNetwork network{5};
    KeyPair issuer = make_keys();
    ServerSettings set{};
    std::unique_ptr<Server> server{};

    // Hands packets on to the network, which owns its ends.
    struct End final : Transport {
        Transport& to;
        explicit End(Transport& its_end) : to(its_end) {}
        bool send(PeerId peer, Channel channel, std::span<const std::byte> bytes) override {
            return to.send(peer, channel, bytes);
        }
        bool receive(TransportEvent& event) override { return to.receive(event); }
        void close(PeerId peer, std::string_view reason) override { to.close(peer, reason); }
        void flush() override { to.flush(); }
        PeerLink link(PeerId peer) const override { return to.link(peer); }
    };

    Elsewhere() {
        set.issuer = issuer.open;
        set.slots.push_back({BodyId{7}, "guest", TeamId{0}, BodySpecId{}, std::nullopt, {WeaponId{0}}, {}});
        server = std::make_unique<Server>(*demo(), set, 3, network.server());
    }
    void join(Session& session, bool may_tune) {
        const Credentials credentials = issue_credentials(issuer, {.match = set.match,
                                                                   .player = BodyId{7},
                                                                   .expires = 100,
                                                                   .server = network.server_key(),
                                                                   .may_tune = may_tune});
        session.join(BodyId{7}, {},
                     std::make_unique<End>(network.connect({.latency = milliseconds(40)}, credentials)));
    }
    void play(Session& session, int ticks) {
        for (int index = 0; index < ticks; ++index) {
            network.advance(network.now() + tick);
            server->tick(1);
            session.advance(tick);
        }
    }
};

TEST(PlaygroundLink, JoinsAServerElsewhereAndTunesItIfItMay) {
    for (const bool may_tune : {true, false}) {
        Elsewhere elsewhere;
        Session session{demo(), {.crew = 2}};
        elsewhere.join(session, may_tune);
        elsewhere.play(session, 60);
        ASSERT_TRUE(session.is_linked()) << session.notice();
        EXPECT_EQ(session.player(), BodyId{7});
        EXPECT_EQ(session.name_of(session.player()), "guest");
        EXPECT_EQ(session.name_of(BodyId{2}), "combatant 2") << "not one of the playground's own";
        elsewhere.play(session, 80);
        EXPECT_NEAR(to_milliseconds(session.linked()->figures().back().round_trip), 55.0, 25.0);
        session.controls().set(Held::trigger, true);
        session.set("weapon.thorn-rifle.damage", 33);
        session.set("weapon.thorn-rifle.magazine", 44);
        session.command(Command::undo); // the server is to have the first magazine, which it may know or not
        elsewhere.play(session, 160);
        session.set("weapon.thorn-rifle.damage", 31);
        elsewhere.play(session, 5);
        session.set("weapon.thorn-rifle.damage", 33); // too soon to be asked for at once
        elsewhere.play(session, 160);
        EXPECT_EQ(elsewhere.server->skirmish().arsenal().weapons[0].damage, may_tune ? 33.0 : 22.0);
        EXPECT_EQ(session.fight().arsenal().weapons[0].damage, may_tune ? 33.0 : 22.0);
        EXPECT_EQ(elsewhere.server->skirmish().arsenal().weapons[0].magazine, 30);
        EXPECT_GT(session.fight().match().find(session.player())->stats.shots, 5U);
        session.connect({});
        EXPECT_EQ(session.linked()->server(), nullptr) << "the link of another is as it is";
        session.command(Command::link);
        EXPECT_EQ(session.linked(), nullptr);
        elsewhere.play(session, 30);
        EXPECT_TRUE(elsewhere.server->peers().empty()) << "it has left";
    }
    Session alone{demo(), {.crew = 1}};
    LinkNetwork silent;
    alone.join(BodyId{1}, {}, std::make_unique<Elsewhere::End>(silent.connect({})));
    play(alone, 700);
    EXPECT_EQ(alone.linked(), nullptr);
    EXPECT_EQ(alone.notice(), "nobody answers");
}

// Each side's times are apart by its way, and the server rewinds to what the shooter saw, as far as it may.
TEST(PlaygroundLink, TellsKillsThreeWays) {
    std::size_t whole = 0;
    std::size_t rewound = 0;
    std::size_t ghosts = 0;
    std::int64_t scores = 0;
    for (std::uint64_t seed = 1; seed <= static_cast<std::uint64_t>(rounds(8)) && whole < 12; ++seed) {
        Session session{demo(), {.crew = 2, .seed = seed}};
        const double latency = 60.0 + 20.0 * static_cast<double>(seed);
        const double theirs = 110.0;
        session.connect(
            {.yours = {.latency = milliseconds(latency)}, .theirs = {.latency = milliseconds(theirs)}});
        session.command(Command::show_second);
        for (int index = 0; index < 3000 && session.linked()->accounts().kills().size() < 3; ++index) {
            session.controls().set(Held::left, index % 120 < 60);
            session.controls().set(Held::right, index % 120 >= 60);
            session.advance(tick);
            for (const Ghost& ghost : session.linked()->ghosts()) {
                ++ghosts;
                ASSERT_TRUE(ghost.who == BodyId{1} && !ghost.parts.empty());
            }
        }
        ASSERT_TRUE(session.second_seen());
        EXPECT_EQ(session.second_seen()->player, BodyId{2});
        play(session, 60); // the last one is felt
        const Match& match = session.linked()->server()->match();
        for (const TeamId team : {TeamId{0}, TeamId{1}}) {
            EXPECT_EQ(session.team_score(team), match.team_score(team));
            scores += match.team_score(team);
        }
        for (const KillAccount& kill : session.linked()->accounts().kills()) {
            const auto words = told(kill, *session.linked()->server(), [](BodyId) { return "x"; });
            EXPECT_EQ(words.server.size(), kill.hits.size());
            ASSERT_TRUE(kill.by == BodyId{2} && kill.who == BodyId{1});
            ASSERT_TRUE(kill.felt);
            EXPECT_NEAR(to_milliseconds(*kill.felt - kill.killed), 0.5 * latency, 25.0);
            for (const HitAccount& hit : kill.hits) {
                if (!hit.fired || !hit.judged || !hit.felt || hit.verdict != Verdict::stands) {
                    continue;
                }
                ++whole;
                EXPECT_GT(to_milliseconds(*hit.judged - *hit.fired), 0.5 * theirs - 1.0);
                EXPECT_LT(to_milliseconds(*hit.judged - *hit.fired), 0.5 * theirs + 150.0);
                EXPECT_NEAR(to_milliseconds(*hit.felt - *hit.judged), 0.5 * latency, 25.0);
                EXPECT_GT(to_milliseconds(hit.view_delay), 0.5 * theirs);
                if (hit.drawn && hit.view_delay < milliseconds(250.0)) {
                    ++rewound;
                    EXPECT_LT((*hit.drawn - hit.rewound).norm(), 0.03) << "the server judged by its picture";
                }
            }
        }
    }
    EXPECT_GT(whole, enough(3U));
    EXPECT_NE(scores, 0);
    EXPECT_GT(rewound, 0U);
    EXPECT_GT(ghosts, 0U) << "where the server rewound the target of the second player's shots to";
}

TEST(PlaygroundLink, BeginsAnewForOtherRatesOnceASliderStandsStill) {
    Session session{demo(), {.crew = 4}};
    session.set("link.latency", 100);
    EXPECT_EQ(session.linked(), nullptr) << "of the next link";
    session.command(Command::link);
    play(session, 90);
    EXPECT_EQ(session.linked()->link().yours.latency, milliseconds(100));
    session.set("link.loss", 3);
    const Tick before = session.linked()->server()->tick();
    for (const double hertz : {40.0, 35.0, 30.0}) {
        session.set("link.tick_rate", hertz);
        play(session, 5);
    }
    EXPECT_GT(session.linked()->server()->tick(), before) << "not while it is dragged";
    EXPECT_EQ(session.linked()->server()->settings().rate.hertz, 64);
    play(session, 40);
    EXPECT_EQ(session.linked()->server()->settings().rate.hertz, 30);
    EXPECT_EQ(session.linked()->link().yours.loss, 0.03);
    play(session, 60);
    ASSERT_TRUE(session.is_linked());
    EXPECT_LT(session.linked()->server()->tick(), 60);
    const auto numbers = session.link_numbers();
    EXPECT_EQ(numbers.back().path, "match.atrium.lag_compensation.max_rewind");
    for (const ArsenalNumber& number : numbers_of(LinkSettings{})) {
        LinkSettings link;
        EXPECT_TRUE(set_number(link, number.path, number.min));
        EXPECT_TRUE(set_number(link, number.path, number.value));
        const auto again = numbers_of(link);
        EXPECT_TRUE(std::any_of(again.begin(), again.end(), [&](const ArsenalNumber& one) {
            return one.path == number.path && std::abs(one.value - number.value) < 1e-9;
        })) << number.path;
    }
}

} // namespace
} // namespace avrek::playground
