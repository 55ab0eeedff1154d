#pragma once
#include <avrek/vitals/vitals.h>

#include <vector>

/// Living ragdolls: falls and knock-downs that the game causes.
namespace avrek {

/// Makes a living body a ragdoll for `lasts`; then it rises for ReactionSpec::rise of its heavy reaction. It
/// replaces any reaction, and all acts are forbidden meanwhile. Returns false for the dead. Preconditions
/// (asserted): `at >= vitals.now`, `lasts` over 0.
bool make_ragdoll(const LivingBody& body, Duration lasts, bool on_back, Time at,
                  std::vector<VitalsEvent>& events);

/// Lets a living body that is down or a ragdoll rise at `at`. Returns false for any other. Precondition
/// (asserted): `at >= vitals.now`.
bool stand_up(const LivingBody& body, Time at, std::vector<VitalsEvent>& events);

} // namespace avrek
