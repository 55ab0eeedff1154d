#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/state_bytes.h>
#include <avrek/scene/level.h>
#include <avrek/scene/world.h>

#include <memory>
#include <optional>
#include <span>
#include <vector>

/// A level and the bodies in it, with where they stood for the last while.
namespace avrek {

/// One body as it enters a scene.
struct SceneBody {
    BodyId id{};
    const RigSpec* rig = nullptr; ///< never null; outlives the scene
    Pose pose{};                  ///< of the rig's axes: feet at the origin, facing +Z; joints at rest
    TeamId team{};
    CollisionLayer layer = CollisionLayer::bodies;
};

/// What a scene has room for. All of it is reserved when the scene is made: about 57 bytes for each joint of
/// each body in each frame, 4 MB with these numbers.
struct SceneLimits {
    std::size_t bodies = 64; ///< 1 to 65535
    std::size_t joints = 16; ///< of each body, itself counted: 1 to 64
    std::size_t frames = 64; ///< that are remembered, the newest counted: at least 2
};

struct BodyFrames; // where the bodies stand and stood

/// Everything that can be hit. Frames are the moments at which the game says where bodies are, one each tick;
/// in between, queries take them to move evenly from one to the next. Nothing here allocates but the
/// constructor and the first body of each rig.
///
///     scene.begin_frame(tick_span(tick, rate).end);
///     scene.move(id, pose);                    // those that moved
///     scene.closest_hit({ray}, {.ignores = {shooter}});
class Scene final : public World {
  public:
    explicit Scene(Level level = {}, const SceneLimits& limits = {});
    Scene(const Scene& other);
    Scene(Scene&& other) noexcept;
    Scene& operator=(const Scene& other);
    Scene& operator=(Scene&& other) noexcept;
    ~Scene() override;

    const Level& level() const { return level_; }

    /// The times of the newest and the oldest frame. A scene starts with one at Time{}.
    Time now() const;
    Time oldest() const;

    /// Begins the frame of `at`: all bodies stand where they stood before, until they are moved. The oldest
    /// frame is forgotten when there are `limits.frames`. Precondition (asserted): `at` is after now().
    void begin_frame(Time at);

    /// Gets a rig ready, so that its first body allocates nothing.
    void prepare(const RigSpec& rig);

    /// Adds a body from the newest frame on. Returns false, and changes nothing, when there is no room for
    /// it, when its rig has too many joints, or when its id is taken. The place of a removed body is taken
    /// over with its past.
    [[nodiscard]] bool add(const SceneBody& body);

    /// Removes a body from the newest frame on; past moments still know it. Returns false when it is not
    /// there.
    bool remove(BodyId id);

    /// Moves a body in the newest frame, all joints at rest. Returns false when it is not there.
    bool move(BodyId id, const Pose& pose);

    /// Moves a body and its joints, all in the axes of the world: first itself, then the joints of its rig in
    /// their order. Returns false when it is not there. Precondition (asserted): one pose for each.
    bool move(BodyId id, std::span<const Pose> poses);

    /// Moves a body at once, as a respawn does: up to this frame it stands where it stood, and flies through
    /// nothing in between.
    bool jump(BodyId id, const Pose& pose);

    /// Changes the side or the layer of a body, for the past as well.
    bool assign(BodyId id, TeamId team, CollisionLayer layer);

    std::size_t body_count() const;
    bool contains(BodyId id) const;
    /// One of those that are there, counted in order of their ids. Precondition (asserted): there are as
    /// many.
    BodyId body_at(std::size_t index) const;

    /// The rig of a body; null when it is not there.
    const RigSpec* rig_of(BodyId id) const;

    /// Where a body, or one of its joints, stands at a moment; none when it is not there then. Moments
    /// outside of what is remembered count as the nearest one that is.
    std::optional<Pose> pose_of(BodyId id, Time at = present, std::uint32_t joint = 0) const;

    std::optional<Pose> body_pose(BodyId id, Time at) const override { return pose_of(id, at); }
    Metres clearance(const Vector3& point) const override;
    bool may_meet_bodies(const Bounds& box, Time begin, Time end) const override;
    std::optional<Hit> closest_hit(const Cast& cast, const Filter& filter) const override;
    bool any_hit(const Cast& cast, const Filter& filter) const override;
    std::size_t every_hit(const Cast& cast, const Filter& filter, std::span<Hit> found) const override;
    std::size_t overlaps(const Volume& volume, Time at, const Filter& filter,
                         std::span<Hit> found) const override;

    /// The point nearest to `point` of all that `filter` lets be hit, if it is nearer than `within`. Inside
    /// of a solid the distance is under 0. Of several at the same distance, as for closest_hit().
    std::optional<Hit> nearest_point(const Vector3& point, Metres within, const Filter& filter,
                                     Time at = present) const;

    /// Writes the bodies and all frames.
    void save(StateWriter& to) const;
    /// Reads them again: into a scene of the same limits, with the same rigs made ready in the same order. A
    /// failure leaves anything in the scene.
    bool restore(StateReader& from);

  private:
    Level level_;
    std::unique_ptr<BodyFrames> bodies_;
};

} // namespace avrek
