#pragma once
#include "fight.h"

namespace avrek::detail {

/// A hit on a body, and the past time at which its shooter saw it.
struct RewoundHit {
    Hit hit;
    Time at;
    Time as_of;
    Vector3 from; ///< where its shooter is, or was
};

/// Result of the validation of a hit.
struct HitVerdict {
    Verdict verdict = Verdict::stands;
    Duration covered_for{};
};

/// Lag compensation: snapshots of bodies, and the validation of hits against them.
class LagCompensation {
  public:
    explicit LagCompensation(Fight& fight) : fight_(fight) {}

    /// Records a snapshot at the end of every few ticks: the bodies in the scene, where they are shown.
    void record_snapshot();
    /// Returns the world in which rewound shots are cast.
    const World& rewind_world() const;
    /// Returns how far back a fighter's shots are cast.
    Duration view_delay_of(const Fighter& fighter) const;
    /// Judges a hit on a combatant. Precondition (asserted): it is there.
    HitVerdict validate_hit(BodyId target, const RewoundHit& met, BodyId source) const;

  private:
    Duration covered_for(const Fighter& target, const RewoundHit& met) const;

    Fight& fight_;
};

} // namespace avrek::detail
