#include "../scene/draw.h"
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/blast.h>
#include <avrek/ballistics/hitscan.h>
#include <avrek/ballistics/melee.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/ballistics/spray.h>
#include <avrek/scene/nearest.h>
#include <avrek/scene/scene.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <array>

namespace avrek {
namespace {

using std::chrono::milliseconds;

// A game's own world in which nothing moves: a list of solids, and the three functions that Avrek asks for.
struct Thing {
    Shape shape;
    std::optional<BodyId> body{};
    std::uint32_t part = 0;
};

class OwnWorld final : public World {
  public:
    std::vector<Thing> things; // the level first, then bodies by id

    std::optional<Hit> closest_hit(const Cast& cast, const Filter& filter) const override {
        std::optional<Hit> best;
        for (const Thing& thing : things) {
            const auto entry =
                counts(thing, filter) ? sweep(cast.ray, cast.radius, thing.shape) : std::nullopt;
            if (entry && (!best || entry->distance < best->distance)) {
                best = hit_of(thing, cast, *entry);
            }
        }
        return best;
    }

    std::size_t every_hit(const Cast& cast, const Filter& filter, std::span<Hit> found) const override {
        std::vector<Hit> all;
        for (const Thing& thing : things) {
            const auto entry =
                counts(thing, filter) ? sweep(cast.ray, cast.radius, thing.shape) : std::nullopt;
            if (!entry) {
                continue;
            }
            all.push_back(hit_of(thing, cast, *entry));
            const Metres exit = exit_distance(cast.ray, thing.shape);
            if (cast.radius == 0.0 && exit <= cast.ray.length) {
                Hit out = all.back();
                out.distance = exit;
                out.point = point_at(cast.ray, exit);
                out.normal = nearest_point(thing.shape, out.point).normal;
                out.back = true;
                out.inside = false;
                all.push_back(out);
            }
        }
        std::stable_sort(all.begin(), all.end(),
                         [](const Hit& a, const Hit& b) { return a.distance < b.distance; });
        const std::size_t count = std::min(all.size(), found.size());
        std::copy_n(all.begin(), count, found.begin());
        return count;
    }

    std::size_t overlaps(const Volume& volume, Time, const Filter& filter,
                         std::span<Hit> found) const override {
        std::size_t count = 0;
        for (const Thing& thing : things) {
            const bool again = count > 0 && found[count - 1].body == thing.body;
            if (count < found.size() && !again && counts(thing, filter) && overlap(volume, thing.shape)) {
                const Nearest nearest = nearest_point(thing.shape, centre_of(volume));
                Hit& hit = found[count++];
                hit = hit_of(thing, {}, {});
                hit.point = nearest.point;
                hit.normal = nearest.normal;
                hit.distance = nearest.distance;
                hit.inside = nearest.distance < 0.0;
            }
        }
        return count;
    }

  private:
    static bool counts(const Thing& thing, const Filter& filter) {
        return thing.body ? filter.hits.contains(CollisionLayer::bodies) && filter.teams.contains(TeamId{}) &&
                                !filter.ignores.contains(*thing.body) &&
                                (!filter.only || *filter.only == *thing.body)
                          : filter.hits.contains(CollisionLayer::level);
    }

    static Hit hit_of(const Thing& thing, const Cast& cast, const Entry& entry) {
        Hit hit;
        hit.distance = entry.distance;
        hit.share = cast.ray.length > 0.0 ? entry.distance / cast.ray.length : 0.0;
        hit.normal = entry.normal;
        hit.point = point_at(cast.ray, entry.distance) - cast.radius * entry.normal;
        hit.inside = entry.inside;
        hit.body = thing.body;
        hit.region = thing.body ? std::optional{RegionId{0}} : std::nullopt;
        hit.layer = thing.body ? CollisionLayer::bodies : CollisionLayer::level;
        hit.part = thing.part;
        return hit;
    }
};

// The same things in a Scene.
struct Twins {
    OwnWorld own;
    RigSpec rig{{{"all", {Capsule{{0, 0.3, 0}, {0, 1.5, 0}, 0.3}}}}};
    Scene scene;

