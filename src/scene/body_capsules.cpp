#include "body_frames.h"

#include <algorithm>

namespace avrek::detail {

void BodyFrames::make_bundles(const RigShapes& rig) {
    const std::size_t wanted = rig.joints > 1 ? capsules::bundles_for(rig.shapes.size()) : 0;
    if (wanted > bundle_count) {
        bundle_count = wanted;
        bundles.assign(limits.frames * limits.bodies * bundle_count, {});
        has_bundles.assign(limits.frames * limits.bodies, 0);
    }
}

void BodyFrames::copy_bundles(std::size_t from_frame, std::size_t to_frame, std::size_t slot) {
    const std::uint8_t has = has_bundles[from_frame * limits.bodies + slot];
    has_bundles[to_frame * limits.bodies + slot] = has;
    if (has != 0) {
        std::copy_n(bundles_of(from_frame, slot).begin(), bundle_count, bundles_of(to_frame, slot).begin());
    }
}

std::uint64_t BodyFrames::shapes_near(const tree::Walks& walks, std::size_t slot, std::size_t first,
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
    const std::size_t skipped = first / capsules::width;
    const Vector3 from = poses[one * limits.joints].position;
    capsules::Query query{&bundles[one * bundle_count + skipped], &bundles[other * bundle_count + skipped]};
    double margin = 0.0;
    Vector3 origin = from;
    if (one != other) {
        const Vector3 way = poses[other * limits.joints].position - from;
        origin += begin.share * way;
        margin = margins[end.after * padded + slot] + 2.0 * max_bend;
        query.share = static_cast<float>(begin.share);
        query.moved = static_cast<float>(end.share - begin.share);
        for (std::size_t axis = 0; axis < 3; ++axis) {
            query.shift[axis] = static_cast<float>(way[static_cast<Eigen::Index>(axis)]);
        }
    }
    capsules::set_line(query, cast.ray, origin, cast.radius + margin, limit);
    return all & walks.capsules_near(query, capsules::bundles_for(shapes));
}

} // namespace avrek::detail
