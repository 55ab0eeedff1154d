#include "../rounds.h"
#include "../test_data.h"
#include <avrek/avrek.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

// Pose sources: the built-in blend, and those of a game.
namespace avrek {
namespace {

constexpr BodyId poser{1};

Skirmish garden(const PoseSource* source = nullptr, std::int32_t hertz = 64) {
    Skirmish fight{shipped(),
                   Level{{{HalfSpace{world_up(), 0}}}},
                   {.rate = {hertz}, .poses = source, .limits = {.combatants = 2}},
                   1};
    (void)fight.add({.id = poser, .weapons = std::array{WeaponId{0}}, .at = Vector3(Vector3::Zero())});
    return fight;
}

Metres height_of(const Skirmish& fight, const char* joint) {
    const RigSpec& rig = shipped().bodies[0].rig;
    return fight.scene().pose_of(poser, present, *find_joint(rig, joint))->position.y();
}

// Whatever a body does: shares add up to one, and no joint jumps.
TEST(BlendedPoses, MoveWithoutAJump) {
    std::mt19937 random{7};
    Skirmish fight = garden();
    const RigSpec& rig = shipped().bodies[0].rig;
    const std::size_t joints = rig.joints.size() + 1;
    std::vector<Pose> before;
    Intent intent{.who = poser};
    for (int tick = 0; tick < rounds(2000); ++tick) {
        if (random() % 6 == 0) {
            intent.buttons = Buttons::from_bits(random() & 0x3ffU & ~1U);
        }
        std::vector<GameAction> actions;
        if (random() % 200 == 0) {
            actions.push_back(
                {.at = fight.now(), .what = RagdollAction{.who = poser, .on_back = tick % 2 == 0}});
        }
        fight.advance({&intent, 1}, {}, actions);
        double sum = 0.0;
        for (std::size_t kind = 0; kind + 1 < pose_kind_count; ++kind) {
            sum += share_of(static_cast<PoseKind>(kind), fight.find(poser)->pose);
        }
        ASSERT_NEAR(sum, 1.0, 1e-9);
        std::vector<Pose> now;
        for (std::uint32_t joint = 0; joint < joints; ++joint) {
            now.push_back(*fight.scene().pose_of(poser, present, joint));
            if (!before.empty()) {
                const Metres moved = (now[joint].position - before[joint].position).norm();
                ASSERT_LT(moved, 0.25) << "joint " << joint << " in tick " << tick;
            }
        }
        ASSERT_TRUE(fits(now));
        before = now;
    }
}

// A pose takes its time at any tick rate, and bodies without a look to follow are at rest.
TEST(BlendedPoses, TakeTheirTime) {
    const double rest = height_of(garden(), "neck");
    const double low = rest - 0.49;
    for (const std::int32_t hertz : {20, 64, 250}) {
        Skirmish fight = garden(nullptr, hertz);
        fight.advance({});
        EXPECT_EQ(height_of(fight, "neck"), rest);
        const Intent crouch{.who = poser, .buttons = {Button::crouch}};
        const Time begin = fight.now();
        std::optional<Duration> half;
        std::optional<Duration> whole;
        while (!whole && fight.now() - begin < from_seconds(2)) {
            fight.advance({&crouch, 1});
            const double height = height_of(fight, "neck");
            half = !half && height <= 0.5 * (rest + low) + 1e-3 ? fight.now() - begin : half;
            whole = height <= low + 1e-9 ? std::optional{fight.now() - begin} : whole;
        }
        ASSERT_TRUE(half && whole);
        EXPECT_NEAR(to_seconds(*half), 0.125, 1.1 / hertz);
        EXPECT_NEAR(to_seconds(*whole), 0.25, 1.1 / hertz);
        // The head follows the look, the arms only while it aims.
        const Intent looks{.who = poser, .pitch = 1.0F};
        for (int tick = 0; tick < hertz; ++tick) {
            fight.advance({&looks, 1});
        }
        const auto pitch_of = [&](const char* joint) {
            const auto pose =
                fight.scene().pose_of(poser, present, *find_joint(shipped().bodies[0].rig, joint));
            return look_of(pose->rotation * world_forward()).pitch;
        };
        EXPECT_NEAR(pitch_of("neck"), 0.6, 1e-6);
        EXPECT_NEAR(pitch_of("left-arm"), 0.0, 1e-12);
    }
}

// Nonsense of a game's own source, and of poses that it gives, does no harm.
TEST(PoseSource, ThatDoesNotFitLeavesTheBodyAtRest) {
    struct Broken final : PoseSource {
        double bad;
        explicit Broken(double its_bad) : bad(its_bad) {}
        std::string_view name() const override { return "broken"; }
        std::uint32_t version() const override { return 2; }
        PoseState advance(const PoseInput&, PoseState before) const override {
            before.words[0] += 0x0101;
            return before;
        }
        void pose(const PosedBody&, std::span<Pose> poses) const override { poses[1].position.x() = bad; }
    };
    for (const double bad : {std::numeric_limits<double>::quiet_NaN(), 1e9, 1.0}) {
        const Broken broken{bad};
        Skirmish fight = garden(&broken);
        fight.advance({});
        fight.advance({});
        EXPECT_EQ(fight.scene().pose_of(poser, present, 1)->position.x(), bad == 1.0 ? 1.0 : 0.0);
        EXPECT_EQ(fight.find(poser)->pose.words[0], 0x0202U);
        // It is saved, and a fight of another source does not take it.
        std::vector<std::byte> room(fight.saved_size());
        const auto saved = fight.save(room);
        const std::uint64_t hash = fight.state_hash();
        fight.advance({});
        EXPECT_TRUE(fight.restore(saved));
        EXPECT_EQ(fight.state_hash(), hash);
        EXPECT_FALSE(garden().restore(saved));
        EXPECT_EQ(name_of(broken), "broken 2");
    }
    Skirmish fight = garden();
    std::array<Pose, 8> poses{};
    poses[3].rotation.w() = 2.0;
    const BodyUpdate update{.who = poser, .position = {1, 0, 0}, .poses = poses};
    fight.advance({}, {&update, 1});
    EXPECT_EQ(fight.disregarded(), 1U);
}

TEST(PoseSpec, ThatDoesNotFitTheRigIsAFault) {
    const auto faults = [](const char* text) {
        std::string all;
        const std::string cart = "[body.cart]\nregion.box.shapes = [{ box = [0, 1, 0], half = [1, 1, 1], "
                                 "joint = \"lid\" }]\njoint.lid.at = [0, 0, 0]\n";
        for (const Diagnostic& fault : parse_arsenal(cart + text, "a.toml").diagnostics) {
            all += to_string(fault) + '\n';
        }
        return all;
    };
    EXPECT_EQ(faults("pose.crouching.joint.lid.shift = [0, 0, 0.5]"), "");
    EXPECT_NE(faults("pose.sitting.time = 1").find("is no pose that a body takes"), std::string::npos);
    EXPECT_NE(faults("pose.rising.joint.lit.look = 1").find("names no joint of the body; allowed: lid"),
              std::string::npos);
    EXPECT_NE(faults("pose.crouching.shift = [0, -0.5, 0]").find("sinks region 'box' below the feet"),
              std::string::npos);
    EXPECT_NE(faults("pose.aiming.turn = [0, 20]").find("laid over another pose"), std::string::npos);
    EXPECT_NE(faults("pose.standing.joint.lid.look = 2").find("-1 to 1"), std::string::npos);
}

} // namespace
} // namespace avrek
