#pragma once
#include "graphics.h"

#include <session/session.h>

/// The fight, drawn from its events and readouts.
namespace avrek::playground {

/// Draws the world of a session.
class WorldView {
  public:
    /// Uploads the level.
    WorldView(Painter& painter, const GameData& data);
    /// Draws with a camera in the upper left of a window of this height, in pixels.
    void draw(const Session& session, const Camera& camera, int height);

  private:
    void draw_level(const Camera& camera, bool clear);
    void add_bodies(const Session& session, const Camera& camera);
    void add_sight(const Session& session, const Camera& camera);
    void add_things(const Session& session, const Camera& camera);

    Painter& painter_;
    LevelGeometry level_;
    std::size_t kept_ = 0;
    std::vector<Corner> solid_{}; ///< this picture alone
    std::vector<Corner> clear_{};
    std::vector<ProjectileHandle> handles_{};
    std::vector<std::pair<double, const Chunk*>> seen_{}; ///< by distance
};

/// Returns the camera of a session's view.
Camera camera_of(const Session& session, double width, double height);

} // namespace avrek::playground
