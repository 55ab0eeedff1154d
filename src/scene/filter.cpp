#include <avrek/scene/filter.h>

#include <algorithm>
#include <cassert>

namespace avrek {

IgnoredBodies::IgnoredBodies(std::initializer_list<BodyId> bodies)
    : size_(std::min(bodies.size(), max_bodies)) {
    assert(bodies.size() <= max_bodies);
    std::copy_n(bodies.begin(), size_, bodies_.begin());
}

bool IgnoredBodies::contains(BodyId body) const {
    const auto end = bodies_.begin() + static_cast<std::ptrdiff_t>(size_);
    return std::find(bodies_.begin(), end, body) != end;
}

bool IgnoredBodies::add(BodyId body) {
    if (size_ == max_bodies) {
        return false;
    }
    bodies_[size_] = body;
    ++size_;
    return true;
}

} // namespace avrek
