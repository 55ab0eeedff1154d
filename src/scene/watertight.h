#pragma once
#include <avrek/scene/raycast.h>

#include <array>
#include <cmath>
#include <optional>

/// A ray against triangles such that none slips through an edge that two of them share (Woop, Benthin and
/// Wald, 2013): seen along the ray, both compute the very same numbers for the edge, with opposite signs.
namespace avrek::detail {

/// A ray as the test wants it: axes renamed so that z is its longest, then sheared until it runs along z.
struct WatertightRay {
    std::array<int, 3> axes; ///< axes of the world that serve as x, y and z
    std::array<double, 3> origin;
    double shear_x = 0.0;
    double shear_y = 0.0;
    double shear_z = 0.0;
};

/// Where the whole line of a ray crosses a triangle.
struct TriangleCrossing {
    double distance = 0.0; ///< under 0 behind the start
    bool from_front = false;
};

inline WatertightRay watertight(const Ray& ray) {
    Eigen::Index longest = 0;
    ray.direction.cwiseAbs().maxCoeff(&longest);
    int z = static_cast<int>(longest);
    int x = z == 2 ? 0 : z + 1;
    int y = x == 2 ? 0 : x + 1;
    if (ray.direction[z] < 0.0) {
        std::swap(x, y); // keeps the sense in which corners run
    }
    return {{x, y, z},
            {ray.origin[x], ray.origin[y], ray.origin[z]},
            ray.direction[x] / ray.direction[z],
            ray.direction[y] / ray.direction[z],
            1.0 / ray.direction[z]};
}

inline std::optional<TriangleCrossing> cross(const WatertightRay& ray, const Triangle& triangle) {
    const auto sheared = [&ray](const Vector3& corner) {
        const double z = corner[ray.axes[2]] - ray.origin[2];
        return std::array{(corner[ray.axes[0]] - ray.origin[0]) - ray.shear_x * z,
                          (corner[ray.axes[1]] - ray.origin[1]) - ray.shear_y * z, ray.shear_z * z};
    };
    const auto a = sheared(triangle.a);
    const auto b = sheared(triangle.b);
    const auto c = sheared(triangle.c);
    const double u = c[0] * b[1] - c[1] * b[0];
    const double v = a[0] * c[1] - a[1] * c[0];
    const double w = b[0] * a[1] - b[1] * a[0];
    if ((u < 0.0 || v < 0.0 || w < 0.0) && (u > 0.0 || v > 0.0 || w > 0.0)) {
        return std::nullopt;
    }
    const double determinant = (u + v) + w;
    if (determinant == 0.0) {
        return std::nullopt;
    }
    return TriangleCrossing{((u * a[2] + v * b[2]) + w * c[2]) / determinant, determinant < 0.0};
}

} // namespace avrek::detail
