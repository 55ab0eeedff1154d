#include "fields.h"
#include "match_parts.h"
#include <avrek/vitals/guard.h>

#include <type_traits>

namespace avrek {

static_assert(std::is_trivially_copyable_v<Combatant>);

double PlayerStats::accuracy() const {
    return shots == 0 ? 0.0 : std::min(1.0, static_cast<double>(shots_hit) / shots);
}

namespace detail {

MatchParts::MatchParts(const Arsenal& its_arsenal, const MatchSpec& its_rules, const World& its_world,
                       const MatchLimits& its_limits)
    : arsenal(&its_arsenal), first_rules(&its_rules), rules(&its_rules), world(&its_world),
      limits(its_limits) {
    combatants.reserve(limits.combatants);
    hazards.reserve(limits.hazards);
    pickups.reserve(limits.pickups);
    dropped.reserve(limits.dropped);
    alerts = Alerts{limits.combatants};
    schedule.dues.reserve(limits.combatants);
    schedule.heap.reserve(4 * (limits.combatants + limits.hazards + limits.pickups) + 64);
    were_alert.reserve(limits.combatants);
    vitals_events.reserve(64);
    weapon_events.reserve(64);
}

} // namespace detail

using detail::change_vitals;

Match::Match(const Arsenal& arsenal, const MatchSpec& rules, const World& world, const MatchLimits& limits)
    : parts_(std::make_unique<detail::MatchParts>(arsenal, rules, world, limits)) {}
Match::Match(const Match& other) : parts_(std::make_unique<detail::MatchParts>(*other.parts_)) {}
Match& Match::operator=(const Match& other) {
    return *this = Match{other};
}
Match::Match(Match&&) noexcept = default;
Match& Match::operator=(Match&&) noexcept = default;
Match::~Match() = default;

Outcome Match::join(const Joining& joining) {
    assert(joining.weapons.size() <= Loadout::slot_count && joining.id != nobody);
    std::vector<Combatant>& combatants = parts_->combatants;
    if (parts_->over) {
        return Outcome::refused("the match is over");
    }
    if (find(joining.id) != nullptr) {
        return Outcome::refused("the id is taken");
    }
    if (combatants.size() >= parts_->limits.combatants) {
        return Outcome::refused("there is no room: MatchLimits::combatants are in");
    }
    if (static_cast<std::uint32_t>(joining.team) >= team_count) {
        return Outcome::refused("the team is none: allowed are 0 to 31");
    }
    Combatant who;
    const auto taken = [&](std::uint32_t slot) {
        return std::any_of(combatants.begin(), combatants.end(),
                           [slot](const Combatant& other) { return other.slot == slot; });
    };
    while (taken(who.slot)) {
        ++who.slot;
    }
    who.id = joining.id;
    who.team = joining.team;
    who.role = joining.role;
    who.body = joining.body;
    const SideSpec* side = side_of(rules(), joining.team);
    const std::int32_t lives = side != nullptr && side->lives >= 0 ? side->lives : rules().lives.start;
    who.lives = joining.role == Role::combatant ? lives : -1;
    who.kit_size = joining.weapons.size();
    std::copy(joining.weapons.begin(), joining.weapons.end(), who.kit.begin());
    who.vitals = full_vitals(parts_->body_of(who), now());
    who.loadout = make_loadout(arsenal(), joining.weapons, now(), static_cast<std::uint32_t>(joining.id));
    Combatant& there = *combatants.insert(detail::place_by_id(combatants, joining.id), who);
    give_first_conditions(*parts_, there, now());
    if (parts_->is_alert(there)) { // its side is
        parts_->events.emplace_back(AlertEvent{now(), there.id, true});
    }
    refresh_dues(*parts_);
    return Outcome::done();
}

bool Match::leave(BodyId id) {
    const Combatant* who = find(id);
    if (parts_->over || who == nullptr) {
        return false;
    }
    forget_touches(*parts_, id, now());
    clear_alerts(*parts_, *who, now());
    parts_->combatants.erase(detail::place_by_id(parts_->combatants, id));
    parts_->schedule.forget();
    refresh_dues(*parts_);
    check_over(*parts_, now());
    return true;
}

HitResult Match::hit(BodyId target, const IncomingHit& hit, Time at) {
    advance_to(*parts_, at);
    Combatant* who = parts_->find(target);
    return parts_->over || who == nullptr ? HitResult::nothing : hit_now(*parts_, *who, hit, at);
}

bool Match::give_condition(BodyId target, const NewCondition& condition, Time at) {
    advance_to(*parts_, at);
    Combatant* who = parts_->find(target);
    return !parts_->over && who != nullptr &&
           change_vitals(*parts_, *who, [&](const LivingBody& body, auto& felt) {
               return add_condition(body, condition, at, felt);
           });
}

bool Match::hold_guard(BodyId id, bool held, Time at) {
    advance_to(*parts_, at);
    Combatant* who = parts_->find(id);
    return !parts_->over && who != nullptr &&
           change_vitals(*parts_, *who, [&](const LivingBody& body, auto& felt) {
               avrek::hold_guard(body, held, at, felt);
               return true;
           });
}

bool Match::report_action(BodyId id, Act act, std::uint32_t shots, Time at) {
    advance_to(*parts_, at);
    Combatant* who = parts_->find(id);
    if (parts_->over || who == nullptr) {
        return false;
    }
    who->stats.shots += shots;
    if (who->vitals.life == LifeState::dead || (act != Act::fire && act != Act::strike)) {
        return true;
    }
    return change_vitals(*parts_, *who, [&](const LivingBody& body, auto& felt) {
        if (rules().respawn.ends_on_fire) {
            end_protection(body.vitals, at, felt);
        }
        end_conditions(body, act == Act::fire ? ConditionEnd::fired : ConditionEnd::struck, at, felt);
        return true;
    });
}

bool Match::notice(BodyId target, BodyId hostile, bool sees, Time at) {
    advance_to(*parts_, at);
    const Combatant* who = find(target);
    const Combatant* by = find(hostile);
    if (parts_->over || who == nullptr || by == nullptr) {
        return false;
    }
    if (!are_hostile(*who, *by) ||
        (sees && (who->vitals.life == LifeState::dead || by->vitals.life == LifeState::dead))) {
        return true;
    }
    change_alerts(*parts_, at, hostile, [&] { parts_->alerts.set(who->slot, by->slot, sees); });
    return true;
}

bool Match::change_lives(BodyId id, std::int32_t by, Time at) {
    advance_to(*parts_, at);
    Combatant* who = parts_->find(id);
    if (parts_->over || who == nullptr) {
        return false;
    }
    if (who->lives >= 0) {
        set_lives(*parts_, *who, std::int64_t{who->lives} + by, at);
        check_over(*parts_, at);
    }
    return true;
}

std::optional<std::size_t> Match::lay_hazard(const HazardPlacement& placement, Time at) {
    return detail::lay_hazard(*parts_, placement, at);
}

std::optional<std::size_t> Match::place_pickup(PickupId spec, const Vector3& position) {
    return detail::place_pickup(*parts_, spec, position);
}

bool Match::request_pickup(BodyId id, Time at) {
    return detail::request_pickup(*parts_, id, at);
}

bool Match::take_dropped(BodyId id, Metres reach, Time at) {
    return detail::take_dropped(*parts_, id, reach, at);
}

void Match::advance(Time until) {
    detail::advance(*parts_, until);
}

void Match::act(BodyId id, Time until, std::span<const LoadoutIntent> intents,
                std::vector<WeaponEvent>& events) {
    Combatant* who = parts_->find(id);
    if (parts_->over || who == nullptr || who->vitals.life == LifeState::dead || until <= who->loadout.now) {
        return;
    }
    advance_gated(arsenal(), who->loadout, who->stated, planned_gates(*parts_, *who, who->loadout.now, until),
                  until, intents, events);
}

std::span<const Event> Match::events() const {
    return parts_->events;
}

void Match::forget_events() {
    parts_->events.clear();
}

Gates detail::planned_gates(MatchParts& match, const Combatant& who, Time from, Time until) {
    Gates gates;
    const BodySpec& body = match.body_of(who);
    const std::vector<ConditionSpec>& conditions = match.arsenal->conditions;
    const auto add = [&](const Vitals& vitals, Time at) {
        const ActSet forbidden = forbidden_acts(conditions, body, vitals);
        const double spread = factors_of(conditions, vitals).spread;
        if (gates.count > 0) {
            const Gate& last = gates.gates[gates.count - 1];
            if (gates.count == Gates::max_gates || (last.forbidden == forbidden && last.spread == spread)) {
                return;
            }
        }
        gates.gates[gates.count] = {at, forbidden, spread};
        ++gates.count;
    };
    if (who.vitals.due >= until) {
        add(who.vitals, from);
        return gates;
    }
    Vitals ahead = who.vitals; // to know what will be allowed again
    for (Time at = from; at < until; at = std::max(ahead.due, at + Duration{1})) {
        match.vitals_events.clear();
        if (ahead.due <= at) {
            avrek::advance({conditions, body, ahead}, at + Duration{1}, match.vitals_events);
        }
        add(ahead, at);
    }
    match.vitals_events.clear();
    return gates;
}

ConditionFactors Match::factors(BodyId id) const {
    const Combatant* who = find(id);
    return who != nullptr ? factors_of(arsenal().conditions, who->vitals) : ConditionFactors{};
}

bool Match::can_act(BodyId id, Act act) const {
    const Combatant* who = find(id);
    return !parts_->over && who != nullptr &&
           !forbidden_acts(arsenal().conditions, parts_->body_of(*who), who->vitals).contains(act);
}

bool Match::stops_shots(BodyId id) const {
    const Combatant* who = find(id);
    return who != nullptr && who->vitals.state != BodyState::gone &&
           (who->vitals.life == LifeState::alive || rules().corpses_stop_shots);
}

bool Match::are_hostile(const Combatant& one, const Combatant& other) const {
    return parts_->are_hostile(one, other);
}

bool Match::is_alert(BodyId id) const {
    const Combatant* who = find(id);
    return who != nullptr && parts_->is_alert(*who);
}

Time Match::now() const {
    return parts_->now;
}
bool Match::is_over() const {
    return parts_->over;
}
const Arsenal& Match::arsenal() const {
    return *parts_->arsenal;
}
std::optional<MatchId> Match::rules_set() const {
    return parts_->rules_set;
}
const MatchSpec& Match::rules() const {
    return *parts_->rules;
}
std::int32_t Match::team_score(TeamId team) const {
    const auto number = static_cast<std::size_t>(team);
    return number < team_count ? parts_->team_scores[number] : 0;
}
std::int32_t Match::respawns_left(TeamId team) const {
    return detail::respawns_left(*parts_, team);
}
const Combatant* Match::find(BodyId id) const {
    return std::as_const(*parts_).find(id);
}
std::span<const Combatant> Match::combatants() const {
    return parts_->combatants;
}
std::span<const HazardState> Match::hazards() const {
    return parts_->hazards;
}
std::span<const PickupState> Match::pickups() const {
    return parts_->pickups;
}
std::span<const DroppedWeapon> Match::dropped() const {
    return parts_->dropped;
}

Combatant* Match::edit(BodyId id) {
    parts_->schedule.forget(); // whatever is changed, it will be looked at
    return parts_->find(id);
}

std::uint64_t Match::state_hash() const {
    return detail::hash_of_match(*this, *parts_);
}

void Match::save(StateWriter& to) const {
    const detail::MatchState& state = *parts_;
    to.value(state.now);
    to.value(state.looked_until);
    to.value(std::uint64_t{state.over});
    to.value(std::int64_t{to_number(state.rules_set)});
    to.clean_list(state.combatants);
    to.clean_list(state.hazards);
    to.clean_list(state.pickups);
    to.clean_list(state.dropped);
    to.values(state.alerts.words());
    to.values(std::span<const std::int32_t>{state.team_scores});
    to.values(std::span<const std::int32_t>{state.team_respawns});
}

bool Match::restore(StateReader& from) {
    detail::MatchState& state = *parts_;
    std::uint64_t over = 0;
    from.value(state.now);
    from.value(state.looked_until);
    from.value(over);
    std::int64_t rules_set = -1;
    from.value(rules_set);
    from.list(state.combatants, parts_->limits.combatants);
    from.list(state.hazards, parts_->limits.hazards);
    from.list(state.pickups, parts_->limits.pickups);
    from.list(state.dropped, parts_->limits.dropped);
    from.values(state.alerts.words());
    from.values(std::span<std::int32_t>{state.team_scores});
    from.values(std::span<std::int32_t>{state.team_respawns});
    state.over = over != 0;
    parts_->set_rules(optional_id<MatchId>(static_cast<std::int32_t>(rules_set)));
    parts_->schedule.forget();
    return from.is_sound();
}

} // namespace avrek
