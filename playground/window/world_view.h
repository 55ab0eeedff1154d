#pragma once
#include "graphics.h"
#include "things.h"

#include <session/session.h>

#include <utility>
#include <vector>

/// The fight, drawn from its events and readouts.
namespace avrek::playground {

/// Draws the world of a session.
class WorldView {
  public:
    /// Uploads the level.
    WorldView(Painter& painter, const GameData& data);
    bool draws_all = false; ///< the whole level in full detail, for comparison
    double coarser = 1.0;   ///< see detail_of()
    /// Draws what a player sees into a part of the window.
    void draw(const Session& session, const Seen& seen, const Camera& camera, const Frame& frame);

  private:
    void draw_level(const Camera& camera, bool clear);

    Painter& painter_;
    LevelGeometry level_;
    std::size_t kept_ = 0;
    PassingCorners passing_{};
    std::vector<std::pair<double, const Chunk*>> seen_{}; ///< chunks by distance
};

/// Returns the camera of a player's view.
Camera camera_of(const Seen& seen, double width, double height);

} // namespace avrek::playground
