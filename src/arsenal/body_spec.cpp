#include <avrek/arsenal/body_spec.h>

#include <cassert>
#include <cstddef>

namespace avrek {

std::optional<RegionId> find_region(const RigSpec& rig, std::string_view name) {
    for (std::size_t index = 0; index < rig.regions.size(); ++index) {
        if (rig.regions[index].name == name) {
            return static_cast<RegionId>(index);
        }
    }
    return std::nullopt;
}

const RegionSpec& region_of(const RigSpec& rig, RegionId id) {
    const auto index = static_cast<std::size_t>(id);
    assert(index < rig.regions.size());
    return rig.regions[index];
}

Vector3 aim_point(const RegionSpec& region) {
    assert(!region.shapes.empty());
    return centre_of(region.shapes.front());
}

} // namespace avrek
