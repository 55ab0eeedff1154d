#include "fired_map.h"
#include <avrek/ballistics/blast.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/scene/raycast.h>

#include <algorithm>
#include <array>
#include <cmath>

/// The map of what flies. Where it meets the target on its way there is found from a few real flights,
/// between which the way is interpolated; what becomes of misses, which may bounce and burst, from more of
/// them.
namespace avrek::detail {

namespace {

constexpr Duration flight_step = std::chrono::milliseconds{125};
constexpr Duration crossing_step{15'625'000};
constexpr Duration longest_flight = std::chrono::seconds{12};
constexpr Metres near_plane = 0.7; // half of the way along which a flight is looked at about the target

// How a flight crosses the upright plane through the target's axis.
struct Crossing {
    bool crosses = false;
    Vector3 point = Vector3::Zero();
    Vector3 velocity = Vector3::Zero();
    double seconds = 0.0;
    Metres flown = 0.0;
};

Crossing between(const Crossing& a, const Crossing& b, double share) {
    const double other = 1.0 - share;
    return {a.crosses && b.crosses, other * a.point + share * b.point,
            other * a.velocity + share * b.velocity, other * a.seconds + share * b.seconds,
            other * a.flown + share * b.flown};
}

class Flights {
  public:
    Flights(const Engagement& engagement, const EngagementPlace& place)
        : engagement_(engagement), place_(place), scene_(map_scene(engagement, place)),
          floor_(map_scene(engagement, place, false)),
          spec_(*find(engagement.arsenal->projectiles, engagement.weapon->projectile.id)) {
        const RigSpec& rig = engagement.target.body->rig;
        for (const PosedShape& posed : posed_shapes(rig, rest_poses(rig, place.target))) {
            const Bounds box = bounds_of(posed.shape);
            shapes_.push_back({posed.region, posed.shape, 0.5 * (box.low + box.high),
                               0.5 * std::sqrt((box.high - box.low).squaredNorm())});
        }
    }

    // All that comes of one.
    MapOutcome advance_one(const Vector3& direction) {
        MapOutcome outcome;
        ProjectilePool pool{spec_, 1};
        events_.clear();
        pool.launch(launch_in(direction), events_);
        for (Time now{}; pool.size() > 0 && now - Time{} < longest_flight; now += flight_step) {
            events_.clear();
            pool.advance(scene_, engagement_.arsenal->surfaces, {now, now + flight_step}, events_);
            for (const ProjectileEvent& event : events_) {
                take(event, outcome);
            }
        }
        return outcome;
    }

    // Its way up to the target's plane, when it meets nothing before.
    Crossing cross(const Vector3& direction) {
        Crossing before{true, place_.muzzle, spec_.speed * direction, 0.0, 0.0};
        ProjectilePool pool{spec_, 1};
        events_.clear();
        const auto handle = pool.launch(launch_in(direction), events_);
        const double plane = place_.target.position.z();
        for (Time now{}; handle && now - Time{} < longest_flight; now += crossing_step) {
            events_.clear();
            pool.advance(floor_, engagement_.arsenal->surfaces, {now, now + crossing_step}, events_);
            const auto found = pool.find(*handle);
            if (!found || !events_.empty()) {
                break;
            }
            const Crossing after{true, found->position, found->velocity,
                                 to_seconds(now + crossing_step - Time{}), found->flown};
            if (after.point.z() >= plane) {
                return between(before, after,
                               (plane - before.point.z()) / (after.point.z() - before.point.z()));
            }
            before = after;
        }
        return {};
    }

    // Where one that crosses so meets the target; along its way, from `near_plane` before the plane.
    std::optional<std::pair<RegionId, Metres>> meets(const Crossing& crossing) const {
        const double speed = std::sqrt(crossing.velocity.squaredNorm());
        if (!crossing.crosses || speed < 1e-6) {
            return std::nullopt;
        }
        const Vector3 way = crossing.velocity / speed;
        const Ray ray{crossing.point - near_plane * way, way, 2.0 * near_plane};
        std::optional<std::pair<RegionId, Metres>> nearest;
        for (const auto& [region, shape, centre, reach] : shapes_) {
            // Most are out of reach of most ways.
            const Vector3 off = centre - ray.origin;
            const double along = std::clamp(off.dot(way), 0.0, ray.length);
            const double most = reach + spec_.radius + 1e-6;
            if ((off - along * way).squaredNorm() > most * most) {
                continue;
            }
            const auto entry = sweep(ray, spec_.radius, shape);
            if (entry && (!nearest || entry->distance < nearest->second)) {
                nearest = {region, entry->distance};
            }
        }
        if (nearest && (ray.origin + nearest->second * way).y() < spec_.radius) {
            return std::nullopt; // the floor is before
        }
        return nearest;
    }

