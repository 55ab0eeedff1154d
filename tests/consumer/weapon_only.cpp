#include <avrek/weapon/weapon.h>

int main() {
    avrek::WeaponSpec spec;
    spec.magazine = 3;
    avrek::WeaponState state = full_weapon(spec);
    avrek::AmmoReserve reserve;
    std::vector<avrek::WeaponEvent> events;
    const avrek::WeaponIntent hold{.trigger = true};
    advance(spec, state, reserve, avrek::Time{std::chrono::seconds{1}}, {&hold, 1}, events);
    return events.size() == 4 && state.rounds == 0 ? 0 : 1; // three shots and a click
}
