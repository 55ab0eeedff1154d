#include "seen_flights.h"

#include <algorithm>
#include <cmath>

namespace avrek::detail {

SeenFlights::SeenFlights(const Arsenal& arsenal, std::size_t capacity) : arsenal_(&arsenal) {
    for (ProjectileSpec spec : arsenal.projectiles) {
        spec.inherit = 1.0; // so that it can be launched with any velocity
        pools_.emplace_back(spec, capacity);
    }
}

void SeenFlights::retune(const Arsenal& arsenal, std::size_t capacity) {
    arsenal_ = &arsenal;
    for (std::size_t pool = 0; pool < arsenal.projectiles.size(); ++pool) {
        if (pool < pools_.size()) {
            pools_[pool].retune(arsenal.projectiles[pool]);
        } else {
            pools_.emplace_back(arsenal.projectiles[pool], capacity);
        }
    }
}

void SeenFlights::advance(const World& world, Span span, Duration ahead) {
    constexpr Duration tolerated = std::chrono::milliseconds{2};
    events_.clear();
    for (ProjectilePool& pool : pools_) {
        pool.advance(world, arsenal_->surfaces, span, events_);
    }
    now_ = span.end;
    ahead_ = ahead;
    std::erase_if(known_, [this](const Known& one) { return !pools_[one.pool].find(one.projectile); });
    for (Known& one : known_) { // the clock of the picture was set
        const Duration off = std::max(one.ahead - ahead, ahead - one.ahead);
        if (!one.stuck && off > tolerated) {
            (void)pools_[one.pool].remove(one.projectile);
            one.projectile = launch(one.since, one.pool, world).value_or(ProjectileHandle{});
            one.ahead = ahead;
        }
    }
}

void SeenFlights::take(const Notice& notice, const World& world) {
    const auto found = std::find_if(known_.begin(), known_.end(), [&notice](const Known& one) {
        return one.weapon == notice.weapon && one.index == notice.index;
    });
    const bool is_known = found != known_.end();
    const bool flies = notice.kind == NoticeKind::launched || notice.kind == NoticeKind::deflected;
    if (is_known && notice.kind == NoticeKind::stuck) {
        const bool on_body = notice.who != nobody;
        found->stuck = true;
        (void)pools_[found->pool].stick(found->projectile, on_body ? std::optional{notice.who} : std::nullopt,
                                        on_body ? notice.aim : notice.point, world);
    } else if (is_known && (notice.kind == NoticeKind::landed || flies)) {
        (void)pools_[found->pool].remove(found->projectile);
        known_.erase(found);
    }
    if (flies && notice.weapon && static_cast<std::size_t>(*notice.weapon) < arsenal_->weapons.size()) {
        const auto kind = (*arsenal_)[*notice.weapon].projectile.spec;
        const std::size_t pool = kind ? static_cast<std::size_t>(*kind) : pools_.size();
        const auto projectile = kind ? launch(notice, pool, world) : std::nullopt;
        if (projectile) {
            known_.push_back({notice.weapon, notice.index, pool, *projectile, notice, ahead_});
        }
    }
}

std::optional<ProjectileHandle> SeenFlights::launch(const Notice& notice, std::size_t pool,
                                                    const World& world) {
    const double speed = std::sqrt(notice.direction.squaredNorm());
    const Vector3 direction = speed > 0.0 ? Vector3(notice.direction / speed) : world_forward();
    Launch launch{.at = notice.at + ahead_,
                  .muzzle = notice.point,
                  .direction = direction,
                  .shooter_velocity = notice.direction - pools_[pool].spec().speed * direction,
                  .shooter = notice.by,
                  .shot = notice.number,
                  .teams = TeamSet{std::initializer_list<TeamId>{}}}; // no bodies
    if (notice.kind == NoticeKind::launched && notice.who != nobody) {
        launch.target = notice.who;
        launch.aim_at = notice.aim;
    }
    launch.at -= from_seconds(std::clamp(notice.amount, 0.0, 10.0)); // flown by then
    launch.at = std::max(Time{}, std::min(launch.at, now_ - Duration{1}));
    events_.clear();
    return pools_[pool].launch_late(launch, world, arsenal_->surfaces, events_);
}

} // namespace avrek::detail
