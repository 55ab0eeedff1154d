#pragma once
#include "atrium.h"
#include <avrek/skirmish/skirmish.h>

#include <span>
#include <vector>

/// A fight in which everybody fires all the time.
namespace bench {

/// The demo arsenal, with magazines that last and bodies that do, so that all go on firing.
inline const avrek::Arsenal& lasting_arsenal() {
    static const avrek::Arsenal arsenal = [] {
        avrek::Arsenal made = bench::arsenal();
        for (avrek::WeaponSpec& weapon : made.weapons) {
            weapon.magazine = 1'000'000;
        }
        for (avrek::BodySpec& body : made.bodies) {
            body.health = 1e9;
            body.light_reaction.lasts = body.heavy_reaction.lasts = avrek::Duration{};
        }
        made.matches.front().score_to_win = 0;
        made.matches.front().time_limit = avrek::Duration::max();
        return made;
    }();
    return arsenal;
}

/// Everybody walks about, turns, and holds the trigger of one of four weapons.
struct Firing {
    avrek::Skirmish skirmish;
    std::vector<avrek::Intent> intents{};

    explicit Firing(std::size_t count)
        : skirmish(lasting_arsenal(), atrium().level, {.limits = {.combatants = count}}, 1, atrium().plan) {
        const char* const names[] = {"thorn-rifle", "reed-carbine", "burr-gun", "seed-lobber"};
        const auto rays = atrium_rays(count);
        for (std::uint32_t id = 0; id < count; ++id) {
            const avrek::WeaponId held = *lasting_arsenal().weapon(names[id % 4]);
            avrek::Vector3 at = rays[id].origin;
            at.y() = 0.4;
            (void)skirmish.add({.id = avrek::BodyId{id},
                                .team = avrek::TeamId{static_cast<std::uint8_t>(id % 2)},
                                .melee = avrek::MeleeId{0},
                                .weapons = {&held, 1},
                                .at = at});
            intents.push_back({.who = avrek::BodyId{id}});
        }
    }

    std::span<const avrek::Intent> next() {
        for (avrek::Intent& intent : intents) {
            const auto id = static_cast<std::uint32_t>(intent.who);
            const auto tick = static_cast<std::uint32_t>(skirmish.tick());
            intent.yaw = static_cast<float>(0.7 * id + 0.02 * tick);
            intent.pitch = -0.03F;
            intent.ahead = (tick / 64 + id) % 3 == 0 ? 0.0F : 1.0F;
            // Those whose weapon fires once for each press tap.
            intent.buttons.set(avrek::Button::trigger, id % 4 == 0 || tick % 2 == 0);
        }
        return intents;
    }
    void run(avrek::Tick ticks) {
        for (const avrek::Tick end = skirmish.tick() + ticks; skirmish.tick() < end;) {
            skirmish.advance(next());
        }
    }
};

} // namespace bench
