#pragma once
#include <avrek/net/server.h>
#include <avrek/skirmish/skirmish.h>

#include <array>
#include <bitset>
#include <span>
#include <vector>

namespace avrek::detail {

/// A body in the scene, for everybody who looks at it.
struct LookedAt {
    const Combatant* who = nullptr;
    const MovementSpec* shape = nullptr;
    Vector3 feet = Vector3::Zero();
    bool stands = false;
};

/// Returns the bodies in the scene, in order of their ids. They refer to the fight until its next tick.
std::vector<LookedAt> bodies_to_look_at(const Skirmish& fight);

/// Bodies that one player may know: those of its team, and foes that it could see within a moment from
/// anywhere it could be by then.
class KnownBodies {
  public:
    static constexpr std::size_t max_eyes = 54;

    /// Looks again at all bodies, for a player whose picture is so old. Takes the rays
    /// that it casts from `rays`; when none are left, foes whose turn has come are known.
    void look(const Skirmish& fight, std::span<const LookedAt> bodies, BodyId player, Duration view_delay,
              const InterestSettings& settings, std::size_t& rays);
    /// Returns whether the player knows a foe; not one that was not there in the last look().
    bool knows(BodyId foe) const;
    /// The same, for foes that are asked for in order of their ids: `from` is where the search goes on, 0 at
    /// first.
    bool knows(BodyId foe, std::size_t& from) const;
    /// Returns whether the player could see a point from anywhere it could be within a moment, as of the last
    /// look(). Takes the rays that it casts from `rays`; when none are left it could.
    bool could_see(const Skirmish& fight, const Vector3& point, std::size_t& rays) {
        return could_see(fight, point, max_eyes, rays);
    }
    /// The same, from where the player is, or will be within a moment if it goes on as it does. Six rays.
    bool comes_to_see(const Skirmish& fight, const Vector3& point, std::size_t& rays);
    /// The same, from where it is alone. Two rays.
    bool sees(const Skirmish& fight, const Vector3& point, std::size_t& rays);
    /// Returns where the player's eye was in the last look().
    const Vector3& eye() const { return eye_; }

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

    const Vector3& eye_at(const Skirmish& fight, std::size_t index);
    Foe& foe_at(std::size_t index, BodyId id);
    bool could_see(const Skirmish& fight, const LookedAt& body, Foe& foe, Work& work);
    bool could_see(const Skirmish& fight, const Vector3& point, std::size_t eyes, std::size_t& rays);

    std::vector<Foe> foes_{};              ///< in order of ids
    Vector3 eye_ = Vector3::Zero();        ///< the player's
    Metres reach_ = 0.0;                   ///< how far it could get
    Vector3 onward_ = Vector3::Zero();     ///< how far it gets as it goes
    std::array<Vector3, max_eyes> eyes_{}; ///< where the eye could be by then
    std::bitset<32> rows_found_{};         ///< rows of them that are known
};

} // namespace avrek::detail
