#include <avrek/arsenal/surface_spec.h>

#include <cstddef>

namespace avrek {

const SurfaceSpec& surface_of(std::span<const SurfaceSpec> surfaces, SurfaceId id) {
    static const SurfaceSpec plain;
    const auto index = static_cast<std::size_t>(id);
    return index >= 1 && index <= surfaces.size() ? surfaces[index - 1] : plain;
}

} // namespace avrek
