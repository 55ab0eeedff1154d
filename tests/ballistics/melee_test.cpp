#include "../rounds.h"
#include "../scene/draw.h"
#include <avrek/ballistics/melee.h>
#include <avrek/ballistics/spray.h>
#include <avrek/scene/nearest.h>
#include <avrek/scene/scene.h>

#include <gtest/gtest.h>

#include <array>
#include <map>

namespace avrek {
namespace {

using std::chrono::milliseconds;

constexpr BodyId wielder_id{99};

MeleeSpec sickle() {
    MeleeSpec spec{.id = "sickle"};
    spec.attacks = {{.name = "light",
                     .windup = milliseconds{120},
                     .active = milliseconds{100},
                     .recovery = milliseconds{220},
                     .push = 2,
                     .grip = 0.4,
                     .reach = 1.35,
                     .radius = 0.06,
                     .path = {{1.0, 0.1}, {0, 0}, {-1.0, -0.1}}},
                    {.name = "heavy",
                     .windup = milliseconds{400},
                     .active = milliseconds{30},
                     .reach = 1.5,
                     .thrust = 0.4,
                     .path = {{0.3, 1.0}, {-0.3, -0.6}}}};
    return spec;
}

// Small balls that fly past somebody who turns and walks; all in straight lines.
struct Ring {
    RigSpec rig{{{"all", {Sphere{Vector3::Zero(), 0.05}}}}};
    struct Ball {
        Vector3 at;
        Vector3 velocity;
    };
    std::vector<Ball> balls;
    Vector3 step{0.8, 0, -0.6}; // m/s
    Vector3 at(std::size_t ball, Time time) const {
        return balls[ball].at + to_seconds(time - Time{}) * balls[ball].velocity;
    }
    Pose wielder(Time time) const { return {to_seconds(time - Time{}) * step, turned_to({0.2, 0})}; }

