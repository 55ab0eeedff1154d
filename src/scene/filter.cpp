#include <avrek/scene/filter.h>

#include <algorithm>
#include <cassert>

namespace avrek {

namespace {

constexpr std::array<std::string_view, layer_count> layer_names{
    "level", "bodies", "glass", "foliage", "special-1", "special-2", "special-3", "special-4"};

} // namespace

std::string_view to_string(Layer layer) {
    assert(static_cast<std::size_t>(layer) < layer_count);
    return layer_names[static_cast<std::size_t>(layer)];
}

std::optional<Layer> find_layer(std::string_view name) {
    const auto found = std::find(layer_names.begin(), layer_names.end(), name);
    if (found == layer_names.end()) {
        return std::nullopt;
    }
    return static_cast<Layer>(found - layer_names.begin());
}

IgnoredBodies::IgnoredBodies(std::initializer_list<BodyId> bodies) : size_(std::min(bodies.size(), most)) {
    assert(bodies.size() <= most);
    std::copy_n(bodies.begin(), size_, bodies_.begin());
}

bool IgnoredBodies::contains(BodyId body) const {
    const auto end = bodies_.begin() + static_cast<std::ptrdiff_t>(size_);
    return std::find(bodies_.begin(), end, body) != end;
}

bool IgnoredBodies::add(BodyId body) {
    if (size_ == most) {
        return false;
    }
    bodies_[size_] = body;
    ++size_;
    return true;
}

} // namespace avrek
