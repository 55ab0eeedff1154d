#include "known_bodies.h"

#include "../core/by_id.h"
#include "sight.h"
#include <avrek/core/elementary.h>
#include <avrek/scene/raycast.h>

#include <algorithm>
#include <cmath>
#include <initializer_list>
#include <utility>

namespace avrek::detail {

namespace {

constexpr Metres stays_hidden = 0.05; // until one of the two has moved farther than this
constexpr Duration until_drawn = std::chrono::milliseconds{100}; // more than the age of the picture
constexpr std::size_t tries_per_ray = 16;     // single parts of the level for the price of a ray
constexpr std::uint32_t nothing = 0xffffffff; // no part of a level
constexpr int directions = 16;
constexpr Metres off_walls = 0.2;
constexpr Metres rises = 0.5; // the start of a jump, and steps
constexpr Metres spare = 0.2; // around a body
constexpr Duration max_ahead = std::chrono::milliseconds{500};

double distance(const Vector3& one, const Vector3& other) {
    return std::sqrt((one - other).squaredNorm());
}

// Points around a body between which all of it is, as seen from an eye.
using Points = std::array<Vector3, 9>;

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
          std::pair{0.1, 0.0}, std::pair{1.0, wide}, std::pair{1.0, -wide}}) {
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

// No farther than walls let it go; first where it will be if it goes on as it does.
void KnownBodies::find_eyes(const Skirmish& fight) {
    if (!eyes_.empty()) {
        return;
    }
    eyes_.assign({eye_, eye_ + Vector3{0.0, rises, 0.0}});
    const auto add = [&](const Vector3& way, Metres farthest, std::initializer_list<double> shares) {
        const auto wall =
            fight.scene().closest_hit({{eye_, way, farthest + off_walls}}, {.hits = {CollisionLayer::level}});
        const Metres free = wall ? std::max(0.0, wall->distance - off_walls) : farthest;
        for (const double share : shares) {
            eyes_.push_back(eye_ + std::min(free, share * farthest) * way);
        }
    };
    const Metres far = std::sqrt(onward_.squaredNorm());
    if (far > 1e-6) {
        add(onward_ / far, far, {1.0, 0.75, 0.5, 0.25});
    }
    for (int at = 0; at < directions; ++at) {
        const double angle = 2.0 * pi * at / directions;
        add({sine(angle), 0.0, cosine(angle)}, reach_, {1.0, 0.7, 0.35});
    }
}

// Whether a foe is known from now on. What was in the way before is tried first: most often it still is.
bool KnownBodies::could_see(const Skirmish& fight, const LookedAt& body, Foe& foe, Work& work) const {
    Points points;
    const std::size_t count = points_around(body, eyes_.front(), points);
    const Level& level = fight.scene().level();
    foe.in_the_way.resize(eyes_.size() * points.size(), nothing);
    std::uint32_t last = nothing;
    const auto is_seen = [&](std::size_t eye, std::size_t point) {
        const Vector3 way = points[point] - eyes_[eye];
        const double length = std::sqrt(way.squaredNorm());
        if (length < 1e-6) {
            return true;
        }
        const Ray ray{eyes_[eye], way / length, length};
        std::uint32_t& part = foe.in_the_way[eye * points.size() + point];
        work.tries += 2;
        if (hides(level, part, ray) || hides(level, last, ray)) {
            return false;
        }
        ++work.rays;
        const auto hit = fight.scene().closest_hit({ray}, {.hits = hides_view});
        part = last = hit ? hit->part : part;
        return !hit.has_value();
    };
    const auto [last_eye, last_point] = foe.free_ray;
    if (last_eye < eyes_.size() && last_point < count && is_seen(last_eye, last_point)) {
        return true;
    }
    for (std::size_t eye = 0; eye < eyes_.size(); ++eye) {
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
    eyes_.clear();
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
    eye_ = fight.readout(player).eye;
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
            find_eyes(fight);
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

bool KnownBodies::could_see(const Skirmish& fight, const Vector3& point, std::size_t& rays) {
    if (rays == 0) {
        return true;
    }
    find_eyes(fight);
    const Level& level = fight.scene().level();
    std::uint32_t part = nothing;
    for (const Vector3& eye : eyes_) {
        const Vector3 way = point - eye;
        const double length = std::sqrt(way.squaredNorm());
        const Ray ray{eye, length > 0.0 ? Vector3(way / length) : world_forward(), length};
        if (hides(level, part, ray)) {
            continue;
        }
        const auto hit = rays > 0 ? fight.scene().closest_hit({ray}, {.hits = hides_view}) : std::nullopt;
        if (!hit) {
            return true;
        }
        --rays;
        part = hit->part;
    }
    return false;
}

bool KnownBodies::knows(BodyId id) const {
    const Foe* foe = find_by_id(foes_, id);
    return foe != nullptr && foe->is_known;
}

} // namespace avrek::detail
