#pragma once
#include "atrium.h"

#include <array>
#include <cmath>
#include <cstddef>
#include <optional>
#include <span>
#include <vector>

/// The questions of a game to its world in a tick: the same for Avrek and for its rival.
namespace bench {

inline constexpr std::uint32_t crowd = 64;
inline constexpr std::size_t joints = 16; ///< each body has, itself counted
inline constexpr std::size_t pellets = 8; ///< in one shot
inline constexpr double ball_radius = 0.05;
inline constexpr std::size_t tick_count = 64; ///< ticks that differ; then they come again
inline constexpr avrek::CollisionLayers hides{avrek::CollisionLayer::level};

/// Fifteen capsules on a joint each, around the joint's own origin.
inline avrek::RigSpec jointed_rig() {
    avrek::RigSpec rig = fifteen_capsules();
    for (avrek::RegionSpec& region : rig.regions) {
        auto& capsule = std::get<avrek::Capsule>(region.shapes.front());
        const avrek::Vector3 middle = 0.5 * (capsule.from + capsule.to);
        capsule.from -= middle;
        capsule.to -= middle;
        rig.joints.push_back({"joint" + std::to_string(rig.joints.size()), {middle, {}}});
        region.joint = static_cast<std::uint32_t>(rig.joints.size());
    }
    return rig;
}

/// One tick: where everything stands, and what is asked.
struct QueryTick {
    std::vector<avrek::Pose> poses;    ///< by body, then by joint
    std::vector<avrek::Cast> shots;    ///< one of each body, which it passes through; so are the next three
    std::vector<avrek::Cast> buckshot; ///< `pellets` of each body, in one cone
    std::vector<avrek::Cast> muzzles;  ///< from the eye to the muzzle
    std::vector<avrek::Cast> aims;     ///< from the eye
    std::vector<avrek::Cast> sights;   ///< eight of each body to others, of what hides them
    std::vector<avrek::Cast> balls;    ///< flying things, one metre on
};

inline avrek::Pose walker(std::uint32_t body, std::size_t tick) {
    avrek::Pose pose = crowd_pose(body);
    const double phase = 2 * avrek::pi * static_cast<double>(tick % tick_count) / tick_count;
    pose.position += 0.6 * avrek::Vector3{std::sin(phase + body), 0.0, std::cos(phase + body)};
    pose.rotation = pose.rotation * avrek::turned_to({0.3 * std::sin(phase), 0.0});
    return pose;
}

inline void pose_crowd(const avrek::RigSpec& rig, std::size_t tick, std::vector<avrek::Pose>& poses) {
    const double phase = 2 * avrek::pi * static_cast<double>(tick % tick_count) / tick_count;
    for (std::uint32_t body = 0; body < crowd; ++body) {
        const avrek::Pose base = walker(body, tick);
        poses.push_back(base);
        for (std::size_t joint = 0; joint < rig.joints.size(); ++joint) {
            avrek::Pose local = rig.joints[joint].rest;
            const double swing = 0.25 * std::sin(4 * phase + static_cast<double>(joint));
            local.rotation = avrek::turned_to({0.0, swing});
            poses.push_back(to_world(base, local));
        }
    }
}

/// The casts of one body in a tick.
inline void ask(std::uint32_t body, std::size_t tick, QueryTick& asked) {
    const auto draw = [&](std::uint32_t block) {
        return avrek::random_pair(
            {.seed = 11, .combatant = body, .shot = static_cast<std::uint32_t>(tick), .block = block});
    };
    const auto eye_of = [&](std::uint32_t who) {
        return avrek::Vector3(asked.poses[who * joints].position + 1.62 * avrek::world_up());
    };
    const avrek::Vector3 eye = eye_of(body);
    const auto [whom, off] = draw(0);
    const auto other = (body + 1 + static_cast<std::uint32_t>(whom * (crowd - 1))) % crowd;
    avrek::Vector3 way = eye_of(other) - 0.4 * avrek::world_up() - eye;
    way = (way.normalized() + 0.04 * avrek::Vector3{off - 0.5, whom - 0.5, 0.5 - off}).normalized();
    asked.shots.push_back({{eye + 0.4 * way, way, 60.0}});
    asked.muzzles.push_back({{eye, (way - 0.3 * avrek::world_up()).normalized(), 0.7}});
    asked.aims.push_back({{eye, way, 100.0}});
    for (std::uint32_t pellet = 0; pellet < pellets; ++pellet) {
        const auto [x, y] = draw(1 + pellet);
        const avrek::Vector3 spread{0.08 * (x - 0.5), 0.08 * (y - 0.5), 0.08 * (x * y - 0.25)};
        asked.buckshot.push_back({{eye + 0.4 * way, (way + spread).normalized(), 60.0}});
    }
    for (std::uint32_t look = 0; look < 8; ++look) {
        const avrek::Vector3 to = eye_of((body + 1 + 7 * look) % crowd) - eye;
        asked.sights.push_back({{eye, to.normalized(), to.norm()}});
    }
    for (std::uint32_t ball = 0; ball < 4; ++ball) {
        const auto [x, z] = draw(20 + ball);
        const auto [turn, lift] = draw(30 + ball);
        asked.balls.push_back({{{26 * x - 13, 0.5 + 3 * lift, 56 * z - 28},
                                avrek::direction_of({2 * avrek::pi * turn, 0.4 * (lift - 0.5)}),
                                1.0},
                               ball_radius});
    }
}

/// All ticks, made once.
inline const std::vector<QueryTick>& query_ticks() {
    static const std::vector<QueryTick> ticks = [] {
        const avrek::RigSpec rig = jointed_rig();
        std::vector<QueryTick> made(tick_count);
        for (std::size_t tick = 0; tick < tick_count; ++tick) {
            pose_crowd(rig, tick, made[tick].poses);
            for (std::uint32_t body = 0; body < crowd; ++body) {
                ask(body, tick, made[tick]);
            }
        }
        return made;
    }();
    return ticks;
}

/// An answer as both can give it: how far, and which body; nothing hit is at infinity.
struct Answer {
    double distance = std::numeric_limits<double>::infinity();
    std::uint32_t body = 0xffffffffU; ///< none: the level
};

} // namespace bench
