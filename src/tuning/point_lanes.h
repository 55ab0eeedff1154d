#pragma once
#include <avrek/core/vectors.h>

#include <array>
#include <cstddef>
#include <cstdint>

/// Arithmetic over the points of an integral, several at once. Every processor gives the same bits.
namespace avrek::detail {

/// Points, rows and slots that are computed at once.
inline constexpr std::size_t lanes = 8;

using Lanes = std::array<float, lanes>;

/// Returns a vector in single precision.
inline std::array<float, 3> narrow(const Vector3& vector) {
    return {static_cast<float>(vector.x()), static_cast<float>(vector.y()), static_cast<float>(vector.z())};
}

/// A disc on a map of rows.
struct DiscOnMap {
    float row = 0.0F;     ///< its middle, in rows above the map's lowest edge
    float right = 0.0F;   ///< its middle
    float radius = 0.0F;  ///< over 0
    float in_rows = 0.0F; ///< radius, in rows
    float rows = 1.0F;    ///< rows that the map has
    float lowest = -1.0F; ///< the map's lowest edge, in radii above the middle; below 1
    float highest = 1.0F; ///< the map's highest edge, the same; above -1
    float weight = 1.0F;  ///< weight of the whole disc
    float phase = 0.5F;   ///< in [0, 1): places the rows
};

/// Rows of a disc. What they are off differs from point to point of an integral, and evens out.
struct DiscChords {
    std::array<std::int32_t, lanes> row{}; ///< row of the map
    Lanes from{};
    Lanes to{};
    Lanes weight{}; ///< by length
};

/// Stretches of a row of a map, each in the slot of its outcome, so that a row is summed without a branch.
/// An unused slot ends before it begins.
struct alignas(32) SlotEnds {
    Lanes from{};
    Lanes to{};
};

/// A map's frame, and where looks begin from, as seen from where the map is.
struct LookFrame {
    std::array<float, 3> forward{};
    std::array<float, 3> left{};
    std::array<float, 3> up{};
    std::array<float, 3> from{};
    float depth = 1.0F;
};

/// A shooter that looks along its line without error, standing at the origin.
struct LookingShooter {
    float yaw_sine = 0.0F;
    float yaw_cosine = 1.0F;
    float pitch_sine = 0.0F;
    float pitch_cosine = 1.0F;
    std::array<float, 3> eye{};  ///< before it turns
    std::array<float, 3> grip{}; ///< the same
    float muzzle = 0.0F;         ///< from the grip along the view
};

/// Looks of eight points.
struct LookLanes {
    Lanes yaw{};   ///< off the look without error
    Lanes pitch{}; ///< the same
    std::array<Lanes, 3> view{};
    std::array<Lanes, 3> eye{};
    std::array<Lanes, 3> muzzle{};
    Lanes length{}; ///< along the view, of what the muzzle aims at
    Lanes right{};  ///< on the map
    Lanes up{};
    std::array<std::int32_t, lanes> ahead{}; ///< 0: the map is behind
};

/// The arithmetic of one kind of processor. Counts are multiples of `lanes`, but for sum().
struct PointLanes {
    double (*sum)(const float* values, std::size_t count);
    void (*add)(float* to, const float* values, std::size_t count);
    void (*subtract)(float* from, const float* values, std::size_t count);
    void (*multiply)(float* values, const float* by, std::size_t count);
    void (*add_product)(float* to, const float* one, const float* other, std::size_t count);
    /// Below 0 becomes 0.
    void (*clamp)(float* values, std::size_t count);
    void (*cut)(const DiscOnMap& disc, DiscChords& chords);
    /// Sets `sums`, one for each of `groups` times `lanes` slots, to the weighted lengths of the chords.
    void (*sum_slots)(const DiscChords& chords, const SlotEnds* slots, std::size_t groups, float* sums);
    /// Sets view, eye and muzzle by yaw and pitch.
    void (*look)(const LookingShooter& shooter, LookLanes& looks);
    /// Sets the place on a map that the view from the eye crosses.
    void (*place_views)(const LookFrame& map, LookLanes& looks);
    /// Sets the place on a map of shots from the muzzle at the end of the view.
    void (*place_shots)(const LookFrame& map, LookLanes& looks);
};

/// Returns the arithmetic for this processor; without `wide`, that for any.
const PointLanes& point_lanes(bool wide = true);

} // namespace avrek::detail
