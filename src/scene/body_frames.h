#pragma once
#include "body_cells.h"
#include "capsules.h"
#include "level_data.h"
#include <avrek/core/state_fields.h>
#include <avrek/scene/scene.h>

#include <cstdint>
#include <vector>

namespace avrek::detail {

/// One shape of a rig, ready for queries.
struct RigShape {
    Shape shape;
    RegionId region{};
    std::uint32_t joint = 0;
    SurfaceId surface{};              ///< 0: nothing bounces off it
    Vector3 centre = Vector3::Zero(); ///< in the axes of the joint
    double reach = 0.0;               ///< all of the shape is within it of `centre`
    double arm = 0.0;                 ///< all of the shape is within it of the joint
};

struct RigShapes {
    const RigSpec* spec = nullptr;
    std::size_t joints = 1; ///< the body itself counted
    std::vector<RigShape> shapes;
    std::vector<capsules::Bundle> bundles{}; ///< around the shapes, of a rig without joints
};

/// A place for a body. Which frames know it is told by its boxes there: empty ones are where it is not.
struct BodySlot {
    BodyId id{};
    TeamId team{};
    CollisionLayer layer = CollisionLayer::bodies;
    bool is_there = false;     ///< in the newest frame
    bool was_there = false;    ///< in some frame that is remembered
    std::uint64_t left_at = 0; ///< number of the frame in which it was removed
    std::uint32_t rig = 0;     ///< place in BodyFrames::rigs
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<BodySlot> auto& slot) {
    field("id", slot.id);
    field("team", slot.team);
    field("layer", slot.layer);
    field("is_there", slot.is_there);
    field("was_there", slot.was_there);
    field("left_at", slot.left_at);
    field("rig", slot.rig);
}

/// A moment as two frames of the ring and a place between them.
struct Moment {
    std::size_t before = 0;
    std::size_t after = 0; ///< the same as `before` at the time of a frame
    double share = 0.0;
};

/// A box in single precision.
struct BodyBox {
    float low[3];
    float high[3];
};

/// Returns how many nodes a tree over so many bodies has.
std::size_t body_tree_nodes(std::size_t bodies);

/// How far the straight pieces that stand for the way past a body that turns may be from that way.
inline constexpr Metres max_bend = 0.004;

/// Where all bodies stand in each frame. Arrays are by frame, then by axis, then by slot.
struct BodyFrames {
    explicit BodyFrames(const SceneLimits& limits);

    SceneLimits limits;
    std::size_t padded = 0; ///< slots, rounded up to whole vectors
    std::size_t used = 0;   ///< slots at and beyond are empty in all frames
    std::vector<BodySlot> slots;
    std::vector<RigShapes> rigs;
    CollisionLayers layers{};         ///< some body is, or was, in one of these
    std::vector<std::uint32_t> by_id; ///< slots of those that are there, in order of their ids

    std::vector<Time> times; ///< by frame
    std::vector<float> low;  ///< low corners of the bodies' boxes
    std::vector<float> high;
    std::vector<float> margins;       ///< how far bodies leave the boxes between frames
    std::vector<std::uint8_t> jumped; ///< by frame and slot: came here at once
    std::vector<Pose> poses;          ///< by frame, slot and joint
    std::vector<float> no_margins;
    /// By frame and slot: capsules around the shapes of bodies with joints, relative to the body's origin.
    /// No part of the state: after a restore there are none until a body is moved.
    std::vector<capsules::Bundle> bundles;
    std::vector<std::uint8_t> has_bundles; ///< by frame and slot
    std::size_t bundle_count = 0;          ///< each body has
    /// By frame: a tree over the bodies where they are in it, and on their way to it from the one before. No
    /// part of the state.
    std::vector<tree::Tree> trees;
    std::vector<std::uint8_t> has_tree;
    std::vector<BodyBox> tree_boxes;      ///< by slot; used while a tree is built
    std::vector<std::uint64_t> tree_keys; ///< the bodies in the order of the tree; see body_tree.cpp
    /// By frame: where bodies are in it, and on their way to it from the one before. No part of the state.
    BodyCells cells;
    std::size_t newest = 0;   ///< in the ring
    std::size_t count = 1;    ///< frames that are remembered
    std::uint64_t number = 0; ///< number of the newest frame, from the start

