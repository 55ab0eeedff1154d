#include <avrek/core/state_hash.h>
#include <avrek/scene/level_digest.h>

#include <variant>

namespace avrek {

namespace {

struct AddShape {
    StateHash& hash;

    void operator()(const Sphere& sphere) const {
        hash.add(sphere.centre);
        hash.add(sphere.radius);
    }
    void operator()(const Capsule& capsule) const {
        hash.add(capsule.from);
        hash.add(capsule.to);
        hash.add(capsule.radius);
    }
    void operator()(const Box& box) const {
        hash.add(box.pose.position);
        for (const double part :
             {box.pose.rotation.x(), box.pose.rotation.y(), box.pose.rotation.z(), box.pose.rotation.w()}) {
            hash.add(part);
        }
        hash.add(box.half_extents);
    }
    void operator()(const HalfSpace& half_space) const {
        hash.add(half_space.normal);
        hash.add(half_space.offset);
    }
};

std::uint64_t kind_of(SurfaceId surface, CollisionLayer layer) {
    return static_cast<std::uint64_t>(surface) << 8U | static_cast<std::uint64_t>(layer);
}

} // namespace

std::uint64_t digest_of(const Level& level) {
    StateHash hash;
    hash.add(std::uint64_t{level.pieces().size()});
    for (const LevelPiece& piece : level.pieces()) {
        hash.add(std::uint64_t{piece.shape.index()});
        std::visit(AddShape{hash}, piece.shape);
        hash.add(kind_of(piece.surface, piece.layer));
    }
    hash.add(std::uint64_t{level.triangle_count()});
    for (std::size_t index = 0; index < level.triangle_count(); ++index) {
        const Triangle triangle = level.triangle(index);
        hash.add(triangle.a);
        hash.add(triangle.b);
        hash.add(triangle.c);
        hash.add(kind_of(level.triangle_surface(index), level.triangle_layer(index)));
    }
    return hash.value();
}

} // namespace avrek
