// Admission to a match, and ways to leave it.
#include "net_rig.h"

#include <gtest/gtest.h>

#include <algorithm>

namespace avrek {
namespace {

using trial::NetRig;

TEST(Tickets, AreGoodOnceForOneMatchAndUntilTheyExpire) {
    const KeyPair issuer = make_keys();
    const KeyPair other = make_keys();
    const TicketClaims claims{
        .match = 7, .player = BodyId{3}, .expires = 1000, .server = other.open, .bearer = issuer.open};
    const Ticket ticket = issue_ticket(issuer, claims);
    TicketCheck check{{issuer.open}, 7, other.open};
    const PublicKey bearer = claims.bearer;
    TicketClaims read;
    EXPECT_EQ(check.admit(ticket, bearer, 999, read), TicketFault::none);
    EXPECT_EQ(read.player, BodyId{3});
    EXPECT_EQ(read.server, other.open);
    EXPECT_EQ(check.admit(ticket, bearer, 999, read), TicketFault::used);
    EXPECT_EQ(check.admit(ticket, bearer, 1000, read), TicketFault::expired);
    EXPECT_EQ(check.admit(issue_ticket(issuer, claims), bearer, 0, read), TicketFault::none)
        << "another number";
    EXPECT_EQ((TicketCheck{{issuer.open}, 8, other.open}.admit(ticket, bearer, 0, read)),
              TicketFault::other_match);
    EXPECT_EQ((TicketCheck{{issuer.open}, 7, issuer.open}.admit(ticket, bearer, 0, read)),
              TicketFault::other_server);
    EXPECT_EQ(check.admit(issue_ticket(issuer, claims), other.open, 0, read), TicketFault::other_bearer);
    EXPECT_EQ(check.admit(issue_ticket(other, claims), bearer, 0, read), TicketFault::forged);
    for (std::size_t byte = 0; byte < ticket_size; ++byte) {
        Ticket changed = issue_ticket(issuer, claims);
        changed[byte] ^= std::byte{0x10};
        const TicketFault fault = check.admit(changed, bearer, 0, read);
        EXPECT_TRUE(fault == TicketFault::forged || fault == TicketFault::malformed) << byte;
        EXPECT_EQ(check.admit(std::span{changed}.first(byte), bearer, 0, read), TicketFault::malformed);
    }
}

TEST(NetRig, RefusesWithAReasonThatSaysWhatDiffers) {
    NetRig rig;
    GameData other = rig.data;
    other.digest.whole = 43;
    other.digest.entries[0].digest = 8;
    GameData elsewhere = rig.data;
    elsewhere.arena.level = Level{{{HalfSpace{world_up(), 1}, SurfaceId{1}}}};
    const Client& arsenal = rig.join(rig.ticket(1), {}, &other);
    const Client& level = rig.join(rig.ticket(1), {}, &elsewhere);
    const Client& expired = rig.join(rig.ticket(1, 0));
    const Client& nobody_there = rig.join(rig.ticket(77));
    const Credentials good = rig.ticket(2);
    const Client& in = rig.join(good);
    rig.run(0.5);
    const Client& again = rig.join(good);
    rig.run(0.5);
    for (const Client* refused : {&arsenal, &level, &expired, &nobody_there, &again}) {
        EXPECT_EQ(refused->state(), ClientState::refused);
    }
    EXPECT_NE(arsenal.reason().find("arsenal"), std::string::npos);
    ASSERT_EQ(arsenal.differing().size(), 1U);
    EXPECT_EQ(arsenal.differing()[0], "weapon.rifle");
    EXPECT_NE(level.reason().find("level"), std::string::npos);
    EXPECT_NE(expired.reason().find("expired"), std::string::npos);
    EXPECT_NE(nobody_there.reason().find("no slot for player 77"), std::string::npos);
    EXPECT_NE(again.reason().find("used"), std::string::npos);
    EXPECT_EQ(in.state(), ClientState::playing);
    EXPECT_EQ(rig.server->skirmish().fighters().size(), 1U);
}

// Each change makes one fault, which names its member.
TEST(Settings, AreCheckedWithReasons) {
    const NetRig rig;
    EXPECT_TRUE(validate(rig.data, rig.settings).empty());
    using Change = void (*)(ServerSettings&);
    const std::pair<const char*, Change> changes[] = {
        {"skirmish.rate.hertz", [](ServerSettings& it) { it.skirmish.rate.hertz = 0; }},
        {"skirmish.rules", [](ServerSettings& it) { it.skirmish.rules = MatchId{99}; }},
        {"skirmish.history_frames", [](ServerSettings& it) { it.skirmish.history_frames = 1; }},
        {"skirmish.first_tick", [](ServerSettings& it) { it.skirmish.first_tick = -1; }},
        {"issuer", [](ServerSettings& it) { it.issuer = {}; }},
        {"limits.packets", [](ServerSettings& it) { it.limits.packets = 0; }},
        {"interest.ahead", [](ServerSettings& it) { it.interest.ahead = Duration{-1}; }},
        {"slots.size()", [](ServerSettings& it) { it.skirmish.limits.combatants = 1; }},
        {"slots[1].player", [](ServerSettings& it) { it.slots[1].player = it.slots[0].player; }},
        {"slots[0].player", [](ServerSettings& it) { it.slots[0].player = nobody; }},
        {"slots[2].team", [](ServerSettings& it) { it.slots[2].team = TeamId{32}; }},
        {"slots[0].body", [](ServerSettings& it) { it.slots[0].body = BodySpecId{99}; }},
        {"slots[3].melee", [](ServerSettings& it) { it.slots[3].melee = MeleeId{99}; }},
        {"slots[0].weapons", [](ServerSettings& it) { it.slots[0].weapons = {WeaponId{99}}; }},
        {"slots[0].spawns", [](ServerSettings& it) { it.slots[0].spawns = {9999}; }}};
    for (const auto& [where, change] : changes) {
        ServerSettings settings = rig.settings;
        change(settings);
        const std::vector<Diagnostic> faults = validate(rig.data, settings);
        ASSERT_EQ(faults.size(), 1U) << where;
        EXPECT_EQ(faults[0].where, where);
        EXPECT_FALSE(faults[0].message.empty() || faults[0].allowed.empty()) << where;
    }
    EXPECT_TRUE(validate(ClientSettings{}).empty());
    EXPECT_EQ(validate(ClientSettings{.send_every = 0, .repeats = 9}).size(), 2U);
    EXPECT_EQ(validate(ClientSettings{.locomotions = {nullptr}}).size(), 1U);
}

TEST(NetRig, NobodyGetsInWithoutADigest) {
    NetRig rig;
    GameData without = rig.data;
    without.digest = {};
    const Client& client = rig.join(rig.ticket(1), {}, &without);
    rig.run(0.5);
    EXPECT_EQ(client.state(), ClientState::refused);
    EXPECT_NE(client.reason().find("no digest"), std::string::npos) << client.reason();
}

// Bots and foes of the server's own, which have no slot, are seen, hit and gone like players.
TEST(NetRig, CombatantsWithoutASeatAreSeen) {
    NetRig rig{6};
    const Client& client = rig.join(rig.ticket(1));
    rig.run(0.5);
    Skirmish& fight = rig.server->skirmish();
    constexpr BodyId drone{40};
    ASSERT_TRUE(fight.add({.id = drone, .team = TeamId{1}, .at = Vector3{0, 0, 3}}));
    rig.run(1);
    ASSERT_NE(client.view().find(drone), nullptr);
    EXPECT_LT((client.view().find(drone)->motion.position - fight.find(drone)->motion.position).norm(), 0.1);
    EXPECT_EQ(client.view().match().find(drone)->team, TeamId{1});
    EXPECT_EQ(client.ledger(), rig.server->ledger_of(client.you()));
    fight.remove(drone);
    rig.run(1);
    EXPECT_EQ(client.view().find(drone), nullptr);
    EXPECT_EQ(client.ledger().find(drone, "body"), nullptr);
}

// A client sees who lies and who crouches, and a kill by the game's own means is told to everybody.
TEST(NetRig, StancesAndKillsOfTheGameAreTold) {
    NetRig rig;
    Client& client = rig.join(rig.ticket(1));
    rig.join(rig.ticket(2));
    rig.wants[1] = {.buttons = {Button::crouch}};
    std::vector<Notice> told;
    rig.run(1);
    EXPECT_EQ(share_of(PoseKind::crouching, client.view().find(BodyId{2})->pose), 1.0);
    Skirmish& fight = rig.server->skirmish();
    IncomingHit hit;
    hit.damage.multiply(DamageStepKind::base, 1e6);
    hit.source = BodyId{1};
    EXPECT_EQ(fight.match().hit(BodyId{2}, hit, fight.now()), HitResult::taken);
    const std::uint64_t before = client.counts().notices;
    rig.run(0.5);
    EXPECT_GT(client.counts().notices, before);
    const SeenPlayer seen = *client.seen(BodyId{2});
    EXPECT_EQ(seen.state, BodyState::ragdoll);
    EXPECT_LT((seen.position - client.view().find(BodyId{2})->motion.position).norm(), 0.02);
    EXPECT_FALSE(client.seen(BodyId{77}));
    EXPECT_GE(client.tick_share(rig.network.now()), 0.0);
    EXPECT_LE(client.tick_share(rig.network.now()), 1.0);
    EXPECT_EQ(client.tick_share(rig.network.now() + std::chrono::seconds{1}), 1.0);
    const PoseState& lies = client.view().find(BodyId{2})->pose;
    EXPECT_EQ(share_of(PoseKind::on_front, lies) + share_of(PoseKind::on_back, lies), 1.0);
    const Vector3 feet = client.view().find(BodyId{2})->motion.position;
    EXPECT_LT((feet - fight.find(BodyId{2})->motion.position).norm(), 0.1) << "its feet stay where they are";
    fight.match().edit(BodyId{2})->respawn_at = Time::max();
    fight.match().edit(BodyId{2})->vanish_at = fight.now();
    rig.run(0.5);
    const Client& late = rig.join(rig.ticket(3));
    rig.run(0.5);
    for (const Client* one : {&std::as_const(client), &late}) {
        ASSERT_NE(one->view().find(BodyId{2}), nullptr) << "the dead whose body is gone";
        EXPECT_EQ(one->view().match().find(BodyId{2})->vitals.life, LifeState::dead);
        EXPECT_FALSE(one->view().scene().contains(BodyId{2}));
    }
}

TEST(NetRig, WhoLeavesIsGoneAndWhoIsLostMayComeBackAsTheSame) {
    NetRig rig;
    Client& stays = rig.join(rig.ticket(1));
    Client& leaves = rig.join(rig.ticket(2));
    rig.join(rig.ticket(3));
    rig.run(3);
    rig.server->skirmish().match().edit(BodyId{3})->stats.score = 5;
    leaves.leave();
    rig.network.unplug(PeerId{3});
    rig.run(1);
    EXPECT_FALSE(rig.is_there(2));
    EXPECT_EQ(stays.ledger().find(BodyId{2}, "alive"), nullptr);
    EXPECT_EQ(stays.view().find(BodyId{2}), nullptr) << "nor is it shown";
    rig.run(2.5);
    EXPECT_TRUE(rig.is_there(3)) << "its slot waits";
    EXPECT_EQ(stays.ledger().whole(BodyId{3}, "connected", -1), 0);
    const Client& back = rig.join(rig.ticket(3));
    rig.run(1);
    EXPECT_EQ(back.state(), ClientState::playing);
    EXPECT_EQ(back.ledger().whole(BodyId{3}, "score"), 5);
    EXPECT_EQ(back.ledger(), rig.server->ledger_of(back.you()));
    rig.network.unplug(PeerId{4});
    rig.run(7);
    EXPECT_FALSE(rig.is_there(3)) << "its slot has waited long enough";
    EXPECT_EQ(stays.ledger(), rig.server->ledger_of(stays.you()));
}

// The server's own ticket brings a player back once, to the same combatant, and not after it was removed.
TEST(NetRig, WhoIsLostComesBackByTheServersTicket) {
    NetRig rig;
    const Credentials first = rig.ticket(1);
    const Client& lost = rig.join(first);
    EXPECT_FALSE(lost.return_ticket());
    rig.run(1);
    rig.server->skirmish().match().edit(BodyId{1})->stats.score = 5;
    ASSERT_TRUE(lost.return_ticket());
    const Credentials back{*lost.return_ticket(), first.keys};
    rig.network.unplug(PeerId{1});
    rig.run(3);
    const Client& stranger = rig.join({back.ticket, make_keys()});
    const Client& again = rig.join(back);
    rig.run(1);
    EXPECT_EQ(stranger.state(), ClientState::refused) << "it holds other keys";
    ASSERT_EQ(again.state(), ClientState::playing) << again.reason();
    EXPECT_EQ(again.ledger().whole(BodyId{1}, "score"), 5);
    const Client& twice = rig.join(back);
    rig.run(1);
    EXPECT_EQ(twice.state(), ClientState::refused);
    // A removed player has no way back.
    const Credentials second = rig.ticket(2);
    Transport& line = rig.network.connect({}, second);
    Client cheat{rig.data, {}, line};
    for (int times = 0; times < 400; ++times) {
        (void)cheat.receive(rig.network.now());
        if (cheat.return_ticket()) {
            (void)line.send(server_peer, Channel::unreliable, std::vector<std::byte>(3));
        }
        rig.run(0.01);
    }
    ASSERT_EQ(rig.connections.back().kind, ConnectionEvent::Kind::removed);
    const Client& removed = rig.join({*cheat.return_ticket(), second.keys});
    rig.run(1);
    EXPECT_EQ(removed.state(), ClientState::refused);
}

// A router that forgets gives a player another address: it plays on.
TEST(NetRig, AChangedAddressStaysInPlay) {
    NetRig rig;
    const LinkSpec link{.latency = from_seconds(0.08), .loss = 0.05};
    Client& moves = rig.join(rig.ticket(1), link);
    Client& stays = rig.join(rig.ticket(2), link);
    rig.run(2);
    for (int times = 0; times < 5; ++times) {
        rig.network.move(PeerId{1});
        rig.run(2);
        ASSERT_EQ(moves.state(), ClientState::playing) << times << ": " << moves.reason();
    }
    const Vector3 there = rig.server->skirmish().find(BodyId{1})->motion.position;
    rig.wants[0] = {.ahead = -1.0F};
    rig.run(1);
    EXPECT_GT((rig.server->skirmish().find(BodyId{1})->motion.position - there).norm(), 0.5)
        << "it walks still";
    EXPECT_EQ(moves.ledger(), rig.server->ledger_of(moves.you()));
    EXPECT_EQ(stays.ledger(), rig.server->ledger_of(stays.you()));
}

TEST(NetRig, LateJoinersAreToldWhoIsDeadWithinASecondThoughPacketsAreLost) {
    for (std::uint64_t seed = 1; seed <= 10; ++seed) {
        NetRig rig;
        rig.join(rig.ticket(1));
        rig.join(rig.ticket(2));
        rig.run(1);
        Vitals& vitals = rig.server->skirmish().match().edit(BodyId{2})->vitals;
        Match& match = rig.server->skirmish().match();
        match.hit(BodyId{2}, {.damage = Damage{}, .source = BodyId{1}}, match.now());
        rig.server->notify({.kind = NoticeKind::death, .who = BodyId{2}, .by = BodyId{1}}, {}, true);
        rig.server->notify({.kind = NoticeKind::game, .who = BodyId{9}, .index = 4},
                           {AudienceKind::team, nobody, TeamId{0}}, true);
        vitals.health *= 0.5;
        rig.server->ledger().set(nobody, "weather", std::string{"mist"});
        const LinkSpec lossy{.latency = from_seconds(0.1), .loss = 0.1, .loss_run = 2};
        const std::size_t before = rig.clients.size();
        Client& late = rig.join(rig.ticket(3), lossy);
        std::vector<Notice> told;
        std::size_t calls = 0;
        late.on_ledger([&calls](const LedgerEntry&) { ++calls; });
        for (int step = 0; step < 500; ++step) {
            rig.network.advance(rig.network.now() + std::chrono::milliseconds{2});
            const ClientEvents news = late.receive(rig.network.now());
            told.insert(told.end(), news.notices.begin(), news.notices.end());
            while (rig.server->skirmish().now() <= rig.network.now()) {
                rig.server->tick(1);
            }
        }
        EXPECT_EQ(late.state(), ClientState::playing);
        EXPECT_EQ(late.ledger(), rig.server->ledger_of(late.you())) << "after a second";
        EXPECT_GE(calls, late.ledger().size());
        const auto has_told = [&](NoticeKind kind, std::uint32_t who) {
            return std::count_if(told.begin(), told.end(), [&](const Notice& notice) {
                return notice.kind == kind && notice.who == BodyId{who};
            });
        };
        EXPECT_EQ(has_told(NoticeKind::death, 2), 1);
        EXPECT_EQ(has_told(NoticeKind::game, 9), 0) << "it is of the other team";
        EXPECT_EQ(before, 2U);
    }
}

TEST(NetRig, EverybodyIsInSoonThoughManyPacketsAreLost) {
    constexpr std::uint32_t players = 40;
    trial::NetRig rig{players};
    for (std::uint32_t player = 1; player <= players; ++player) {
        rig.join(rig.ticket(player), {.latency = from_seconds(0.5), .loss = 0.4, .loss_run = 4.0});
    }
    const auto is_in = [](const auto& client) { return client->state() == ClientState::playing; };
    double waited = 0.0;
    while (waited < 6.0 && !std::all_of(rig.clients.begin(), rig.clients.end(), is_in)) {
        rig.run(0.25);
        waited += 0.25;
    }
    EXPECT_EQ(std::count_if(rig.clients.begin(), rig.clients.end(), is_in), players);
}

TEST(NetRig, AShutdownIsToldAndTheSecondSessionOfAPlayerEndsTheFirst) {
    NetRig rig;
    const Client& first = rig.join(rig.ticket(1));
    rig.run(1);
    const Client& second = rig.join(rig.ticket(1));
    rig.run(1);
    EXPECT_EQ(first.state(), ClientState::ended);
    EXPECT_NE(first.reason().find("elsewhere"), std::string::npos);
    EXPECT_EQ(second.state(), ClientState::playing);
    EXPECT_EQ(rig.server->skirmish().fighters().size(), 1U);
    rig.server->shut_down("the lights go out");
    rig.run(0.5);
    EXPECT_EQ(second.state(), ClientState::ended);
    EXPECT_EQ(second.reason(), "the lights go out");
}

TEST(Ledger, KnowsWhatHasChangedAndHowTwoDiffer) {
    Ledger ledger;
    EXPECT_TRUE(ledger.set(BodyId{1}, "score", std::int64_t{3}));
    EXPECT_FALSE(ledger.set(BodyId{1}, "score", std::int64_t{3}));
    EXPECT_TRUE(ledger.set(BodyId{1}, "health", 0.0));
    EXPECT_TRUE(ledger.set(BodyId{1}, "health", -0.0)) << "other bits";
    ledger.set(BodyId{2}, "name", std::string(1000, 'x'));
    EXPECT_EQ(std::get<std::string>(*ledger.find(BodyId{2}, "name")).size(), max_ledger_text);
    EXPECT_EQ(ledger.take_changes().size(), 3U);
    EXPECT_TRUE(ledger.take_changes().empty());
    Ledger other = ledger;
    other.forget(BodyId{2});
    other.set(nobody, "over", std::int64_t{1});
    EXPECT_EQ(differences(ledger, other), (std::vector<std::string>{"2.name", "match.over"}));
    const auto changes = other.take_changes();
    ASSERT_EQ(changes.size(), 2U);
    EXPECT_TRUE(changes[0].gone);
    EXPECT_EQ(other.number(BodyId{1}, "score"), 3.0);
    EXPECT_EQ(other.whole(BodyId{1}, "health", 9), 9) << "it is no whole one";
}

// A machine that stands still for a while loses nobody, and nobody is late or far ahead for long afterwards.
TEST(NetRig, AServerThatStoodStillLosesNobody) {
    for (const Duration still : {from_seconds(0.4), from_seconds(3.0)}) {
        trial::NetRig rig{2};
        rig.settings.limits.silence = std::chrono::seconds{10};
        rig.server = std::make_unique<Server>(rig.data, rig.settings, 11, rig.network.server());
        for (std::uint32_t player = 1; player <= 2; ++player) {
            rig.join(rig.ticket(player), {.latency = from_seconds(0.1)});
        }
        rig.run(3.0);
        rig.stood_still = still;
        rig.run(2.0 * to_seconds(still) + 3.0); // as long again for those who were ahead
        const std::uint64_t missing = rig.server->peers()[0].missing;
        rig.run(2.0);
        for (std::size_t index = 0; index < 2; ++index) {
            EXPECT_EQ(rig.clients[index]->state(), ClientState::playing) << rig.clients[index]->reason();
            EXPECT_LT(rig.server->peers()[index].early, 20);
        }
        EXPECT_LT(rig.server->peers()[0].missing, missing + 5);
    }
}

} // namespace
} // namespace avrek
