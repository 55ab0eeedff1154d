#include <avrek/skirmish/gating.h>

namespace avrek {

LoadoutIntent gated(LoadoutIntent intent, ActSet forbidden) {
    if (forbidden == ActSet::all()) {
        intent.weapon.stunned = true;
        intent.weapon.aim = false;
        intent.weapon.sprint = false;
        intent.weapon.strike = false;
        return intent;
    }
    intent.weapon.forbids_fire |= forbidden.contains(Act::fire);
    intent.weapon.forbids_reload |= forbidden.contains(Act::reload);
    intent.weapon.sprint &= !forbidden.contains(Act::move);
    intent.weapon.strike &= !forbidden.contains(Act::strike);
    return intent;
}

} // namespace avrek
