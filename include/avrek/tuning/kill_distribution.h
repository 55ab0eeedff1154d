#pragma once
#include <avrek/tuning/engagement.h>
#include <avrek/tuning/time_base.h>

#include <optional>
#include <span>
#include <vector>

/// The distribution of the time to kill, computed rather than sampled.
///
/// The shooter's error, drawn once per engagement, is integrated over a low-discrepancy lattice. Given the
/// error, shots are independent. The share of each shot's cone on each region comes from a map of the target
/// as the muzzle sees it, and its effect from take_hit() on every state that the target can be in. Only
/// recoil jitter is drawn at random.
///
/// KillDistribution::error is estimated from the eighths of the lattice, and holds in 99 of 100 cases. It
/// covers the integral, not the maps, which are exact to a few thousandths.
///
///     const auto engagement = engagement_of(arsenal, "thorn-rifle", "gardener", "crew", 15.0);
///     const KillDistribution kills = kill_distribution(*engagement);
///     const std::optional<Duration> median = time_of_share(kills, 0.5);
namespace avrek {

/// The distribution at a time at which it changes.
struct KillPoint {
    Duration at{};       ///< since the target was seen
    double killed = 0.0; ///< chance that the target is dead
    double health = 0.0; ///< mean health as a share, 0 for the dead
    double hit = 0.0;    ///< chance that the target has been hit
};

/// One way in which the engagement ends in a death.
struct Kill {
    /// Time of the deadly shot, or of the blade's hit, since the target was seen.
    Duration fired{};
    Duration at{}; ///< time of the death
    double chance = 0.0;
};

/// The distribution of an engagement.
struct KillDistribution {
    Duration pulled{};               ///< first pull of the trigger, or start of the first swing
    Duration first_shot{};           ///< first shot, or middle of the first swing's active span
    std::vector<KillPoint> points{}; ///< in order of time
    std::vector<Kill> kills{};       ///< in order of time
    std::vector<double> shots{};     ///< [n]: chance that shot n + 1 kills, its conditions included
    double in_magazine = 0.0;        ///< chance to kill before the first reload
    double error = 0.0;              ///< maximum error of `killed`, in 99 of 100 cases
    std::size_t evaluated = 0;       ///< points of the integral
    bool in_reach = true;            ///< false: nothing that it fires gets there

    /// Returns the chance that the target dies up to the limit.
    double killed() const { return points.empty() ? 0.0 : points.back().killed; }
};

/// Limits of the number of integration points.
inline constexpr std::size_t min_distribution_points = 32;
/// Maximum number of integration points.
inline constexpr std::size_t max_distribution_points = 4096;

/// Settings of the integration.
struct DistributionSettings {
    /// Number of integration points, a power of two; with `error`, the maximum number.
    std::size_t points = 256;
    /// Maximum error, in (0, 1): the number of points doubles from 64 until KillDistribution::error is no
    /// larger. 0: exactly `points`.
    double error = 0.0;
};

/// Returns the chance that the target is dead at `at` since it was seen.
double killed_at(const KillDistribution& kills, Duration at);

/// Returns the start of times since `base`, since the target was seen. Precondition (asserted): not `hit`;
/// since_first_hit() gives its own distribution for that.
Duration begin_of(const KillDistribution& kills, TimeBase base);

/// Returns the time since `base` by which `share` of all engagements are over; none if that never happens.
std::optional<Duration> time_of_share(const KillDistribution& kills, double share,
                                      TimeBase base = TimeBase::pull);

/// Returns the mean time since `base` of the engagements that kill; none if none do.
std::optional<Duration> mean_time(const KillDistribution& kills, TimeBase base = TimeBase::pull);

/// Returns the mean number of shots of the engagements that kill; 0 if none do.
double mean_shots(const KillDistribution& kills);

/// Computes the distribution of an engagement. Preconditions (asserted): as for place_of(); the posture is
/// that before the first shot; points as stated.
KillDistribution kill_distribution(const Engagement& engagement, const DistributionSettings& settings = {});

/// Computes many distributions; work that several share is done once.
std::vector<KillDistribution> kill_distributions(std::span<const Engagement> engagements,
                                                 const DistributionSettings& settings = {});

/// Returns the distribution of the time from the first hit to the death, which the victim experiences: each
/// time with its chance, in order. Takes about ten times as long as kill_distribution().
std::vector<KillPoint> time_from_first_hit(const Engagement& engagement,
                                           const DistributionSettings& settings = {});

/// Returns `kills`, the distribution of `engagement`, with times from the first hit, for every base. Takes
/// about ten times as long as kill_distribution().
KillDistribution since_first_hit(const KillDistribution& kills, const Engagement& engagement,
                                 const DistributionSettings& settings = {});

} // namespace avrek
