#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>
#include <avrek/skirmish/combatant.h>

namespace avrek::detail {

/// Makes the vitals and the loadout of a combatant consistent at `now`, after each of their numbers was
/// brought into its own range: they can be advanced afterwards whatever they were. Changes nothing of a
/// consistent state, and nothing the second time.
void repair(Combatant& who, const Arsenal& arsenal, Time now);

} // namespace avrek::detail
