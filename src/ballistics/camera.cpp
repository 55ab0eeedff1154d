#include <avrek/ballistics/camera.h>
#include <avrek/core/elementary.h>

#include <cassert>
#include <cmath>

namespace avrek {

namespace {

// Metres that half of the screen's height shows, for each metre of depth or at any depth.
double half_height(const Camera& camera) {
    const Radians half = 0.5 * camera.field_of_view;
    return camera.projection == Projection::flat ? 0.5 * camera.shown_height : sine(half) / cosine(half);
}

} // namespace

ScreenPoint middle_of(const Camera& camera) {
    return {0.5 * camera.width, 0.5 * camera.height};
}

Ray eye_ray(const Camera& camera, const ScreenPoint& point, Metres length) {
    assert(std::isfinite(length) && length >= 0.0);
    const ScreenPoint middle = middle_of(camera);
    const double scale = half_height(camera) / middle.down;
    const Vector3 across{(middle.right - point.right) * scale, (middle.down - point.down) * scale, 0.0};
    if (camera.projection == Projection::flat) {
        return {to_world(camera.pose, across), camera.pose.rotation * world_forward(), length};
    }
    const Vector3 direction = (across + world_forward()).normalized();
    return {camera.pose.position, (camera.pose.rotation * direction).normalized(), length};
}

std::optional<OnScreen> on_screen(const Camera& camera, const Vector3& point) {
    const Vector3 seen = to_local(camera.pose, point);
    if (!(seen.z() > 0.0)) {
        return std::nullopt;
    }
    const ScreenPoint middle = middle_of(camera);
    const double scale = pixels_per_metre(camera, seen.z());
    OnScreen result{{middle.right - seen.x() * scale, middle.down - seen.y() * scale}, seen.z(), false};
    result.inside = result.at.right >= 0.0 && result.at.right <= camera.width && result.at.down >= 0.0 &&
                    result.at.down <= camera.height;
    return result;
}

double pixels_per_metre(const Camera& camera, Metres depth) {
    assert(depth > 0.0);
    const double shown = half_height(camera) * (camera.projection == Projection::flat ? 1.0 : depth);
    return 0.5 * camera.height / shown;
}

} // namespace avrek
