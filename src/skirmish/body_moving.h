#pragma once
#include "fight.h"

#include <span>
#include <vector>

namespace avrek::detail {

/// Moves and places the bodies of a tick.
class BodyMoving {
  public:
    explicit BodyMoving(Fight& fight) : fight_(fight) {}

    /// Moves every body: as the game says, or as the built-in locomotion does.
    void move(std::span<const BodyUpdate> updates);
    /// Puts a combatant where a life begins: a spawn point of its own or of its team, at random among those
    /// that no foe is near and nobody stands on; without any it stays where it was. `first`: its first life.
    void place(Fighter& fighter, bool first);

  private:
    void walk(Fighter& fighter, const Combatant& who);
    void update_body(Fighter& fighter, const Combatant& who, const BodyUpdate* update);

    Fight& fight_;
    std::vector<const BodyUpdate*> updates_{}; // by fighter; null: none
    PoseRoom room_{};                          // large, so it is made once
};

} // namespace avrek::detail
