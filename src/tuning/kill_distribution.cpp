#include "kill_fight.h"
#include "shared_maps.h"
#include <avrek/tuning/kill_distribution.h>

#include <algorithm>
#include <bit>
#include <cassert>
#include <cmath>

namespace avrek {

namespace detail {

namespace {

constexpr std::size_t first_points = 64;

// The blocks of one engagement, added up.
class KillTotal {
  public:
    KillTotal(const Engagement& engagement, const EngagementMaps& maps)
        : engagement_(engagement), maps_(maps), fight_(engagement, maps) {}

    // Brings the points to so many.
    void reach(std::size_t points) {
        KillBlock found = fight_.run({points_, points - points_});
        died_.insert(died_.end(), found.died.begin(), found.died.end());
        std::stable_sort(died_.begin(), died_.end(),
                         [](const KillSums& a, const KillSums& b) { return a.at < b.at; });
        add_moments(std::move(found.moments));
        points_ = points;
    }

    std::size_t points() const { return points_; }

    KillDistribution distribution() const {
        KillDistribution kills;
        kills.error = min_error();
        kills.pulled = engagement_.shooter.reaction;
        kills.first_shot = shots_.empty() ? kills.pulled : shots_.front().at - Time{};
        if (engagement_.melee != nullptr) {
            const MeleeAttackSpec& attack = engagement_.melee->attacks[engagement_.attack];
            kills.first_shot += attack.windup + attack.active / 2;
        }
        add_deaths(kills);
        kills.points = with_moments(std::move(kills.points));
        kills.in_reach = maps_.place.in_reach && !maps_.shots->outcomes().empty();
        return kills;
    }

  private:
    // The moments of an engagement are always the same; the block that ends sooner has nobody left to hurt.
    void add_moments(std::vector<KillMoment>&& found) {
        std::vector<KillMoment>& longer = found.size() > moments_.size() ? found : moments_;
        const std::vector<KillMoment>& shorter = found.size() > moments_.size() ? moments_ : found;
        for (std::size_t index = 0; index < longer.size() && !shorter.empty(); ++index) {
            const KillMoment& other = shorter[std::min(index, shorter.size() - 1)];
            longer[index].health += other.health;
            longer[index].unhurt += other.unhurt;
        }
        moments_ = std::vector<KillMoment>(longer);
    }

    // The half-width of the interval that holds 99 % of cases, from the sums of the parts. Student's (1908)
    // for so many independent parts would be 3.5 deviations of their mean; the whole lattice is better than
    // that, and of 1,700 engagements 99 % are within 1.8.
    double error_of(const std::array<double, lattice_parts>& sums) const {
        constexpr double deviations = 2.0;
        constexpr auto parts = static_cast<double>(lattice_parts);
        const double each = static_cast<double>(points_) / parts;
        double mean = 0.0;
        for (const double sum : sums) {
            mean += sum / each / parts;
        }
        double squares = 0.0;
        for (const double sum : sums) {
            squares += (sum / each - mean) * (sum / each - mean);
        }
        return deviations * std::sqrt(squares / (parts - 1.0) / parts);
    }

    // A value that all points miss, or all meet, may still be there: half a point, unless there is only one.
    double min_error() const {
        const ShooterSpec& shooter = engagement_.shooter;
        const bool varies = shooter.error > 0.0 || shooter.min_error > 0.0 ||
                            (engagement_.target_speed > 0.0 && shooter.tracking > Duration{});
        return varies && !maps_.shots->outcomes().empty() ? 0.5 / static_cast<double>(points()) : 0.0;
    }

