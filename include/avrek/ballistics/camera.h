#pragma once
#include <avrek/core/vectors.h>
#include <avrek/scene/raycast.h>

#include <cstdint>
#include <optional>

/// From the screen into the world and back: for crosshairs, health bars and damage numbers.
namespace avrek {

/// A point of the screen in pixels from its left upper corner.
struct ScreenPoint {
    double right = 0.0;
    double down = 0.0;
};

enum class Projection : std::uint8_t {
    perspective,
    flat, ///< all lines of sight are parallel: for games seen from above or from the side
};

/// What is seen, and from where.
struct Camera {
    Pose pose{}; ///< it looks along its +Z, with +Y up on the screen
    Projection projection = Projection::perspective;
    Radians field_of_view = pi / 3.0; ///< of a perspective, vertical, in (0, pi)
    Metres shown_height = 20.0;       ///< of a flat projection, from the screen's top to its bottom, over 0
    double width = 1280.0;            ///< pixels, over 0
    double height = 800.0;            ///< pixels, over 0
};

/// The middle of the screen.
ScreenPoint middle_of(const Camera& camera);

/// The line of sight through a point of the screen, up to `length` from the camera. Precondition (asserted):
/// `length` finite and at least 0.
Ray eye_ray(const Camera& camera, const ScreenPoint& point, Metres length);

/// Where a point of the world is on the screen.
struct OnScreen {
    ScreenPoint at;
    Metres depth = 0.0;  ///< in front of the camera, along its +Z
    bool inside = false; ///< within the screen's edges
};

/// Where `point` is on the screen; none for what is not in front of the camera.
std::optional<OnScreen> on_screen(const Camera& camera, const Vector3& point);

/// How many pixels a metre takes at `depth` in front of the camera. Precondition (asserted): depth over 0.
double pixels_per_metre(const Camera& camera, Metres depth);

} // namespace avrek
