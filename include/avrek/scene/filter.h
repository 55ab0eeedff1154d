#pragma once
#include <avrek/core/collision_layers.h>
#include <avrek/core/ids.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <optional>

/// Filters of queries. A filter is positive: it names what a query can hit, and which bodies it ignores.
namespace avrek {

/// The layers that stop shots.
inline constexpr CollisionLayers stops_shots{CollisionLayer::level, CollisionLayer::bodies,
                                             CollisionLayer::glass};
/// The layers that stop sight. Bodies do not.
inline constexpr CollisionLayers stops_sight{CollisionLayer::level, CollisionLayer::foliage};

/// A set of teams: `{rootward}`. By default it contains all of them.
class TeamSet {
  public:
    constexpr TeamSet() = default;
    /// Makes a set of these teams.
    constexpr TeamSet(std::initializer_list<TeamId> teams) : bits_(0) {
        for (const TeamId team : teams) {
            bits_ |= bit_of(team);
        }
    }
    /// Returns the set of all teams but one.
    static constexpr TeamSet all_but(TeamId team) {
        TeamSet set{team};
        set.bits_ = ~set.bits_;
        return set;
    }
    /// Returns whether a team is in the set.
    constexpr bool contains(TeamId team) const { return (bits_ & bit_of(team)) != 0; }

  private:
    static constexpr std::uint32_t bit_of(TeamId team) {
        const auto number = static_cast<std::uint32_t>(team);
        return number < team_count ? 1U << number : 0U;
    }

    std::uint32_t bits_ = ~0U;
};

/// A few bodies that a query passes through, such as its shooter: `{shooter}`.
class IgnoredBodies {
  public:
    static constexpr std::size_t max_bodies = 16;

    constexpr IgnoredBodies() = default;
    /// Precondition (asserted): at most `max_bodies` bodies.
    IgnoredBodies(std::initializer_list<BodyId> bodies);
    /// Returns whether a body is ignored.
    bool contains(BodyId body) const;
    /// Adds a body. Returns false and adds nothing if there are `max_bodies` already.
    bool add(BodyId body);
    /// First ignored body.
    const BodyId* begin() const { return bodies_.data(); }
    /// End of the ignored bodies.
    const BodyId* end() const { return bodies_.data() + size_; }

  private:
    std::array<BodyId, max_bodies> bodies_{};
    std::size_t size_ = 0;
};

/// Filter of a query. It hits everything in the layers `hits`, but only bodies of the `teams`, and none that
/// it `ignores`. A body can be in any layer: one in `glass` stops shots, not sight.
///
///     scene.closest_hit({ray}, {.hits = {CollisionLayer::level}, .ignores = {shooter}});
struct Filter {
    CollisionLayers hits = stops_shots;
    TeamSet teams = {};
    IgnoredBodies ignores = {};
    std::optional<BodyId> only = {}; ///< hits no body but this one
    bool level = true;               ///< hits parts of the level
    bool bodies = true;              ///< hits bodies in the layers of `hits`
};

} // namespace avrek
