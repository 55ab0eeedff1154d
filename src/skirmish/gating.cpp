#include <avrek/skirmish/gating.h>

#include <algorithm>
#include <cassert>

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

void advance_gated(const Arsenal& arsenal, Loadout& loadout, LoadoutIntent& stated, const Gates& gates,
                   Time until, std::span<const LoadoutIntent> intents, std::vector<WeaponEvent>& events) {
    assert(gates.count > 0);
    std::array<LoadoutIntent, 8> said;
    std::size_t next = 0;
    std::size_t gate = 0;
    while (loadout.now < until) {
        while (gate + 1 < gates.count && gates.gates[gate + 1].from <= loadout.now) {
            ++gate;
        }
        std::size_t count = 0;
        const auto say = [&] {
            said[count] = gated(stated, gates.gates[gate].forbidden);
            said[count].weapon.at = loadout.now;
            ++count;
        };
        say();
        while (next < intents.size() && intents[next].weapon.at <= loadout.now && count < said.size()) {
            stated = intents[next];
            ++next;
            say();
        }
        Time stop = gate + 1 < gates.count ? std::min(until, gates.gates[gate + 1].from) : until;
        if (next < intents.size()) {
            stop = std::min(stop, intents[next].weapon.at);
        }
        stop = std::max(stop, loadout.now + Duration{1});
        const std::size_t before = events.size();
        avrek::advance(arsenal, loadout, stop, std::span{said}.first(count), events);
        for (std::size_t event = before; event < events.size(); ++event) {
            events[event].spread = std::min(widest_spread, gates.gates[gate].spread * events[event].spread);
        }
    }
}

} // namespace avrek
