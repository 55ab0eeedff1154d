#include "body_search.h"
#include <avrek/scene/nearest.h>

namespace avrek {

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

// Calls `look(slot, moment)` for the bodies that the filter lets be hit and whose box may reach into the
// bounds.
template <class Look>
void bodies_within(const BodyFrames& bodies, const Bounds& bounds, Time at, const Filter& filter,
                   const Look& look) {
    const Moment moment = bodies.moment(at);
    for (std::size_t slot = 0; slot < bodies.used; ++slot) {
        if (!bodies.is_in(moment.before, slot) || !lets(filter, bodies.slots[slot])) {
            continue;
        }
        const double margin =
            moment.before == moment.after ? 0.0 : bodies.margins[moment.after * bodies.padded + slot];
        Bounds box;
        for (const std::size_t frame : {moment.before, moment.after}) {
            for (std::size_t axis = 0; axis < 3; ++axis) {
                const auto lane = static_cast<Eigen::Index>(axis);
                box.low[lane] =
                    std::min(box.low[lane], bodies.low[bodies.box_at(frame, axis, slot)] - margin);
                box.high[lane] =
                    std::max(box.high[lane], bodies.high[bodies.box_at(frame, axis, slot)] + margin);
            }
        }
        if (overlap(bounds, box)) {
            look(slot, moment);
        }
    }
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

void overlap_in_bodies(const BodyFrames& bodies, const Volume& volume, Time at, const Filter& filter,
                       std::span<Hit> found, std::size_t& count) {
    const Vector3 centre = centre_of(volume);
    bodies_within(bodies, bounds_of(volume), at, filter, [&](std::size_t slot, const Moment& moment) {
        std::optional<Hit> nearest;
        const RigShapes& rig = bodies.rigs[bodies.slots[slot].rig];
        for (const RigShape& shape : rig.shapes) {
            const Shape placed = to_world(bodies.pose_at(moment, slot, shape.joint), shape.shape);
            if (overlap(volume, placed)) {
                const Hit hit = near_hit(nearest_point(placed, centre), bodies.slots[slot], shape);
                if (!nearest || hit.distance < nearest->distance) {
                    nearest = hit;
                }
            }
        }
        if (nearest) {
            insert_by_body(found, count, *nearest);
        }
    });
}

void nearest_in_bodies(const BodyFrames& bodies, const Vector3& point, Metres within, const Filter& filter,
                       Time at, std::optional<Hit>& nearest) {
    const Volume around = Sphere{point, within};
    bodies_within(bodies, bounds_of(around), at, filter, [&](std::size_t slot, const Moment& moment) {
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

} // namespace avrek
