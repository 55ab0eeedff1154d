#include <avrek/ballistics/hitscan.h>

namespace avrek {

HitscanPath fire_hitscan(const World& world, const Vector3& muzzle, const Vector3& direction, Metres range,
                         const Filter& filter) {
    const Ray ray{muzzle, direction, range};
    const std::optional<Hit> hit = world.closest_hit({ray}, filter);
    return {muzzle, hit ? hit->point : point_at(ray, range), hit};
}

} // namespace avrek
