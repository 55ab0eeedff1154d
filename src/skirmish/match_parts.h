#pragma once
#include <avrek/skirmish/match.h>

/// Shared parts of the match.
namespace avrek {

/// Counts a hit of a shot, once for each shot of the last 64.
void count_hit(PlayerStats& stats, std::uint32_t shot);

template <class Change>
auto Match::change_vitals(const World& world, Combatant& who, Events& events, const Change& change) {
    vitals_events_.clear();
    const auto result = change(who.vitals, vitals_events_);
    follow(world, who, events);
    return result;
}

} // namespace avrek
