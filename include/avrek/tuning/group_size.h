#pragma once
#include <avrek/scene/silhouette.h>

#include <span>

namespace avrek {

/// How close together shots lie on a board.
struct GroupSize {
    BoardPoint centre{};    ///< the mean of the points
    Metres off_aim = 0.0;   ///< from the board's centre, which is the aim, to there
    Metres radius_50 = 0.0; ///< of the circle about `centre` that holds half of the points
    Metres radius_90 = 0.0; ///< of the one that holds 90 % of them
};

/// The group of `points`; all zero for none. A circle that holds a share p of n points reaches to the point
/// that is the ceil(p n)-th nearest.
GroupSize group_size(std::span<const BoardPoint> points);

} // namespace avrek
