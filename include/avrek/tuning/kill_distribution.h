#pragma once
#include <avrek/tuning/engagement.h>
#include <avrek/tuning/time_base.h>

#include <optional>
#include <span>
#include <vector>

/// The whole distribution of the time to kill, computed and not sampled.
///
/// What an engagement draws once, the shooter's error, is integrated over a lattice of low discrepancy; given
/// that, shots are independent. For each of them the share of its cone that leads to each region follows from
/// the map of the target as the muzzle sees it, and what comes of that from take_hit() on every state that
/// the target can be in. Nothing is drawn at random, except for the jitter of recoil.
///
/// KillDistribution::error comes from how far the eighths of the lattice are apart, and holds in 99 of 100
/// cases. It is about the integral, not about the maps, which are exact to a few thousandths.
namespace avrek {

/// The distribution at one moment at which it changes.
struct KillPoint {
    Duration at{};       ///< since the target was seen
    double killed = 0.0; ///< chance that it is dead by then
    double health = 0.0; ///< mean of the health that it has then, 0 of the dead counted, as a share
    double hit = 0.0;    ///< chance that it has been hurt by then
};

/// One way in which it ends in a death.
struct Kill {
    Duration fired{}; ///< when the deadly shot left, since the target was seen; of a blade, when it struck
    Duration at{};    ///< when the target died of it
    double chance = 0.0;
};

/// What becomes of an engagement.
struct KillDistribution {
    Duration pulled{}; ///< first pull of the trigger, or begin of the first swing, since the target was seen
    Duration first_shot{}; ///< since the target was seen; of a blade, the middle of its first active span
    std::vector<KillPoint> points{}; ///< in order of time
    std::vector<Kill> kills{};       ///< in order of time
    std::vector<double> shots{};     ///< [n]: chance that shot n + 1 kills, conditions after it counted
    double in_magazine = 0.0;        ///< chance to kill before the first reload
    double error = 0.0;              ///< of `killed`, at any time: it is larger in one of a hundred cases
    std::size_t evaluated = 0;       ///< points of the integral
    bool in_reach = true;            ///< false: nothing that it fires gets there

    /// Chance that the target dies at all, up to the limit.
    double killed() const { return points.empty() ? 0.0 : points.back().killed; }
};

/// The points of the integral over the shooter's error that there can be.
inline constexpr std::size_t min_distribution_points = 32;
inline constexpr std::size_t max_distribution_points = 4096;

struct DistributionSettings {
    /// Points of the integral over the shooter's error: a power of two. With `error`, no more than these.
    std::size_t points = 256;
    /// The error that is allowed, in (0, 1): points are doubled, from 64 on, until KillDistribution::error is
    /// no larger. 0: `points` it is.
    double error = 0.0;
};

/// Chance that the target is dead at `at` since it was seen.
double killed_at(const KillDistribution& kills, Duration at);

/// When times since `base` begin, since the target was seen. Precondition (asserted): not `hit`, for which
/// since_first_hit() gives a distribution of its own.
Duration begin_of(const KillDistribution& kills, TimeBase base);

/// The time since `base` by which `share` of all engagements are over; none if so many never are.
std::optional<Duration> time_of_share(const KillDistribution& kills, double share,
                                      TimeBase base = TimeBase::pull);

/// The mean time since `base`, of the engagements that kill; none if none do.
std::optional<Duration> mean_time(const KillDistribution& kills, TimeBase base = TimeBase::pull);

/// The mean number of shots, of those that kill; 0 if none do.
double mean_shots(const KillDistribution& kills);

/// The distribution of an engagement. Preconditions (asserted): as for place_of(); the posture's speed and
/// stance are as they are before the first shot; points as said.
KillDistribution kill_distribution(const Engagement& engagement, const DistributionSettings& settings = {});

/// Those of many engagements; what several of them share is made once.
std::vector<KillDistribution> kill_distributions(std::span<const Engagement> engagements,
                                                 const DistributionSettings& settings = {});

/// How long a victim knows: from the first hit to its death, of those who die; of each time its chance, in
/// order. Takes some ten times as long as kill_distribution().
std::vector<KillPoint> time_from_first_hit(const Engagement& engagement,
                                           const DistributionSettings& settings = {});

/// `kills`, the distribution of `engagement`, with times that begin at the first hit, whatever base is asked
/// for. Takes some ten times as long as kill_distribution().
KillDistribution since_first_hit(const KillDistribution& kills, const Engagement& engagement,
                                 const DistributionSettings& settings = {});

} // namespace avrek
