#include "../rounds.h"
#include "../test_data.h"
#include "net_rig.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>

// Posed bodies over a network: they are hit where they are shown.
namespace avrek {
namespace {

struct Still final : PoseSource {
    std::string_view name() const override { return "still"; }
    std::uint32_t version() const override { return 1; }
    PoseState advance(const PoseInput&, PoseState) const override { return {}; }
    void pose(const PosedBody&, std::span<Pose>) const override {}
};

// Two of the shipped crew: one shoots at the limbs of the other, who crouches, jumps, aims and turns.
struct Gallery {
    using Hits = std::map<std::uint32_t, RegionId>; // by shot
    trial::NetRig rig;
    Hits shown{};
    Hits on_server{};

    static Arsenal arsenal() {
        Arsenal made = shipped();
        made.bodies[0].health = 1e6;
        made.bodies[0].light_reaction.push = 0.0;
        made.weapons[0].supply = AmmoSupply::endless;
        return made;
    }
    Gallery(const Arsenal& arsenal, const PoseSource* source)
        : rig(2, Level{{{HalfSpace{world_up(), 0}}}}, arsenal) {
        rig.settings.skirmish.poses = source;
        rig.data.arena.plan = {};
        rig.data.arena.plan.spawns = {{{0, 0, -6}, 0.0, TeamId{1}}, {{0, 0, 3}, 0.0, TeamId{0}}};
        rig.server = std::make_unique<Server>(rig.data, rig.settings, 11, rig.network.server());
        for (std::uint32_t player = 1; player <= 2; ++player) {
            rig.join(rig.ticket(player), {.latency = from_seconds(0.1)});
        }
    }
    static Intent dodging(Tick tick) {
        const double time = static_cast<double>(tick) / 64.0;
        Intent intent{.yaw = static_cast<float>(1.3 * time),
                      .pitch = static_cast<float>(0.5 * std::sin(3 * time)),
                      .ahead = static_cast<float>(std::sin(time))};
        intent.buttons.set(Button::crouch, tick / 20 % 3 == 0);
        intent.buttons.set(Button::jump, tick % 100 < 3);
        intent.buttons.set(Button::aim, tick / 33 % 2 == 0);
        return intent;
    }
    static Intent shooting(const Client& client, Tick tick) {
        const auto joint =
            client.view().scene().pose_of(BodyId{2}, present, static_cast<std::uint32_t>(1 + tick / 24 % 7));
        const Fighter& self = *client.predicted().find(client.you());
        const Look look =
            joint ? look_of(joint->position - self.motion.position - Vector3{0, 1.64, 0.1}) : self.look;
        Intent intent{.yaw = static_cast<float>(look.yaw - self.kick.yaw),
                      .pitch = static_cast<float>(look.pitch - self.kick.pitch)};
        intent.buttons = {Button::aim};
        intent.buttons.set(Button::trigger, tick % 24 > 8 && tick % 24 < 20);
        return intent;
    }
    static void note(Hits& hits, const SegmentEvent& event) {
        const std::optional<Hit>& hit = event.segment.hit;
        if (event.who == BodyId{1} && hit && hit->body && event.verdict == Verdict::stands) {
            hits[event.shot] = *hit->region;
        }
    }
    // A second without shots at the end, so that all are on the server by then.
    void play(double seconds) {
        const Time ceases = rig.network.now() + from_seconds(seconds);
        const Time until = ceases + from_seconds(1);
        while (rig.network.now() < until) {
            rig.network.advance(rig.network.now() + std::chrono::milliseconds{2});
            for (const auto& client : rig.clients) {
                (void)client->receive(rig.network.now());
                while (client->is_tick_due(rig.network.now())) {
                    const Tick tick = client->predicted().tick();
                    const bool shoots = client->you() == BodyId{1};
                    const bool ceased = rig.network.now() >= ceases;
                    for (const OwnEvent& event :
                         client->tick(shoots ? shooting(*client, ceased ? 0 : tick) : dodging(tick)).own) {
                        for (const SegmentEvent& segment : event.segments) {
                            note(shown, segment);
                        }
                    }
                }
            }
            while (rig.server->skirmish().now() <= rig.network.now()) {
                for (const SegmentEvent& segment : events_of<SegmentEvent>(rig.server->tick(0))) {
                    note(on_server, segment);
                }
            }
        }
    }
    double bytes_of_a_body() const {
        const ClientCounts counts = rig.clients.front()->counts();
        return static_cast<double>(counts.down.bytes[static_cast<std::size_t>(TrafficKind::stream)]) /
               static_cast<double>(2 * counts.snapshots);
    }
};

TEST(Poses, AreHitWhereTheyAreShown) {
    const Arsenal arsenal = Gallery::arsenal();
    Gallery gallery{arsenal, nullptr};
    const double seconds = tests_are_slow ? 20 : 150;
    gallery.play(seconds);
    std::size_t confirmed = 0;
    std::map<RegionId, int> regions;
    for (const auto& [shot, region] : gallery.shown) {
        const auto there = gallery.on_server.find(shot);
        confirmed += there != gallery.on_server.end() && there->second == region ? 1 : 0;
        ++regions[region];
    }
    EXPECT_GT(static_cast<double>(gallery.shown.size()), 3.0 * seconds);
    EXPECT_EQ(regions.size(), 4U) << "all regions are shot at";
    EXPECT_GE(static_cast<double>(confirmed), 0.999 * static_cast<double>(gallery.shown.size()))
        << confirmed << " of " << gallery.shown.size();
    // The cost of a pose on the wire: the difference to bodies that have none.
    const Still still;
    Gallery rigid{arsenal, &still};
    rigid.play(seconds);
    const double cost = gallery.bytes_of_a_body() - rigid.bytes_of_a_body();
    std::printf("%zu of %zu confirmed; a pose costs %.2f bytes\n", confirmed, gallery.shown.size(), cost);
    EXPECT_LE(cost, 6.0);
    EXPECT_GT(cost, 0.05);
}

// A client sees joints as the server has them, and another pose source is refused.
TEST(Poses, AreShownAndOthersAreRefused) {
    const Arsenal arsenal = Gallery::arsenal();
    Gallery gallery{arsenal, nullptr};
    gallery.rig.wants[1] = {.pitch = 0.5F, .buttons = {Button::crouch, Button::aim}};
    gallery.rig.run(2);
    const Scene& there = std::as_const(*gallery.rig.server).skirmish().scene();
    const RigSpec& rig = *there.rig_of(BodyId{2});
    for (const auto& client : gallery.rig.clients) {
        for (std::uint32_t joint = 0; joint <= rig.joints.size(); ++joint) {
            const Pose shown = *client->view().scene().pose_of(BodyId{2}, present, joint);
            const Pose real = *there.pose_of(BodyId{2}, present, joint);
            EXPECT_LT((shown.position - real.position).norm(), 0.01);
            EXPECT_GT(std::abs(shown.rotation.dot(real.rotation)), 0.9999);
        }
    }
    EXPECT_EQ(share_of(PoseKind::aiming, gallery.rig.clients[0]->seen(BodyId{2})->pose), 1.0);
    const Still still;
    gallery.rig.settings.skirmish.poses = &still; // what the rig gives its clients
    const Client& other = gallery.rig.join(gallery.rig.ticket(1));
    gallery.rig.run(1);
    EXPECT_EQ(other.state(), ClientState::refused);
    EXPECT_EQ(other.reason(), "its bodies are posed by 'still 1'; here they are posed by 'blended 1'");
}

} // namespace
} // namespace avrek