    const ProjectileSpec& spec() const { return spec_; }

  private:
    Launch launch_in(const Vector3& direction) const {
        Launch launch;
        launch.muzzle = place_.muzzle;
        launch.direction = direction;
        launch.shooter = map_shooter;
        return launch;
    }

    void add(MapOutcome& outcome, const MapHit& hit, Time at) {
        if (outcome.hits.empty()) {
            outcome.delay = rounded(at - Time{});
        }
        outcome.hits.push_back(hit);
    }

    void take(const ProjectileEvent& event, MapOutcome& outcome) {
        if (event.kind == ProjectileEventKind::exploded) {
            explode(event, outcome);
            return;
        }
        const bool meets = event.kind == ProjectileEventKind::stopped ||
                           event.kind == ProjectileEventKind::pierced ||
                           event.kind == ProjectileEventKind::bounced;
        if (meets && event.hit && event.hit->body) {
            add(outcome, {*event.hit->region, rounded(event.flown, 0.25), rounded(event.power, 0.01)},
                event.at);
        }
    }

    void explode(const ProjectileEvent& event, MapOutcome& outcome) {
        std::array<BlastHit, 1> hits;
        if (spec_.blast.radius > 0.0 &&
            blast(scene_, spec_.blast, {event.point, event.at, map_shooter, TeamId{0}, event.power}, hits) >
                0) {
            add(outcome,
                {hits[0].nearest.region.value_or(RegionId{0}),
                 rounded(hits[0].nearest.distance, 0.01 * spec_.blast.radius), rounded(event.power, 0.01),
                 true, hits[0].exposure},
                event.at);
        }
    }

    const Engagement& engagement_;
    const EngagementPlace& place_;
    Scene scene_;
    Scene floor_;
    const ProjectileSpec& spec_;
    struct Placed {
        RegionId region{};
        Shape shape;
        Vector3 centre; // a ball there, with this reach, holds the shape
        Metres reach;
    };
    std::vector<Placed> shapes_{};
    std::vector<ProjectileEvent> events_{};
};

// A rectangle of directions.
struct Window {
    double left;
    double right;
    double low;
    double high;

    MapPoint at(std::size_t column, std::size_t columns, std::size_t row, std::size_t rows) const {
        return {left + (right - left) * (static_cast<double>(column) + 0.5) / static_cast<double>(columns),
                low + (high - low) * (static_cast<double>(row) + 0.5) / static_cast<double>(rows)};
    }
};

struct Miss {
    MapPoint at;
    MapOutcome outcome;
};

// Ends of the directions that miss the target on the way there.
std::vector<Miss> misses_of(Flights& flights, const MapMaker& maker, const Window& window,
                            std::size_t columns, std::size_t rows) {
    std::vector<Miss> misses;
    for (std::size_t row = 0; row < rows; ++row) {
        for (std::size_t column = 0; column < columns; ++column) {
            const MapPoint point = window.at(column, columns, row, rows);
            const Vector3 direction = maker.direction_at(point);
            if (!flights.meets(flights.cross(direction))) {
                misses.push_back({point, flights.advance_one(direction)});
            }
        }
    }
    return misses;
}

const MapOutcome* nearest_of(const std::vector<Miss>& misses, const MapPoint& point) {
    const MapOutcome* nearest = nullptr;
    double least = 0.0;
    for (const Miss& miss : misses) {
        const double right = miss.at.right - point.right;
        const double up = miss.at.up - point.up;
        const double square = right * right + up * up;
        if (nearest == nullptr || square < least) {
            nearest = &miss.outcome;
            least = square;
        }
    }
    return nearest;
}

// Crossings on the corners of a window, and between them.
class Crossings {
  public:
    static constexpr std::size_t columns = 5;
    static constexpr std::size_t rows = 7;