    explicit Twins(Draw& draw) {
        std::vector<LevelPiece> pieces{{HalfSpace{world_up(), 0.0}}};
        for (int piece = 0; piece < 8; ++piece) {
            pieces.push_back({Box{{{draw(-8, 8), draw(0, 2), draw(-8, 8)}, turned_to({draw(-pi, pi), 0})},
                                  {draw(0.1, 1), draw(0.3, 2), draw(0.1, 1)}}});
        }
        for (std::size_t index = 0; index < pieces.size(); ++index) {
            own.things.push_back({pieces[index].shape, {}, static_cast<std::uint32_t>(index)});
        }
        scene = Scene{Level{pieces}};
        for (std::uint32_t body = 1; body <= 6; ++body) {
            const Pose pose{{draw(-8, 8), 0, draw(-8, 8)}};
            own.things.push_back({to_world(pose, rig.regions[0].shapes[0]), BodyId{body}});
            EXPECT_TRUE(scene.add({BodyId{body}, &rig, pose}));
        }
    }
};

// Results of all of Avrek's ballistics in a world, as numbers.
std::vector<double> outcome(const World& world, Draw draw, Scene* scene) {
    std::vector<double> numbers;
    const auto add = [&numbers](const Vector3& point) {
        numbers.insert(numbers.end(), {point.x(), point.y(), point.z()});
    };
    const Filter filter{.ignores = {BodyId{1}}};
    const Vector3 muzzle{draw(-8, 8), draw(1, 3), draw(-8, 8)};
    const Vector3 direction = draw.direction();
    std::array<PathSegment, 8> segments;
    const HitscanShot shot{muzzle, direction, 50, {.count = 3}, {.energy = 900, .per_body = 100}};
    for (std::size_t count = follow_hitscan(world, {}, shot, filter, segments); count > 0; --count) {
        add(segments[count - 1].end);
        numbers.push_back(segments[count - 1].power);
    }
    std::array<BlastHit, 8> blown;
    for (std::size_t count = blast(world, {.radius = 6, .damage = 90}, {.centre = muzzle}, blown); count > 0;
         --count) {
        numbers.insert(numbers.end(), {blown[count - 1].damage, blown[count - 1].exposure});
    }
    std::array<SprayHit, 8> sprayed;
    for (std::size_t count = spray(world, {muzzle, direction, 0.5, 7}, filter, sprayed); count > 0; --count) {
        numbers.push_back(sprayed[count - 1].exposure);
    }
    const AimSolution aim = solve_aim(
        world, {.eye = {muzzle, direction, 40}, .muzzle = muzzle + draw.point(0.5), .grip = muzzle}, filter);
    add(aim.aim_point);
    add(aim.origin);
    ProjectilePool pool{
        {.id = "burl", .speed = 25, .radius = 0.1, .bounce = {.count = 4}, .blast = {.radius = 2}}, 4};
    MeleeSpec sickle{.id = "sickle"};
    sickle.attacks = {{.name = "light", .reach = 3, .path = {{1, 0}, {-1, 0}}}};
    MeleeState state;
    std::vector<ProjectileEvent> events;
    std::vector<MeleeEvent> swung;
    pool.launch({.muzzle = muzzle, .direction = direction}, events);
    const Pose pose{muzzle, turned_to(look_of(direction))};
    for (Tick tick = 0; tick < 60; ++tick) {
        const Span span = tick_span(tick, {20});
        if (scene != nullptr) {
            scene->begin_frame(span.end);
        }
        pool.advance(world, {}, span, events);
        const MeleePress press{span.begin, 0};
        advance(sickle, state, world, filter, {BodyId{1}, pose, pose}, span, {&press, tick == 0 ? 1U : 0U},
                swung);
    }
    for (const ProjectileEvent& event : events) {
        add(event.point);
        numbers.push_back(to_seconds(event.at - Time{}));
    }
    for (const MeleeEvent& event : swung) {
        numbers.push_back(event.hit.body ? static_cast<double>(*event.hit.body) : -1.0);
    }
    return numbers;
}

TEST(World, AGamesOwnGivesWhatASceneOfTheSameThingsGives) {
    Draw draw{81};
    std::size_t compared = 0;
    for (int round = 0; round < 50; ++round) {
        Twins twins{draw};
        const Draw same = draw;
        const std::vector<double> own = outcome(twins.own, same, nullptr);
        const std::vector<double> ours = outcome(twins.scene, same, &twins.scene);
        (void)draw.point(1);
        ASSERT_EQ(own.size(), ours.size()) << round;
        for (std::size_t index = 0; index < own.size(); ++index) {
            ASSERT_NEAR(own[index], ours[index], 1e-6) << round << ", " << index;
        }
        compared += own.size();
    }
    EXPECT_GT(compared, 1500U);
}

} // namespace
} // namespace avrek
