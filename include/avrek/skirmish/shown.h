#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/scene/scene.h>
#include <avrek/skirmish/body_stance.h>

#include <cstdint>
#include <span>

/// What players are shown of others: every few ticks where they stand, rounded. A server remembers exactly
/// that, and a client draws exactly that, so a shot can be judged against what its shooter saw.
namespace avrek {

/// The place of somebody's feet on a grid of 1/128 m, facing one of 4096 ways.
struct ShownPlace {
    std::int32_t x = 0;
    std::int32_t y = 0;
    std::int32_t z = 0;
    std::uint16_t yaw = 0;
    friend bool operator==(const ShownPlace&, const ShownPlace&) = default;
};

inline constexpr double shown_grid = 128.0;         ///< steps to a metre
inline constexpr std::int32_t most_shown = 1 << 23; ///< steps from the origin: 65 km

/// The nearest place; beyond the grid, the last one on it.
ShownPlace shown_place(const Vector3& position, Radians yaw);
Vector3 position_of(const ShownPlace& place);
Radians yaw_of(const ShownPlace& place); ///< in (-pi, pi]
Pose pose_of(const ShownPlace& place);   ///< of one who stands

/// A body that is shown.
struct ShownBody {
    BodyId id = nobody;
    const BodySpec* body = nullptr; ///< never null; outlives the scene
    TeamId team{};
    ShownPlace place{};
    BodyStance stance = BodyStance::standing;
};

/// A new frame of a scene, with these bodies and no others, in order of their ids. Who moves by more than
/// `shown_leap` gets there at once, and flies through nothing in between. Precondition (asserted): `at` is
/// after scene.now().
void show(Scene& scene, Time at, std::span<const ShownBody> bodies);

inline constexpr Metres shown_leap = 4.0;

} // namespace avrek
