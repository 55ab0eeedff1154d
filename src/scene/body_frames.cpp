#include "body_frames.h"

#include "../core/by_id.h"
#include "../core/rounding.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>
#include <utility>

namespace avrek::detail {

namespace {

constexpr float infinity = std::numeric_limits<float>::infinity();

// The radius of a ball around the shape's middle that holds all of it.
struct Reach {
    double operator()(const Sphere& sphere) const { return sphere.radius; }
    double operator()(const Capsule& capsule) const {
        return 0.5 * std::sqrt((capsule.to - capsule.from).squaredNorm()) + capsule.radius;
    }
    double operator()(const Box& box) const { return std::sqrt(box.half_extents.squaredNorm()); }
    double operator()(const HalfSpace&) const {
        assert(false && "a body is bounded");
        return 0.0;
    }
};

float lower(double value) {
    return next_below(static_cast<float>(value));
}

float higher(double value) {
    return next_above(static_cast<float>(value));
}

// Whether two rigs stand alike in any frame.
bool same_shapes(const RigSpec& one, const RigSpec& other) {
    const auto is_same = [](const RegionSpec& region, const RegionSpec& now) {
        return region.shapes == now.shapes && region.joint == now.joint &&
               region.shape_joints == now.shape_joints;
    };
    return one.joints.size() == other.joints.size() &&
           std::equal(one.regions.begin(), one.regions.end(), other.regions.begin(), other.regions.end(),
                      is_same);
}

} // namespace

RigShapes shapes_of(const RigSpec& spec) {
    RigShapes rig{&spec, spec.joints.size() + 1, {}};
    for (std::size_t region = 0; region < spec.regions.size(); ++region) {
        for (std::size_t index = 0; index < spec.regions[region].shapes.size(); ++index) {
            const Shape& shape = spec.regions[region].shapes[index];
            const std::uint32_t joint = joint_of(spec.regions[region], index);
            assert(joint < rig.joints);
            const Vector3 centre = centre_of(shape);
            const double reach = std::visit(Reach{}, shape);
            rig.shapes.push_back({shape, static_cast<RegionId>(region), joint,
                                  spec.regions[region].surface.spec.value_or(SurfaceId{}), centre, reach,
                                  std::sqrt(centre.squaredNorm()) + reach});
        }
    }
    rig.bundles.resize(rig.joints == 1 ? capsules::bundles_for(rig.shapes.size()) : 0);
    for (std::size_t index = 0; index < rig.shapes.size() && rig.joints == 1; ++index) {
        capsules::write(capsules::around(rig.shapes[index].shape), Vector3::Zero(), rig.bundles, index);
    }
    return rig;
}

BodyFrames::BodyFrames(const SceneLimits& set)
    : limits(set), padded((set.bodies + tree::width - 1) / tree::width * tree::width), slots(set.bodies),
      times(set.frames), low(set.frames * 3 * padded, infinity), high(set.frames * 3 * padded, -infinity),
      margins(set.frames * padded, 0.0F), jumped(set.frames * set.bodies, 0),
      poses(set.frames * set.bodies * set.joints), no_margins(padded, 0.0F), cells(set.frames, set.bodies) {
    assert(set.bodies >= 1 && set.bodies <= 65535 && set.joints >= 1 && set.joints <= max_joints + 1);
    assert(set.frames >= 2);
    rigs.reserve(16);
    has_bundles.resize(set.frames * set.bodies);
    trees.resize(set.frames);
    has_tree.resize(set.frames);
    tree_boxes.resize(set.bodies);
    tree_keys.resize(set.bodies);
    for (tree::Tree& tree : trees) {
        tree.nodes.resize(body_tree_nodes(set.bodies)); // once and for all: a tick allocates nothing
    }
    by_id.reserve(set.bodies);
}

tree::BodyBoxes BodyFrames::boxes(std::size_t frame) const {
    return {{&low[box_at(frame, 0, 0)], &low[box_at(frame, 1, 0)], &low[box_at(frame, 2, 0)]},
            {&high[box_at(frame, 0, 0)], &high[box_at(frame, 1, 0)], &high[box_at(frame, 2, 0)]}};
}

Moment BodyFrames::moment(Time at) const {
    if (at >= times[newest]) {
        return {newest, newest, 0.0};
    }
    std::size_t after = newest;
    for (std::size_t back = 1; back < count; ++back) {
        const std::size_t before = frame_before(after);
        if (at >= times[before]) {
            const auto span = static_cast<double>((times[after] - times[before]).count());
            const double share = static_cast<double>((at - times[before]).count()) / span;
            return share == 0.0 ? Moment{before, before, 0.0} : Moment{before, after, share};
        }
        after = before;
    }
    return {after, after, 0.0};
}

Pose BodyFrames::pose_at(const Moment& moment, std::size_t slot, std::size_t joint) const {
    const Pose& from = poses_of(moment.before, slot)[joint];
    if (moment.before == moment.after || !is_in(moment.after, slot) ||
        jumped[moment.after * limits.bodies + slot] != 0) {
        return from;
    }
    // A body that stands still does so to the last bit, wherever frames are.
    const Pose& to = poses_of(moment.after, slot)[joint];
    const bool still = from.position == to.position && from.rotation.coeffs() == to.rotation.coeffs();
    return still ? from : between(from, to, moment.share);
}

std::optional<std::size_t> BodyFrames::slot_of(BodyId id) const {
    // Mostly they follow one another.
    const std::size_t ahead = by_id.empty() ? 0 : ids_after(slots[by_id[0]].id, id);
    if (ahead < by_id.size() && slots[by_id[ahead]].id == id) {
        return by_id[ahead];
    }
    const auto found =
        std::lower_bound(by_id.begin(), by_id.end(), id,
                         [&](std::uint32_t slot, BodyId wanted) { return slots[slot].id < wanted; });
    return found != by_id.end() && slots[*found].id == id ? std::optional<std::size_t>{*found} : std::nullopt;
}

void BodyFrames::sort_by_id() {
    by_id.clear();
    for (std::size_t slot = 0; slot < used; ++slot) {
        if (slots[slot].is_there) {
            by_id.push_back(static_cast<std::uint32_t>(slot));
        }
    }
    std::sort(by_id.begin(), by_id.end(),
              [&](std::uint32_t one, std::uint32_t other) { return slots[one].id < slots[other].id; });
}

void BodyFrames::write_poses(std::size_t slot, std::span<const Pose> joints, bool jumps) {
    Pose* const to = poses_of(newest, slot);
    const auto is_same = [](const Pose& one, const Pose& other) {
        return one.position == other.position && one.rotation.coeffs() == other.rotation.coeffs();
    };
    if (!jumps && is_in(newest, slot) && jumped[newest * limits.bodies + slot] == 0 &&
        std::equal(joints.begin(), joints.end(), to, is_same)) {
        return; // it is there already
    }
    std::copy(joints.begin(), joints.end(), to);
    has_tree[newest] = 0;
    write_box(newest, slot, jumps);
    jumped[newest * limits.bodies + slot] = jumps ? 1 : 0;
    mark_cells(newest, slot);
}

void BodyFrames::write_box(std::size_t frame, std::size_t slot, bool jumps) {
    const Pose* const to = poses_of(frame, slot);
    const RigShapes& rig = rigs[slots[slot].rig];
    const auto capsules = rig.joints > 1 ? bundles_of(frame, slot) : std::span<capsules::Bundle>{};
    Bounds bounds;
    for (std::size_t index = 0; index < rig.shapes.size(); ++index) {
        const Pose& joint = to[rig.shapes[index].joint];
        const Shape& shape = rig.shapes[index].shape;
        Capsule around;
        if (const auto* capsule = std::get_if<Capsule>(&shape)) { // nearly all are
            around = {to_world(joint, capsule->from), to_world(joint, capsule->to), capsule->radius};
            const Vector3 reach = Vector3::Constant(around.radius);
            include(bounds,
                    Bounds{around.from.cwiseMin(around.to) - reach, around.from.cwiseMax(around.to) + reach});
        } else {
            const Shape placed = to_world(joint, shape);
            include(bounds, bounds_of(placed));
            around = capsules::around(placed);
        }
        if (rig.joints > 1) {
            capsules::write(around, to[0].position, capsules, index);
        }
    }
    has_bundles[frame * limits.bodies + slot] = rig.joints > 1 ? 1 : 0;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        const auto lane = static_cast<Eigen::Index>(axis);
        low[box_at(frame, axis, slot)] = lower(bounds.low[lane]);
        high[box_at(frame, axis, slot)] = higher(bounds.high[lane]);
    }
    // A point that turns about its joint leaves the straight line between both ends by at most the height of
    // the arc, which is its distance from the joint times 1 - cos(half the turn).
    const std::size_t last = frame_before(frame);
    double margin = 0.0;
    if (!jumps && count > 1 && is_in(last, slot)) {
        const Pose* const from = poses_of(last, slot);
        for (const RigShape& shape : rig.shapes) {
            const double half_turn_cosine =
                std::abs(from[shape.joint].rotation.coeffs().dot(to[shape.joint].rotation.coeffs()));
            margin = std::max(margin, shape.arm * (1.0 - half_turn_cosine));
        }
    }
    margins[frame * padded + slot] = margin > 1e-12 ? higher(margin) : 0.0F;
}

