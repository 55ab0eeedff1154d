#include "body_search.h"
#include <avrek/scene/nearest.h>

#include <bit>
#include <cmath>

namespace avrek::detail {

namespace {

// A ray in a joint's own axes, and how to come back from there.
struct LocalRay {
    Ray ray;
    Pose begin;
    Pose end;
    double from = 0.0; // shares of the whole cast
    double to = 1.0;
    bool stands_still = true;
};

LocalRay local_ray(const Cast& cast, const Pose& begin, const Pose& end, double from, double to, bool still) {
    LocalRay local{{}, begin, end, from, to, still};
    if (still) {
        local.ray = {to_local(begin, point_at(cast.ray, from * cast.ray.length)),
                     turned(begin.rotation.conjugate(), cast.ray.direction), (to - from) * cast.ray.length};
        return local;
    }
    const Vector3 start = to_local(begin, point_at(cast.ray, from * cast.ray.length));
    const Vector3 way = to_local(end, point_at(cast.ray, to * cast.ray.length)) - start;
    const double length = std::sqrt(way.squaredNorm());
    local.ray = {start, length > 0.0 ? Vector3(way / length) : world_forward(), length};
    return local;
}

// Whether the ball can touch the shape at all: by the ball around the shape.
bool reaches(const Ray& ray, double radius, const RigShape& shape) {
    const Vector3 to_centre = shape.centre - ray.origin;
    const double along = std::clamp(to_centre.dot(ray.direction), 0.0, ray.length);
    const double most = shape.reach + radius + 1e-6;
    return (to_centre - along * ray.direction).squaredNorm() <= most * most;
}

// A hit in a joint's axes, in the world's.
Hit hit_of(const Cast& cast, const LocalRay& local, const BodySlot& slot, const RigShape& shape,
           const Entry& entry) {
    Hit hit;
    Pose pose = local.begin;
    if (local.stands_still) {
        hit.distance = local.from * cast.ray.length + entry.distance;
        hit.share = cast.ray.length > 0.0 ? hit.distance / cast.ray.length : local.from;
    } else {
        const double share = local.ray.length > 0.0 ? entry.distance / local.ray.length : 0.0;
        hit.share = local.from + share * (local.to - local.from);
        hit.distance = hit.share * cast.ray.length;
        pose = between(local.begin, local.end, share);
    }
    hit.normal = entry.inside ? Vector3(-cast.ray.direction) : turned(pose.rotation, entry.normal);
    if (local.stands_still) {
        hit.point = point_at(cast.ray, hit.distance);
        if (!entry.inside) {
            hit.point -= cast.radius * hit.normal;
        }
    } else {
        const Vector3 centre = point_at(local.ray, entry.distance);
        hit.point = to_world(pose, entry.inside ? centre : Vector3(centre - cast.radius * entry.normal));
    }
    hit.inside = entry.inside;
    hit.back = entry.back;
    hit.body = slot.id;
    hit.region = shape.region;
    hit.surface = shape.surface;
    hit.layer = slot.layer;
    return hit;
}

// A part of a leg in which a ball may touch a shape, as shares of the leg, and how many straight pieces stand
// for its way there.
struct Approach {
    double from = 0.0;
    double to = -1.0; // less than `from`: it stays too far away
    int pieces = 1;
};

// A cast during a leg, in the axes of the joints of one body. Keeps that of the last joint: the next shape
// usually has the same.
class JointRays {
  public:
    JointRays(const BodyFrames& bodies, const Cast& cast, std::size_t slot, const Leg& leg)
        : bodies_(bodies), cast_(cast), slot_(slot), leg_(leg), still_(leg.stands_still()) {}

