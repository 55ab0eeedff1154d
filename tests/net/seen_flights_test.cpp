#include "../test_data.h"
#include "net_rig.h"

#include <gtest/gtest.h>

#include <array>
#include <map>
#include <set>
#include <utility>

// A client sees remote projectiles fly where the server has them at the time that is drawn.
namespace avrek {
namespace {

using Flying = std::map<std::pair<BodyId, std::uint32_t>, ProjectileReadout>; // by shooter and shot

Flying flying_in(const Skirmish& fight) {
    Flying places;
    for (const ProjectilePool& pool : fight.projectiles()) {
        std::array<ProjectileHandle, 256> there;
        const std::size_t count = pool.list(there);
        for (std::size_t index = 0; index < count; ++index) {
            const ProjectileReadout readout = *pool.find(there[index]);
            places[{readout.shooter, readout.shot}] = readout;
        }
    }
    return places;
}

// Player 1 watches how player 2 throws at a drone, off whose shell burls bounce, and to which seeds stick.
struct Terrace {
    static constexpr BodyId drone{40};
    Arsenal arsenal;
    trial::NetRig rig;
    std::map<Tick, Flying> on_server{}; // at the end of each tick
    std::vector<Notice> told{};
    std::vector<std::pair<Notice, Time>> shown{};
    std::set<std::uint32_t> seen_shots{};
    int compared = 0;
    int off = 0; // farther than 0.1 m from where the server has it

    static Arsenal made(bool sticky) {
        Arsenal made = shipped();
        for (WeaponSpec& weapon : made.weapons) {
            weapon.supply = AmmoSupply::endless;
        }
        for (BodySpec& body : made.bodies) {
            body.health = 1e6;
        }
        ProjectileSpec& seed = made.projectiles[0];
        if (sticky) {
            seed.sticks = true;
            seed.bounce.count = 0;
        }
        return made;
    }
    explicit Terrace(bool sticky)
        : arsenal(made(sticky)), rig(4,
                                     Level{{{HalfSpace{world_up(), 0}, SurfaceId{3}},
                                            {HalfSpace{-world_forward(), -9}, SurfaceId{3}}}},
                                     arsenal) {
        rig.data.arena.plan = {};
        rig.data.arena.plan.spawns = {{{-4, 0, 0}, 0.0, TeamId{1}}, {{0, 0, -3}, 0.0, TeamId{0}}};
        for (PlayerSlot& slot : rig.settings.slots) {
            slot.weapons = {*arsenal.weapon(sticky ? "seed-lobber" : "burl-sling")};
        }
        rig.server = std::make_unique<Server>(rig.data, rig.settings, 11, rig.network.server());
        rig.join(rig.ticket(1), {.latency = from_seconds(0.1)});
        rig.join(rig.ticket(2), {.latency = from_seconds(0.05)});
        (void)rig.server->skirmish().add(
            {.id = drone, .team = TeamId{1}, .body = *arsenal.body("drone"), .at = Vector3{0, 0, 3}});
    }
    // The picture of the client lies between two ticks of the server.
    void compare(const Client& client) {
        const Time at = client.shown_at();
        const Tick tick = at.time_since_epoch() / (tick_span(0, TickRate{64}).end - Time{}) - 1;
        const Flying& there = on_server[tick];
        for (const auto& [id, seen] : flying_in(client.view())) {
            if (const auto its = there.find(id); its != there.end()) {
                const double later = to_seconds(at - tick_span(tick, TickRate{64}).end);
                const Vector3 then = its->second.position + later * its->second.velocity;
                seen_shots.insert(id.second);
                ++compared;
                off += (then - seen.position).norm() > 0.1 ? 1 : 0;
            }
        }
    }
    void watch(Client& client, const ClientEvents& events) {
        told.insert(told.end(), events.notices.begin(), events.notices.end());
        for (const Notice& notice : events.shown) {
            shown.emplace_back(notice, client.shown_at());
        }
    }
    void play(double seconds, bool throws) {
        const Time until = rig.network.now() + from_seconds(seconds);
        while (rig.network.now() < until) {
            rig.network.advance(rig.network.now() + std::chrono::milliseconds{2});
            for (std::size_t index = rig.clients.size(); index > 0; --index) {
                Client& client = *rig.clients[index - 1];
                ClientEvents events = client.receive(rig.network.now());
                if (index == 1) {
                    watch(client, events);
                }
                while (client.is_tick_due(rig.network.now())) {
                    const Tick tick = client.predicted().tick();
                    Intent wanted{.pitch = static_cast<float>(tick / 90 % 3) * 0.12F - 0.1F};
                    wanted.buttons.set(Button::trigger, index == 2 && throws && tick % 90 > 20);
                    events = client.tick(wanted);
                    if (index == 1) {
                        watch(client, events);
                        compare(client);
                    }
                }
            }
            while (rig.server->skirmish().now() <= rig.network.now()) {
                (void)rig.server->tick(0);
                on_server[rig.server->skirmish().tick() - 1] = flying_in(rig.server->skirmish());
            }
        }
    }
    std::ptrdiff_t count(NoticeKind kind) const {
        return std::count_if(told.begin(), told.end(),
                             [kind](const Notice& one) { return one.kind == kind; });
    }
};

TEST(SeenFlights, AreWhereTheServerHasThem) {
    Terrace terrace{false};
    terrace.play(20, true);
    terrace.play(6, false);
    EXPECT_GT(terrace.count(NoticeKind::launched), 8);
    EXPECT_GT(terrace.count(NoticeKind::deflected), 0) << "off the drone";
    EXPECT_EQ(terrace.count(NoticeKind::launched), terrace.count(NoticeKind::landed));
    EXPECT_EQ(std::ssize(terrace.seen_shots), terrace.count(NoticeKind::launched));
    EXPECT_GT(terrace.compared, 500);
    EXPECT_LT(terrace.off, terrace.compared / 20) << "in the tick in which it bounces";
    EXPECT_TRUE(flying_in(terrace.rig.clients[0]->view()).empty());
    ASSERT_EQ(terrace.shown.size(), terrace.told.size()) << "each once";
    for (const auto& [notice, at] : terrace.shown) {
        EXPECT_GE(at, notice.at);
    }
}

TEST(SeenFlights, LateJoinersSeeWhatSticksUntilItGoesOff) {
    Terrace terrace{true};
    terrace.play(2.6, true);
    const Client& late = terrace.rig.join(terrace.rig.ticket(3));
    terrace.play(0.5, false);
    const Flying there = flying_in(terrace.rig.server->skirmish());
    const Flying seen = flying_in(late.view());
    ASSERT_EQ(there.size(), 1U);
    ASSERT_EQ(seen.size(), 1U);
    EXPECT_TRUE(seen.begin()->second.stuck);
    const auto on_drone = [](const Skirmish& fight, const ProjectileReadout& seed) {
        return to_local(*fight.scene().pose_of(Terrace::drone), seed.position);
    };
    const Vector3 off = on_drone(late.view(), seen.begin()->second) -
                        on_drone(terrace.rig.server->skirmish(), there.begin()->second);
    EXPECT_LT(off.norm(), 0.01) << "it moves with the drone";
    terrace.play(2.5, false);
    EXPECT_TRUE(flying_in(late.view()).empty());
    EXPECT_EQ(terrace.count(NoticeKind::exploded), terrace.count(NoticeKind::launched));
    EXPECT_EQ(terrace.count(NoticeKind::landed), terrace.count(NoticeKind::launched));
}

} // namespace
} // namespace avrek
