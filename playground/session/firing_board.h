#pragma once
#include <avrek/skirmish/skirmish.h>
#include <avrek/tuning/group_size.h>

#include <deque>
#include <span>

namespace avrek::playground {

/// A board that shots pass through and are marked on.
struct FiringBoard {
    static constexpr Metres half_size = 1.5;
    static constexpr std::size_t max_hits = 500;

    Metres distance = 0.0;          ///< from the eye that it was put up before; 0: there is none
    Vector3 foot = Vector3::Zero(); ///< feet of the player then
    Pose pose{};                    ///< its middle; its +Z points away from the player
    std::deque<BoardPoint> hits{};  ///< hitscan shots by the player, about the middle
    std::deque<Vector3> points{};   ///< the same in the world
};

/// Returns a board before a combatant's eye, upright. Precondition (asserted): the combatant is there.
FiringBoard board_before(const Skirmish& fight, BodyId who, Metres distance);
/// Marks what a combatant's shots put on it.
void take(FiringBoard& board, std::span<const Event> events, BodyId who);
/// Returns its group.
GroupSize group_of(const FiringBoard& board);

} // namespace avrek::playground
