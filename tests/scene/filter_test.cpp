// Filters, digests of levels and nearest hits, each against its plain meaning.
#include "../rounds.h"
#include "random_scene.h"
#include <avrek/scene/filter.h>
#include <avrek/scene/level_digest.h>
#include <avrek/scene/nearest.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace avrek {
namespace {

TEST(Filter, SetsHoldWhatIsNamed) {
    for (std::uint32_t bits = 0; bits < 1U << collision_layer_count; ++bits) {
        const CollisionLayers set = CollisionLayers::from_bits(bits);
        EXPECT_EQ(set.bits(), bits);
        for (std::size_t layer = 0; layer < collision_layer_count; ++layer) {
            EXPECT_EQ(set.contains(static_cast<CollisionLayer>(layer)), (bits >> layer & 1U) != 0);
        }
    }
    std::set<std::string_view> names;
    for (std::size_t layer = 0; layer < collision_layer_count; ++layer) {
        const std::string_view name = to_string(static_cast<CollisionLayer>(layer));
        names.insert(name);
        EXPECT_EQ(find_collision_layer(name), static_cast<CollisionLayer>(layer));
    }
    EXPECT_EQ(names.size(), collision_layer_count);
    EXPECT_FALSE(find_collision_layer("marmalade"));
    for (std::uint8_t team = 0; team < 32; ++team) {
        EXPECT_TRUE(TeamSet{}.contains(TeamId{team})) << "as made it holds all";
        EXPECT_EQ(TeamSet{TeamId{3}}.contains(TeamId{team}), team == 3);
        EXPECT_EQ(TeamSet::all_but(TeamId{3}).contains(TeamId{team}), team != 3);
    }
}

TEST(Filter, IgnoresSoManyBodiesAndNoMore) {
    IgnoredBodies ignored;
    for (std::uint32_t body = 0; body < IgnoredBodies::max_bodies; ++body) {
        EXPECT_FALSE(ignored.contains(BodyId{body}));
        EXPECT_TRUE(ignored.add(BodyId{body}));
        EXPECT_TRUE(ignored.contains(BodyId{body}));
    }
    EXPECT_FALSE(ignored.add(BodyId{99}));
    EXPECT_FALSE(ignored.contains(BodyId{99}));
    EXPECT_EQ(ignored.end() - ignored.begin(), static_cast<std::ptrdiff_t>(IgnoredBodies::max_bodies));
}

// A narrower filter never finds what a wider one does not, and whatever is ignored is not hit.
TEST(Filter, NarrowerFindsASubset) {
    Draw draw{31};
    std::size_t found = 0;
    for (int round = 0; round < rounds(400); ++round) {
        const RandomScene random{draw};
        const Cast cast{.ray = draw.ray(Vector3::Zero())};
        const auto hits = [&](const Filter& filter) {
            std::vector<Hit> all(64);
            all.resize(random.scene.every_hit(cast, filter, all));
            return all;
        };
        const std::vector<Hit> wide = hits({.hits = CollisionLayers::from_bits(~0U)});
        found += wide.size();
        for (const SceneBody& body : random.bodies) {
            const Filter without{.hits = CollisionLayers::from_bits(~0U), .ignores = {body.id}};
            const Filter alone{.hits = {CollisionLayer::bodies}, .only = body.id};
            std::size_t of_it = 0;
            for (const Hit& hit : wide) {
                of_it += hit.body == body.id ? 1 : 0;
            }
            EXPECT_EQ(hits(without).size() + of_it, wide.size());
            EXPECT_EQ(hits(alone).size(), of_it);
        }
        const std::vector<Hit> level = hits({.hits = {CollisionLayer::level}});
        const std::vector<Hit> bodies = hits({.hits = {CollisionLayer::bodies}});
        const std::vector<Hit> both = hits({.hits = {CollisionLayer::level, CollisionLayer::bodies}});
        EXPECT_EQ(level.size() + bodies.size(), both.size());
        EXPECT_LE(both.size(), wide.size());
        for (const Hit& hit : level) {
            EXPECT_FALSE(hit.body);
        }
    }
    EXPECT_GT(found, enough(100U));
}

TEST(LevelDigest, IsOfEverythingThatIsInALevel) {
    const auto digest = [](const std::vector<LevelPiece>& pieces) { return digest_of(Level{pieces}); };
    const std::vector<LevelPiece> base{{HalfSpace{}},
                                       {Sphere{{1, 2, 3}, 0.5}, SurfaceId{2}, CollisionLayer::glass}};
    EXPECT_EQ(digest(base), digest(base));
    std::set<std::uint64_t> seen{digest(base), digest({}), digest({base[0]}), digest({base[1], base[0]})};
    EXPECT_EQ(seen.size(), 4U);
    for (int change = 0; change < 5; ++change) {
        std::vector<LevelPiece> other = base;
        auto& ball = std::get<Sphere>(other[1].shape);
        switch (change) {
        case 0:
            ball.radius = std::nextafter(0.5, 1.0);
            break;
        case 1:
            ball.centre.x() = std::nextafter(1.0, 2.0);
            break;
        case 2:
            other[1].surface = SurfaceId{3};
            break;
        case 3:
            other[1].layer = CollisionLayer::level;
            break;
        default:
            other[1].shape = Capsule{{1, 2, 3}, {1, 2, 3}, 0.5};
        }
        EXPECT_TRUE(seen.insert(digest(other)).second) << change;
    }
    LevelMesh mesh;
    mesh.vertices = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
    mesh.triangles = {{{0, 1, 2}}};
    const auto of_mesh = [](const LevelMesh& one) { return digest_of(Level{{}, {&one, 1}}); };
    const std::uint64_t sound = of_mesh(mesh);
    std::swap(mesh.triangles[0].corners[1], mesh.triangles[0].corners[2]);
    EXPECT_NE(of_mesh(mesh), sound) << "its front is on the other side";
}

// The nearest point of a solid is on its surface, no other point of it is nearer, and the normal leads there.
TEST(Nearest, IsOnTheSurfaceAndNothingIsNearer) {
    Draw draw{32};
    for (int round = 0; round < rounds(3'000); ++round) {
        const Shape shape = draw.shape();
        const Vector3 point = draw.point(6.0);
        const Nearest nearest = nearest_point(shape, point);
        const double reference =
            std::visit([&](const auto& one) { return signed_distance(Solid{one}, point); }, shape);
        EXPECT_NEAR(nearest.distance, reference, 1e-7);
        EXPECT_NEAR((nearest.point - point).norm(), std::abs(nearest.distance), 1e-7);
        EXPECT_NEAR(nearest.normal.norm(), 1.0, 1e-9);
        const double beside =
            std::visit([&](const auto& one) { return signed_distance(Solid{one}, nearest.point); }, shape);
        EXPECT_NEAR(beside, 0.0, 1e-7);
        const Vector3 outside = nearest.point + 1e-4 * nearest.normal;
        EXPECT_GT(std::visit([&](const auto& one) { return signed_distance(Solid{one}, outside); }, shape),
                  0.0);
        const Triangle triangle{draw.point(3), draw.point(3), draw.point(3)};
        EXPECT_NEAR(nearest_point(triangle, point).distance, signed_distance(Solid{triangle}, point), 1e-7);
    }
}

TEST(Nearest, LinesAreAsFarApartAsTheirNearestPoints) {
    Draw draw{33};
    for (int round = 0; round < rounds(2'000); ++round) {
        const Vector3 a = draw.point(4);
        const Vector3 b = draw.point(4);
        const Vector3 c = draw.point(4);
        const Vector3 d = round % 10 == 0 ? Vector3(c + 0.5 * (b - a)) : draw.point(4); // some are parallel
        const double apart = line_distance(a, b, c, d);
        EXPECT_NEAR(apart, line_distance(c, d, b, a), 1e-9) << "whichever comes first";
        double least = 1e9;
        for (double share = 0.0; share <= 1.0; share += 1.0 / 256.0) {
            const Vector3 on_it = a + share * (b - a);
            least = std::min(least, (nearest_on_line(c, d, on_it) - on_it).norm());
        }
        EXPECT_LE(apart, least + 1e-9);
        EXPECT_GE(apart, least - (b - a).norm() / 256.0);
    }
}

} // namespace
} // namespace avrek
