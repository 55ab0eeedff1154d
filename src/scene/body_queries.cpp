#include "body_search.h"
#include <avrek/scene/nearest.h>

#include <bit>
#include <cmath>

namespace avrek::detail {

namespace {

// Keeps the hits in the order of their bodies; those with the highest ids go when there is no room.
void insert_by_body(std::span<Hit> found, std::size_t& count, const Hit& hit) {
    std::size_t index = count;
    if (count < found.size()) {
        ++count;
    } else if (count == 0 || !(hit.body < found[count - 1].body)) {
        return;
    } else {
        --index;
    }
    while (index > 0 && hit.body < found[index - 1].body) {
        found[index] = found[index - 1];
        --index;
    }
    found[index] = hit;
}

// A thick line around a volume, as a cast that takes no time.
Cast line_around(const Volume& volume, Time at) {
    if (const auto* capsule = std::get_if<Capsule>(&volume)) {
        const Vector3 way = capsule->to - capsule->from;
        const double length = std::sqrt(way.squaredNorm());
        return {{capsule->from, length > 0.0 ? Vector3(way / length) : world_forward(), length},
                capsule->radius,
                at,
                at};
    }
    if (const auto* sphere = std::get_if<Sphere>(&volume)) {
        return {{sphere->centre, world_forward(), 0.0}, sphere->radius, at, at};
    }
    const Bounds bounds = bounds_of(volume);
    const double reach = std::sqrt((bounds.high - bounds.low).squaredNorm()) / 2.0;
    return {{(bounds.low + bounds.high) / 2.0, world_forward(), 0.0}, reach, at, at};
}

// Calls `look(slot, moment)` for the bodies that the filter lets be hit and that the line may touch.
template <class Look>
void bodies_about(const BodyFrames& bodies, const tree::Walks& walks, const Cast& line, const Filter& filter,
                  const Look& look) {
    const Moment moment = bodies.moment(line.begin);
    bodies_along(bodies, walks, line, filter, {moment, moment}, 1.0, [&](std::size_t slot) {
        look(slot, moment);
        return unlimited;
    });
}

// Which of 64 shapes of a body from `first` on the line may touch, as bits.
std::uint64_t shapes_about(const BodyFrames& bodies, const tree::Walks& walks, const Cast& line,
                           std::size_t slot, const Moment& moment, std::size_t first) {
    const RigShapes& rig = bodies.rigs[bodies.slots[slot].rig];
    if (rig.joints > 1) {
        return bodies.shapes_near(walks, slot, first, line, moment, moment, unlimited);
    }
    const Pose pose = bodies.pose_at(moment, slot, 0);
    const Ray local{to_local(pose, line.ray.origin), turned(pose.rotation.conjugate(), line.ray.direction),
                    line.ray.length};
    return shapes_near(rig, walks, local, line.radius, first, unlimited);
}

// A contact of a point with a shape of a body.
Hit near_hit(const Nearest& near, const BodySlot& slot, const RigShape& shape) {
    Hit hit;
    hit.distance = near.distance;
    hit.point = near.point;
    hit.normal = near.normal;
    hit.inside = near.distance < 0.0;
    hit.body = slot.id;
    hit.region = shape.region;
    hit.surface = shape.surface;
    hit.layer = slot.layer;
    return hit;
}

} // namespace

void overlap_in_bodies(const BodyFrames& bodies, const tree::Walks& walks, const Volume& volume, Time at,
                       const Filter& filter, std::span<Hit> found, std::size_t& count) {
    const Vector3 centre = centre_of(volume);
    const Cast line = line_around(volume, at);
    bodies_about(bodies, walks, line, filter, [&](std::size_t slot, const Moment& moment) {
        std::optional<Hit> nearest;
        const RigShapes& rig = bodies.rigs[bodies.slots[slot].rig];
        const auto look = [&](const RigShape& shape) {
            const Shape placed = to_world(bodies.pose_at(moment, slot, shape.joint), shape.shape);
            if (overlap(volume, placed)) {
                const Hit hit = near_hit(nearest_point(placed, centre), bodies.slots[slot], shape);
                if (!nearest || hit.distance < nearest->distance) {
                    nearest = hit;
                }
            }
        };
        for (std::size_t first = 0; first < rig.shapes.size(); first += 64) {
            std::uint64_t near = shapes_about(bodies, walks, line, slot, moment, first);
            for (; near != 0; near &= near - 1) {
                look(rig.shapes[first + static_cast<std::size_t>(std::countr_zero(near))]);
            }
        }
        if (nearest) {
            insert_by_body(found, count, *nearest);
        }
    });
}

void nearest_in_bodies(const BodyFrames& bodies, const tree::Walks& walks, const Vector3& point,
                       Metres within, const Filter& filter, Time at, std::optional<Hit>& nearest) {
    const Cast around = line_around(Sphere{point, within}, at);
    bodies_about(bodies, walks, around, filter, [&](std::size_t slot, const Moment& moment) {
        const RigShapes& rig = bodies.rigs[bodies.slots[slot].rig];
        for (const RigShape& shape : rig.shapes) {
            const Shape placed = to_world(bodies.pose_at(moment, slot, shape.joint), shape.shape);
            const Hit hit = near_hit(nearest_point(placed, point), bodies.slots[slot], shape);
            const bool is_tie = nearest && hit.distance == nearest->distance;
            if (hit.distance < (nearest ? nearest->distance : within) ||
                (is_tie && comes_before(hit, *nearest))) {
                nearest = hit;
            }
        }
    });
}

} // namespace avrek::detail
