#include <avrek/weapon/weapon.h>

#include <cstdio>

int main() {
    const avrek::WeaponSpec rifle{.id = "thorn-rifle", .rounds_per_minute = 720, .magazine = 30};
    avrek::WeaponState state = full_weapon(rifle);
    avrek::AmmoReserve reserve{.rounds = 120};
    std::vector<avrek::WeaponEvent> events;
    const avrek::WeaponIntent hold{.trigger = true};
    advance(rifle, state, reserve, avrek::Time{std::chrono::milliseconds{300}}, {&hold, 1}, events);
    for (const avrek::WeaponEvent& shot : events) {
        std::printf("%.6f ms, %d rounds left\n", avrek::to_milliseconds(shot.at - avrek::Time{}),
                    shot.rounds);
    }
}
