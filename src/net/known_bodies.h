#pragma once
#include <avrek/net/server.h>
#include <avrek/skirmish/skirmish.h>

#include <array>
#include <span>
#include <vector>

namespace avrek::detail {

/// Bodies that one player may know: those of its team, and foes that it could see within a moment from
/// anywhere it could be by then.
class KnownBodies {
  public:
    /// Looks again at all bodies of the newest snapshot, for a player whose picture is so old. Takes the rays
    /// that it casts from `rays`; when none are left, foes whose turn has come are known.
    void look(const Skirmish& fight, BodyId player, Duration view_delay, const InterestSettings& settings,
              std::size_t& rays);
    /// Returns whether the player knows a body.
    bool knows(BodyId body) const;

  private:
    struct Foe {
        BodyId id = nobody;
        bool is_known = true;
        Time until{};                  ///< known at least until then
        Vector3 eye = Vector3::Zero(); ///< where they were when it was looked at
        Vector3 feet = Vector3::Zero();
        std::array<std::size_t, 2> free_ray{};   ///< the eye and the point between which it was seen last
        std::vector<std::uint32_t> in_the_way{}; ///< parts of the level, by eye and point
    };
    struct Work {
        std::size_t rays = 0;
        std::size_t tries = 0; ///< single parts of the level that were tried
    };

    void find_eyes(const Skirmish& fight, const Vector3& eye, Metres reach, const Vector3& onward);
    bool could_see(const Skirmish& fight, const SnapshotBody& body, Foe& foe, Work& work) const;

    std::vector<Foe> foes_{}; ///< in order of ids
    std::vector<Foe> before_{};
    std::vector<Vector3> eyes_{}; ///< where the eye could be by then
};

} // namespace avrek::detail