void BodyFrames::set_joints(std::size_t joints) {
    std::vector<Pose> moved(limits.frames * limits.bodies * joints);
    for (std::size_t place = 0; place < limits.frames * limits.bodies; ++place) {
        std::copy_n(poses.begin() + static_cast<std::ptrdiff_t>(place * limits.joints),
                    std::min(joints, limits.joints),
                    moved.begin() + static_cast<std::ptrdiff_t>(place * joints));
    }
    poses = std::move(moved);
    limits.joints = joints;
}

void BodyFrames::change_rig(std::size_t rig_place, const RigSpec& spec) {
    const std::size_t joints = rigs[rig_place].joints;
    const bool same = same_shapes(*rigs[rig_place].spec, spec);
    std::fill(has_tree.begin(), has_tree.end(), std::uint8_t{0});
    rigs[rig_place] = shapes_of(spec);
    make_bundles(rigs[rig_place]);
    for (std::size_t slot = 0; slot < used && !same; ++slot) {
        if (slots[slot].rig != rig_place) {
            continue;
        }
        for (std::size_t frame = 0; frame < limits.frames; ++frame) {
            Pose* const to = poses_of(frame, slot);
            for (std::size_t joint = joints; joint < rigs[rig_place].joints && is_in(frame, slot); ++joint) {
                to[joint] = to_world(to[0], spec.joints[joint - 1].rest);
            }
        }
        // A box depends on the poses of the frame before, too.
        for (std::size_t frame = 0; frame < limits.frames; ++frame) {
            if (is_in(frame, slot)) {
                write_box(frame, slot, jumped[frame * limits.bodies + slot] != 0);
            }
        }
        for (std::size_t frame = 0; frame < limits.frames; ++frame) {
            mark_cells(frame, slot);
        }
    }
}

void BodyFrames::mark_cells(std::size_t frame, std::size_t slot) {
    if (!is_in(frame, slot)) {
        return;
    }
    double from[3];
    double to[3];
    const std::size_t last = count > 1 && is_in(frame_before(frame), slot) ? frame_before(frame) : frame;
    const double margin = margins[frame * padded + slot];
    for (std::size_t axis = 0; axis < 3; ++axis) {
        from[axis] = std::min(low[box_at(frame, axis, slot)], low[box_at(last, axis, slot)]) - margin;
        to[axis] = std::max(high[box_at(frame, axis, slot)], high[box_at(last, axis, slot)]) + margin;
    }
    cells.add(frame, from, to);
}

void BodyFrames::clear_box(std::size_t frame, std::size_t slot) {
    for (std::size_t axis = 0; axis < 3; ++axis) {
        low[box_at(frame, axis, slot)] = infinity;
        high[box_at(frame, axis, slot)] = -infinity;
    }
    margins[frame * padded + slot] = 0.0F;
    jumped[frame * limits.bodies + slot] = 0;
}

} // namespace avrek::detail
