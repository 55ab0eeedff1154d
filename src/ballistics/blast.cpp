#include "sight_lines.h"
#include <avrek/ballistics/blast.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr std::size_t max_bodies = 64;

} // namespace

std::size_t blast(const World& world, const BlastSpec& spec, const Blast& blast, std::span<BlastHit> hits) {
    assert(spec.radius > 0.0 && blast.power >= 0.0);
    const auto everywhere = [](const Vector3&) { return true; };
    std::array<Hit, max_bodies> touched;
    std::array<BlastHit, 2 * max_bodies> found;
    std::size_t count = 0;
    const auto reach = [&](const TeamSet& teams, double side) {
        const Filter filter{.hits = {CollisionLayer::bodies}, .teams = teams};
        const std::size_t bodies =
            world.overlaps(Sphere{blast.centre, spec.radius}, blast.at, filter, touched);
        for (std::size_t index = 0; index < bodies; ++index) {
            BlastHit hit;
            hit.body = *touched[index].body;
            hit.exposure = detail::exposure_of(world, {blast.centre, spec.radius, blast.at}, touched[index],
                                               everywhere, hit.nearest);
            if (hit.exposure > 0.0) {
                const double share = std::min(1.0, std::max(0.0, hit.nearest.distance) / spec.radius);
                const double falloff = value_at(spec.falloff, share);
                const double strength = falloff * hit.exposure * blast.power;
                hit.team_share = hit.body == blast.source ? spec.self_share : side;
                // In the order in which the damage is explained.
                hit.damage = spec.damage * blast.power * falloff * hit.exposure * hit.team_share;
                const Vector3 away = hit.nearest.point - blast.centre;
                const double distance = std::sqrt(away.squaredNorm());
                hit.push = (spec.push * strength) * (distance > 0.0 ? Vector3(away / distance) : world_up());
                found[count] = hit;
                ++count;
            }
        }
    };
    reach(TeamSet::all_but(blast.team), 1.0);
    reach({blast.team}, spec.team_share);
    const auto end = found.begin() + static_cast<std::ptrdiff_t>(count);
    std::sort(found.begin(), end, [](const BlastHit& a, const BlastHit& b) { return a.body < b.body; });
    count = std::min(count, hits.size());
    std::copy_n(found.begin(), count, hits.begin());
    return count;
}

std::size_t sight_lines_to(const World& world, Metres radius, const Blast& blast, BodyId body,
                           std::span<SightLine, blast_sight_lines> lines) {
    assert(radius > 0.0);
    std::array<Hit, 1> touched;
    const Filter filter{.hits = {CollisionLayer::bodies}, .only = body};
    if (world.overlaps(Sphere{blast.centre, radius}, blast.at, filter, touched) == 0) {
        return 0;
    }
    const detail::Sight sight{blast.centre, radius, blast.at};
    std::size_t count = 0;
    if (!touched[0].inside) {
        detail::each_sight_line(world, sight, touched[0], [&](const Hit& hit) {
            lines[count++] = {hit.point, detail::is_in_sight(world, sight, hit.point)};
        });
    }
    return count;
}

} // namespace avrek
