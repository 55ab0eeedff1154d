#include <avrek/ballistics/blast.h>
#include <avrek/ballistics/hitscan.h>
#include <avrek/scene/scene.h>

#include <gtest/gtest.h>

#include <array>

namespace avrek {
namespace {

constexpr BodyId marksman{1};
constexpr BodyId friendly{2};
constexpr BodyId hostile{3};

struct Court {
    RigSpec rig{{{"all", {Capsule{{0, 0.3, 0}, {0, 1.5, 0}, 0.3}}}}};
    std::vector<SurfaceSpec> surfaces{{"board", 0.5, 0.0, 1.6, 100.0}, {"mirror", 1.0, 0.0, 0.6}};
    Scene scene;

    explicit Court(std::vector<LevelPiece> pieces) : scene{Level{std::move(pieces)}} {}

    void put(BodyId id, const Vector3& at, TeamId team) { ASSERT_TRUE(scene.add({id, &rig, {at}, team})); }

    std::vector<PathSegment> fire(const HitscanShot& shot) const {
        std::array<PathSegment, 8> segments;
        const std::size_t count = follow_hitscan(scene, surfaces, shot, {.ignores = {marksman}}, segments);
        return {segments.begin(), segments.begin() + static_cast<std::ptrdiff_t>(count)};
    }
};

TEST(Hitscan, GoesThroughBodiesAndBoardsAsFarAsItsEnergyLasts) {
    Court court{
        {{Box{{{0, 1, 12}}, {3, 1, 0.1}}, SurfaceId{1}}, {HalfSpace{-world_forward(), -30}, SurfaceId{2}}}};
    court.put(hostile, {0, 0, 5}, TeamId{1});
    court.put(friendly, {0, 0, 9}, TeamId{0});
    const auto segments = court.fire({.muzzle = {0, 1, 0}, .pierce = {100, 25}});
    ASSERT_EQ(segments.size(), 4U);
    const struct {
        double end;
        double power;
        ImpactResult result;
    } expected[] = {{4.7, 1.0, ImpactResult::pierces},
                    {8.7, 0.75, ImpactResult::pierces},
                    {11.9, 0.5, ImpactResult::pierces},
                    {30.0, 0.3, ImpactResult::stops}};
    for (std::size_t index = 0; index < segments.size(); ++index) {
        EXPECT_NEAR(segments[index].end.z(), expected[index].end, 1e-5) << index;
        EXPECT_NEAR(segments[index].power, expected[index].power, 1e-6) << index;
        EXPECT_EQ(segments[index].result, expected[index].result) << index;
    }
    EXPECT_NEAR(segments[3].flown_before, 12.1, 1e-5);
    EXPECT_EQ(court.fire({.muzzle = {0, 1, 0}, .pierce = {60, 25}}).size(), 3U) << "the board is too much";
    EXPECT_EQ(court.fire({.muzzle = {0, 1, 0}}).size(), 1U) << "pierces nothing";
    const auto miss = court.fire({.muzzle = {0, 5, 0}, .range = 20});
    ASSERT_EQ(miss.size(), 1U);
    EXPECT_FALSE(miss[0].hit);
    // Boards that overlap count as one, three metres thick.
    const Court thick{
        {{Box{{{0, 1, 11}}, {3, 1, 1}}, SurfaceId{1}}, {Box{{{0, 1, 12}}, {3, 1, 1}}, SurfaceId{1}}}};
    EXPECT_EQ(thick.fire({.muzzle = {0, 1, 0}, .pierce = {290, 0}}).size(), 1U);
    const auto through = thick.fire({.muzzle = {0, 1, 0}, .pierce = {400, 0}});
    ASSERT_EQ(through.size(), 2U);
    EXPECT_FALSE(through[1].hit);
    EXPECT_NEAR(through[1].power, 0.25, 1e-6);
    EXPECT_EQ(arrival(Time{}, 20.0, 100.0), Time{std::chrono::milliseconds{200}});
}

TEST(Hitscan, BouncesWhereItComesInFlatEnoughAsOftenAndAsFarAsItMay) {
    const Court court{{{HalfSpace{world_up(), 0}, SurfaceId{2}}, {HalfSpace{-world_up(), -2}, SurfaceId{2}}}};
    HitscanShot shot{.muzzle = {0, 1, 0}, .direction = direction_of({0, -0.5}), .bounce = {.count = 3}};
    auto segments = court.fire(shot);
    ASSERT_EQ(segments.size(), 4U);
    for (std::size_t index = 0; index + 1 < segments.size(); ++index) {
        EXPECT_EQ(segments[index].result, ImpactResult::bounces);
        EXPECT_NEAR(segments[index + 1].start.y(), segments[index].end.y(), 1e-5);
        EXPECT_NEAR(segments[index].end.y(), index % 2 == 0 ? 0.0 : 2.0, 1e-9);
    }
    EXPECT_EQ(segments[3].result, ImpactResult::stops);
    shot.bounce.distance = 3.0;
    segments = court.fire(shot);
    EXPECT_FALSE(segments.back().hit);
    EXPECT_NEAR((segments[1].end - segments[1].start).norm(), 3.0, 1e-9);
    shot.direction = direction_of({0, -0.7});
    EXPECT_EQ(court.fire(shot).size(), 1U) << "steeper than the surface's grazing angle";
}

TEST(Hitscan, BouncesOffRegionsThatHaveASurface) {
    Court court{{{HalfSpace{world_up(), 0}}}};
    court.rig.regions = {{"shell", {Box{{{0, 1, 0}}, {1, 0.2, 1}}}},
                         {"legs", {Box{{{0, 0.4, 0}}, {1, 0.4, 1}}}}};
    court.rig.regions[0].surface.spec = SurfaceId{2};
    court.put(hostile, {0, 0, 5}, TeamId{1});
    HitscanShot shot{.muzzle = {0, 2, 0}, .direction = direction_of({0, -0.16}), .bounce = {.count = 2}};
    const auto segments = court.fire(shot);
    ASSERT_EQ(segments.size(), 2U);
    EXPECT_EQ(segments[0].hit->body, hostile);
    EXPECT_EQ(segments[0].result, ImpactResult::bounces);
    EXPECT_GT(segments[1].end.y(), 2.0);
    shot.direction = direction_of({0, -0.35});
    EXPECT_EQ(court.fire(shot).back().result, ImpactResult::stops) << "legs have none";
    shot.muzzle = {0, 1, 0};
    shot.direction = world_forward();
    EXPECT_EQ(court.fire(shot).size(), 1U) << "head on, it is steeper than the grazing angle";
}

struct Garden : Court {
    Garden() : Court{{{Box{{{2, 0.45, 0}}, {0.05, 0.45, 3}}}}} {
        put(marksman, {-3, 0, 0}, TeamId{0});
        put(friendly, {0, 0, 3}, TeamId{0});
        put(hostile, {4, 0, 0}, TeamId{1}); // behind a low wall
    }
    std::vector<BlastHit> go_off(const Vector3& centre, const BlastSpec& spec) const {
        std::array<BlastHit, 4> hits;
        const std::size_t count = blast(scene, spec, {.centre = centre, .source = marksman}, hits);
        return {hits.begin(), hits.begin() + static_cast<std::ptrdiff_t>(count)};
    }
};

TEST(Blast, HurtsEachBodyOnceByItsNearestExposedPoint) {
    const Garden garden;
    BlastSpec spec{.radius = 5, .damage = 100, .team_share = 0.5, .self_share = 0.25, .push = 10};
    const auto hits = garden.go_off({0, 1, 0}, spec);
    ASSERT_EQ(hits.size(), 3U);
    EXPECT_EQ(hits[0].body, marksman);
    EXPECT_EQ(hits[0].exposure, 1.0);
    EXPECT_NEAR(hits[0].damage, 100 * (1 - 2.7 / 5) * 0.25, 1e-9);
    EXPECT_NEAR(hits[1].damage, 100 * (1 - 2.7 / 5) * 0.5, 1e-9);
    EXPECT_LT((hits[0].push + Vector3(10 * (1 - 2.7 / 5), 0, 0)).norm(), 1e-9) << "away from the middle";
    EXPECT_EQ(hits[2].body, hostile);
    EXPECT_GT(hits[2].exposure, 0.2);
    EXPECT_LT(hits[2].exposure, 0.9) << "partly behind the wall";
    for (const BlastHit& hit : hits) {
        std::array<SightLine, blast_sight_lines> lines;
        const std::size_t count =
            sight_lines_to(garden.scene, spec.radius, {.centre = {0, 1, 0}}, hit.body, lines);
        ASSERT_GT(count, 0U);
        const auto reached = std::count_if(lines.begin(), lines.begin() + static_cast<std::ptrdiff_t>(count),
                                           [](const SightLine& line) { return line.reaches; });
        EXPECT_EQ(static_cast<double>(reached) / static_cast<double>(count), hit.exposure);
        EXPECT_EQ(sight_lines_to(garden.scene, 1.0, {.centre = {0, 1, 0}}, hit.body, lines), 0U) << "too far";
    }
    // From the ground nothing of it is to be seen at all; from up high all of it.
    for (const auto& [height, exposed] : {std::pair{0.05, false}, std::pair{3.0, true}}) {
        const auto some = garden.go_off({1.5, height, 0}, spec);
        const bool found = !some.empty() && some.back().body == hostile;
        EXPECT_EQ(found, exposed) << height;
    }
    const auto within = garden.go_off({4, 1, 0}, spec);
    EXPECT_EQ(within.back().damage, 100.0) << "in the middle of it";
    spec.radius = 2.0;
    EXPECT_TRUE(garden.go_off({0, 1, 0}, spec).empty());
}

} // namespace
} // namespace avrek
