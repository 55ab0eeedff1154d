#include <avrek/tuning/kill_distribution.h>

#include <algorithm>
#include <cassert>

namespace avrek {

double killed_at(const KillDistribution& kills, Duration at) {
    const auto after =
        std::upper_bound(kills.points.begin(), kills.points.end(), at,
                         [](Duration time, const KillPoint& point) { return time < point.at; });
    return after == kills.points.begin() ? 0.0 : (after - 1)->killed;
}

Duration begin_of(const KillDistribution& kills, TimeBase base) {
    assert(base != TimeBase::hit || kills.first_shot == Duration{});
    switch (base) {
    case TimeBase::pull:
        return kills.pulled;
    case TimeBase::shot:
        return kills.first_shot;
    case TimeBase::hit:
    case TimeBase::sight:
        break;
    }
    return {};
}

std::optional<Duration> time_of_share(const KillDistribution& kills, double share, TimeBase base) {
    for (const KillPoint& point : kills.points) {
        if (point.killed >= share) {
            return point.at - begin_of(kills, base);
        }
    }
    return std::nullopt;
}

std::optional<Duration> mean_time(const KillDistribution& kills, TimeBase base) {
    if (kills.killed() <= 0.0) {
        return std::nullopt;
    }
    double sum = 0.0;
    double before = 0.0;
    for (const KillPoint& point : kills.points) {
        sum += (point.killed - before) * to_seconds(point.at - begin_of(kills, base));
        before = point.killed;
    }
    return from_seconds(sum / kills.killed());
}

KillDistribution since_first_hit(const KillDistribution& kills, const Engagement& engagement,
                                 const DistributionSettings& settings) {
    KillDistribution since = kills;
    since.points = time_from_first_hit(engagement, settings);
    for (KillPoint& point : since.points) {
        point.killed *= kills.killed();
    }
    since.pulled = since.first_shot = {};
    return since;
}

double mean_shots(const KillDistribution& kills) {
    double sum = 0.0;
    double all = 0.0;
    for (std::size_t shot = 0; shot < kills.shots.size(); ++shot) {
        sum += static_cast<double>(shot + 1) * kills.shots[shot];
        all += kills.shots[shot];
    }
    return all > 0.0 ? sum / all : 0.0;
}

} // namespace avrek