    // The cast as one straight ray, which it is unless the joint turns.
    const LocalRay& whole(std::uint32_t joint) {
        if (joint != joint_) {
            joint_ = joint;
            const Pose begin = bodies_.pose_at(leg_.begin, slot_, joint);
            const Pose end = still_ ? begin : bodies_.pose_at(leg_.end, slot_, joint);
            whole_ = local_ray(cast_, begin, end, leg_.from, leg_.to, still_);
            turn_ = still_ ? 0.0 : largest_turn(begin, end);
        }
        return whole_;
    }
    // Whether its joint turns; for the joint of whole().
    bool turns() const { return turn_ > 0.0; }
    // The way past a shape of that joint. In the joint's axes it is a curve, from which a straight line
    // between two of its places is as far away as an eighth of the square of the time times its second
    // derivative: (turn^2 * how far from the joint + 2 * turn * how far it moves) / 8.
    Approach approach(const RigShape& shape) const {
        const Metres reach = shape.arm + cast_.radius + 2.0 * max_bend;
        const Vector3 start = at(whole_.from) - whole_.begin.position;
        const Vector3 way = at(whole_.to) - whole_.end.position - start;
        Approach found = within(start, way, reach);
        if (found.from <= found.to) {
            const double share = found.to - found.from;
            const double turn = turn_ * share;
            const double bend =
                (turn * turn * reach + 2.0 * turn * share * std::sqrt(way.squaredNorm())) / 8.0;
            found.pieces = 1 + static_cast<int>(std::sqrt(std::min(bend / max_bend, 1e6)));
        }
        return found;
    }
    // One of its pieces, from 1 on, which begins at `begin`.
    LocalRay piece(const Approach& near, int number, const Pose& begin) const {
        const double from = share_at(near, number - 1);
        const double to = share_at(near, number);
        return local_ray(cast_, begin, pose(to), whole_.from + from * (whole_.to - whole_.from),
                         whole_.from + to * (whole_.to - whole_.from), false);
    }
    // The pose of its joint at a share of the leg.
    Pose pose(double share) const {
        return bodies_.pose_at({leg_.begin.before, leg_.begin.after,
                                leg_.begin.share + share * (leg_.end.share - leg_.begin.share)},
                               slot_, joint_);
    }

  private:
    // More than the angle between the two, at the speed that it has halfway; 0 for what rounding makes of
    // none.
    static double largest_turn(const Pose& begin, const Pose& end) {
        const double cosine = std::min(1.0, std::abs(begin.rotation.coeffs().dot(end.rotation.coeffs())));
        const double squared = 1.0 - cosine * cosine;
        const double sine = squared > 1e-13 ? std::sqrt(squared) : 0.0;
        return 1.1 * sine * (2.0 + (pi - 2.0) * sine);
    }
    // When a point that is at `start` from a joint and moves by `way` is within `reach` of it.
    static Approach within(const Vector3& start, const Vector3& way, Metres reach) {
        const double squares = way.squaredNorm();
        const double along = start.dot(way);
        if (squares < 1e-18) {
            return start.squaredNorm() > reach * reach ? Approach{} : Approach{0.0, 1.0};
        }
        const double under = squares * reach * reach - start.cross(way).squaredNorm();
        if (under < 0.0) {
            return {};
        }
        const double root = std::sqrt(under);
        return {std::max(0.0, (-along - root) / squares), std::min(1.0, (root - along) / squares)};
    }
    static double share_at(const Approach& near, int number) {
        return near.from + (near.to - near.from) * (static_cast<double>(number) / near.pieces);
    }
    Vector3 at(double share) const { return point_at(cast_.ray, share * cast_.ray.length); }

