#pragma once
#include <avrek/arsenal/acts.h>
#include <avrek/weapon/loadout.h>

namespace avrek {

/// What is left of an intent when `forbidden` are not allowed. With all of them forbidden the hands do
/// nothing; otherwise the weapon itself refuses what it is kept from, and says why. Moving, guarding and
/// striking are not the weapon's: whoever does these asks for them (Match::may()).
LoadoutIntent gated(LoadoutIntent intent, ActSet forbidden);

} // namespace avrek
