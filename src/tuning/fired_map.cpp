#include "fired_map.h"

#include <avrek/ballistics/melee.h>
#include <avrek/ballistics/spray.h>
#include <avrek/tuning/engagement_trial.h>

#include <algorithm>
#include <array>

/// Maps of what does not fly straight at once: each direction of a grid is sprayed, or struck, for real.
namespace avrek::detail {

namespace {

struct Grid {
    double low;
    double high;
    std::size_t rows;
    std::vector<double> cuts;
};

// `outcome_of` gives what a direction leads to; it has no hits where that is nothing.
template <class OutcomeOf>
ShotMap map_of_grid(const EngagementPlace& place, const Vector3& line, const Grid& grid,
                    const OutcomeOf& outcome_of) {
    MapMaker maker{line, line.dot(place.aim_point - place.muzzle)};
    maker.set_rows(grid.low, grid.high, grid.rows);
    for (std::size_t row = 0; row < maker.rows(); ++row) {
        maker.begin_row(row);
        for (std::size_t cut = 0; cut + 1 < grid.cuts.size(); ++cut) {
            const MapPoint middle{0.5 * (grid.cuts[cut] + grid.cuts[cut + 1]), maker.middle_of(row)};
            const MapOutcome found = outcome_of(maker.direction_at(middle));
            if (!found.hits.empty()) {
                maker.add(grid.cuts[cut], grid.cuts[cut + 1], place_in(maker, found));
            }
        }
    }
    return maker.take();
}

} // namespace

Scene map_scene(const Engagement& engagement, const EngagementPlace& place, bool with_target) {
    Scene scene{engagement_level(), {.bodies = 1, .joints = 64, .frames = 2}};
    if (with_target) {
        static_cast<void>(scene.add({map_target, &engagement.target.body->rig, place.target, TeamId{1}}));
    }
    return scene;
}

bool same(const MapOutcome& one, const MapOutcome& other) {
    return one.delay == other.delay && one.hits.size() == other.hits.size() &&
           std::equal(one.hits.begin(), one.hits.end(), other.hits.begin(),
                      [](const MapHit& a, const MapHit& b) {
                          return a.region == b.region && a.flown == b.flown && a.power == b.power &&
                                 a.blast == b.blast && a.exposure == b.exposure;
                      });
}

std::uint32_t place_in(MapMaker& maker, const MapOutcome& outcome) {
    const auto& known = maker.map().outcomes();
    const auto found =
        std::find_if(known.begin(), known.end(), [&](const MapOutcome& one) { return same(one, outcome); });
    return found != known.end() ? static_cast<std::uint32_t>(found - known.begin()) : maker.outcome(outcome);
}

Duration rounded(Duration value) {
    constexpr Duration step = std::chrono::milliseconds{2};
    return (value + step / 2) / step * step;
}

void add_cuts(std::vector<double>& cuts, double from, double to, int parts) {
    for (int part = cuts.empty() ? 0 : 1; part <= parts; ++part) {
        cuts.push_back(from + (to - from) * part / parts);
    }
}

ShotMap map_of_sprays(const Engagement& engagement, const EngagementPlace& place) {
    const WeaponSpec& weapon = *engagement.weapon;
    if (engagement.distance > weapon.range + 1.0) {
        return MapMaker{place.line, 1.0}.take();
    }
    const Scene scene = map_scene(engagement, place);
    const double widest = std::min(1.2, weapon.spray + 1.1 / std::max(0.6, engagement.distance));
    Grid grid{-widest, widest, 20, {}};
    add_cuts(grid.cuts, -widest, widest, 20);
    return map_of_grid(place, place.line, grid, [&](const Vector3& direction) {
        MapOutcome outcome;
        std::array<SprayHit, 1> hits;
        if (spray(scene, {place.muzzle, direction, weapon.spray, weapon.range}, {}, hits) > 0) {
            outcome.hits.push_back(
                {hits[0].nearest.region.value_or(RegionId{0}), rounded(hits[0].nearest.distance, 0.05)});
        }
        return outcome;
    });
}

ShotMap map_of_swings(const Engagement& engagement, const EngagementPlace& place) {
    const MeleeAttackSpec& attack = engagement.melee->attacks[engagement.attack];
    if (engagement.distance > attack.reach + attack.thrust + 1.0) {
        return MapMaker{place.line, 1.0}.take();
    }
    const Scene scene = map_scene(engagement, place);
    constexpr double widest = 0.7;
    Grid grid{-0.5, 0.5, 12, {}};
    add_cuts(grid.cuts, -widest, widest, 36);
    std::vector<MeleeEvent> events;
    return map_of_grid(place, direction_of(place.look), grid, [&](const Vector3& direction) {
        MapOutcome outcome;
        MeleeState state;
        events.clear();
        const Look look = look_of(direction);
        const Pose pose{points_of(engagement, look).grip, turned_to(look)};
        const std::array presses{MeleePress{Time{}, engagement.attack}};
        advance(*engagement.melee, state, scene, {.ignores = {map_shooter}}, {map_shooter, pose, pose},
                {Time{}, Time{} + length_of(attack)}, presses, events);
        for (const MeleeEvent& event : events) {
            if (event.kind == MeleeEventKind::struck && event.hit.region) {
                outcome.hits.push_back({*event.hit.region, 0.0});
                outcome.delay = rounded(event.at - Time{});
            }
        }
        return outcome;
    });
}

} // namespace avrek::detail
