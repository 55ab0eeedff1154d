#include "known_bodies.h"

#include "../core/by_id.h"
#include "sight.h"
#include <avrek/core/elementary.h>
#include <avrek/scene/raycast.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace avrek::detail {

namespace {

constexpr Metres stays_hidden = 0.05; // until one of the two has moved farther than this
constexpr Duration until_drawn = std::chrono::milliseconds{100}; // more than the age of the picture
constexpr std::size_t tries_per_ray = 16;     // single parts of the level for the price of a ray
constexpr std::uint32_t nothing = 0xffffffff; // no part of a level
constexpr std::size_t directions = 16;
constexpr std::array shares_onward{1.0, 0.75, 0.5, 0.25};
constexpr std::array shares_around{1.0, 0.7, 0.35};
constexpr std::size_t eyes_here = 2;
constexpr std::size_t eyes_around = eyes_here + shares_onward.size();
static_assert(KnownBodies::max_eyes == eyes_around + directions * shares_around.size());
constexpr Metres off_walls = 0.2;
constexpr Metres rises = 0.5; // the start of a jump, and steps
constexpr Metres spare = 0.2; // around a body
constexpr Duration max_ahead = std::chrono::milliseconds{500};

double distance(const Vector3& one, const Vector3& other) {
    return std::sqrt((one - other).squaredNorm());
}

// Points around a body between which all of it is, as seen from an eye.
using Points = std::array<Vector3, 11>;

std::size_t points_around(const LookedAt& body, const Vector3& eye, Points& points) {
    const Vector3& feet = body.feet;
    const bool stands = body.stands;
    const MovementSpec& shape = *body.shape;
    const Vector3 way{feet.x() - eye.x(), 0.0, feet.z() - eye.z()};
    const double length = std::sqrt(way.squaredNorm());
    const Vector3 ahead = length > 1e-6 ? Vector3{way / length} : Vector3{0.0, 0.0, 1.0};
    const Vector3 aside{ahead.z(), 0.0, -ahead.x()};
    const double wide = (stands ? shape.radius : 0.8 * shape.height) + spare;
    const Vector3 top{0.0, shape.height + spare, 0.0};
    std::size_t count = 0;
    for (const auto& [height, side] :
         {std::pair{0.6, 0.0}, std::pair{1.0, 0.0}, std::pair{0.6, wide}, std::pair{0.6, -wide},
          std::pair{0.1, 0.0}, std::pair{1.0, wide}, std::pair{1.0, -wide}, std::pair{0.6, 0.5 * wide},
          std::pair{0.6, -0.5 * wide}}) {
        points[count++] = feet + height * top + side * aside;
    }
    if (!stands) {
        points[count++] = feet + 0.1 * top + wide * ahead;
        points[count++] = feet + 0.1 * top - wide * ahead;
    }
    return count;
}

// Whether a part of the level is still in the way.
bool hides(const Level& level, std::uint32_t part, const Ray& ray) {
    const std::size_t pieces = level.pieces().size();
    return part == nothing ? false
           : part < pieces ? raycast(ray, level.pieces()[part].shape).has_value()
                           : part - pieces < level.triangle_count() &&
                                 raycast(ray, level.triangle(part - pieces)).has_value();
}

} // namespace

std::vector<LookedAt> bodies_to_look_at(const Skirmish& fight) {
    std::vector<LookedAt> bodies;
    for (const Fighter& fighter : fight.fighters()) {
        const Combatant& who = *fight.match().find(fighter.id);
        if (fighter.in_scene) {
            bodies.push_back({&who, &fight.arsenal()[who.body].movement, fighter.motion.position,
                              who.vitals.state == BodyState::active});
        }
    }
    return bodies;
}

// One of the places where the eye could be by then, no farther than walls let it go: where it is, where it
// will be if it goes on as it does, then around it. Each row of places is found by one ray, when it is asked
// for.
const Vector3& KnownBodies::eye_at(const Skirmish& fight, std::size_t index) {
    const std::size_t row = index < eyes_here     ? 0
                            : index < eyes_around ? 1
                                                  : 2 + (index - eyes_around) / shares_around.size();
    if (rows_found_.test(row)) {
        return eyes_[index];
    }
    rows_found_.set(row);
    const auto find = [&](std::size_t first, const Vector3& way, Metres farthest,
                          std::span<const double> shares) {
        const auto wall =
            fight.scene().closest_hit({{eye_, way, farthest + off_walls}}, {.hits = {CollisionLayer::level}});
        const Metres free = wall ? std::max(0.0, wall->distance - off_walls) : farthest;
        for (const double share : shares) {
            eyes_[first++] = eye_ + std::min(free, share * farthest) * way;
        }
    };
    if (row == 0) {
        eyes_[0] = eye_;
        eyes_[1] = eye_ + Vector3{0.0, rises, 0.0};
    } else if (row == 1) {
        const Metres far = std::sqrt(onward_.squaredNorm());
        find(eyes_here, far > 1e-6 ? Vector3(onward_ / far) : world_forward(), far, shares_onward);
    } else {
        const double angle = 2.0 * pi * static_cast<double>(row - 2) / directions;
        find(eyes_around + (row - 2) * shares_around.size(), {sine(angle), 0.0, cosine(angle)}, reach_,
             shares_around);
    }
    return eyes_[index];
}

