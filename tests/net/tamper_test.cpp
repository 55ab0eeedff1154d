// Tampering gains nothing, and the others do not notice.
#include "net_rig.h"
#include "tampering_client.h"
#include <avrek/scene/level_digest.h>

#include <gtest/gtest.h>

#include <cmath>

namespace avrek {
namespace {

struct Outcome {
    double damage = 0;
    std::uint32_t shots = 0;
    std::int32_t rounds = 0;
    double moved = 0; ///< the farthest in a tick
    std::uint64_t corrections = 0;
    bool out = false;
    FaultCounts faults{};
    bool others_agree = false;
    double missing = 0;
};

// Player 1 tampers, and shoots at player 2, who is honest and walks about with two others.
Outcome tampered(const trial::Tampering& tampering) {
    trial::NetRig rig{4, Level{{{HalfSpace{world_up(), 0}, SurfaceId{1}}}}};
    trial::TamperingClient cheat{rig.network.connect({.latency = from_seconds(0.04)}, rig.ticket(1)),
                                 trial::net_digest(), digest_of(rig.data.arena.level), tampering};
    for (std::uint32_t honest = 2; honest <= 4; ++honest) {
        rig.join(rig.ticket(honest), {.latency = from_seconds(0.06)});
        rig.wants.back() = {.yaw = 0.3F * static_cast<float>(honest), .ahead = honest % 2 == 0 ? 0.0F : 0.4F};
    }
    Outcome outcome;
    Vector3 before = Vector3::Zero();
    std::uint32_t spawned = 0;
    for (int step = 0; step < 10'000; ++step) {
        const Skirmish& skirmish = rig.server->skirmish();
        Intent fair{.buttons = {Button::trigger}};
        const Fighter* self = skirmish.find(BodyId{1});
        const Fighter* target = skirmish.find(BodyId{2});
        if (self != nullptr && target != nullptr) {
            const Look look =
                look_of(target->motion.position + Vector3{0, 1, 0} - skirmish.readout(BodyId{1}).eye);
            fair.yaw = static_cast<float>(look.yaw - self->kick.yaw);
            fair.pitch = static_cast<float>(look.pitch - self->kick.pitch);
            fair.buttons.set(Button::reload, step % 4000 > 3900);
            const double moved = (self->motion.position - before).norm();
            outcome.moved = self->spawned == spawned ? std::max(outcome.moved, moved) : outcome.moved;
            before = self->motion.position;
            spawned = self->spawned;
            const Combatant& who = *skirmish.match().find(BodyId{1});
            outcome.damage = who.stats.damage_dealt;
            outcome.shots = who.stats.shots;
            outcome.rounds =
                who.loadout.slots[0].weapon == WeaponId{0} ? who.loadout.slots[0].state.rounds : 0;
        }
        cheat.run(fair, skirmish.tick());
        rig.run(0.001);
    }
    outcome.out = cheat.is_out();
    outcome.faults = rig.server->faults();
    outcome.others_agree = true;
    for (const auto& client : rig.clients) {
        outcome.corrections += client->counts().corrections;
        outcome.others_agree = outcome.others_agree && client->state() == ClientState::playing;
    }
    for (const PeerReadout& peer : rig.server->peers()) {
        outcome.missing += peer.player != BodyId{1} ? static_cast<double>(peer.missing) : 0.0;
    }
    return outcome;
}

TEST(Tampering, GainsNothingAndIsSentAwayWhereItIsPlain) {
    const Outcome standing = tampered({});
    const Outcome walking = tampered({.walks = true});
    const Outcome& fair = standing;
    EXPECT_FALSE(fair.out);
    EXPECT_EQ(fair.faults.guilty(), 0U);
    EXPECT_GT(fair.shots, 40U);
    EXPECT_GT(fair.damage, 50.0);
    struct Case {
        const char* what;
        trial::Tampering tampering;
        bool goes; ///< the server sends it away
        std::vector<PeerFault> counted;
    };
    for (const Case& one : {Case{"taps", {.taps = true}, false, {}},
                            Case{"contradicts", {.contradicts = true}, true, {PeerFault::too_many}},
                            Case{"hurries", {.hurries = true}, true, {PeerFault::too_early}},
                            Case{"claims", {.claims = true}, true, {PeerFault::unexpected}},
                            Case{"replays", {.replays = true}, true, {PeerFault::unexpected}},
                            Case{"garbles", {.garbles = true}, true, {PeerFault::malformed}},
                            Case{"runs", {.runs = true}, false, {}},
                            Case{"floods", {.floods = 50}, true, {PeerFault::too_many}}}) {
        const Outcome outcome = tampered(one.tampering);
        const Outcome& honest = one.tampering.runs ? walking : standing;
        EXPECT_EQ(outcome.out, one.goes) << one.what;
        for (const PeerFault fault : one.counted) {
            EXPECT_GT(outcome.faults[fault], 0U) << one.what << ": " << to_string(fault);
        }
        EXPECT_LE(outcome.shots, honest.shots + 1) << one.what;
        EXPECT_LE(outcome.damage, 1.1 * honest.damage + 20.0) << one.what;
        EXPECT_LE(outcome.moved, std::max(0.05, 1.01 * honest.moved)) << one.what;
        EXPECT_TRUE(outcome.others_agree) << one.what;
        EXPECT_LE(static_cast<double>(outcome.corrections), 1.1 * static_cast<double>(honest.corrections) + 3)
            << one.what;
        EXPECT_LE(outcome.missing, 1.1 * honest.missing + 1) << one.what;
    }
}

TEST(Tampering, AnEavesdropperCannotUseTheTicketOrThePackets) {
    trial::NetRig rig;
    const Credentials own = rig.ticket(1);
    Client& honest = rig.join(own);
    const Credentials unused = rig.ticket(2);
    rig.run(1);
    // The ticket that was used, with its keys and with others, and one that was not, with others.
    for (const Credentials& stolen :
         {own, Credentials{own.ticket, make_keys()}, Credentials{unused.ticket, make_keys()}}) {
        trial::TamperingClient thief{
            rig.network.connect({}, stolen), trial::net_digest(), digest_of(rig.data.arena.level), {}};
        for (int step = 0; step < 500; ++step) {
            thief.run({}, rig.server->skirmish().tick());
            rig.run(0.002);
        }
        EXPECT_TRUE(thief.is_out());
    }
    EXPECT_EQ(honest.state(), ClientState::playing);
    EXPECT_EQ(rig.server->peers().size(), 1U);
    for (int times = 0; times < 5; ++times) { // shown and never used, it takes one place
        (void)rig.network.connect({}, unused);
        rig.run(0.1);
    }
    EXPECT_EQ(rig.server->peers().size(), 2U);
    const Client& late = rig.join(unused);
    rig.run(1);
    EXPECT_EQ(late.state(), ClientState::playing) << "its bearer can use it still";
}

// The decoders take any bytes; more of this in fuzz/wire_fuzz.cpp.
TEST(Tampering, DecodersTakeChangedBytes) {
    Draw draw{3};
    const Notice notice{.kind = NoticeKind::death,
                        .id = 5,
                        .who = BodyId{2},
                        .amount = 3.5,
                        .point = {1, 2, 3},
                        .payload = {std::byte{7}}};
    const std::vector<detail::Bytes> sound{
        detail::encode(detail::JoinMessage{}),
        detail::encode(detail::WelcomeMessage{.you = BodyId{1}, .settings = {.snapshot_interval = 2}}),
        detail::encode(detail::IntentsMessage{
            9, 3, {Intent{.yaw = 1.0F, .buttons = {Button::jump}}, Intent{.ahead = -1.0F}}}),
        detail::encode(detail::SnapshotMessage{.tick = 4, .bodies = {1, 2, 3}, .own = {9}}),
        detail::encode(std::span{&notice, 1}),
        detail::encode(
            detail::LedgerMessage{true, {{BodyId{1}, "a", 1.5}, {nobody, "b", std::string{"x"}}}})};
    const auto decode_all = [](std::span<const std::byte> bytes) {
        (void)detail::decode_join(bytes);
        (void)detail::decode_welcome(bytes);
        (void)detail::decode_intents(bytes, BodyId{1});
        (void)detail::decode_snapshot(bytes);
        (void)detail::decode_notices(bytes);
        (void)detail::decode_ledger(bytes);
        (void)detail::decode_refusal(bytes);
        (void)detail::decode_goodbye(bytes);
    };
    for (const detail::Bytes& bytes : sound) {
        for (int round = 0; round < 2000; ++round) {
            detail::Bytes changed = bytes;
            for (std::size_t count = 1 + draw.below(4); count > 0; --count) {
                changed[draw.below(changed.size())] = static_cast<std::byte>(draw.below(256));
            }
            changed.resize(draw.below(3) == 0 ? draw.below(changed.size()) : changed.size());
            decode_all(changed);
        }
    }
    EXPECT_EQ(detail::decode_notices(sound[4])->at(0), notice);
    EXPECT_EQ(detail::decode_ledger(sound[5])->entries,
              (std::vector<LedgerEntry>{{BodyId{1}, "a", 1.5}, {nobody, "b", std::string{"x"}}}));
    EXPECT_EQ(detail::decode_intents(sound[2], BodyId{1})->intents[0],
              detail::as_sent(Intent{.who = BodyId{1}, .yaw = 1.0F, .buttons = {Button::jump}}));
}

} // namespace
} // namespace avrek
