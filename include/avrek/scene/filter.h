#pragma once
#include <avrek/core/ids.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <optional>
#include <string_view>

/// What a query may hit. A filter is positive: it names what counts, and who is left out.
namespace avrek {

/// What kind of thing something is. All but `bodies` can be given to parts of the level; the last four mean
/// what the game makes of them.
enum class CollisionLayer : std::uint8_t {
    level,   ///< stops everything
    bodies,  ///< what has a rig
    glass,   ///< stops what is fired, not sight
    foliage, ///< stops sight, not what is fired
    special_1,
    special_2,
    special_3,
    special_4,
};

inline constexpr std::size_t collision_layer_count = 8;

/// The name of a layer, as level files write it.
std::string_view to_string(CollisionLayer layer);

/// The layer with this name, if there is one.
std::optional<CollisionLayer> find_collision_layer(std::string_view name);

/// A set of layers: `{CollisionLayer::level, CollisionLayer::bodies}`.
class CollisionLayers {
  public:
    constexpr CollisionLayers() = default;
    constexpr CollisionLayers(std::initializer_list<CollisionLayer> layers) {
        for (const CollisionLayer layer : layers) {
            bits_ |= 1U << static_cast<std::uint32_t>(layer);
        }
    }
    static constexpr CollisionLayers from_bits(std::uint32_t bits) {
        CollisionLayers set;
        set.bits_ = bits;
        return set;
    }
    constexpr bool contains(CollisionLayer layer) const {
        return (bits_ & (1U << static_cast<std::uint32_t>(layer))) != 0;
    }
    /// Bit n is set when the layer with number n is in the set.
    constexpr std::uint32_t bits() const { return bits_; }

  private:
    std::uint32_t bits_ = 0;
};

/// What stops a shot.
inline constexpr CollisionLayers stops_shots{CollisionLayer::level, CollisionLayer::bodies,
                                             CollisionLayer::glass};

/// A set of teams: `{rootward}`. As made by default it holds all of them.
class TeamSet {
  public:
    constexpr TeamSet() = default;
    constexpr TeamSet(std::initializer_list<TeamId> teams) : bits_(0) {
        for (const TeamId team : teams) {
            bits_ |= bit_of(team);
        }
    }
    static constexpr TeamSet all_but(TeamId team) {
        TeamSet set{team};
        set.bits_ = ~set.bits_;
        return set;
    }
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
    /// Precondition (asserted): at most `most` bodies.
    IgnoredBodies(std::initializer_list<BodyId> bodies);
    bool contains(BodyId body) const;
    /// Adds a body; returns false, and adds nothing, when there are `most` already.
    bool add(BodyId body);
    const BodyId* begin() const { return bodies_.data(); }
    const BodyId* end() const { return bodies_.data() + size_; }

  private:
    std::array<BodyId, max_bodies> bodies_{};
    std::size_t size_ = 0;
};

/// What a query hits: everything in the layers `hits`, of bodies those of the `teams`, but not the bodies
/// that it `ignores`. A body can be in any layer: one in `glass`, say, stops shots but not sight.
struct Filter {
    CollisionLayers hits = stops_shots;
    TeamSet teams = {};
    IgnoredBodies ignores = {};
    std::optional<BodyId> only = {}; ///< of bodies this one alone
    bool level = true;               ///< parts of the level count
    bool bodies = true;              ///< bodies count, in whatever of these layers they are
};

} // namespace avrek
