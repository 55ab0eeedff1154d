#pragma once
#include "shot_map.h"

namespace avrek::detail {

/// Fills a map row by row, each from left to right.
class MapMaker {
  public:
    /// A target that is `depth` away along `line`.
    MapMaker(const Vector3& line, Metres depth);

    void set_rows(double low, double high, std::size_t count);
    std::size_t rows() const { return map_.rows_.size(); }
    double middle_of(std::size_t row) const;
    Vector3 direction_at(const MapPoint& point) const;
    std::uint32_t outcome(const MapOutcome& outcome);
    MapOutcome& outcome_at(std::uint32_t index) { return map_.outcomes_[index]; }
    void begin_row(std::size_t row);
    void add(double from, double to, std::uint32_t outcome);
    const ShotMap& map() const { return map_; }
    ShotMap take();

  private:
    ShotMap map_;
    std::size_t row_ = 0;
};

/// From where silhouettes are seen, and the middle of the map.
struct Viewpoint {
    Vector3 from;
    Vector3 line;
};
ShotMap map_of_silhouettes(const Engagement& engagement, const Viewpoint& view, const Pose& target);
ShotMap map_of_sprays(const Engagement& engagement, const EngagementPlace& place);
ShotMap map_of_flights(const Engagement& engagement, const EngagementPlace& place);
ShotMap map_of_swings(const Engagement& engagement, const EngagementPlace& place);

} // namespace avrek::detail
