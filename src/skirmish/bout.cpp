#include <avrek/skirmish/bout.h>

#include <algorithm>
#include <cassert>

namespace avrek {

std::vector<BoutMember> bout_members(const BoutSetup& setup) {
    assert(!setup.shooters.empty());
    std::vector<BoutMember> members;
    for (std::size_t number = 0; number < setup.crew; ++number) {
        const std::size_t index = number / 2; // in its crew
        BoutMember& member = members.emplace_back();
        member.id = static_cast<BodyId>(number + 1);
        member.team = static_cast<TeamId>(number % 2);
        member.name = (number % 2 == 0 ? "canopy-" : "rootward-") + std::to_string(index + 1);
        member.shooter = setup.shooters[index % setup.shooters.size()];
        const std::size_t kinds = std::min<std::size_t>(2, setup.weapons.size());
        for (std::size_t weapon = 0; weapon < kinds; ++weapon) {
            member.weapons.push_back(setup.weapons[(index + weapon) % setup.weapons.size()]);
        }
    }
    return members;
}

Entrant entrant_of(const BoutSetup& setup, const BoutMember& member) {
    return {.id = member.id,
            .team = member.team,
            .body = setup.body,
            .melee = setup.melee,
            .weapons = member.weapons};
}

void begin_bout(const BoutSetup& setup, std::span<const BoutMember> members, Skirmish& skirmish, Bots& bots) {
    for (const BoutMember& member : members) {
        [[maybe_unused]] const Outcome came = skirmish.add(entrant_of(setup, member));
        assert(came);
        bots.add(member.id, member.shooter);
    }
}

} // namespace avrek