    void add_deaths(KillDistribution& kills) const {
        const auto all = static_cast<double>(points_);
        std::array<double, lattice_parts> sums{};
        double killed = 0.0;
        for (std::size_t index = 0; index < died_.size(); ++index) {
            const KillSums& one = died_[index];
            for (std::size_t part = 0; part < lattice_parts; ++part) {
                const std::size_t first = one.block.first + part * one.block.count / lattice_parts;
                sums[first * lattice_parts / points_] += one.of_parts[part];
            }
            const double mass = one.all() / all;
            killed += mass;
            if (index + 1 == died_.size() || died_[index + 1].at > one.at) { // the blocks are complete
                kills.error = std::max(kills.error, error_of(sums) + min_error());
            }
            if (kills.points.empty() || kills.points.back().at != one.at - Time{}) {
                kills.points.push_back({one.at - Time{}});
            }
            kills.points.back().killed = std::min(1.0, killed);
            const std::size_t shot = std::min(one.shot, shots_.empty() ? 0 : shots_.size() - 1);
            kills.shots.resize(std::max(kills.shots.size(), shot + 1), 0.0);
            kills.shots[shot] += mass;
            const bool blade = engagement_.melee != nullptr;
            const Time fired = blade || shots_.empty() ? one.at : std::min(one.at, shots_[shot].at);
            kills.kills.push_back({fired - Time{}, one.at - Time{}, mass});
            if (!shots_.empty() && shots_[shot].reloads == 0) {
                kills.in_magazine = std::min(1.0, kills.in_magazine + mass);
            }
        }
    }

    std::vector<KillPoint> with_moments(std::vector<KillPoint> points) const {
        const auto all = static_cast<double>(points_);
        for (const KillMoment& moment : moments_) {
            points.push_back({moment.at - Time{}, -1.0, moment.health / all, 1.0 - moment.unhurt / all});
        }
        std::stable_sort(points.begin(), points.end(),
                         [](const KillPoint& a, const KillPoint& b) { return a.at < b.at; });
        std::vector<KillPoint> merged;
        KillPoint now{{}, 0.0, 1.0, 0.0};
        for (const KillPoint& point : points) {
            now.at = point.at;
            now.killed = std::max(now.killed, point.killed);
            if (point.killed < 0.0) { // one moment
                now.health = point.health;
                now.hit = point.hit;
            }
            if (merged.empty() || merged.back().at != point.at) {
                merged.emplace_back();
            }
            merged.back() = now;
        }
        return merged;
    }

    const Engagement& engagement_;
    const EngagementMaps& maps_;
    KillFight fight_;
    const std::vector<PlannedShot>& shots_ = fight_.shots();
    std::size_t points_ = 0;
    std::vector<KillSums> died_{}; // in order of time
    std::vector<KillMoment> moments_{};
};

} // namespace

std::vector<KillDistribution> kill_distributions(std::span<const Engagement> engagements,
                                                 const DistributionSettings& settings, SharedMaps& maps) {
    assert(std::has_single_bit(settings.points) && settings.points >= min_distribution_points &&
           settings.points <= max_distribution_points);
    std::vector<KillDistribution> all;
    all.reserve(engagements.size());
    for (const Engagement& engagement : engagements) {
        const EngagementMaps found = maps.maps_of(engagement);
        KillTotal total{engagement, found};
        const bool chooses = settings.error > 0.0;
        total.reach(chooses ? std::min(first_points, settings.points) : settings.points);
        all.push_back(total.distribution());
        while (chooses && all.back().error > settings.error && total.points() < settings.points) {
            total.reach(2 * total.points());
            all.back() = total.distribution();
        }
        all.back().evaluated = total.points();
    }
    return all;
}

} // namespace detail

std::vector<KillDistribution> kill_distributions(std::span<const Engagement> engagements,
                                                 const DistributionSettings& settings) {
    detail::SharedMaps maps;
    return detail::kill_distributions(engagements, settings, maps);
}

KillDistribution kill_distribution(const Engagement& engagement, const DistributionSettings& settings) {
    return std::move(kill_distributions({&engagement, 1}, settings).front());
}

std::vector<KillPoint> time_from_first_hit(const Engagement& engagement,
                                           const DistributionSettings& settings) {
    detail::SharedMaps maps;
    const detail::EngagementMaps found = maps.maps_of(engagement);
    const std::size_t points =
        settings.error > 0.0 ? std::min<std::size_t>(settings.points, 256) : settings.points;
    return detail::KillFight{engagement, found}.from_first_hit({0, points});
}

} // namespace avrek
