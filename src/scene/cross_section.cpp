#include <avrek/core/elementary.h>
#include <avrek/scene/cross_section.h>
#include <avrek/scene/raycast.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace avrek {

namespace {

constexpr int sides = 48;

double above(const HalfSpace& plane, const Vector3& point) {
    return plane.normal.dot(point) - plane.offset;
}

// Cuts one shape after the other.
class Cutter {
  public:
    Cutter(const HalfSpace& plane, const Bounds& bounds, std::vector<SectionLine>& lines)
        : plane_(plane), axes_(across(plane.normal)), bounds_(bounds), lines_(lines) {}

    void set(SurfaceId surface, CollisionLayer layer) {
        surface_ = surface;
        layer_ = layer;
    }

    void operator()(const Triangle& triangle) {
        const std::array<Vector3, 3> corners{triangle.a, triangle.b, triangle.c};
        std::array<Vector3, 3> ends;
        std::size_t count = 0;
        for (std::size_t corner = 0; corner < 3; ++corner) {
            const Vector3& from = corners[corner];
            const Vector3& to = corners[(corner + 1) % 3];
            const double before = above(plane_, from);
            const double after = above(plane_, to);
            if ((before < 0.0) != (after < 0.0)) {
                ends[count] = from + (before / (before - after)) * (to - from);
                ++count;
            }
        }
        const bool flat = (triangle.b - triangle.a).cross(triangle.c - triangle.a).squaredNorm() == 0.0;
        if (count == 2 && !flat) {
            add(ends[0], ends[1]);
        }
    }

    void operator()(const Sphere& sphere) { add_outline(sphere, sphere.centre, sphere.radius); }

    void operator()(const Capsule& capsule) {
        // From the point of the axis that is nearest to the plane.
        const double from = above(plane_, capsule.from);
        const double to = above(plane_, capsule.to);
        const double share = from == to ? 0.5 : std::clamp(from / (from - to), 0.0, 1.0);
        add_outline(capsule, capsule.from + share * (capsule.to - capsule.from), capsule.radius);
    }

    void operator()(const Box& box) {
        const auto corner = [&box](int x, int y, int z) {
            return to_world(box.pose, box.half_extents.cwiseProduct(Vector3(x, y, z)));
        };
        // The corners of a cut box in the order in which they lie around it.
        std::vector<std::pair<double, Vector3>> ends;
        const auto edge = [&](const Vector3& from, const Vector3& to) {
            const double before = above(plane_, from);
            const double after = above(plane_, to);
            if ((before < 0.0) != (after < 0.0)) {
                ends.emplace_back(0.0, from + (before / (before - after)) * (to - from));
            }
        };
        for (const int u : {-1, 1}) {
            for (const int v : {-1, 1}) {
                edge(corner(-1, u, v), corner(1, u, v));
                edge(corner(u, -1, v), corner(u, 1, v));
                edge(corner(u, v, -1), corner(u, v, 1));
            }
        }
        Vector3 middle = Vector3::Zero();
        for (const auto& [angle, end] : ends) {
            middle += end / static_cast<double>(ends.size());
        }
        for (auto& [angle, end] : ends) {
            const Vector3 out = end - middle;
            angle = arc_tangent(out.dot(axes_.up), out.dot(axes_.left));
        }
        std::sort(ends.begin(), ends.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        for (std::size_t index = 0; index < ends.size(); ++index) {
            add(ends[index].second, ends[(index + 1) % ends.size()].second);
        }
    }

    void operator()(const HalfSpace& half_space) {
        const Vector3 along = plane_.normal.cross(half_space.normal);
        const double squared = along.squaredNorm();
        const Vector3 size = bounds_.high - bounds_.low;
        if (squared < 1e-12 || is_empty(bounds_)) {
            return;
        }
        // The point on both planes that is nearest to the middle of the level.
        const Vector3 middle = 0.5 * (bounds_.low + bounds_.high);
        const Vector3 on_both = middle - (above(plane_, middle) / squared) * half_space.normal.cross(along) -
                                (above(half_space, middle) / squared) * along.cross(plane_.normal);
        const Vector3 reach = (0.5 * std::sqrt(size.squaredNorm()) / std::sqrt(squared)) * along;
        add(on_both - reach, on_both + reach);
    }

  private:
    // A convex round shape, out of `inner`, moved into the plane, where that is inside of the shape.
    void add_outline(const Shape& shape, const Vector3& inner, Metres radius) {
        const double height = above(plane_, inner);
        if (std::abs(height) >= radius) {
            return;
        }
        const Vector3 middle = inner - height * plane_.normal;
        std::array<Vector3, sides> corners;
        for (int side = 0; side < sides; ++side) {
            const double angle = 2.0 * pi * side / sides;
            const Vector3 direction = (cosine(angle) * axes_.left + sine(angle) * axes_.up).normalized();
            corners[static_cast<std::size_t>(side)] =
                middle + exit_distance({middle, direction, 0.0}, shape) * direction;
        }
        for (std::size_t side = 0; side < sides; ++side) {
            add(corners[side], corners[(side + 1) % sides]);
        }
    }

    void add(const Vector3& from, const Vector3& to) { lines_.push_back({from, to, surface_, layer_}); }

    const HalfSpace& plane_;
    Across axes_;
    const Bounds& bounds_;
    std::vector<SectionLine>& lines_;
    SurfaceId surface_{};
    CollisionLayer layer_ = CollisionLayer::level;
};

} // namespace

std::vector<SectionLine> cross_section(const Level& level, const HalfSpace& plane) {
    std::vector<SectionLine> lines;
    Cutter cutter{plane, level.bounds(), lines};
    for (const LevelPiece& piece : level.pieces()) {
        cutter.set(piece.surface, piece.layer);
        std::visit(cutter, piece.shape);
    }
    for (std::size_t index = 0; index < level.triangle_count(); ++index) {
        cutter.set(level.triangle_surface(index), level.triangle_layer(index));
        cutter(level.triangle(index));
    }
    return lines;
}

} // namespace avrek
