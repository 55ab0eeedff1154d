#include "body_frames.h"

#include <algorithm>
#include <cmath>

namespace avrek {

void BodyFrames::make_bundles(const RigShapes& rig) {
    const std::size_t wanted = rig.joints > 1 ? detail::capsules::bundles_for(rig.shapes.size()) : 0;
    if (wanted > bundle_count) {
        bundle_count = wanted;
        bundles.assign(limits.frames * limits.bodies * bundle_count, {});
        has_bundles.assign(limits.frames * limits.bodies, 0);
    }
}

void BodyFrames::copy_bundles(std::size_t from_frame, std::size_t to_frame, std::size_t slot) {
    const std::uint8_t has = has_bundles[from_frame * limits.bodies + slot];
    has_bundles[to_frame * limits.bodies + slot] = has;
    turns[to_frame * limits.bodies + slot] = 0.0F;
    if (has != 0) {
        std::copy_n(bundles_of(from_frame, slot).begin(), bundle_count, bundles_of(to_frame, slot).begin());
    }
}

// In the axes of a joint that turns by an angle while a ball moves by a distance, its path is a curve, for
// which the exact test takes a straight line. Half of the curve's second derivative bounds how far that is
// from it: (angle^2 * how far the ball is from the joint + 2 * angle * distance) / 8.
double BodyFrames::bend(std::size_t slot, const Moment& begin, const Moment& end, Metres moved) const {
    // Pieces turn by at most 10 degrees, those halfway by up to 1.3 times as much.
    const double angle =
        std::min(static_cast<double>(turns[end.after * limits.bodies + slot]), 1.3 * from_degrees(10.0));
    if (angle == 0.0) {
        return 0.0;
    }
    double size = 0.0;
    for (const std::size_t frame : {begin.before, end.after}) {
        const Vector3& origin = poses[(frame * limits.bodies + slot) * limits.joints].position;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            const double at = origin[static_cast<Eigen::Index>(axis)];
            size += std::max(std::abs(low[box_at(frame, axis, slot)] - at),
                             std::abs(high[box_at(frame, axis, slot)] - at));
        }
    }
    const double all = moved + angle * size;
    return (angle * angle * (2.0 * size + all) + 2.0 * angle * all) / 8.0;
}

std::uint64_t BodyFrames::shapes_near(const detail::tree::Walks& walks, std::size_t slot, std::size_t first,
                                      const Cast& cast, const Moment& begin, const Moment& end,
                                      Metres limit) const {
    const std::size_t shapes = std::min<std::size_t>(rigs[slots[slot].rig].shapes.size() - first, 64);
    const std::uint64_t all = ~std::uint64_t{0} >> (64 - shapes);
    const std::size_t one = begin.before * limits.bodies + slot;
    const std::size_t after = end.after * limits.bodies + slot;
    const std::size_t other = is_in(end.after, slot) && jumped[after] == 0 ? after : one;
    if (has_bundles[one] == 0 || has_bundles[other] == 0) {
        return all;
    }
    const std::size_t skipped = first / detail::capsules::width;
    const Vector3 from = poses[one * limits.joints].position;
    detail::capsules::Query query{&bundles[one * bundle_count + skipped],
                                  &bundles[other * bundle_count + skipped]};
    double margin = 0.0;
    Vector3 origin = from;
    if (one != other) {
        const Vector3 way = poses[other * limits.joints].position - from;
        origin += begin.share * way;
        margin = margins[end.after * padded + slot] +
                 bend(slot, begin, end, std::sqrt(way.squaredNorm()) + cast.ray.length);
        query.share = static_cast<float>(begin.share);
        query.moved = static_cast<float>(end.share - begin.share);
        for (std::size_t axis = 0; axis < 3; ++axis) {
            query.shift[axis] = static_cast<float>(way[static_cast<Eigen::Index>(axis)]);
        }
    }
    detail::capsules::set_line(query, cast.ray, origin, cast.radius + margin, limit);
    return all & walks.capsules_near(query, detail::capsules::bundles_for(shapes));
}

} // namespace avrek
