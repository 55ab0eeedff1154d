#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/net/notices.h>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace avrek::detail {

/// The projectiles of remote players, as a client draws them: their launches, deflections and ends come from
/// notices, and they fly by themselves in between, through bodies and against the level. Their pools are at
/// the time of the view.
class SeenFlights {
  public:
    SeenFlights(const Arsenal& arsenal, std::size_t capacity);

    /// Flies everything through a span. `ahead` is the time of the view at its end less the server's that is
    /// drawn then.
    void advance(const World& world, Span span, Duration ahead);
    /// Takes a notice about a projectile.
    void take(const Notice& notice, const World& world);
    /// Goes by another arsenal, whose entries keep their places.
    void retune(const Arsenal& arsenal, std::size_t capacity);
    /// Returns the pools, one for each of Arsenal::projectiles, in its order.
    std::span<const ProjectilePool> pools() const { return pools_; }

  private:
    struct Known {
        std::optional<WeaponId> weapon{};
        std::int32_t index = 0; ///< Notice::index
        std::size_t pool = 0;
        ProjectileHandle projectile{};
        Notice since{}; ///< its launch or its last deflection
        Duration ahead{};
        bool stuck = false;
    };

    std::optional<ProjectileHandle> launch(const Notice& notice, std::size_t pool, const World& world);

    const Arsenal* arsenal_;
    std::vector<ProjectilePool> pools_;
    std::vector<Known> known_;
    std::vector<ProjectileEvent> events_; // room to work in: nobody asks for them
    Time now_{};
    Duration ahead_{};
};

} // namespace avrek::detail
