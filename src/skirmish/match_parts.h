#pragma once
#include "../core/by_id.h"
#include "alerts.h"
#include "match_schedule.h"
#include <avrek/skirmish/gating.h>
#include <avrek/skirmish/match.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <utility>
#include <vector>

/// Shared parts of the match: its state, its schedule, and what its rooms ask of each other.
namespace avrek::detail {

/// State of a match: exactly what save, restore and hash cover.
struct MatchState {
    Time now{};
    Time looked_until{}; ///< touches before this have been looked at
    bool over = false;
    std::optional<MatchId> rules_set{};  ///< rules that the game has set; none: those that it was made with
    std::vector<Combatant> combatants{}; ///< in order of ids
    std::vector<HazardState> hazards{};
    std::vector<PickupState> pickups{};
    std::vector<DroppedWeapon> dropped{};
    Alerts alerts{};
    std::array<std::int32_t, team_count> team_scores{};
    std::array<std::int32_t, team_count> team_respawns{}; ///< used, where a side shares them
};

/// A match with what it refers to and its room to work in. Rooms are functions over it.
struct MatchParts : MatchState {
    MatchParts(const Arsenal& its_arsenal, const MatchSpec& its_rules, const World& its_world,
               const MatchLimits& its_limits);

    const Arsenal* arsenal;
    const MatchSpec* first_rules; ///< those that it was made with
    const MatchSpec* rules;       ///< those that count
    const World* world;
    MatchLimits limits;
    Schedule schedule{};
    std::vector<Event> events{};
    std::vector<VitalsEvent> vitals_events{};
    std::vector<WeaponEvent> weapon_events{};
    std::vector<bool> were_alert{}; ///< room to work in

    static MatchParts& of(Match& match) { return *match.parts_; }
    static const MatchParts& of(const Match& match) { return *match.parts_; }

    /// Sets the rules that count.
    void set_rules(std::optional<MatchId> set) {
        rules_set = set;
        rules = set ? &(*arsenal)[*set] : first_rules;
    }
    /// Sets the arsenal that counts. The state must be made for it, or be read next.
    void set_arsenal(const Arsenal& is);
    const Combatant* find(BodyId id) const { return find_by_id(combatants, id); }
    Combatant* find(BodyId id) { return find_by_id(combatants, id); }
    const BodySpec& body_of(const Combatant& who) const { return (*arsenal)[who.body]; }
    /// Returns the body of a combatant for the functions of the vitals.
    LivingBody living(Combatant& who) const { return {arsenal->conditions, body_of(who), who.vitals}; }
    bool are_hostile(const Combatant& one, const Combatant& other) const {
        return one.id != other.id && (!rules->teams || one.team != other.team);
    }
    /// Returns whether a foe notices a combatant, or one of its side if alerts spread there.
    bool is_alert(const Combatant& who) const;
};

// Life: hits, deaths, scores, respawns.

/// Runs `change(body, events)` on the vitals of a combatant, then handles the events that it gives.
template <class Change>
auto change_vitals(MatchParts& match, Combatant& who, const Change& change);
/// Handles what the vitals of a combatant gave.
void follow(MatchParts& match, Combatant& who);
/// Applies a hit to a combatant.
HitResult hit_now(MatchParts& match, Combatant& target, IncomingHit hit, Time at);
/// Gives a combatant the conditions that its body starts each life with.
void give_first_conditions(MatchParts& match, Combatant& who, Time at);
/// Gives a combatant a new life.
void respawn(MatchParts& match, Combatant& who, Time at);
/// Sets the lives of a combatant, within the limits.
void set_lives(MatchParts& match, Combatant& who, std::int64_t lives, Time at);
/// Runs `change`, and makes events of who has become alert by it, through `by`, and who is no longer.
template <class Change>
void change_alerts(MatchParts& match, Time at, BodyId by, const Change& change);
/// Returns the respawns left that a team shares; -1: any number.
std::int32_t respawns_left(const MatchParts& match, TeamId team);
/// Ends all alerts of a combatant, and those that it causes.
void clear_alerts(MatchParts& match, const Combatant& who, Time at);
/// Gives points to a combatant and its team.
void add_score(MatchParts& match, Combatant& who, std::int32_t points, Time at);
/// Ends the match if somebody has won.
void check_over(MatchParts& match, Time at);
/// Ends the match. Without a winner, it is the last one left or the one with the most points.
void end_match(MatchParts& match, Time at, std::optional<std::int64_t> winner = std::nullopt);
/// Makes events of `weapon_events` of a combatant.
void emit_weapon_events(MatchParts& match, const Combatant& who);

// Hazards and pickups.

bool has_touches(const MatchParts& match);
/// Bodies that one look at a hazard or a pickup finds at most.
inline constexpr std::size_t max_found = 128;

/// Looks who touches what.
void check_touches(MatchParts& match, Time at);
/// Ends a hazard.
void stop_hazard(MatchParts& match, std::size_t index, Time at);
void do_hazard(MatchParts& match, std::size_t index, Time at);
/// Finds when a hazard next does something.
void find_hazard_due(HazardState& hazard);
/// Takes a combatant out of all hazards, and ends those that it carries.
void forget_touches(MatchParts& match, BodyId id, Time at);
std::optional<std::size_t> lay_hazard(MatchParts& match, const HazardPlacement& placement, Time at);
std::optional<std::size_t> place_pickup(MatchParts& match, PickupId spec, const Vector3& position);
/// Gives every pickup to a combatant that touches it and may take it.
void check_pickups(MatchParts& match, Time at);
bool request_pickup(MatchParts& match, BodyId id, Time at);
bool take_dropped(MatchParts& match, BodyId id, Metres reach, Time at);

// Weapons of combatants.

/// Returns the restrictions of a combatant from `from` to `until`, as far as known now; hits will change
/// them.
Gates planned_gates(MatchParts& match, const Combatant& who, Time from, Time until);

template <class Change>
void change_alerts(MatchParts& match, Time at, BodyId by, const Change& change) {
    match.were_alert.clear();
    for (const Combatant& who : match.combatants) {
        match.were_alert.push_back(match.is_alert(who));
    }
    change();
    for (std::size_t index = 0; index < match.combatants.size(); ++index) {
        const bool now = match.is_alert(match.combatants[index]);
        if (now != match.were_alert[index]) {
            match.events.emplace_back(AlertEvent{at, match.combatants[index].id, now, now ? by : nobody});
        }
    }
}

template <class Change>
auto change_vitals(MatchParts& match, Combatant& who, const Change& change) {
    match.vitals_events.clear();
    const auto result = change(match.living(who), match.vitals_events);
    follow(match, who);
    return result;
}

} // namespace avrek::detail
