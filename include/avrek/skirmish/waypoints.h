#pragma once
#include <avrek/core/vectors.h>
#include <avrek/scene/world.h>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace avrek {

/// Points of a level and which of them one can walk between, for bots.
class Waypoints {
  public:
    Waypoints() = default;
    /// Two points are joined when a ball at knee height goes from one to the other without meeting what stops
    /// shots, up to `farthest` apart.
    Waypoints(const World& world, std::span<const Vector3> points, Metres radius, Metres farthest = 16.0);

    std::span<const Vector3> points() const { return {points_.data(), points_.size()}; }
    std::span<const std::uint32_t> joined_to(std::size_t point) const {
        return {joined_[point].data(), joined_[point].size()};
    }

    /// The point nearest to a place, the first of equals; none when there are none.
    std::optional<std::size_t> nearest(const Vector3& place) const;

    /// The first step on a way with the fewest points from `from` to `to`; `to` itself where there is no way.
    std::size_t next_step(std::size_t from, std::size_t to) const;

  private:
    std::vector<Vector3> points_;
    std::vector<std::vector<std::uint32_t>> joined_;
    std::vector<std::uint32_t> steps_; // by from and to
};

} // namespace avrek