// Whether a foe is known from now on. What was in the way before is tried first: most often it still is.
bool KnownBodies::could_see(const Skirmish& fight, const LookedAt& body, Foe& foe, Work& work) {
    Points points;
    const std::size_t count = points_around(body, eye_, points);
    const Level& level = fight.scene().level();
    foe.in_the_way.resize(max_eyes * points.size(), nothing);
    std::uint32_t last = nothing;
    const auto is_seen = [&](std::size_t eye, std::size_t point) {
        const Vector3& from = eye_at(fight, eye);
        const Vector3 way = points[point] - from;
        const double length = std::sqrt(way.squaredNorm());
        if (length < 1e-6) {
            return true;
        }
        const Ray ray{from, way / length, length};
        std::uint32_t& part = foe.in_the_way[eye * points.size() + point];
        work.tries += 2;
        if (hides(level, part, ray) || hides(level, last, ray)) {
            return false;
        }
        ++work.rays;
        const auto found = fight.scene().any_part({ray}, stops_sight);
        part = last = found.value_or(part);
        return !found.has_value();
    };
    const auto [last_eye, last_point] = foe.free_ray;
    if (last_eye < max_eyes && last_point < count && is_seen(last_eye, last_point)) {
        return true;
    }
    for (std::size_t eye = 0; eye < max_eyes; ++eye) {
        for (std::size_t point = 0; point < count; ++point) {
            if (is_seen(eye, point)) {
                foe.free_ray = {eye, point};
                return true;
            }
        }
    }
    return false;
}

// The foe that stands at a place in the order of ids. Those before it that are not asked for are forgotten.
KnownBodies::Foe& KnownBodies::foe_at(std::size_t index, BodyId id) {
    const auto place = foes_.begin() + static_cast<std::ptrdiff_t>(index);
    if (place != foes_.end() && place->id == id) {
        return *place;
    }
    const auto there = std::find_if(place, foes_.end(), [id](const Foe& one) { return one.id >= id; });
    if (there != foes_.end() && there->id == id) {
        return *foes_.erase(place, there);
    }
    return *foes_.insert(place, Foe{.id = id});
}

void KnownBodies::look(const Skirmish& fight, std::span<const LookedAt> bodies, BodyId player,
                       Duration view_delay, const InterestSettings& settings, std::size_t& rays) {
    Work work;
    rows_found_.reset();
    const Fighter* viewer = fight.find(player);
    const Combatant* self = fight.match().find(player);
    if (viewer == nullptr || self == nullptr) {
        foes_.clear();
        return;
    }
    const MovementSpec& moves = fight.arsenal()[self->body].movement;
    const double speed =
        std::max(moves.speed * std::max(1.0, moves.sprint), std::sqrt(viewer->motion.velocity.squaredNorm()));
    const Duration ahead =
        std::min(std::max(settings.ahead, view_delay + until_drawn), std::max(max_ahead, settings.ahead));
    eye_ = fight.eye_of(player);
    reach_ = speed * to_seconds(ahead);
    onward_ = to_seconds(view_delay) * viewer->motion.velocity;
    const Time now = fight.now();
    std::size_t count = 0;
    for (const LookedAt& body : bodies) {
        if (body.who == self || !fight.match().are_hostile(*self, *body.who)) {
            continue;
        }
        Foe& foe = foe_at(count++, body.who->id);
        const bool is_settled = foe.is_known ? now < foe.until
                                             : distance(eye_, foe.eye) <= stays_hidden &&
                                                   distance(body.feet, foe.feet) <= stays_hidden;
        if (!is_settled) {
            const std::size_t done = work.rays + work.tries / tries_per_ray;
            foe.is_known = done >= rays || could_see(fight, body, foe, work);
            foe.until = now + settings.lingers;
            foe.eye = eye_;
            foe.feet = body.feet;
        }
    }
    foes_.erase(foes_.begin() + static_cast<std::ptrdiff_t>(count), foes_.end());
    rays -= std::min(rays, work.rays + work.tries / tries_per_ray);
}

bool KnownBodies::comes_to_see(const Skirmish& fight, const Vector3& point, std::size_t& rays) {
    return could_see(fight, point, eyes_around, rays);
}

bool KnownBodies::sees(const Skirmish& fight, const Vector3& point, std::size_t& rays) {
    return could_see(fight, point, eyes_here, rays);
}

bool KnownBodies::could_see(const Skirmish& fight, const Vector3& point, std::size_t eyes,
                            std::size_t& rays) {
    if (rays == 0) {
        return true;
    }
    const Level& level = fight.scene().level();
    std::uint32_t part = nothing;
    for (std::size_t index = 0; index < eyes; ++index) {
        const Vector3& eye = eye_at(fight, index);
        const Vector3 way = point - eye;
        const double length = std::sqrt(way.squaredNorm());
        const Ray ray{eye, length > 0.0 ? Vector3(way / length) : world_forward(), length};
        if (hides(level, part, ray)) {
            continue;
        }
        const auto found = rays > 0 ? fight.scene().any_part({ray}, stops_sight) : std::nullopt;
        if (!found) {
            return true;
        }
        --rays;
        part = *found;
    }
    return false;
}

bool KnownBodies::knows(BodyId id, std::size_t& from) const {
    while (from < foes_.size() && foes_[from].id < id) {
        ++from;
    }
    return from < foes_.size() && foes_[from].id == id && foes_[from].is_known;
}

bool KnownBodies::knows(BodyId id) const {
    const Foe* foe = find_by_id(foes_, id);
    return foe != nullptr && foe->is_known;
}

} // namespace avrek::detail
