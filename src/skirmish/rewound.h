#pragma once
#include <avrek/scene/world.h>

#include <algorithm>
#include <array>

namespace avrek::detail {

/// A world as it was some time before: queries as of a moment get what was there so much earlier.
class Rewound final : public World {
  public:
    /// `world` must outlive it.
    Rewound(const World& world, Duration by) : world_(world), by_(by) {}

    std::optional<Hit> closest_hit(const Cast& cast, const Filter& filter) const override {
        return world_.closest_hit(earlier(cast), filter);
    }
    std::size_t every_hit(const Cast& cast, const Filter& filter, std::span<Hit> found) const override {
        return world_.every_hit(earlier(cast), filter, found);
    }
    std::size_t overlaps(const Volume& volume, Time at, const Filter& filter,
                         std::span<Hit> found) const override {
        return world_.overlaps(volume, earlier(at), filter, found);
    }
    std::optional<Pose> body_pose(BodyId id, Time at) const override {
        return world_.body_pose(id, earlier(at));
    }
    Metres clearance(const Vector3& point) const override { return world_.clearance(point); }
    bool may_meet_bodies(const Bounds& box, Time begin, Time end) const override {
        return world_.may_meet_bodies(box, earlier(begin), earlier(end));
    }
    bool any_hit(const Cast& cast, const Filter& filter) const override {
        return world_.any_hit(earlier(cast), filter);
    }
    void closest_hits(std::span<const Cast> casts, const Filter& filter,
                      std::span<std::optional<Hit>> hits) const override {
        each_batch(casts, [&](std::span<const Cast> some, std::size_t first) {
            world_.closest_hits(some, filter, hits.subspan(first, some.size()));
        });
    }
    void any_hits(std::span<const Cast> casts, const Filter& filter, std::span<bool> hits) const override {
        each_batch(casts, [&](std::span<const Cast> some, std::size_t first) {
            world_.any_hits(some, filter, hits.subspan(first, some.size()));
        });
    }

  private:
    Time earlier(Time at) const { return at == present ? at : at - by_; }
    Cast earlier(Cast cast) const {
        cast.begin = earlier(cast.begin);
        cast.end = earlier(cast.end);
        return cast;
    }

    // Calls `ask(earlier casts, index of the first)`.
    template <class Ask>
    void each_batch(std::span<const Cast> casts, const Ask& ask) const {
        std::array<Cast, 32> some;
        for (std::size_t first = 0; first < casts.size(); first += some.size()) {
            const std::size_t count = std::min(some.size(), casts.size() - first);
            for (std::size_t index = 0; index < count; ++index) {
                some[index] = earlier(casts[first + index]);
            }
            ask(std::span<const Cast>{some}.first(count), first);
        }
    }

    const World& world_;
    Duration by_;
};

} // namespace avrek::detail
