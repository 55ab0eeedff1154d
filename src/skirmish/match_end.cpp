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
    std::int64_t reached = -1; // one that has reached its goal, the one with the most points
    std::int64_t reached_with = 0;
};

// The score with which a team, or somebody alone, wins; 0: none.
std::int64_t goal_of(const MatchSpec& rules, TeamId team) {
    const SideSpec* side = side_of(rules, team);
    return side != nullptr && side->score_to_win > 0 ? side->score_to_win : rules.score_to_win;
}

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
        const std::int64_t goal = goal_of(*match.rules, who.team);
        if (goal > 0 && score >= goal && (sides.reached < 0 || score > sides.reached_with)) {
            sides.reached = side;
            sides.reached_with = score;
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

bool MatchParts::is_alert(const Combatant& who) const {
    const SideSpec* side = side_of(*rules, who.team);
    if (alerts.any(who.slot) || side == nullptr || !side->alert_spreads) {
        return alerts.any(who.slot);
    }
    return std::any_of(combatants.begin(), combatants.end(), [&](const Combatant& other) {
        return other.team == who.team && alerts.any(other.slot);
    });
}

void clear_alerts(MatchParts& match, const Combatant& who, Time at) {
    change_alerts(match, at, nobody, [&] {
        for (const Combatant& other : match.combatants) {
            match.alerts.set(other.slot, who.slot, false);
        }
        match.alerts.clear(who.slot);
    });
}

void check_over(MatchParts& match, Time at) {
    const Sides sides = count_sides(match);
    const bool last = match.rules->last_one_wins && sides.several && !sides.several_left;
    if (!match.over && (last || sides.reached >= 0)) {
        end_match(match, at, last ? std::nullopt : std::optional{sides.reached});
    }
}

void end_match(MatchParts& match, Time at, std::optional<std::int64_t> winner) {
    for (const Combatant& who : match.combatants) {
        if (match.is_alert(who)) {
            match.events.emplace_back(AlertEvent{at, who.id, false});
        }
    }
    match.alerts.clear_all();
    const Sides sides = count_sides(match);
    const bool by_lives =
        match.rules->last_one_wins && sides.several && !sides.several_left && sides.left >= 0;
    match.events.emplace_back(
        MatchOverEvent{at, nobody, winner.value_or(by_lives ? sides.left : sides.leader)});
    for (Combatant& who : match.combatants) {
        who.vitals.now = std::max(who.vitals.now, at); // wherever ticks were: nothing was due before
    }
    match.now = at;
    match.over = true;
}

} // namespace avrek::detail