    std::span<capsules::Bundle> bundles_of(std::size_t frame, std::size_t slot) {
        return std::span{bundles}.subspan((frame * limits.bodies + slot) * bundle_count, bundle_count);
    }
    /// Which of 64 shapes of a body from `first` on the cast may touch between two moments, and before
    /// `limit`, as bits; all where it is not known.
    std::uint64_t shapes_near(const tree::Walks& walks, std::size_t slot, std::size_t first, const Cast& cast,
                              const Moment& begin, const Moment& end, Metres limit) const;
    Pose* poses_of(std::size_t frame, std::size_t slot) {
        return &poses[(frame * limits.bodies + slot) * limits.joints];
    }
    const Pose* poses_of(std::size_t frame, std::size_t slot) const {
        return &poses[(frame * limits.bodies + slot) * limits.joints];
    }
    std::size_t box_at(std::size_t frame, std::size_t axis, std::size_t slot) const {
        return (frame * 3 + axis) * padded + slot;
    }
    std::size_t frame_before(std::size_t frame) const { return frame == 0 ? limits.frames - 1 : frame - 1; }
    bool is_in(std::size_t frame, std::size_t slot) const {
        const std::size_t at = box_at(frame, 0, slot);
        return low[at] <= high[at];
    }
    tree::BodyBoxes boxes(std::size_t frame) const;
    Moment moment(Time at) const;
    /// The pose of a joint at a moment; the body must be in `before`.
    Pose pose_at(const Moment& moment, std::size_t slot, std::size_t joint) const;
    std::optional<std::size_t> slot_of(BodyId id) const;
    /// To be called whenever a body comes or goes.
    void sort_by_id();
    void note_layer(CollisionLayer layer) { layers.add(layer); }
    /// Whether a filter may let any body be hit.
    bool any_for(const Filter& filter) const {
        return filter.bodies && (filter.hits.bits() & layers.bits()) != 0;
    }
    void write_poses(std::size_t slot, std::span<const Pose> joints, bool jumps);
    /// Computes the box, the margin and the capsules of a body in a frame from its poses there.
    void write_box(std::size_t frame, std::size_t slot, bool jumps);
    /// Copies the capsules of a body that stands still into another frame.
    void copy_bundles(std::size_t from_frame, std::size_t to_frame, std::size_t slot);
    /// Makes room for the capsules of a rig. Allocates when it is larger than all before it.
    void make_bundles(const RigShapes& rig);
    /// Makes room for another number of joints.
    void set_joints(std::size_t joints);
    /// Gives a rig other shapes, in all frames. New joints stand at rest.
    void change_rig(std::size_t rig_place, const RigSpec& spec);
    void clear_box(std::size_t frame, std::size_t slot);
    /// Builds the tree of the newest frame, if there are enough bodies for one to pay.
    void build_tree();
    /// Marks the cells of a frame in which a body is on its way there.
    void mark_cells(std::size_t frame, std::size_t slot);
};

RigShapes shapes_of(const RigSpec& spec);

// The queries of World, of the bodies alone.
void closest_in_bodies(const BodyFrames& bodies, const tree::Walks& walks, const Cast& cast,
                       const Filter& filter, std::optional<Hit>& nearest);
void every_in_bodies(const BodyFrames& bodies, const tree::Walks& walks, const Cast& cast,
                     const Filter& filter, HitList& found);
/// Puts the bodies among the first `count` hits of `found`, by their ids, as far as there is room.
void overlap_in_bodies(const BodyFrames& bodies, const tree::Walks& walks, const Volume& volume, Time at,
                       const Filter& filter, std::span<Hit> found, std::size_t& count);
void nearest_in_bodies(const BodyFrames& bodies, const tree::Walks& walks, const Vector3& point,
                       Metres within, const Filter& filter, Time at, std::optional<Hit>& nearest);

} // namespace avrek::detail
