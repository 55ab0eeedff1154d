#pragma once
#include <avrek/core/ids.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <optional>
#include <string_view>

/// Filters of queries. A filter is positive: it names what a query can hit, and which bodies it ignores.
namespace avrek {

/// Collision layer of a body or a part of the level. Level parts can have all but `bodies`. The game defines
/// the last four.
enum class CollisionLayer : std::uint8_t {
    level,   ///< stops everything
    bodies,  ///< bodies with a rig
    glass,   ///< stops shots, not sight
    foliage, ///< stops sight, not shots
    special_1,
    special_2,
    special_3,
    special_4,
};

/// Number of collision layers.
inline constexpr std::size_t collision_layer_count = 8;

/// Returns the name of a layer, as level files write it.
std::string_view to_string(CollisionLayer layer);

/// Returns the layer with this name, or none.
std::optional<CollisionLayer> find_collision_layer(std::string_view name);

/// A set of layers: `{CollisionLayer::level, CollisionLayer::bodies}`.
class CollisionLayers {
  public:
    constexpr CollisionLayers() = default;
    /// Makes a set of these layers.
    constexpr CollisionLayers(std::initializer_list<CollisionLayer> layers) {
        for (const CollisionLayer layer : layers) {
            bits_ |= 1U << static_cast<std::uint32_t>(layer);
        }
    }
    /// Makes a set from bits: bit n stands for the layer with number n.
    static constexpr CollisionLayers from_bits(std::uint32_t bits) {
        CollisionLayers set;
        set.bits_ = bits;
        return set;
    }
    /// Returns whether a layer is in the set.
    constexpr bool contains(CollisionLayer layer) const {
        return (bits_ & (1U << static_cast<std::uint32_t>(layer))) != 0;
    }
    /// Returns the bits: bit n stands for the layer with number n.
    constexpr std::uint32_t bits() const { return bits_; }

  private:
    std::uint32_t bits_ = 0;
};

/// The layers that stop shots.
inline constexpr CollisionLayers stops_shots{CollisionLayer::level, CollisionLayer::bodies,
                                             CollisionLayer::glass};

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
