#pragma once
#include <session/geometry.h>
#include <session/session.h>

#include <vector>

/// Triangles of everything that moves or passes, for one picture.
namespace avrek::playground {

/// Triangles of one picture.
struct PassingCorners {
    std::vector<Corner> solid{};
    std::vector<Corner> clear{}; ///< drawn after all that is solid
};

/// Adds bodies with the weapons in their hands, blades and conditions. `regions` colours the hit regions.
void add_bodies(PassingCorners& to, const Seen& seen, const Camera& camera, bool regions);
/// Adds marks, tracers, flashes and projectiles; with `paths` the whole paths of shots.
void add_traces(PassingCorners& to, const Seen& seen, const Camera& camera, bool paths);
/// Adds what the switches of a session show besides: sight, ghosts, lines of explosions, the board.
void add_shown(PassingCorners& to, const Session& session, const Seen& seen, const Camera& camera);
/// Adds the weapon in the player's own hands, and its blade.
void add_own_hands(PassingCorners& to, const Seen& seen, const Camera& camera);

} // namespace avrek::playground
