#include <avrek/arsenal/finish.h>
#include <avrek/skirmish/skirmish.h>

// A fight from an arsenal made in code: all of the core, and nothing else.
int main() {
    avrek::Arsenal made;
    made.weapons = {{.id = "rifle", .magazine = 3, .damage = 10}};
    made.bodies = {{.id = "crew"}};
    made.matches = {{.id = "rules"}};
    const avrek::Loaded<avrek::Arsenal> arsenal = finish(std::move(made));
    if (!arsenal) {
        return 2;
    }
    avrek::Skirmish fight{*arsenal, avrek::Level{}, {}, 1};
    const avrek::WeaponId rifle = *arsenal->weapon("rifle");
    if (!fight.add({.id = avrek::BodyId{1}, .weapons = {&rifle, 1}, .at = avrek::Vector3{0, 0, 0}})) {
        return 3;
    }
    const avrek::Intent pull{.who = avrek::BodyId{1}, .buttons = {avrek::Button::trigger}};
    return avrek::count_of<avrek::ShotEvent>(fight.advance({&pull, 1})) == 1 ? 0 : 1;
}
