#include <avrek/skirmish/waypoints.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr Metres knee = 0.85;

} // namespace

Waypoints::Waypoints(const World& world, std::span<const Vector3> points, Metres radius, Metres farthest)
    : points_(points.begin(), points.end()), joined_(points.size()), steps_(points.size() * points.size()) {
    const auto count = static_cast<std::uint32_t>(points.size());
    for (std::uint32_t one = 0; one < count; ++one) {
        for (std::uint32_t other = one + 1; other < count; ++other) {
            const Vector3 way = points_[other] - points_[one];
            const double length = std::sqrt(way.squaredNorm());
            if (length <= 0.0 || length > farthest ||
                world.any_hit({{points_[one] + knee * world_up(), way / length, length}, radius},
                              {.hits = {CollisionLayer::level, CollisionLayer::glass}})) {
                continue;
            }
            joined_[one].push_back(other);
            joined_[other].push_back(one);
        }
    }
    // From every goal outwards, so that each point learns its first step there.
    std::vector<std::uint32_t> queue;
    for (std::uint32_t to = 0; to < count; ++to) {
        const auto step = [&](std::uint32_t from) -> std::uint32_t& { return steps_[from * count + to]; };
        for (std::uint32_t from = 0; from < count; ++from) {
            step(from) = count; // not known
        }
        step(to) = to;
        queue.assign(1, to);
        for (std::size_t next = 0; next < queue.size(); ++next) {
            for (const std::uint32_t before : joined_[queue[next]]) {
                if (step(before) == count) {
                    step(before) = queue[next];
                    queue.push_back(before);
                }
            }
        }
        for (std::uint32_t from = 0; from < count; ++from) {
            step(from) = step(from) == count ? to : step(from);
        }
    }
}

std::optional<std::size_t> Waypoints::nearest(const Vector3& place) const {
    const auto found =
        std::min_element(points_.begin(), points_.end(), [&](const Vector3& one, const Vector3& other) {
            return (one - place).squaredNorm() < (other - place).squaredNorm();
        });
    return found != points_.end() ? std::optional{static_cast<std::size_t>(found - points_.begin())}
                                  : std::nullopt;
}

std::size_t Waypoints::next_step(std::size_t from, std::size_t to) const {
    assert(from < points_.size() && to < points_.size());
    return steps_[from * points_.size() + to];
}

} // namespace avrek
