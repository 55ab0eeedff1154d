#pragma once
#include "../rounds.h"
#include "random_scene.h"

#include <gtest/gtest.h>

#include <tuple>

/// Random questions to random scenes.
namespace avrek {

using std::chrono::milliseconds;

inline bool is_before(const Hit& one, const Hit& other) {
    return std::tie(one.distance, one.body, one.region, one.part) <
           std::tie(other.distance, other.body, other.region, other.part);
}

inline void expect_same(const std::optional<Hit>& found, const std::optional<Hit>& expected, int trial) {
    ASSERT_EQ(found.has_value(), expected.has_value()) << "trial " << trial;
    if (found) {
        ASSERT_EQ(found->distance, expected->distance) << "trial " << trial;
        ASSERT_EQ(found->body, expected->body) << "trial " << trial;
        ASSERT_EQ(found->region, expected->region) << "trial " << trial;
        ASSERT_EQ(found->part, expected->part) << "trial " << trial;
        ASSERT_EQ(found->surface, expected->surface) << "trial " << trial;
        ASSERT_EQ(found->layer, expected->layer) << "trial " << trial;
        ASSERT_EQ(found->normal, expected->normal) << "trial " << trial;
    }
}

/// A ray or ball of any kind, now or at a past moment.
inline Cast random_cast(Draw& draw) {
    Cast cast{draw.ray(draw.point(3))};
    cast.radius = draw.below(2) == 0 ? draw(0.0, 0.4) : 0.0;
    if (draw.below(2) == 0) {
        cast.begin = cast.end = Time{} + milliseconds{draw.below(500)};
    }
    return cast;
}

/// In a random scene every so often, over and over.
template <class Ask>
void ask_often(std::uint64_t seed, const Ask& ask) {
    Draw draw{seed};
    std::optional<RandomScene> random;
    const int count = rounds(20'000, "AVREK_RANDOM_QUERIES");
    for (int trial = 0; trial < count && !testing::Test::HasFatalFailure(); ++trial) {
        if (trial % 200 == 0) {
            random.emplace(draw, LevelSettings{static_cast<VectorUse>(draw.below(3))});
        }
        ask(draw, *random, trial);
    }
}

} // namespace avrek
