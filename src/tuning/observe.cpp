#include <avrek/tuning/observe.h>

#include <algorithm>
#include <cassert>
#include <cmath>
#include <map>

namespace avrek {

namespace {

// The number of standard deviations that a normal variable keeps within with this chance, by halving.
double deviations_of(double confidence) {
    double low = 0.0;
    double high = 12.0;
    for (int round = 0; round < 80; ++round) {
        const double middle = 0.5 * (low + high);
        (std::erf(middle / std::sqrt(2.0)) < confidence ? low : high) = middle;
    }
    return 0.5 * (low + high);
}

// The interval of the median: the ranks n/2 -+ z sqrt(n)/2 (normal approximation of the binomial).
std::pair<double, double> median_interval(const std::vector<double>& ordered, double confidence) {
    const auto count = static_cast<double>(ordered.size());
    const double half = 0.5 * deviations_of(confidence) * std::sqrt(count);
    const double low = std::floor(0.5 * count - half);
    const double high = std::ceil(0.5 * count + half);
    if (ordered.size() < 6) {
        return {ordered.front(), ordered.back()};
    }
    const auto at = [&](double rank) {
        return ordered[static_cast<std::size_t>(std::clamp(rank, 0.0, count - 1.0))];
    };
    return {at(low), at(high)};
}

std::string most_frequent(const std::map<std::string, std::size_t>& counts) {
    const auto most = std::max_element(counts.begin(), counts.end(),
                                       [](const auto& a, const auto& b) { return a.second < b.second; });
    return most == counts.end() ? std::string{} : most->first;
}

std::optional<Duration> median_of(const std::vector<KillPoint>& points) {
    const auto half = std::find_if(points.begin(), points.end(),
                                   [](const KillPoint& point) { return point.killed >= 0.5; });
    return half == points.end() ? std::nullopt : std::optional{half->at};
}

} // namespace

std::vector<ObservedLine> observe(const Arsenal& arsenal, std::span<const ObservedKill> kills,
                                  const ObserveSetup& setup) {
    assert(setup.bands.size() >= 2 && std::is_sorted(setup.bands.begin(), setup.bands.end()));
    struct Band {
        std::vector<double> seconds{};
        double distances = 0.0;
        std::map<std::string, std::size_t> shooters{};
        std::map<std::string, std::size_t> bodies{};
    };
    std::map<std::pair<std::string, std::size_t>, Band> bands;
    for (const ObservedKill& kill : kills) {
        const auto above = std::upper_bound(setup.bands.begin(), setup.bands.end(), kill.distance);
        if (above == setup.bands.begin() || above == setup.bands.end()) {
            continue;
        }
        Band& band = bands[{kill.weapon, static_cast<std::size_t>(above - setup.bands.begin()) - 1}];
        band.seconds.push_back(kill.seconds);
        band.distances += kill.distance;
        ++band.shooters[kill.shooter];
        ++band.bodies[kill.body];
    }
    const double chance_of_error = 1.0 - setup.confidence;
    const double corrected = 1.0 - chance_of_error / std::max<double>(1.0, static_cast<double>(bands.size()));
    std::vector<ObservedLine> lines;
    for (auto& [key, band] : bands) {
        std::sort(band.seconds.begin(), band.seconds.end());
        ObservedLine& line = lines.emplace_back();
        line.weapon = key.first;
        line.from = setup.bands[key.second];
        line.to = setup.bands[key.second + 1];
        line.kills = band.seconds.size();
        line.distance = band.distances / static_cast<double>(line.kills);
        line.shooter = setup.shooter.empty() ? most_frequent(band.shooters) : setup.shooter;
        line.body = most_frequent(band.bodies);
        line.median = from_seconds(band.seconds[band.seconds.size() / 2]);
        const auto [low, high] = median_interval(band.seconds, setup.confidence);
        line.low = from_seconds(low);
        line.high = from_seconds(high);
        auto engagement =
            engagement_of(arsenal, line.weapon, line.shooter, line.body, std::max(0.1, line.distance));
        if (!engagement) {
            continue;
        }
        engagement->target_speed = setup.target_speed;
        line.computed = median_of(time_from_first_hit(*engagement, setup.settings));
        const auto [least, most] = median_interval(band.seconds, corrected);
        const double value = line.computed ? to_seconds(*line.computed) : 0.0;
        constexpr double one_shot = 1e-3; // times of shots are exact, those of telemetry are not quite
        line.differs =
            line.computed && line.kills >= 6 && (value < least - one_shot || value > most + one_shot);
    }
    return lines;
}

} // namespace avrek
