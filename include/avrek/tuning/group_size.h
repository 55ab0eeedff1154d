#pragma once
#include <avrek/scene/silhouette.h>

#include <span>

namespace avrek {

/// Group of shots on a board.
struct GroupSize {
    BoardPoint centre{};    ///< mean of the points
    Metres off_aim = 0.0;   ///< from the aim, the board's centre, to `centre`
    Metres radius_50 = 0.0; ///< radius about `centre` that holds 50 % of the points
    Metres radius_90 = 0.0; ///< radius about `centre` that holds 90 % of the points
};

/// Returns the group of `points`; all zero for none. A circle with a share p of n points reaches to the
/// ceil(p n)-th nearest point.
GroupSize group_size(std::span<const BoardPoint> points);

} // namespace avrek
