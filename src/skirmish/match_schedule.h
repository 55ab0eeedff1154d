#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/skirmish/combatant.h>
#include <avrek/skirmish/hazards_and_pickups.h>

#include <cstdint>
#include <vector>

/// The schedule of a match: everything that is due, in order of time.
namespace avrek::detail {

struct MatchParts;

/// Kinds of what is due. At one moment in this order: a body that comes back touches nothing where it died.
enum class DueKind : std::uint8_t { combatant, hazard, pickup, touches, respawn };

/// Something that is due. An entry is stale if something else came first.
struct Due {
    Time at{};
    DueKind kind = DueKind::combatant;
    std::uint32_t key = 0; ///< id of a combatant, index of a hazard or pickup
};

/// The schedule. Not part of the state: it is made anew from it.
struct Schedule {
    Time doing_until = Time::min(); ///< while a match runs: what is due before this it does
    Time quiet_until = Time::min(); ///< nothing is due before; Time::min(): unknown
    std::vector<Time> dues{};       ///< by combatant; unused while `quiet_until` is unknown
    std::vector<Due> heap{};

    void push(const Due& due);
    /// Something was changed by hand: everything is looked at again.
    void forget() { quiet_until = Time::min(); }
};

Time due_of(const Combatant& who);
Time due_of(const HazardState& hazard);
/// Notes when a combatant is due next.
void push_due_of(MatchParts& match, const Combatant& who);
/// Notes when every combatant is due, after somebody came or went.
void refresh_dues(MatchParts& match);
/// Returns the time of the next due event, or a little before.
Time due(MatchParts& match);
/// Does what is due next, and advances no further.
void do_next(MatchParts& match);
/// Advances to `until`.
void advance(MatchParts& match, Time until);
/// Advances to `at`, the time of a report. Fast if nothing is due before.
void advance_to(MatchParts& match, Time at);

} // namespace avrek::detail
