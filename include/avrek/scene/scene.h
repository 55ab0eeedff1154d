#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/state_bytes.h>
#include <avrek/scene/level.h>
#include <avrek/scene/world.h>

#include <memory>
#include <optional>
#include <span>
#include <vector>

/// A level and its bodies, with their recent positions.
namespace avrek {

/// A body to add to a scene.
struct SceneBody {
    BodyId id{};
    const RigSpec* rig = nullptr; ///< never null; outlives the scene
    Pose pose{};                  ///< pose of the rig's axes: feet at the origin, facing +Z
    TeamId team{};
    CollisionLayer layer = CollisionLayer::bodies;
};

/// Capacity of a scene. The constructor reserves all of it: about 57 bytes per joint, body and frame; 4 MB
/// with these numbers.
struct SceneLimits {
    std::size_t bodies = 64; ///< 1 to 65535
    std::size_t joints = 16; ///< per body, itself included: 1 to 64
    std::size_t frames = 64; ///< recorded frames, the newest included: at least 2
};

namespace detail {
struct BodyFrames; // where the bodies stand and stood
}

/// Everything that shots can hit. A frame is a time at which the game says where bodies are, one per tick.
/// Between frames, queries move bodies evenly. Only the constructor and the first body of each rig allocate.
///
///     scene.begin_frame(tick_span(tick, rate).end);
///     scene.move(id, pose);                    // for each body that moved
///     scene.closest_hit({ray}, {.ignores = {shooter}});
class Scene final : public World {
  public:
    /// Makes a scene without bodies, with a frame at Time{}.
    explicit Scene(Level level = {}, const SceneLimits& limits = {});
    Scene(const Scene& other);
    Scene(Scene&& other) noexcept;
    Scene& operator=(const Scene& other);
    Scene& operator=(Scene&& other) noexcept;
    ~Scene() override;

    /// Returns the level.
    const Level& level() const { return level_; }

    /// Returns the time of the newest and of the oldest frame. A scene starts with a frame at Time{}.
    Time now() const;
    /// Returns the time of the oldest frame.
    Time oldest() const;

    /// Begins the frame of `at`. All bodies stay where they were until they are moved. With `limits.frames`
    /// frames, the oldest is dropped. Precondition (asserted): `at` is after now().
    void begin_frame(Time at);

    /// Prepares a rig, so that its first body does not allocate.
    void prepare(const RigSpec& rig);

    /// Exchanges rigs for others, by place: bodies of `was[n]` have `is[n]` from now on, in past frames too.
    /// They keep their positions; joints that are new stand at rest in past frames. Rigs in `is` beyond those
    /// are prepared. The room for joints becomes `joints`. Allocates. Precondition (asserted): all rigs of
    /// `is` fit into it.
    void change_rigs(std::span<const RigSpec* const> was, std::span<const RigSpec* const> is,
                     std::size_t joints);

    /// Adds a body from the newest frame on. Returns false and changes nothing if there is no room, if its
    /// rig has too many joints, or if its id is taken. It can take over the slot and the past of a removed
    /// body.
    [[nodiscard]] bool add(const SceneBody& body);

    /// Removes a body from the newest frame on; past frames keep it. Returns false if it is not there.
    bool remove(BodyId id);

    /// Builds a search tree over the bodies of the newest frame, where they are and on their way there. Call
    /// it once they have moved: casts among many bodies, now or at this time later, are faster then. Bodies
    /// can still move; casts do without the tree from then on. Results are the same. Does nothing for up to
    /// 64 bodies.
    void end_frame();

    /// Moves a body in the newest frame, all joints at rest. Returns false if it is not there.
    bool move(BodyId id, const Pose& pose);

    /// Moves a body and its joints, in the world's axes: itself first, then the joints of its rig in order.
    /// Returns false if it is not there. Precondition (asserted): one pose for each.
    bool move(BodyId id, std::span<const Pose> poses);

    /// Teleports a body, as a respawn does: until this frame it stays where it was, and passes through
    /// nothing in between.
    bool jump(BodyId id, const Pose& pose);
    /// Teleports a body and its joints, which are given as to move().
    bool jump(BodyId id, std::span<const Pose> poses);

    /// Changes the team or the layer of a body, in past frames too.
    bool assign(BodyId id, TeamId team, CollisionLayer layer);

    /// Returns the number of bodies in the newest frame.
    std::size_t body_count() const;
    /// Returns whether a body is in the newest frame.
    bool contains(BodyId id) const;
    /// Returns one of the bodies, counted in order of ids. Precondition (asserted): there are that many.
    BodyId body_at(std::size_t index) const;

    /// Returns the rig of a body; null if it is not there.
    const RigSpec* rig_of(BodyId id) const;

    /// Returns the pose of a body, or of one of its joints, at a time; none if it is not there then. Times
    /// outside of the recorded frames count as the nearest recorded one.
    std::optional<Pose> pose_of(BodyId id, Time at = present, std::uint32_t joint = 0) const;

    /// Writes the poses of a body at a time, as pose_of() says: itself first, then its joints. Returns how
    /// many; 0 if it is not there. Precondition (asserted): there is room for all.
    std::size_t poses_of(BodyId id, std::span<Pose> poses, Time at = present) const;

    std::optional<Pose> body_pose(BodyId id, Time at) const override { return pose_of(id, at); }
    Metres clearance(const Vector3& point) const override;
    bool may_meet_bodies(const Bounds& box, Time begin, Time end) const override;
    std::optional<Hit> closest_hit(const Cast& cast, const Filter& filter) const override;
    bool any_hit(const Cast& cast, const Filter& filter) const override;
    void closest_hits(std::span<const Cast> casts, const Filter& filter,
                      std::span<std::optional<Hit>> hits) const override;
    void any_hits(std::span<const Cast> casts, const Filter& filter, std::span<bool> hits) const override;
    /// Returns a part of the level that a cast hits, as Hit::part says: not the closest one, but whichever is
    /// found first; none if it hits none. Remembered, it answers most of the casts that follow.
    std::optional<std::uint32_t> any_part(const Cast& cast, CollisionLayers layers) const;
    std::size_t every_hit(const Cast& cast, const Filter& filter, std::span<Hit> found) const override;
    std::size_t overlaps(const Volume& volume, Time at, const Filter& filter,
                         std::span<Hit> found) const override;

    /// Returns the point nearest to `point` of everything that `filter` lets be hit, within `within`; else
    /// none. Inside a solid the distance is negative. Ties as for closest_hit().
    std::optional<Hit> nearest_point(const Vector3& point, Metres within, const Filter& filter,
                                     Time at = present) const;

    /// Saves the bodies and all frames.
    void save(StateWriter& to) const;
    /// Restores them, into a scene of the same limits with the same rigs prepared in the same order. Returns
    /// false on damaged bytes; the scene is then undefined.
    bool restore(StateReader& from);

  private:
    Level level_;
    std::unique_ptr<detail::BodyFrames> bodies_;
};

} // namespace avrek
