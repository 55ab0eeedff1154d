#include <avrek/scene/query.h>

#include <cassert>
#include <cstddef>

namespace avrek {

namespace {

void hit_level(const std::vector<LevelPiece>& level, const Ray& ray, std::optional<Hit>& nearest) {
    for (const LevelPiece& piece : level) {
        const std::optional<Entry> entry = raycast(ray, piece.shape);
        if (entry && (!nearest || entry->distance < nearest->distance)) {
            nearest = Hit{entry->distance, point_at(ray, entry->distance),
                          entry->normal,   entry->inside,
                          std::nullopt,    std::nullopt,
                          piece.surface};
        }
    }
}

// Whether a hit on `body` at `distance` comes before the nearest so far.
bool comes_first(BodyId body, double distance, const std::optional<Hit>& nearest) {
    if (!nearest || distance != nearest->distance) {
        return !nearest || distance < nearest->distance;
    }
    return nearest->body && body < *nearest->body;
}

void hit_body(const SceneBody& body, const Ray& ray, std::optional<Hit>& nearest) {
    assert(body.rig != nullptr);
    const Ray local{to_local(body.pose, ray.origin), body.pose.rotation.conjugate() * ray.direction,
                    ray.length};
    const std::vector<RegionSpec>& regions = body.rig->regions;
    for (std::size_t index = 0; index < regions.size(); ++index) {
        for (const Shape& shape : regions[index].shapes) {
            const std::optional<Entry> entry = raycast(local, shape);
            if (entry && comes_first(body.id, entry->distance, nearest)) {
                nearest = Hit{entry->distance,
                              point_at(ray, entry->distance),
                              body.pose.rotation * entry->normal,
                              entry->inside,
                              body.id,
                              static_cast<RegionId>(index),
                              SurfaceId{}};
            }
        }
    }
}

} // namespace

std::optional<Hit> closest_hit(const Scene& scene, const Ray& ray, const Filter& filter) {
    std::optional<Hit> nearest;
    if (filter.hits.contains(Layer::level)) {
        hit_level(scene.level, ray, nearest);
    }
    if (filter.hits.contains(Layer::bodies)) {
        for (const SceneBody& body : scene.bodies) {
            if (!filter.ignores.contains(body.id)) {
                hit_body(body, ray, nearest);
            }
        }
    }
    return nearest;
}

} // namespace avrek
