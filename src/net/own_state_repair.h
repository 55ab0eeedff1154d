#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>
#include <avrek/skirmish/combatant.h>
#include <avrek/skirmish/fighter.h>

namespace avrek::detail {

/// Brings every number of a fighter and its combatant into its range, and makes them consistent at `now`:
/// they can be advanced afterwards whatever they were. Changes nothing of a consistent state, and nothing the
/// second time. Their body, role and blade must be sound already.
void repair(Fighter& fighter, Combatant& who, const Arsenal& arsenal, Time now);

} // namespace avrek::detail
