#include "match_parts.h"

#include <algorithm>

/// Alerts, and the end of a match.
namespace avrek::detail {

namespace {

// Teams, or combatants where everyone is alone.
struct Sides {
    bool several = false;      // there is more than one
    bool several_left = false; // and more than one has somebody left
    std::int64_t left = -1;    // one that has
    std::int64_t leader = -1;  // the one with the most points; -1 when several have
    std::int64_t best = 0;     // the most points
};

Sides count_sides(const MatchParts& match) {
    Sides sides;
    std::int64_t first = -1;
    for (const Combatant& who : match.combatants) {
        if (who.role == Role::prop) {
            continue;
        }
        const auto side =
            match.rules->teams ? static_cast<std::int64_t>(who.team) : static_cast<std::int64_t>(who.id);
        const std::int64_t score =
            match.rules->teams ? match.team_scores[static_cast<std::size_t>(who.team)] : who.stats.score;
        sides.several |= first >= 0 && side != first;
        if (first < 0 || score > sides.best) {
            sides.leader = side;
            sides.best = score;
        } else if (score == sides.best && side != sides.leader) {
            sides.leader = -1;
        }
        first = side;
        if (!who.out) {
            sides.several_left |= sides.left >= 0 && side != sides.left;
            sides.left = side;
        }
    }
    return sides;
}

} // namespace

void clear_alerts(MatchParts& match, const Combatant& who, Time at) {
    for (const Combatant& other : match.combatants) {
        const bool before = match.is_alert(other);
        match.alerts.set(other.slot, who.slot, false);
        if (other.id == who.id) {
            match.alerts.clear(who.slot);
        }
        if (before && !match.is_alert(other)) {
            match.events.emplace_back(AlertEvent{at, other.id, false});
        }
    }
}

void check_over(MatchParts& match, Time at) {
    const Sides sides = count_sides(match);
    const bool won = match.rules->score_to_win > 0 && sides.best >= match.rules->score_to_win;
    if (!match.over && (won || (match.rules->last_one_wins && sides.several && !sides.several_left))) {
        end_match(match, at);
    }
}

void end_match(MatchParts& match, Time at) {
    for (const Combatant& who : match.combatants) {
        if (match.is_alert(who)) {
            match.events.emplace_back(AlertEvent{at, who.id, false});
        }
    }
    match.alerts.clear_all();
    const Sides sides = count_sides(match);
    const bool by_lives =
        match.rules->last_one_wins && sides.several && !sides.several_left && sides.left >= 0;
    match.events.emplace_back(MatchOverEvent{at, nobody, by_lives ? sides.left : sides.leader});
    for (Combatant& who : match.combatants) {
        who.vitals.now = std::max(who.vitals.now, at); // wherever ticks were: nothing was due before
    }
    match.now = at;
    match.over = true;
}

} // namespace avrek::detail
