#pragma once
#include <avrek/core/ids.h>
#include <avrek/skirmish/bots.h>

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// A fight between two crews of bots, for trials, tools and tests.
namespace avrek {

/// Setup of a bout.
struct BoutSetup {
    std::size_t crew = 8; ///< number of bots, both crews together, at least 1
    BodySpecId body{};
    std::optional<MeleeId> melee{};
    /// The bots of a crew take turns; second weapon: the next.
    std::vector<WeaponId> weapons{};
    std::vector<ShooterId> shooters{}; ///< at least one; the bots take turns
};

/// One bot of a bout.
struct BoutMember {
    BodyId id = nobody;
    TeamId team{};
    std::string name{}; ///< "canopy-1"
    ShooterId shooter{};
    std::vector<WeaponId> weapons{};
};

/// Returns the members of a bout: odd ids for the first crew, even ids for the second, from 1.
std::vector<BoutMember> bout_members(const BoutSetup& setup);

/// Returns the entrant of a member. It refers to the member.
Entrant entrant_of(const BoutSetup& setup, const BoutMember& member);

/// Adds all members to a skirmish. Precondition (asserted): there is room.
void begin_bout(const BoutSetup& setup, std::span<const BoutMember> members, Skirmish& skirmish, Bots& bots);

} // namespace avrek