    Crossings(Flights& flights, const MapMaker& maker, const Window& window) : window_(window) {
        for (std::size_t row = 0; row < rows; ++row) {
            for (std::size_t column = 0; column < columns; ++column) {
                const MapPoint point{
                    window.left + (window.right - window.left) * static_cast<double>(column) / (columns - 1),
                    window.low + (window.high - window.low) * static_cast<double>(row) / (rows - 1)};
                all_[row * columns + column] = flights.cross(maker.direction_at(point));
            }
        }
    }

    Crossing at(const MapPoint& point) const {
        const double across = (point.right - window_.left) / (window_.right - window_.left) * (columns - 1);
        const double along = (point.up - window_.low) / (window_.high - window_.low) * (rows - 1);
        if (across < 0.0 || along < 0.0 || across >= columns - 1 || along >= rows - 1) {
            return {};
        }
        const auto column = static_cast<std::size_t>(across);
        const auto row = static_cast<std::size_t>(along);
        const Crossing* corner = &all_[row * columns + column];
        const double right = across - static_cast<double>(column);
        return between(between(corner[0], corner[1], right),
                       between(corner[columns], corner[columns + 1], right),
                       along - static_cast<double>(row));
    }

  private:
    Window window_;
    std::array<Crossing, columns * rows> all_{};
};

} // namespace

ShotMap map_of_flights(const Engagement& engagement, const EngagementPlace& place) {
    if (!place.in_reach) {
        return MapMaker{world_forward(), 1.0}.take();
    }
    Flights flights{engagement, place};
    const ProjectileSpec& spec = flights.spec();
    const bool bursts = spec.blast.radius > 0.0;
    const double depth = place.line.dot(place.aim_point - place.muzzle);
    const double across = (0.5 + spec.radius) / depth;
    const double tall = (1.6 + spec.radius) / depth;
    const double beyond = bursts ? spec.blast.radius / depth : 0.0;
    const Window near{-across, across, -tall, 0.75 * tall};
    const Window all{-across - beyond, across + beyond, -tall - 0.6 * beyond, 0.75 * tall + 0.6 * beyond};
    MapMaker maker{place.line, depth};
    maker.set_rows(all.low, all.high, bursts ? 130 : 64);
    const Crossings crossings{flights, maker, near};
    // One that meets the target as it should says what else comes with that.
    const MapOutcome pattern = flights.advance_one(place.line);
    const std::vector<Miss> misses = misses_of(flights, maker, all, bursts ? 9 : 4, bursts ? 10 : 6);
    std::vector<double> cuts;
    if (bursts) {
        add_cuts(cuts, all.left, near.left, 4);
    }
    add_cuts(cuts, near.left, near.right, 44);
    if (bursts) {
        add_cuts(cuts, near.right, all.right, 4);
    }
    for (std::size_t row = 0; row < maker.rows(); ++row) {
        maker.begin_row(row);
        for (std::size_t cut = 0; cut + 1 < cuts.size(); ++cut) {
            const MapPoint middle{0.5 * (cuts[cut] + cuts[cut + 1]), maker.middle_of(row)};
            const Crossing crossing = crossings.at(middle);
            if (const auto met = flights.meets(crossing)) {
                MapOutcome outcome = pattern;
                const Metres off = met->second - near_plane;
                const double speed = std::sqrt(crossing.velocity.squaredNorm());
                outcome.delay = rounded(from_seconds(crossing.seconds + off / speed));
                for (MapHit& hit : outcome.hits) {
                    hit.region = met->first;
                    hit.flown = hit.blast ? spec.radius : rounded(crossing.flown + off, 0.25);
                }
                if (outcome.hits.empty()) {
                    outcome.hits.push_back({met->first, rounded(crossing.flown + off, 0.25)});
                }
                maker.add(cuts[cut], cuts[cut + 1], place_in(maker, outcome));
            } else if (const MapOutcome* missed = nearest_of(misses, middle)) {
                if (!missed->hits.empty()) {
                    maker.add(cuts[cut], cuts[cut + 1], place_in(maker, *missed));
                }
            }
        }
    }
    return maker.take();
}

} // namespace avrek::detail
