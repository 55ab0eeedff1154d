#pragma once
#include <avrek/core/vectors.h>
#include <avrek/scene/raycast.h>

#include <cstdint>
#include <optional>

/// Projection between the world and the screen, for crosshairs, health bars and damage numbers.
namespace avrek {

/// A point of the screen in pixels from its left upper corner.
struct ScreenPoint {
    double right = 0.0;
    double down = 0.0;
};

/// Kinds of projection.
enum class Projection : std::uint8_t {
    perspective,
    flat, ///< parallel lines of sight, for top-down and side views
};

/// A camera.
struct Camera {
    Pose pose{}; ///< it looks along its +Z, with +Y up on the screen
    Projection projection = Projection::perspective;
    Radians field_of_view = pi / 3.0; ///< perspective: vertical, in (0, pi)
    Metres shown_height = 20.0;       ///< flat: metres from top to bottom of the screen, over 0
    double width = 1280.0;            ///< pixels, over 0
    double height = 800.0;            ///< pixels, over 0
};

/// Returns the middle of the screen.
ScreenPoint middle_of(const Camera& camera);

/// Returns the line of sight through a point of the screen, up to `length` from the camera. Precondition
/// (asserted): `length` finite and at least 0.
Ray eye_ray(const Camera& camera, const ScreenPoint& point, Metres length);

/// A point of the world on the screen.
struct OnScreen {
    ScreenPoint at;
    Metres depth = 0.0;  ///< in front of the camera, along its +Z
    bool inside = false; ///< within the screen's edges
};

/// Returns where `point` is on the screen; none if it is not in front of the camera.
std::optional<OnScreen> on_screen(const Camera& camera, const Vector3& point);

/// Returns the pixels per metre at `depth` in front of the camera. Precondition (asserted): depth over 0.
double pixels_per_metre(const Camera& camera, Metres depth);

} // namespace avrek
