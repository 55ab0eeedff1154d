#pragma once
#include "body_moving.h"

namespace avrek::detail {

/// Takes combatants into a fight, and out of it, between two ticks.
class Roster {
  public:
    Roster(Fight& fight, BodyMoving& bodies) : fight_(fight), bodies_(bodies) {}

    /// Adds a combatant at `at`. Changes nothing and says why if it cannot.
    Outcome enter(const Entrant& entrant, Time at);
    /// Removes a combatant without a death. Returns false if it is not there.
    bool leave(BodyId id);

  private:
    Fight& fight_;
    BodyMoving& bodies_;
};

} // namespace avrek::detail
