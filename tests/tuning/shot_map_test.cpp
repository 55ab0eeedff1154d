// The fields that distributions are integrated over, against rays.
#include "../../src/tuning/shot_map.h"
#include "../rounds.h"
#include "../scene/draw.h"
#include "../test_data.h"
#include <avrek/scene/scene.h>
#include <avrek/tuning/engagement.h>

#include <gtest/gtest.h>

#include <cmath>
#include <numeric>

namespace avrek::detail {
namespace {

struct Seen {
    Engagement engagement;
    EngagementPlace place;
    Scene scene;

    Seen(const char* armament, const char* body, Metres distance)
        : engagement(*engagement_of(shipped(), armament, "gardener", body, distance)),
          place(place_of(engagement)) {
        EXPECT_TRUE(scene.add({BodyId{1}, &engagement.target.body->rig, place.target}));
    }
    std::optional<Hit> from(const Vector3& eye, const Vector3& direction) const {
        return scene.closest_hit({.ray = {eye, direction, engagement.weapon->range}},
                                 {.hits = {CollisionLayer::bodies}});
    }
};

// A direction about the line to the target that mostly meets it.
Vector3 near_line(Draw& draw, const Seen& seen) {
    const Vector3 to = (seen.place.aim_point - seen.place.eye).normalized();
    const Across sides = across(to);
    const double reach = 1.2 / seen.engagement.distance;
    return (to + draw(-reach, reach) * sides.left + draw(-reach, reach) * sides.up).normalized();
}

TEST(ShotMap, ShowsWhatTheEyeSees) {
    Draw draw{41};
    for (const auto& [armament, body, distance] : {std::tuple{"thorn-rifle", "crew", 8.0},
                                                   {"needle-pistol", "warden", 20.0},
                                                   {"thorn-rifle", "crew", 45.0}}) {
        const Seen seen{armament, body, distance};
        const ShotMap map = map_of_sight(seen.engagement, seen.place);
        int met = 0;
        int differ = 0;
        const int tries = rounds(3'000);
        for (int trial = 0; trial < tries; ++trial) {
            const Vector3 direction = near_line(draw, seen);
            const auto hit = seen.from(seen.place.eye, direction);
            const auto point = map.point_of(direction);
            ASSERT_TRUE(point);
            const MapOutcome* found = map.at(*point);
            met += hit ? 1 : 0;
            const bool same = hit.has_value() == (found != nullptr && !found->hits.empty()) &&
                              (!hit || found->hits.front().region == hit->region);
            differ += same ? 0 : 1;
        }
        EXPECT_GT(met, tries / 20) << armament;
        // Outlines are polygons, cut into rows: what lies on an edge may be taken for its neighbour.
        EXPECT_LE(differ, 2 + tries / 40) << armament << " at " << distance;
        EXPECT_FALSE(map.point_of(-seen.place.line)) << "nothing lies behind";
    }
}

TEST(ShotMap, SharesOfADiscAreThoseOfItsPoints) {
    Draw draw{42};
    const Seen seen{"thorn-rifle", "crew", 12.0};
    const ShotMap map = map_of(seen.engagement, seen.place);
    const auto middle = map.point_of(seen.place.line);
    ASSERT_TRUE(middle);
    for (int round = 0; round < 40; ++round) {
        const MapPoint centre{middle->right + draw(-0.05, 0.05), middle->up + draw(-0.05, 0.05)};
        const double radius = round % 8 == 0 ? 0.0 : draw(0.005, 0.06);
        std::vector<double> shares(map.outcomes().size(), 0.0);
        constexpr int phases = 16; // over even phases the rows of discs are off by next to nothing
        for (int phase = 0; phase < phases; ++phase) {
            map.add_shares(centre, radius, 2.0 / phases, (phase + 0.5) / phases, shares);
        }
        for (const double share : shares) {
            EXPECT_TRUE(share >= 0.0 && share <= 2.002);
        }
        EXPECT_LE(std::accumulate(shares.begin(), shares.end(), 0.0), 2.002);
        std::vector<double> counted(shares.size(), 0.0);
        constexpr int points = 4'000;
        for (int point = 0; point < points; ++point) {
            const double far = radius * std::sqrt(draw(0, 1));
            const double turn = draw(-pi, pi);
            const MapOutcome* found =
                map.at({centre.right + far * std::cos(turn), centre.up + far * std::sin(turn)});
            if (found != nullptr) {
                counted[static_cast<std::size_t>(found - map.outcomes().data())] += 2.0 / points;
            }
        }
        for (std::size_t outcome = 0; outcome < shares.size(); ++outcome) {
            EXPECT_NEAR(shares[outcome], counted[outcome], 0.07) << radius;
        }
        std::fill(shares.begin(), shares.end(), 0.0);
        map.add_shares(centre, radius, 2.0, 0.5, shares);
        const std::vector<double> once = shares;
        map.add_shares(centre, radius, 1.0, 0.5, shares);
        for (std::size_t outcome = 0; outcome < shares.size(); ++outcome) {
            EXPECT_NEAR(shares[outcome], 1.5 * once[outcome], 1e-6) << "it adds, in proportion";
        }
    }
}

// A struct of floats and integers, as its bits.
template <class Values>
std::string bits_of(const Values& values) {
    return {reinterpret_cast<const char*>(&values), sizeof values};
}

TEST(PointLanes, EveryProcessorGivesTheSameBits) {
    Draw draw{43};
    const auto any = [&draw](double reach) { return static_cast<float>(draw(-reach, reach)); };
    const auto turning = [&any] { return std::array{any(1), any(1), any(1)}; };
    for (int round = 0; round < 300; ++round) {
        std::array<float, 40> first{};
        std::array<float, 40> second{};
        std::array<SlotEnds, 20> ends{};
        for (std::size_t index = 0; index < first.size(); ++index) {
            first[index] = any(1);
            second[index] = any(1);
        }
        for (SlotEnds& slots : ends) {
            for (std::size_t lane = 0; lane < lanes; ++lane) {
                slots.from[lane] = any(1);
                slots.to[lane] = slots.from[lane] + any(0.5);
            }
        }
        const DiscOnMap disc{5.0F + any(3),  any(1), 0.6F + any(0.5), 5.0F + any(4), 10.0F, any(0.9),
                             0.95F + any(1), 2.0F,   0.5F + any(0.5)};
        LookLanes given;
        for (std::size_t lane = 0; lane < lanes; ++lane) {
            given.yaw[lane] = any(0.5);
            given.pitch[lane] = any(0.5);
            given.length[lane] = 20.0F + any(15);
        }
        const LookingShooter shooter{any(1), any(1), any(1), any(1), turning(), turning(), any(1)};
        const LookFrame frame{turning(), turning(), turning(), turning(), 20.0F + any(15)};
        const auto done = [&](const PointLanes& all) {
            std::array<float, 40> values = first;
            all.add(values.data(), second.data(), 40);
            all.multiply(values.data(), second.data(), 40);
            all.add_product(values.data(), first.data(), second.data(), 32);
            all.subtract(values.data(), first.data(), 24);
            all.clamp(values.data(), 16);
            DiscChords chords;
            all.cut(disc, chords);
            std::array<float, 16> sums{};
            all.sum_slots(chords, ends.data(), 2, sums.data());
            LookLanes looks = given;
            all.look(shooter, looks);
            all.place_views(frame, looks);
            std::string bits = bits_of(looks);
            all.place_shots(frame, looks);
            return bits + bits_of(looks) + bits_of(values) + bits_of(chords) + bits_of(sums) +
                   bits_of(all.sum(first.data(), 37));
        };
        EXPECT_EQ(done(point_lanes()), done(point_lanes(false)));
    }
}

} // namespace
} // namespace avrek::detail
