#pragma once
#include <avrek/scene/level.h>

#include <vector>

namespace avrek {

/// A line in which a plane cuts the level.
struct SectionLine {
    Vector3 from = Vector3::Zero();
    Vector3 to = Vector3::Zero();
    SurfaceId surface{};
    CollisionLayer layer = CollisionLayer::level;
};

/// Returns the lines in which `plane` cuts the triangles and the surfaces of the pieces, for maps and
/// drawings. Round pieces become polygons of 48 sides. A half-space is drawn as far as the bounded parts of
/// the level reach; without any, it is left out. Triangles in the plane are left out.
std::vector<SectionLine> cross_section(const Level& level, const HalfSpace& plane);

} // namespace avrek
