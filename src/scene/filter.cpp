#include <avrek/scene/filter.h>

#include <algorithm>
#include <cassert>

namespace avrek {

IgnoredBodies::IgnoredBodies(std::initializer_list<BodyId> bodies) : size_(std::min(bodies.size(), most)) {
    assert(bodies.size() <= most);
    std::copy_n(bodies.begin(), size_, bodies_.begin());
}

bool IgnoredBodies::contains(BodyId body) const {
    const auto end = bodies_.begin() + static_cast<std::ptrdiff_t>(size_);
    return std::find(bodies_.begin(), end, body) != end;
}

} // namespace avrek
