#pragma once
#include "point_lanes.h"
#include <avrek/tuning/engagement.h>

#include <cstdint>
#include <limits>
#include <optional>
#include <span>
#include <vector>

/// Outcome of a shot for each direction that it can leave in: the field over which spread and error are
/// integrated.
namespace avrek::detail {

/// One way in which a shot, or a swing, meets the target.
struct MapHit {
    RegionId region{};
    Metres flown = 0.0;
    double power = 1.0; ///< share of the shot's that is left
    bool blast = false; ///< an explosion: `flown` is from its centre
    double exposure = 1.0;
};

/// All that comes of a shot in one direction.
struct MapOutcome {
    std::vector<MapHit> hits{};
    Duration delay{}; ///< from the shot, or the begin of the swing, to the first of them
};

/// A point of the plane at unit distance along the engagement's line: to the right, and up.
struct MapPoint {
    double right = 0.0;
    double up = 0.0;
};

/// The directions, in rows from below to above, each cut into stretches of one outcome.
class ShotMap {
  public:
    /// Where a line crosses the map's plane, which is taken to be as far away as the target; none when it
    /// leads backwards. `shift` is how far it begins from where the map is seen from.
    std::optional<MapPoint> point_of(const Vector3& direction, const Vector3& shift = Vector3::Zero()) const;

    const std::vector<MapOutcome>& outcomes() const { return outcomes_; }

    /// Returns the outcome at a point; null for none.
    const MapOutcome* at(const MapPoint& point) const;

    /// Adds to `shares`, one for each outcome, `weight` times the share of the disc about `centre` that leads
    /// to it; for a radius of 0 that is one of them or none. `phase`, in [0, 1), places the rows that a disc
    /// is cut into: over even phases the error of the rows evens out.
    void add_shares(const MapPoint& centre, double radius, double weight, double phase,
                    std::span<double> shares) const;
    /// Returns the map's frame, for looks that begin about `from`.
    LookFrame frame_from(const Vector3& from) const;

  private:
    friend class MapMaker;
    struct Stretch {
        double from;
        double to;
        std::uint32_t outcome;
    };
    struct Row {
        std::uint32_t begin;
        std::uint32_t end;
        double from;
        double to;
    };
    void lay_out_slots();
    void add_slots(const DiscChords& chords, std::span<double> shares) const;
    void add_stretches(const DiscChords& chords, std::span<double> shares) const;
    Vector3 forward_ = world_forward();
    Vector3 left_ = world_left();
    Vector3 up_ = world_up();
    Metres depth_ = 1.0;
    double low_ = 0.0;
    double row_height_ = 1.0;
    double from_ = std::numeric_limits<double>::infinity(); // the least of all stretches
    double to_ = -std::numeric_limits<double>::infinity();
    std::vector<Row> rows_{};
    std::vector<Stretch> stretches_{};
    std::size_t groups_ = 0;                     // eights of slots of a row; 0: too many outcomes for slots
    std::vector<SlotEnds> slots_{};              // by row and group
    std::vector<std::uint32_t> slot_outcomes_{}; // by slot
    std::vector<MapOutcome> outcomes_{};
};

/// Maps the view of the shooter's eye around its look without error: distances are from the eye.
ShotMap map_of_sight(const Engagement& engagement, const EngagementPlace& place);

/// The map of an engagement: of silhouettes for what arrives at once; for all else found out by firing or
/// striking in a fine grid of directions.
ShotMap map_of(const Engagement& engagement, const EngagementPlace& place);

} // namespace avrek::detail
