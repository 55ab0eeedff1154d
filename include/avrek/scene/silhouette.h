#pragma once
#include <avrek/core/shapes.h>

#include <vector>

namespace avrek {

/// A point of a board, in metres from its centre, as its viewer sees it.
struct BoardPoint {
    Metres right = 0.0;
    Metres up = 0.0;
};

/// A flat board that faces an eye: the plane through `centre` normal to the line from `eye`.
struct Board {
    Vector3 eye = Vector3::Zero();
    Vector3 centre = world_forward(); ///< not the eye
};

/// Returns where the line from the board's eye along `direction` crosses the board. Precondition (asserted):
/// the direction leads towards the board.
BoardPoint on_board(const Board& board, const Vector3& direction);

/// Returns the outline of a bounded shape on the board, as the eye sees it in perspective: a ray from the eye
/// hits the shape when it crosses the board within this outline, up to the chords of round parts (`corners`
/// per full turn). A convex polygon, counter-clockwise. Empty for a half-space, and for a shape that reaches
/// behind the eye.
std::vector<BoardPoint> silhouette(const Board& board, const Pose& pose, const Shape& shape,
                                   int corners = 48);

} // namespace avrek
