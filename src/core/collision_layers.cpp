#include <avrek/core/collision_layers.h>

#include <algorithm>
#include <array>
#include <cassert>

namespace avrek {

namespace {

constexpr std::array<std::string_view, collision_layer_count> layer_names{
    "level", "bodies", "glass", "foliage", "special-1", "special-2", "special-3", "special-4"};

} // namespace

std::string_view to_string(CollisionLayer layer) {
    assert(static_cast<std::size_t>(layer) < collision_layer_count);
    return layer_names[static_cast<std::size_t>(layer)];
}

std::optional<CollisionLayer> find_collision_layer(std::string_view name) {
    const auto found = std::find(layer_names.begin(), layer_names.end(), name);
    if (found == layer_names.end()) {
        return std::nullopt;
    }
    return static_cast<CollisionLayer>(found - layer_names.begin());
}

} // namespace avrek
