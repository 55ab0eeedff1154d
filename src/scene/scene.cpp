#include "body_frames.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <limits>
#include <utility>

namespace avrek {

namespace {

constexpr std::size_t no_slot = std::numeric_limits<std::size_t>::max();

std::uint32_t rig_number(detail::BodyFrames& bodies, const RigSpec& spec) {
    for (std::size_t rig = 0; rig < bodies.rigs.size(); ++rig) {
        if (bodies.rigs[rig].spec == &spec) {
            return static_cast<std::uint32_t>(rig);
        }
    }
    bodies.rigs.push_back(detail::shapes_of(spec));
    bodies.make_bundles(bodies.rigs.back());
    return static_cast<std::uint32_t>(bodies.rigs.size() - 1);
}

// A slot that was never used, or else the one whose body left longest ago.
std::size_t free_slot(const detail::BodyFrames& bodies) {
    std::size_t longest = no_slot;
    for (std::size_t slot = 0; slot < bodies.slots.size(); ++slot) {
        const detail::BodySlot& at = bodies.slots[slot];
        if (!at.is_there && !at.was_there) {
            return slot;
        }
        if (!at.is_there && (longest == no_slot || at.left_at < bodies.slots[longest].left_at)) {
            longest = slot;
        }
    }
    return longest;
}

// The poses of a body at rest, in room that is given.
std::span<const Pose> poses_at_rest(const RigSpec& rig, const Pose& pose,
                                    std::array<Pose, max_joints + 1>& room) {
    room[0] = pose;
    for (std::size_t joint = 0; joint < rig.joints.size(); ++joint) {
        room[joint + 1] = to_world(pose, rig.joints[joint].rest);
    }
    return {room.data(), rig.joints.size() + 1};
}

bool move_posed(detail::BodyFrames& bodies, BodyId id, std::span<const Pose> poses, bool jumps) {
    const std::optional<std::size_t> slot = bodies.slot_of(id);
    if (!slot) {
        return false;
    }
    assert(poses.size() == bodies.rigs[bodies.slots[*slot].rig].joints);
    bodies.write_poses(*slot, poses, jumps);
    return true;
}

bool move_at_rest(detail::BodyFrames& bodies, BodyId id, const Pose& pose, bool jumps) {
    const std::optional<std::size_t> slot = bodies.slot_of(id);
    if (!slot) {
        return false;
    }
    std::array<Pose, max_joints + 1> room;
    bodies.write_poses(*slot, poses_at_rest(*bodies.rigs[bodies.slots[*slot].rig].spec, pose, room), jumps);
    return true;
}

// The slot of a body at a moment; no_slot if it is not there.
std::size_t slot_at(const detail::BodyFrames& bodies, const detail::Moment& moment, BodyId id) {
    const std::optional<std::size_t> there = bodies.slot_of(id);
    if (there && bodies.is_in(moment.before, *there)) {
        return *there;
    }
    // It has left since, or was there before under the same id.
    for (std::size_t slot = 0; slot < bodies.used; ++slot) {
        if (bodies.slots[slot].id == id && bodies.is_in(moment.before, slot)) {
            return slot;
        }
    }
    return no_slot;
}

} // namespace

Scene::Scene(Level level, const SceneLimits& limits)
    : level_(std::move(level)), bodies_(std::make_unique<detail::BodyFrames>(limits)) {}

Scene::Scene(const Scene& other)
    : level_(other.level_), bodies_(std::make_unique<detail::BodyFrames>(*other.bodies_)) {}
Scene::Scene(Scene&& other) noexcept = default;
Scene::~Scene() = default;

Scene& Scene::operator=(const Scene& other) {
    if (this != &other) {
        level_ = other.level_;
        *bodies_ = *other.bodies_;
    }
    return *this;
}

Scene& Scene::operator=(Scene&& other) noexcept = default;

Time Scene::now() const {
    return bodies_->times[bodies_->newest];
}

Time Scene::oldest() const {
    const detail::BodyFrames& bodies = *bodies_;
    return bodies.times[(bodies.newest + bodies.limits.frames + 1 - bodies.count) % bodies.limits.frames];
}

void Scene::begin_frame(Time at) {
    detail::BodyFrames& bodies = *bodies_;
    assert(at > now());
    const std::size_t last = bodies.newest;
    bodies.newest = (last + 1) % bodies.limits.frames;
    bodies.count = std::min(bodies.count + 1, bodies.limits.frames);
    ++bodies.number;
    bodies.times[bodies.newest] = at;
    bodies.has_tree[bodies.newest] = 0;
    for (std::size_t axis = 0; axis < 3; ++axis) {
        std::copy_n(&bodies.low[bodies.box_at(last, axis, 0)], bodies.used,
                    &bodies.low[bodies.box_at(bodies.newest, axis, 0)]);
        std::copy_n(&bodies.high[bodies.box_at(last, axis, 0)], bodies.used,
                    &bodies.high[bodies.box_at(bodies.newest, axis, 0)]);
    }
    std::fill_n(&bodies.margins[bodies.newest * bodies.padded], bodies.used, 0.0F);
    std::fill_n(&bodies.jumped[bodies.newest * bodies.limits.bodies], bodies.used, std::uint8_t{0});
    bodies.cells.clear(bodies.newest);
    for (std::size_t slot = 0; slot < bodies.used; ++slot) {
        if (bodies.slots[slot].is_there) {
            bodies.mark_cells(bodies.newest, slot);
            std::copy_n(bodies.poses_of(last, slot), bodies.rigs[bodies.slots[slot].rig].joints,
                        bodies.poses_of(bodies.newest, slot));
            bodies.copy_bundles(last, bodies.newest, slot);
        }
    }
}

void Scene::end_frame() {
    bodies_->build_tree();
}

void Scene::prepare(const RigSpec& rig) {
    rig_number(*bodies_, rig);
}

void Scene::change_rigs(std::span<const RigSpec* const> was, std::span<const RigSpec* const> is,
                        std::size_t joints) {
    detail::BodyFrames& bodies = *bodies_;
    if (joints > bodies.limits.joints) {
        bodies.set_joints(joints);
    }
    for (std::size_t rig = 0; rig < is.size(); ++rig) {
        assert(is[rig]->joints.size() + 1 <= joints);
        const std::uint32_t number = rig_number(bodies, *(rig < was.size() ? was[rig] : is[rig]));
        bodies.change_rig(number, *is[rig]);
    }
    // Going back: rigs that only `was` had are prepared anew when they come again.
    while (bodies.rigs.size() > is.size() && is.size() < was.size() &&
           std::find(was.begin() + static_cast<std::ptrdiff_t>(is.size()), was.end(),
                     bodies.rigs.back().spec) != was.end()) {
        bodies.rigs.pop_back();
    }
    if (joints < bodies.limits.joints) {
        bodies.set_joints(joints);
    }
}

bool Scene::add(const SceneBody& body) {
    assert(body.rig != nullptr);
    detail::BodyFrames& bodies = *bodies_;
    const std::size_t slot = free_slot(bodies);
    if (slot == no_slot || body.rig->joints.size() + 1 > bodies.limits.joints || bodies.slot_of(body.id)) {
        return false;
    }
    for (std::size_t frame = 0; bodies.slots[slot].was_there && frame < bodies.limits.frames; ++frame) {
        bodies.clear_box(frame, slot);
    }
    bodies.slots[slot] = {body.id, body.team, body.layer, true, true, 0, rig_number(bodies, *body.rig)};
    bodies.note_layer(body.layer);
    bodies.used = std::max(bodies.used, slot + 1);
    bodies.sort_by_id();
    return move_at_rest(bodies, body.id, body.pose, false);
}

bool Scene::remove(BodyId id) {
    detail::BodyFrames& bodies = *bodies_;
    const std::optional<std::size_t> slot = bodies.slot_of(id);
    if (!slot) {
        return false;
    }
    bodies.slots[*slot].is_there = false;
    bodies.slots[*slot].left_at = bodies.number;
    bodies.clear_box(bodies.newest, *slot);
    bodies.sort_by_id();
    return true;
}

bool Scene::move(BodyId id, const Pose& pose) {
    return move_at_rest(*bodies_, id, pose, false);
}

bool Scene::jump(BodyId id, const Pose& pose) {
    return move_at_rest(*bodies_, id, pose, true);
}

bool Scene::move(BodyId id, std::span<const Pose> poses) {
    return move_posed(*bodies_, id, poses, false);
}

bool Scene::jump(BodyId id, std::span<const Pose> poses) {
    return move_posed(*bodies_, id, poses, true);
}

bool Scene::assign(BodyId id, TeamId team, CollisionLayer layer) {
    const std::optional<std::size_t> slot = bodies_->slot_of(id);
    if (slot) {
        bodies_->slots[*slot].team = team;
        bodies_->slots[*slot].layer = layer;
        bodies_->note_layer(layer);
    }
    return slot.has_value();
}

std::size_t Scene::body_count() const {
    return static_cast<std::size_t>(
        std::count_if(bodies_->slots.begin(), bodies_->slots.end(),
                      [](const detail::BodySlot& slot) { return slot.is_there; }));
}

BodyId Scene::body_at(std::size_t index) const {
    assert(index < bodies_->by_id.size());
    return bodies_->slots[bodies_->by_id[index]].id;
}

bool Scene::contains(BodyId id) const {
    return bodies_->slot_of(id).has_value();
}

const RigSpec* Scene::rig_of(BodyId id) const {
    const std::optional<std::size_t> slot = bodies_->slot_of(id);
    return slot ? bodies_->rigs[bodies_->slots[*slot].rig].spec : nullptr;
}

std::optional<Pose> Scene::pose_of(BodyId id, Time at, std::uint32_t joint) const {
    const detail::BodyFrames& bodies = *bodies_;
    const detail::Moment moment = bodies.moment(at);
    const std::size_t slot = slot_at(bodies, moment, id);
    if (slot == no_slot) {
        return std::nullopt;
    }
    assert(joint < bodies.rigs[bodies.slots[slot].rig].joints);
    return bodies.pose_at(moment, slot, joint);
}

std::size_t Scene::poses_of(BodyId id, std::span<Pose> poses, Time at) const {
    const detail::BodyFrames& bodies = *bodies_;
    const detail::Moment moment = bodies.moment(at);
    const std::size_t slot = slot_at(bodies, moment, id);
    const std::size_t count = slot == no_slot ? 0 : bodies.rigs[bodies.slots[slot].rig].joints;
    assert(count <= poses.size());
    for (std::size_t joint = 0; joint < count; ++joint) {
        poses[joint] = bodies.pose_at(moment, slot, joint);
    }
    return count;
}

// Frames are written whole for the slots that are in use; what is written is plain data.
void Scene::save(StateWriter& to) const {
    const detail::BodyFrames& bodies = *bodies_;
    to.value(static_cast<std::uint64_t>(bodies.used));
    to.value(static_cast<std::uint64_t>(bodies.newest));
    to.value(static_cast<std::uint64_t>(bodies.count));
    to.value(bodies.number);
    to.clean_values(std::span<const detail::BodySlot>{bodies.slots}.first(bodies.used));
    to.values(std::span<const Time>{bodies.times});
    for (std::size_t frame = 0; frame < bodies.limits.frames; ++frame) {
        for (std::size_t axis = 0; axis < 3; ++axis) {
            to.values(std::span{bodies.low}.subspan(bodies.box_at(frame, axis, 0), bodies.used));
            to.values(std::span{bodies.high}.subspan(bodies.box_at(frame, axis, 0), bodies.used));
        }
        to.values(std::span{bodies.margins}.subspan(frame * bodies.padded, bodies.used));
        to.values(std::span{bodies.jumped}.subspan(frame * bodies.limits.bodies, bodies.used));
        to.values(std::span{bodies.poses}.subspan(frame * bodies.limits.bodies * bodies.limits.joints,
                                                  bodies.used * bodies.limits.joints));
    }
}

bool Scene::restore(StateReader& from) {
    detail::BodyFrames& bodies = *bodies_;
    std::uint64_t used = 0;
    std::uint64_t newest = 0;
    std::uint64_t count = 0;
    if (!from.value(used) || !from.value(newest) || !from.value(count) || !from.value(bodies.number) ||
        used > bodies.limits.bodies || newest >= bodies.limits.frames || count < 1 ||
        count > bodies.limits.frames) {
        return from.fail();
    }
    for (std::size_t slot = used; slot < bodies.used; ++slot) {
        bodies.slots[slot] = {};
        for (std::size_t frame = 0; frame < bodies.limits.frames; ++frame) {
            bodies.clear_box(frame, slot);
        }
    }
    std::fill(bodies.has_bundles.begin(), bodies.has_bundles.end(), std::uint8_t{0});
    std::fill(bodies.has_tree.begin(), bodies.has_tree.end(), std::uint8_t{0});
    bodies.used = used;
    bodies.newest = newest;
    bodies.count = count;
    from.values(std::span{bodies.slots}.first(used));
    from.values(std::span<Time>{bodies.times});
    for (std::size_t frame = 0; frame < bodies.limits.frames; ++frame) {
        for (std::size_t axis = 0; axis < 3; ++axis) {
            from.values(std::span{bodies.low}.subspan(bodies.box_at(frame, axis, 0), used));
            from.values(std::span{bodies.high}.subspan(bodies.box_at(frame, axis, 0), used));
        }
        from.values(std::span{bodies.margins}.subspan(frame * bodies.padded, used));
        from.values(std::span{bodies.jumped}.subspan(frame * bodies.limits.bodies, used));
        from.values(std::span{bodies.poses}.subspan(frame * bodies.limits.bodies * bodies.limits.joints,
                                                    used * bodies.limits.joints));
    }
    bodies.cells.forget();
    bodies.layers = {};
    for (const detail::BodySlot& slot : std::span{bodies.slots}.first(used)) {
        bodies.note_layer(slot.layer);
    }
    bodies.sort_by_id();
    const bool known =
        std::all_of(bodies.slots.begin(), bodies.slots.end(), [&](const detail::BodySlot& slot) {
            return slot.rig < std::max<std::size_t>(1, bodies.rigs.size());
        });
    return known ? from.is_sound() : from.fail();
}

} // namespace avrek
