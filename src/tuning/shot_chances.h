#pragma once
#include "aim_points.h"
#include "shot_map.h"
#include "victim.h"

#include <array>
#include <cstdint>
#include <memory>
#include <span>
#include <vector>

/// The chance of each outcome of each shot, for each point of the integral over the shooter's error.
namespace avrek::detail {

/// The maps of an engagement; several can share them.
struct EngagementMaps {
    EngagementPlace place;
    std::shared_ptr<const ShotMap> shots;
    std::shared_ptr<const ShotMap> sight;
};

/// Blows of one shot that arrive at the same time.
struct Arrival {
    Duration delay{};
    std::vector<std::uint32_t> blows{}; ///< places in ShotChances::blows()
};

class ShotChances {
  public:
    ShotChances(const Engagement& engagement, const EngagementMaps& maps);

    /// Goes to other points, before their first shot.
    void begin(const AimBlock& points);

    const std::vector<PlannedShot>& shots() const { return shots_; }
    std::size_t pellets() const { return pellets_; }
    const std::vector<VictimBlow>& blows() const { return blows_; }
    /// In order of their delay; of a shot at most one blow of all of them comes.
    const std::vector<Arrival>& arrivals() const { return arrivals_; }

    /// The chances of the blows of one pellet: [blow][point]. `wanted` says for which points.
    void chances_of(std::size_t shot, std::size_t pellet, const std::vector<bool>& wanted,
                    std::vector<float>& chances);

  private:
    struct Spot {
        MapPoint centre{};
        double phase = 0.0; ///< see ShotMap::add_shares()
        bool ahead = false;
    };
    void make_blows();
    void find_spots(std::size_t shot, const std::vector<bool>& wanted);
    void place_looks(const LookingShooter& shooter, LookLanes& looks) const;
    void find_views(std::size_t shot);
    void kick(std::size_t shot);

    const Engagement& engagement_;
    const EngagementMaps& maps_;
    AimBlock block_{};
    std::size_t points_ = 0;
    std::vector<PlannedShot> shots_;
    std::size_t pellets_ = 1;
    struct Phases {
        double yaw_sine;
        double yaw_cosine;
        double pitch_sine;
        double pitch_cosine;
    };
    std::vector<AimDraw> draws_{};
    std::vector<Phases> phases_{};
    std::vector<LookLanes> looks_{}; ///< by eight points
    LookFrame shots_frame_{};
    LookFrame sight_frame_{};
    std::vector<VictimBlow> blows_{};
    std::vector<std::vector<std::uint32_t>> blow_of_{}; ///< by power and outcome; `no_blow` for none
    std::vector<std::uint32_t> power_of_{};             ///< by shot: index in blow_of_
    std::vector<Arrival> arrivals_{};
    std::vector<Spot> spots_{}; ///< by point, for the shot `spotted_`
    std::size_t spotted_ = static_cast<std::size_t>(-1);
    std::vector<Look> jitter_{}; ///< by point: jitter left in its view
    std::vector<Look> returning_{};
    std::vector<std::array<std::uint32_t, 4>> words_{}; ///< by point: random, for the jitter of four shots
    std::size_t kicked_ = 0;                            ///< shots whose jitter counts
    std::vector<double> shares_{};
};

} // namespace avrek::detail