    std::vector<MeleeEvent> swing(const MeleeSpec& spec, const std::vector<MeleePress>& presses, int hertz,
                                  const std::vector<LevelPiece>& pieces = {}) const {
        Scene scene{Level{pieces}};
        for (std::size_t ball = 0; ball < balls.size(); ++ball) {
            EXPECT_TRUE(scene.add({static_cast<BodyId>(ball), &rig, {at(ball, Time{})}}));
        }
        EXPECT_TRUE(scene.add({wielder_id, &rig, wielder(Time{})}));
        MeleeState state;
        std::vector<MeleeEvent> events;
        for (Tick tick = 0; tick < hertz; ++tick) {
            const Span span = tick_span(tick, {hertz});
            scene.begin_frame(span.end);
            for (std::size_t ball = 0; ball < balls.size(); ++ball) {
                scene.move(static_cast<BodyId>(ball), {at(ball, span.end)});
            }
            std::vector<MeleePress> now;
            for (const MeleePress& press : presses) {
                if (press.at >= span.begin && press.at < span.end) {
                    now.push_back(press);
                }
            }
            advance(spec, state, scene, {}, {wielder_id, wielder(span.begin), wielder(span.end)}, span, now,
                    events);
        }
        return events;
    }
};

// How near the blade comes to each ball, looked for at four thousand moments.
std::vector<double> min_gaps(const Ring& ring, const MeleeAttackSpec& attack, Time active_from) {
    std::vector<double> gaps(ring.balls.size(), 1e9);
    for (int sample = 0; sample <= 4000; ++sample) {
        const double share = sample / 4000.0;
        const Time at = active_from + from_seconds(share * to_seconds(attack.active));
        const Capsule blade = blade_at(attack, ring.wielder(at), share);
        for (std::size_t ball = 0; ball < ring.balls.size(); ++ball) {
            gaps[ball] = std::min(gaps[ball], signed_distance(blade, ring.at(ball, at)) - 0.05);
        }
    }
    return gaps;
}

TEST(Melee, StrikesWhatTheBladeMeetsOnceAndAtAnyTickRateTheSame) {
    Draw draw{71};
    const MeleeSpec spec = sickle();
    int struck_in_all = 0;
    for (int round = 0; round < rounds(30); ++round) {
        const auto attack = static_cast<std::size_t>(round % 2);
        const Time press{milliseconds{30 + round % 60}};
        const MeleeAttackSpec& swung = spec.attacks[attack];
        Ring ring;
        const double meeting = to_seconds(press + swung.windup + swung.active / 2 - Time{});
        for (int ball = 0; ball < 40; ++ball) {
            const Vector3 velocity = draw.below(3) == 0 ? draw.point(30) : draw.point(2);
            ring.balls.push_back({draw.point(1.3) - meeting * velocity, velocity});
        }
        const std::vector<double> gaps = min_gaps(ring, swung, press + swung.windup);
        const double slack = 0.2 * swung.radius + 0.02 * swung.reach;
        for (const int hertz : {5, 20, 60, 240}) {
            std::map<std::size_t, int> struck;
            for (const MeleeEvent& event : ring.swing(spec, {{press, attack}}, hertz)) {
                if (event.kind == MeleeEventKind::struck) {
                    ++struck[static_cast<std::size_t>(*event.hit.body)];
                    EXPECT_GE(event.at, press + swung.windup);
                    EXPECT_LE(event.at, press + swung.windup + swung.active);
                    EXPECT_NEAR(event.push.norm(), swung.push, 1e-9);
                }
            }
            struck_in_all += static_cast<int>(struck.size());
            for (std::size_t ball = 0; ball < ring.balls.size(); ++ball) {
                const int times = struck.contains(ball) ? struck[ball] : 0;
                EXPECT_LE(times, 1);
                if (gaps[ball] < -2e-3 && struck.size() < 15) {
                    EXPECT_EQ(times, 1) << hertz << " Hz, gap " << gaps[ball];
                } else if (gaps[ball] > slack) {
                    EXPECT_EQ(times, 0) << hertz << " Hz, gap " << gaps[ball];
                }
            }
        }
    }
    EXPECT_GT(struck_in_all, enough(120));
}

TEST(Melee, HasItsPhasesRefusesASecondSwingAndDoesNotGoThroughWalls) {
    const MeleeSpec spec = sickle();
    Ring ring;
    ring.step.setZero();
    ring.balls = {{{0.2, 0, 1.0}, Vector3::Zero()}};
    const std::vector<MeleePress> presses{
        {Time{milliseconds{10}}, 0}, {Time{milliseconds{200}}, 1}, {Time{milliseconds{450}}, 1}};
    const auto events = ring.swing(spec, presses, 30);
    std::vector<MeleeEventKind> kinds;
    for (const MeleeEvent& event : events) {
        kinds.push_back(event.kind);
    }
    using enum MeleeEventKind;
    EXPECT_EQ(kinds, (std::vector{started, struck, refused, ended, started, struck, ended}));
    EXPECT_EQ(events[0].until, Time{milliseconds{450}});
    EXPECT_EQ(events[2].until, Time{milliseconds{450}}) << "says until when it has to wait";
    EXPECT_EQ(events[3].at, events[4].at) << "the recovery ends as the next swing may begin";
    const std::vector<LevelPiece> wall{{Box{{{0, 0, 0.7}}, {2, 2, 0.05}}}};
    for (const MeleeEvent& event : ring.swing(spec, presses, 30, wall)) {
        EXPECT_NE(event.kind, struck);
    }
    const MeleeState state{.started = Time{}, .attack = 0};
    const struct {
        int ms;
        MeleePhase phase;
    } cases[] = {{0, MeleePhase::windup},
                 {120, MeleePhase::active},
                 {220, MeleePhase::recovery},
                 {440, MeleePhase::ready}};
    for (const auto& [ms, phase] : cases) {
        EXPECT_EQ(phase_of(spec, state, Time{milliseconds{ms}}), phase) << ms;
    }
}

TEST(Spray, TouchesWhatIsInTheConeAndInSight) {
    Draw draw{72};
    const RigSpec rig{{{"all", {Sphere{Vector3::Zero(), 1.0}}}}};
    int inside = 0;
    int beside = 0;
    for (int round = 0; round < rounds(3'000); ++round) {
        const Spray cone{draw.point(2), draw.direction(), draw(0.1, 1.0), draw(4, 12)};
        const Vector3 at = draw.point(10);
        Scene scene;
        ASSERT_TRUE(scene.add({BodyId{7}, &rig, {at}}));
        std::array<SprayHit, 4> hits;
        const std::size_t count = spray(scene, cone, {}, hits);
        // The ball and the cone, by the angle between the axis and the ball's middle.
        const Vector3 way = at - cone.muzzle;
        const double off = std::acos(way.dot(cone.direction) / way.norm()) - cone.half_angle;
        const double side = off <= 0 ? 0.0 : off < pi / 2 ? std::sin(off) * way.norm() : way.norm();
        const double gap = std::max(side, way.norm() - cone.range) - 1.0;
        // Its middle is outside, nearest to the cone's side and not to its rim.
        const bool by_the_side = off > 0 && off < pi / 2 && std::cos(off) * way.norm() < cone.range - 1.0;
        if (gap < -0.02 * cone.range && (off < 0 || by_the_side)) {
            ++(off < 0 ? inside : beside);
            ASSERT_EQ(count, 1U) << round;
            EXPECT_NEAR(hits[0].exposure, 1.0, 1e-12);
            EXPECT_LE(hits[0].nearest.distance, cone.range);
        } else if (gap > 1e-6) {
            EXPECT_EQ(count, 0U) << round;
        }
    }
    EXPECT_GT(inside, enough(40));
    EXPECT_GT(beside, enough(8));

    // A wall hides the lower half of one who stands behind it, and the whole of one who crouches.
    const RigSpec body{{{"all", {Capsule{{0, 0.3, 0}, {0, 1.5, 0}, 0.25}}}}};
    const RigSpec low{{{"all", {Sphere{{0, 0.4, 0}, 0.3}}}}};
    Scene scene{Level{{{Box{{{0, 0.5, 3}}, {5, 0.5, 0.1}}}}}};
    ASSERT_TRUE(scene.add({BodyId{1}, &body, {{0.5, 0, 5}}}));
    ASSERT_TRUE(scene.add({BodyId{2}, &low, {{-0.5, 0, 5}}}));
    std::array<SprayHit, 4> hits;
    ASSERT_EQ(spray(scene, {{0, 1.2, 0}, world_forward(), 0.4, 8.0}, {}, hits), 1U);
    EXPECT_EQ(hits[0].body, BodyId{1});
    EXPECT_GT(hits[0].exposure, 0.2);
    EXPECT_LT(hits[0].exposure, 0.9);
    EXPECT_EQ(spray(scene, {{0, 1.2, 0}, world_forward(), 0.4, 8.0}, {.ignores = {BodyId{1}}}, hits), 0U);
}

} // namespace
} // namespace avrek
