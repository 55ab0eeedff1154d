#pragma once
#include "body_frames.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cstdint>
#include <limits>

/// Which bodies a cast may meet, and when.
namespace avrek::detail {

inline constexpr double unlimited = std::numeric_limits<double>::infinity();

/// Whether a filter lets a body be hit.
inline bool lets(const Filter& filter, const BodySlot& slot) {
    return filter.hits.contains(slot.layer) && filter.teams.contains(slot.team) &&
           !filter.ignores.contains(slot.id) && (!filter.only || *filter.only == slot.id);
}

/// Which of 64 shapes of a rig without joints from `first` on a thick line in its axes may touch before
/// `limit`, as bits.
inline std::uint64_t shapes_near(const RigShapes& rig, const tree::Walks& walks, const Ray& line,
                                 Metres radius, std::size_t first, Metres limit) {
    const std::size_t shapes = std::min<std::size_t>(rig.shapes.size() - first, 64);
    const capsules::Bundle* const bundles = &rig.bundles[first / capsules::width];
    capsules::Query query{bundles, bundles};
    capsules::set_line(query, line, Vector3::Zero(), radius, limit);
    return ~std::uint64_t{0} >> (64 - shapes) & walks.capsules_near(query, capsules::bundles_for(shapes));
}

/// A part of a cast in which every body moves evenly.
struct Leg {
    Moment begin;
    Moment end;
    double from = 0.0; // shares of the whole cast
    double to = 1.0;

    bool stands_still() const { return begin.before == end.before && begin.share == end.share; }
};

/// Calls `look(slot)` for bodies of a tree, nearer ones first, until they are beyond what it returns less
/// `begins`.
template <class Look>
void bodies_in_tree(const tree::Tree& tree, const tree::Walks& walks, const tree::Path& path, double begins,
                    const Look& look) {
    struct Visit {
        const Look& look;
        double begins;
    } visit{look, begins};
    walks.along(
        tree, path, path.length,
        [](void* context, std::uint32_t slot, double& limit) {
            const Visit& to = *static_cast<const Visit*>(context);
            limit = std::min(limit, to.look(slot) - to.begins);
            return true;
        },
        &visit);
}

/// The same by the boxes of all bodies, as of two frames.
template <class Look>
void bodies_in_boxes(const BodyFrames& bodies, std::size_t one, std::size_t other, const tree::Walks& walks,
                     const tree::Path& path, double begins, const Look& look) {
    const float* const margins =
        one == other ? bodies.no_margins.data() : &bodies.margins[other * bodies.padded];
    constexpr std::size_t chunk = 256;
    std::array<tree::FoundBody, chunk> found;
    double limit = unlimited;
    for (std::size_t first = 0; first < bodies.used; first += chunk) {
        tree::BodyBoxes boxes = bodies.boxes(one);
        tree::BodyBoxes other_boxes = bodies.boxes(other);
        for (std::size_t axis = 0; axis < 3; ++axis) {
            boxes.low[axis] += first;
            boxes.high[axis] += first;
            other_boxes.low[axis] += first;
            other_boxes.high[axis] += first;
        }
        const std::size_t count = walks.boxes_along(boxes, other_boxes, margins + first,
                                                    std::min(chunk, bodies.used - first), path, found.data());
        std::sort(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(count),
                  [](const auto& a, const auto& b) { return a.near < b.near; });
        for (std::size_t index = 0; index < count && begins + found[index].near <= limit; ++index) {
            limit = std::min(limit, look(first + found[index].slot));
        }
    }
}

/// Calls `look(slot)` for the bodies that the filter lets be hit and that the cast may touch during a leg,
/// before a share of the whole cast, nearer ones first. It returns the distance beyond which nothing matters.
template <class Look>
void bodies_along(const BodyFrames& bodies, const tree::Walks& walks, const Cast& cast, const Filter& filter,
                  const Leg& segment, double before, const Look& look) {
    const std::size_t one = segment.begin.before;
    const std::size_t other = segment.end.after;
    const auto look_if_there = [&](std::size_t slot) {
        return bodies.is_in(one, slot) && lets(filter, bodies.slots[slot]) ? look(slot) : unlimited;
    };
    if (filter.only) { // one body: nothing to search
        const std::optional<std::size_t> slot = bodies.slot_of(*filter.only);
        if (slot && bodies.is_in(one, *slot)) {
            look_if_there(*slot);
            return;
        }
    }
    // A short cast through empty air is the most frequent one: projectiles.
    double low[3];
    double high[3];
    const Vector3 start = point_at(cast.ray, segment.from * cast.ray.length);
    const double to = std::min(segment.to, before);
    const Vector3 stop = point_at(cast.ray, to * cast.ray.length);
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const auto lane = static_cast<Eigen::Index>(axis);
        low[axis] = std::min(start[lane], stop[lane]) - cast.radius - 1e-5;
        high[axis] = std::max(start[lane], stop[lane]) + cast.radius + 1e-5;
    }
    if (!bodies.cells.any(other, low, high)) {
        return;
    }
    // The ray itself, cut to the leg.
    const tree::Path path =
        tree::path_of({start, cast.ray.direction, (to - segment.from) * cast.ray.length}, cast.radius);
    const double begins = segment.from * cast.ray.length;
    if (bodies.has_tree[other] != 0) {
        bodies_in_tree(bodies.trees[other], walks, path, begins, look_if_there);
    } else {
        bodies_in_boxes(bodies, one, other, walks, path, begins, look_if_there);
    }
}

/// Cuts a cast at the frames in it and calls `fly(leg)` until it returns false.
template <class Fly>
void legs_of(const BodyFrames& bodies, const Cast& cast, const Fly& fly) {
    assert(cast.begin <= cast.end);
    if (cast.begin == cast.end || cast.begin >= bodies.times[bodies.newest]) {
        const Moment moment = bodies.moment(cast.begin);
        fly(Leg{moment, moment, 0.0, 1.0});
        return;
    }
    const auto whole = static_cast<double>((cast.end - cast.begin).count());
    const auto share_of = [&](Time at) { return static_cast<double>((at - cast.begin).count()) / whole; };
    // The newest frame that is not after the begin; 0 frames back is the newest.
    std::size_t back = 0;
    std::size_t before = bodies.newest;
    while (back + 1 < bodies.count && bodies.times[before] > cast.begin) {
        before = bodies.frame_before(before);
        ++back;
    }
    Time at = cast.begin;
    // Before the oldest frame and after the newest, bodies stand still.
    if (bodies.times[before] > at) {
        const Time until = std::min(cast.end, bodies.times[before]);
        const Moment oldest{before, before, 0.0};
        if (!fly(Leg{oldest, oldest, 0.0, share_of(until)}) || until == cast.end) {
            return;
        }
        at = until;
    }
    for (; back > 0; --back) {
        const std::size_t after = before + 1 == bodies.limits.frames ? 0 : before + 1;
        const Time until = std::min(cast.end, bodies.times[after]);
        const auto span = static_cast<double>((bodies.times[after] - bodies.times[before]).count());
        const auto since = [&](Time time) {
            return static_cast<double>((time - bodies.times[before]).count()) / span;
        };
        if (!fly(Leg{
                {before, after, since(at)}, {before, after, since(until)}, share_of(at), share_of(until)}) ||
            until == cast.end) {
            return;
        }
        at = until;
        before = after;
    }
    const Moment newest{bodies.newest, bodies.newest, 0.0};
    fly(Leg{newest, newest, share_of(at), 1.0});
}

} // namespace avrek::detail
