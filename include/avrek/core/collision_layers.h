#pragma once
#include <cstddef>
#include <cstdint>
#include <initializer_list>
#include <optional>
#include <string_view>

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

/// Returns the name of a layer, as files write it.
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
            add(layer);
        }
    }
    /// Makes a set from bits: bit n stands for the layer with number n.
    static constexpr CollisionLayers from_bits(std::uint32_t bits) {
        CollisionLayers set;
        set.bits_ = bits;
        return set;
    }
    /// Adds a layer.
    constexpr void add(CollisionLayer layer) { bits_ |= 1U << static_cast<std::uint32_t>(layer); }
    /// Returns whether a layer is in the set.
    constexpr bool contains(CollisionLayer layer) const {
        return (bits_ & (1U << static_cast<std::uint32_t>(layer))) != 0;
    }
    /// Returns the bits: bit n stands for the layer with number n.
    constexpr std::uint32_t bits() const { return bits_; }

  private:
    std::uint32_t bits_ = 0;
};

} // namespace avrek
