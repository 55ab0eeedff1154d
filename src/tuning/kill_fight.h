#pragma once
#include "shot_chances.h"
#include "victim.h"
#include <avrek/tuning/kill_distribution.h>

#include <array>
#include <cstdint>
#include <numeric>
#include <span>
#include <unordered_map>
#include <vector>

namespace avrek::detail {

/// Deaths at one moment: the chance of them, summed over the points of each eighth of a block.
struct KillSums {
    Time at{};
    std::size_t shot = 0; ///< that did it
    AimBlock block{};
    std::array<double, lattice_parts> of_parts{};

    double all() const { return std::accumulate(of_parts.begin(), of_parts.end(), 0.0); }
};

/// State of the target at one moment, summed over all points.
struct KillMoment {
    Time at{};
    double health = 0.0; ///< as a share
    double unhurt = 0.0; ///< chance of it
};

/// Result of a block of points.
struct KillBlock {
    std::vector<KillSums> died{};      ///< in no order
    std::vector<KillMoment> moments{}; ///< in order of time; those after the last one change nothing
};

/// An engagement for blocks of points of the integral over the shooter's error: the chance of each state of
/// the target at each point, shot by shot.
class KillFight {
  public:
    KillFight(const Engagement& engagement, const EngagementMaps& maps);

    const std::vector<PlannedShot>& shots() const { return chances_.shots(); }
    /// Returns the deaths and moments of the target at these points.
    KillBlock run(const AimBlock& points);
    /// The distribution of the time from the first hit to the death, of those who die.
    std::vector<KillPoint> from_first_hit(const AimBlock& points);

  private:
    // Part of a shot that arrives at one moment.
    struct Due {
        Time at{};
        std::size_t shot = 0;
        std::size_t arrival = 0;
    };
    // A state of the target, with the chance of it for each point.
    struct Cell {
        std::uint32_t state = 0;
        std::uint32_t landed = 0; // bit n: of the pending shot n something has come
        std::vector<float> chances{};
    };
    using Cells = std::vector<Cell>;
    using Deaths = std::vector<KillSums>;

    void begin(const AimBlock& points);
    Cells unhurt() const;
    void drop_empty(Cells& cells);
    const std::vector<std::vector<float>>& of_shot(std::size_t shot, const std::vector<bool>& wanted);
    void die(const std::vector<float>& chances, Time at, std::size_t shot, Deaths& died) const;
    void pass(Cells& cells, Time at, std::size_t shot, Deaths& died);
    void add(Cells& cells, std::uint32_t state, std::uint32_t landed, std::vector<float>&& chances);
    Cell& cell_of(Cells& cells, std::uint32_t state, std::uint32_t landed);
    void step(Cells& cells, const Due& due, const std::vector<bool>& wanted, Deaths& died);
    std::vector<float> rest_of(const std::vector<float>& chances, std::span<const std::uint32_t> blows) const;
    void strike_in_place(Cells& cells, const Due& due, const std::vector<float>& chances, Deaths& died);
    void strike(Cells& cells, const Due& due, const std::vector<float>& chances, std::uint32_t bit,
                Deaths& died);

    const PointLanes& lanes_ = point_lanes();
    AimBlock block_{};
    std::size_t points_ = 0;
    ShotChances chances_;
    Victim victim_;
    Time limit_;
    std::vector<Due> dues_{};
    std::vector<std::vector<std::vector<float>>> of_shots_{};
    std::vector<bool> all_wanted_{};
    std::unordered_map<std::uint64_t, std::size_t> index_{};
};

} // namespace avrek::detail
