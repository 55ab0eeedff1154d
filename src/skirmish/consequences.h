#pragma once
#include "weapon_planning.h"

namespace avrek::detail {

/// Takes in what the match has told: who may do what, who is pushed, who is back.
class Consequences {
  public:
    Consequences(Fight& fight, WeaponPlanning& planning) : fight_(fight), planning_(planning) {}

    /// Begins a tick.
    void begin() { applied_ = 0; }
    /// Applies the events since the last call.
    void apply();

  private:
    void apply(const Event& event, std::size_t index);
    void begin_life(std::size_t index);
    void push(std::size_t index, const Vector3& push);
    void interrupt(std::size_t index, Time at, Vector3 push_of_it);
    void cancel_swing(Fighter& fighter, Time at);

    Fight& fight_;
    WeaponPlanning& planning_;
    std::size_t applied_ = 0;
};

} // namespace avrek::detail
