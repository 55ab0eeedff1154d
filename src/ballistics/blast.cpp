#include <avrek/ballistics/blast.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr std::size_t most_bodies = 64;

// Sight lines end this far before what they lead to, so that a body in touch with a wall is not behind it.
constexpr Metres short_of = 1e-4;

constexpr LayerSet blocks_blasts{Layer::level, Layer::glass};

struct Offset {
    Metres left;
    Metres up;
};

constexpr std::array<Offset, blast_sight_lines> offsets{{{0.0, 0.0},
                                                         {0.2, 0.0},
                                                         {-0.2, 0.0},
                                                         {0.0, 0.3},
                                                         {0.0, -0.3},
                                                         {0.0, 0.6},
                                                         {0.0, -0.6},
                                                         {0.0, 0.9},
                                                         {0.0, -0.9},
                                                         {0.15, 0.6},
                                                         {-0.15, 0.6},
                                                         {0.15, -0.6},
                                                         {-0.15, -0.6}}};

bool is_in_sight(const World& world, const Blast& blast, const Vector3& point) {
    const Vector3 way = point - blast.centre;
    const double distance = std::sqrt(way.squaredNorm());
    if (distance <= short_of) {
        return true;
    }
    const Ray ray{blast.centre, way / distance, distance - short_of};
    return !world.any_hit({.ray = ray, .begin = blast.at}, {.hits = blocks_blasts});
}

// The share of the sight lines to a body that reach it, and the nearest point that one of them reaches.
double exposure_of(const World& world, double radius, const Blast& blast, const Hit& touched, Hit& nearest) {
    if (touched.inside) {
        nearest = touched;
        nearest.distance = 0.0;
        return 1.0;
    }
    const Vector3 way = touched.point - blast.centre;
    const double distance = std::sqrt(way.squaredNorm());
    const Vector3 direction = distance > 0.0 ? Vector3(way / distance) : world_up();
    const Across axes = across(direction);
    int lines = 0;
    int reached = 0;
    for (const Offset& offset : offsets) {
        Hit hit = touched;
        if (offset.left != 0.0 || offset.up != 0.0) {
            const Vector3 aim = way + offset.left * axes.left + offset.up * axes.up;
            const Ray ray{blast.centre, aim.normalized(), radius};
            const std::optional<Hit> met = world.closest_hit({.ray = ray, .begin = blast.at},
                                                             {.hits = {touched.layer}, .only = touched.body});
            if (!met) {
                continue;
            }
            hit = *met;
        }
        ++lines;
        if (is_in_sight(world, blast, hit.point)) {
            if (reached == 0 || hit.distance < nearest.distance) {
                nearest = hit;
            }
            ++reached;
        }
    }
    return static_cast<double>(reached) / lines;
}

} // namespace

std::size_t blast(const World& world, const BlastSpec& spec, const Blast& blast, std::span<BlastHit> hits) {
    assert(spec.radius > 0.0 && blast.power >= 0.0);
    std::array<Hit, most_bodies> touched;
    std::array<BlastHit, 2 * most_bodies> found;
    std::size_t count = 0;
    const auto reach = [&](const TeamSet& teams, double side) {
        const Filter filter{.hits = {Layer::bodies}, .teams = teams};
        const std::size_t bodies =
            world.overlaps(Sphere{blast.centre, spec.radius}, blast.at, filter, touched);
        for (std::size_t index = 0; index < bodies; ++index) {
            BlastHit hit;
            hit.body = *touched[index].body;
            hit.exposure = exposure_of(world, spec.radius, blast, touched[index], hit.nearest);
            if (hit.exposure > 0.0) {
                const double share = std::min(1.0, std::max(0.0, hit.nearest.distance) / spec.radius);
                const double strength = value_at(spec.falloff, share) * hit.exposure * blast.power;
                const double own = hit.body == blast.source ? spec.own_self : side;
                hit.damage = spec.damage * strength * own;
                const Vector3 away = hit.nearest.point - blast.centre;
                const double distance = std::sqrt(away.squaredNorm());
                hit.push = (spec.push * strength) * (distance > 0.0 ? Vector3(away / distance) : world_up());
                found[count] = hit;
                ++count;
            }
        }
    };
    reach(TeamSet::all_but(blast.team), 1.0);
    reach({blast.team}, spec.own_side);
    const auto end = found.begin() + static_cast<std::ptrdiff_t>(count);
    std::sort(found.begin(), end, [](const BlastHit& a, const BlastHit& b) { return a.body < b.body; });
    count = std::min(count, hits.size());
    std::copy_n(found.begin(), count, hits.begin());
    return count;
}

} // namespace avrek
