#include "body_frames.h"

#include <cassert>

namespace avrek {

Metres Scene::clearance(const Vector3& point) const {
    return detail::clearance_in_level(level_.data(), point);
}

bool Scene::may_meet_bodies(const Bounds& box, Time begin, Time end) const {
    const detail::BodyFrames& bodies = *bodies_;
    if (bodies.used == 0) {
        return false;
    }
    // The newest frame's cells are those that bodies are in, and were in on their way there.
    const bool is_last = bodies.count > 1 && begin >= bodies.times[bodies.frame_before(bodies.newest)];
    if (!is_last || begin > end) {
        return true;
    }
    constexpr double rounding = 1e-5;
    const double low[3] = {box.low.x() - rounding, box.low.y() - rounding, box.low.z() - rounding};
    const double high[3] = {box.high.x() + rounding, box.high.y() + rounding, box.high.z() + rounding};
    return bodies.cells.any(bodies.newest, low, high);
}

namespace {

CollisionLayers level_layers(const Filter& filter) {
    return filter.level ? filter.hits : CollisionLayers{};
}

} // namespace

std::optional<Hit> Scene::closest_hit(const Cast& cast, const Filter& filter) const {
    std::optional<Hit> nearest;
    detail::closest_in_level(level_.data(), cast, level_layers(filter), nearest);
    if (bodies_->any_for(filter)) {
        detail::closest_in_bodies(*bodies_, *level_.data().walks, cast, filter, nearest);
    }
    return nearest;
}

bool Scene::any_hit(const Cast& cast, const Filter& filter) const {
    std::optional<Hit> nearest;
    if (bodies_->any_for(filter)) {
        detail::closest_in_bodies(*bodies_, *level_.data().walks, cast, filter, nearest);
    }
    return nearest || detail::any_in_level(level_.data(), cast, level_layers(filter));
}

void Scene::closest_hits(std::span<const Cast> casts, const Filter& filter,
                         std::span<std::optional<Hit>> hits) const {
    assert(hits.size() == casts.size());
    detail::closest_in_level(level_.data(), casts, level_layers(filter), hits);
    for (std::size_t index = 0; index < casts.size() && bodies_->any_for(filter); ++index) {
        detail::closest_in_bodies(*bodies_, *level_.data().walks, casts[index], filter, hits[index]);
    }
}

void Scene::any_hits(std::span<const Cast> casts, const Filter& filter, std::span<bool> hits) const {
    assert(hits.size() == casts.size());
    detail::any_in_level(level_.data(), casts, level_layers(filter), hits);
    for (std::size_t index = 0; index < casts.size() && bodies_->any_for(filter); ++index) {
        std::optional<Hit> nearest;
        if (!hits[index]) {
            detail::closest_in_bodies(*bodies_, *level_.data().walks, casts[index], filter, nearest);
            hits[index] = nearest.has_value();
        }
    }
}

std::optional<std::uint32_t> Scene::any_part(const Cast& cast, CollisionLayers layers) const {
    return detail::any_in_level(level_.data(), cast, layers);
}

std::size_t Scene::every_hit(const Cast& cast, const Filter& filter, std::span<Hit> found) const {
    detail::HitList list{found};
    detail::every_in_level(level_.data(), cast, level_layers(filter), list);
    if (bodies_->any_for(filter)) {
        detail::every_in_bodies(*bodies_, *level_.data().walks, cast, filter, list);
    }
    return list.size();
}

std::size_t Scene::overlaps(const Volume& volume, Time at, const Filter& filter, std::span<Hit> found) const {
    std::optional<Hit> level;
    detail::overlap_in_level(level_.data(), volume, level_layers(filter), level);
    std::size_t count = 0;
    if (level && !found.empty()) {
        found[count] = *level;
        ++count;
    }
    if (bodies_->any_for(filter)) {
        detail::overlap_in_bodies(*bodies_, *level_.data().walks, volume, at, filter, found, count);
    }
    return count;
}

std::optional<Hit> Scene::nearest_point(const Vector3& point, Metres within, const Filter& filter,
                                        Time at) const {
    std::optional<Hit> nearest;
    detail::nearest_in_level(level_.data(), point, level_layers(filter), within, nearest);
    if (bodies_->any_for(filter)) {
        detail::nearest_in_bodies(*bodies_, *level_.data().walks, point, within, filter, at, nearest);
    }
    return nearest;
}

} // namespace avrek
