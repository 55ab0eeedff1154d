#pragma once
#include <avrek/skirmish/bots.h>

#include <cstdint>
#include <span>
#include <string>
#include <vector>

/// A fight of bots, two crews of them, made from a few words: for trials, tools and tests.
namespace avrek {

struct BoutSetup {
    std::size_t crew = 8;    ///< bots, both crews together, at least 1
    std::int32_t body = 0;   ///< index into Arsenal::bodies
    std::int32_t melee = -1; ///< index into Arsenal::melee; -1: none
    std::vector<std::int32_t>
        weapons{}; ///< indices; bot after bot of a crew takes the next, and as its second the one after
    std::vector<std::int32_t> shooters{}; ///< indices, at least one: bot after bot takes the next
};

/// One of its bots.
struct BoutMember {
    BodyId id = nobody;
    TeamId team{};
    std::string name{}; ///< such as "canopy-1"
    std::int32_t shooter = 0;
    std::vector<std::int32_t> weapons{};
};

/// The members of a bout: odd ids for the first crew, even ones for the second, from 1.
std::vector<BoutMember> bout_members(const BoutSetup& setup);

/// The entrant that a member comes in as; it refers to the member.
Entrant entrant_of(const BoutSetup& setup, const BoutMember& member);

/// A bout from a level of its own: brings everybody in. Precondition (asserted): there is room.
void begin_bout(const BoutSetup& setup, std::span<const BoutMember> members, Skirmish& skirmish, Bots& bots);

} // namespace avrek
