#pragma once
#include <avrek/core/vectors.h>
#include <avrek/scene/world.h>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace avrek {

/// Points of a level with the walkable connections between them, for bots.
class Waypoints {
  public:
    Waypoints() = default;
    /// Connects two points if a sphere at knee height can move from one to the other without hitting what
    /// stops shots, up to `farthest` apart.
    Waypoints(const World& world, std::span<const Vector3> points, Metres radius, Metres farthest = 16.0);

    /// Returns the points.
    std::span<const Vector3> points() const { return {points_.data(), points_.size()}; }
    /// Returns the points connected to a point.
    std::span<const std::uint32_t> joined_to(std::size_t point) const {
        return {joined_[point].data(), joined_[point].size()};
    }

    /// Returns the nearest point, the first of equals; none if there are none.
    std::optional<std::size_t> nearest(const Vector3& place) const;

    /// Returns the first step of a path with the fewest points from `from` to `to`; `to` itself if there is
    /// no path.
    std::size_t next_step(std::size_t from, std::size_t to) const;

  private:
    std::vector<Vector3> points_;
    std::vector<std::vector<std::uint32_t>> joined_;
    std::vector<std::uint32_t> steps_; // by from and to
};

} // namespace avrek