    const BodyFrames& bodies_;
    const Cast& cast_;
    std::size_t slot_;
    const Leg& leg_;
    bool still_;
    LocalRay whole_;
    std::uint32_t joint_ = max_joints + 1;
    double turn_ = 0.0;
};

// Which of 64 shapes from `first` on the cast may touch before `limit`, as bits.
std::uint64_t shapes_near(const BodyFrames& bodies, const tree::Walks& walks, const Cast& cast,
                          std::size_t slot, const Leg& leg, std::size_t first, JointRays& rays,
                          Metres limit) {
    const RigShapes& rig = bodies.rigs[bodies.slots[slot].rig];
    if (rig.joints > 1) {
        return bodies.shapes_near(walks, slot, first, cast, leg.begin, leg.end, limit);
    }
    const Ray& ray = rays.whole(0).ray;
    if (rays.turns()) {
        return ~std::uint64_t{0} >> (64 - std::min<std::size_t>(rig.shapes.size() - first, 64));
    }
    // Lengths in the axes of a body that moves are others.
    const double until = leg.stands_still() ? limit - leg.from * cast.ray.length : unlimited;
    return shapes_near(rig, walks, ray, cast.radius, first, until);
}

// Calls `take(hit, local, shape)` for the first contact with each shape of a body during a leg, if it can be
// before `limit`; then, while it returns true, for the pieces after it that begin inside of the shape.
template <class Take>
void shapes_along(const BodyFrames& bodies, const tree::Walks& walks, const Cast& cast, std::size_t slot,
                  const Leg& segment, Metres limit, const Take& take) {
    const RigShapes& rig = bodies.rigs[bodies.slots[slot].rig];
    JointRays rays{bodies, cast, slot, segment};
    // Returns whether to look on.
    const auto look_along = [&](const LocalRay& local, const RigShape& shape) {
        if (!reaches(local.ray, cast.radius, shape)) {
            return true;
        }
        const auto entry = sweep(local.ray, cast.radius, shape.shape);
        return !entry || take(hit_of(cast, local, bodies.slots[slot], shape, *entry), local, shape);
    };
    const auto look = [&](const RigShape& shape) {
        const LocalRay& whole = rays.whole(shape.joint);
        if (!rays.turns()) {
            look_along(whole, shape);
            return;
        }
        const Approach near = rays.approach(shape);
        if (near.from > near.to) {
            return;
        }
        Pose begin = rays.pose(near.from);
        for (int piece = 1; piece <= near.pieces; ++piece) {
            const LocalRay local = rays.piece(near, piece, begin);
            begin = local.end;
            if (!look_along(local, shape)) {
                return;
            }
        }
    };
    for (std::size_t first = 0; first < rig.shapes.size(); first += 64) {
        std::uint64_t near = shapes_near(bodies, walks, cast, slot, segment, first, rays, limit);
        for (; near != 0; near &= near - 1) {
            look(rig.shapes[first + static_cast<std::size_t>(std::countr_zero(near))]);
        }
    }
}

} // namespace

void closest_in_bodies(const BodyFrames& bodies, const tree::Walks& walks, const Cast& cast,
                       const Filter& filter, std::optional<Hit>& nearest) {
    if (bodies.used == 0) {
        return;
    }
    legs_of(bodies, cast, [&](const Leg& segment) {
        if (nearest && nearest->share < segment.from) {
            return false;
        }
        constexpr double slack = 1e-9; // more than the roundings of a share
        const double before = nearest ? std::max(segment.from, nearest->share + slack) : 1.0;
        const auto limit = [&] {
            return nearest ? (nearest->share + slack) * cast.ray.length + slack : unlimited;
        };
        bodies_along(bodies, walks, cast, filter, segment, before, [&](std::size_t slot) {
            shapes_along(bodies, walks, cast, slot, segment, limit(),
                         [&](const Hit& hit, const LocalRay&, const RigShape&) {
                             take_nearest(nearest, hit);
                             return false;
                         });
            return limit();
        });
        return true;
    });
}

void every_in_bodies(const BodyFrames& bodies, const tree::Walks& walks, const Cast& cast,
                     const Filter& filter, HitList& found) {
    legs_of(bodies, cast, [&](const Leg& segment) {
        bodies_along(bodies, walks, cast, filter, segment, 1.0, [&](std::size_t slot) {
            shapes_along(
                bodies, walks, cast, slot, segment, unlimited,
                [&](const Hit& hit, const LocalRay& local, const RigShape& shape) {
                    // One that goes on from the leg or the piece before has been found there.
                    if (!hit.inside || local.from == 0.0) {
                        found.add(hit);
                    }
                    const double leaves = exit_distance(local.ray, shape.shape);
                    if (cast.radius > 0.0 || leaves >= local.ray.length) {
                        return cast.radius == 0.0;
                    }
                    const Vector3 point = point_at(local.ray, leaves);
                    const Vector3 normal = nearest_point(shape.shape, point).normal;
                    found.add(hit_of(cast, local, bodies.slots[slot], shape, {leaves, normal, false, true}));
                    return false;
                });
            return unlimited;
        });
        return true;
    });
}

} // namespace avrek::detail
