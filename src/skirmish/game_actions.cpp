#include "game_actions.h"

#include <avrek/core/state_hash.h>
#include <avrek/vitals/guard.h>
#include <avrek/vitals/ragdoll.h>

#include <algorithm>
#include <cmath>
#include <utility>

namespace avrek::detail {

namespace {

constexpr Outcome not_there = Outcome::refused("it is not there");

// The index of a kind in the variant; the kinds from PlaceAction on count at the start of the tick.
bool counts_at_start(const ActionKind& what) {
    return what.index() >= ActionKind{PlaceAction{}}.index();
}

// The combatant that an action is about; nobody without one.
BodyId target_of(const ActionKind& what) {
    return std::visit(
        [](const auto& action) {
            if constexpr (requires { action.who; }) {
                return action.who;
            } else {
                return nobody;
            }
        },
        what);
}

bool is_there(const PickupState& pickup) {
    return pickup.there || pickup.back_at != Time::max();
}

} // namespace

GameActions::GameActions(Fight& fight, WeaponPlanning& planning, Consequences& consequences, Roster& roster,
                         ShotResolution& shots)
    : fight_(fight), planning_(planning), consequences_(consequences), roster_(roster), shots_(shots) {
    queued_.reserve(fight.settings.limits.combatants + 64);
}

void GameActions::begin(std::span<const GameAction> actions) {
    queued_.clear();
    for (const GameAction& action : actions) {
        if (!validate(*fight_.arsenal, action)) {
            ++fight_.disregarded;
        } else if (counts_at_start(action.what)) {
            act_now(action, fight_.span.begin);
        } else {
            const Time at = std::clamp(action.at, fight_.span.begin, fight_.span.end - Duration{1});
            queued_.push_back(action);
            fight_.queue.push({at, target_of(action.what), QueuedKind::game,
                               static_cast<std::uint32_t>(queued_.size() - 1)});
        }
    }
}

void GameActions::act(std::size_t index, Time at) {
    act_now(queued_[index], at);
}

// The event comes before what it causes.
void GameActions::act_now(const GameAction& action, Time at) {
    const std::size_t emitted = fight_.events().size();
    fight_.events().emplace_back(event_of(action, at));
    ActionEvent event = std::get<ActionEvent>(fight_.events()[emitted]);
    const Outcome outcome = std::visit([&](const auto& what) { return act(what, event); }, action.what);
    event.done = static_cast<bool>(outcome);
    event.why = outcome.why();
    if (Fighter* by = fighter_of(action.by)) {
        StateHash chain;
        chain.add(by->action_chain);
        chain.add(at);
        chain.add(std::uint64_t{action.tag} << 8U | event.kind); // done or not: a client may not know
        by->action_chain = chain.value();
    }
    fight_.events()[emitted] = event;
}

ActionEvent GameActions::event_of(const GameAction& action, Time at) const {
    return {.at = at,
            .who = target_of(action.what),
            .by = action.by,
            .tag = action.tag,
            .kind = static_cast<std::uint8_t>(action.what.index())};
}

Fighter* GameActions::fighter_of(BodyId id) {
    const std::size_t index = fight_.index_of(id);
    return index < fight_.fighters.size() ? &fight_.fighters[index] : nullptr;
}

// Lets `change` act on the vitals of a combatant, whose weapons are at that moment by then.
template <class Change>
Outcome GameActions::change_body(BodyId who, Time at, const Change& change) {
    const std::size_t index = fight_.index_of(who);
    if (index == fight_.fighters.size()) {
        return not_there;
    }
    planning_.commit_until(index, at);
    const bool changed = change_vitals(fight_.parts(), *combatant_of(who), change);
    consequences_.apply();
    planning_.replan_after(index, at);
    return changed ? Outcome::done() : Outcome::refused("its state does not allow it");
}

void GameActions::hit(std::size_t index, const IncomingHit& incoming, Time at) {
    if (fight_.settings.applies_damage) {
        planning_.commit_until(index, at);
        fight_.match.hit(fight_.fighters[index].id, incoming, at);
        consequences_.apply();
    }
}

Outcome GameActions::act(const HitAction& action, ActionEvent& event) {
    const std::size_t index = fight_.index_of(action.who);
    if (index == fight_.fighters.size()) {
        return not_there;
    }
    if (fight_.match.combatants()[index].vitals.life == LifeState::dead) {
        return Outcome::refused("it is dead");
    }
    EffectSpec effect;
    effect.type.spec = action.type;
    effect.condition.spec = action.condition;
    effect.strength = action.strength;
    effect.reaction.spec = action.reaction;
    effect.heals = action.type && (*fight_.arsenal)[*action.type].heals;
    effect.guardable = !action.type || (*fight_.arsenal)[*action.type].guardable;
    IncomingHit incoming;
    incoming.damage.multiply(DamageStepKind::base, action.damage);
    incoming.effect = &effect;
    incoming.source = action.source;
    const double length = std::sqrt(action.direction.squaredNorm());
    incoming.direction = length > 1e-9 ? Vector3(action.direction / length) : Vector3(Vector3::Zero());
    const std::optional<Pose> pose = fight_.scene.pose_of(action.who, event.at);
    incoming.off_front = pose && length > 1e-9 ? off_front(*pose, incoming.direction) : pi;
    incoming.push = action.push;
    const RigSpec& rig = fight_.body_of(fight_.fighters[index]).rig;
    incoming.region =
        action.region && to_index(*action.region) < rig.regions.size() ? action.region : std::nullopt;
    incoming.melee = action.melee;
    event.point = fight_.position_at(fight_.fighters[index], event.at);
    hit(index, incoming, event.at);
    return Outcome::done();
}

Outcome GameActions::act(const HealAction& action, ActionEvent& event) {
    const std::size_t index = fight_.index_of(action.who);
    if (index == fight_.fighters.size()) {
        return not_there;
    }
    if (fight_.match.combatants()[index].vitals.life == LifeState::dead) {
        return Outcome::refused("it is dead");
    }
    EffectSpec effect{.heals = true};
    effect.type.spec = action.type;
    IncomingHit healing;
    healing.damage.multiply(DamageStepKind::base, action.points);
    healing.effect = &effect;
    healing.source = action.source;
    hit(index, healing, event.at);
    return Outcome::done();
}

Outcome GameActions::act(const BlastAction& action, ActionEvent& event) {
    event.point = action.centre;
    const Combatant* source = combatant_of(action.source);
    shots_.set_off(
        (*fight_.arsenal)[action.projectile].blast,
        {action.centre, event.at, action.source, source != nullptr ? source->team : TeamId{}, action.power},
        std::nullopt, std::nullopt);
    return Outcome::done();
}

Outcome GameActions::act(const PushAction& action, ActionEvent& event) {
    Fighter* fighter = fighter_of(action.who);
    if (fighter == nullptr) {
        return not_there;
    }
    if (action.replaces) {
        fighter->motion.velocity = Vector3::Zero();
    }
    fight_.events().emplace_back(
        PushEvent{.at = event.at, .who = action.who, .source = event.by, .push = action.velocity});
    consequences_.apply();
    return Outcome::done();
}

Outcome GameActions::act(const ConditionAction& action, ActionEvent& event) {
    return change_body(action.who, event.at, [&](const LivingBody& body, auto& felt) {
        return action.ends
                   ? end_condition(body, action.condition, event.at, felt)
                   : add_condition(body, {action.condition, action.strength, action.source}, event.at, felt);
    });
}

Outcome GameActions::act(const RagdollAction& action, ActionEvent& event) {
    return change_body(action.who, event.at, [&](const LivingBody& body, auto& felt) {
        return make_ragdoll(body, action.lasts, action.on_back, event.at, felt);
    });
}

Outcome GameActions::act(const StandUpAction& action, ActionEvent& event) {
    return change_body(action.who, event.at,
                       [&](const LivingBody& body, auto& felt) { return stand_up(body, event.at, felt); });
}

Outcome GameActions::act(const LivesAction& action, ActionEvent& event) {
    return fight_.match.change_lives(action.who, action.by, event.at) ? Outcome::done() : not_there;
}

Outcome GameActions::act(const ScoreAction& action, ActionEvent& event) {
    Combatant* who = combatant_of(action.who);
    if (who == nullptr) {
        return not_there;
    }
    add_score(fight_.parts(), *who, action.points, event.at);
    check_over(fight_.parts(), event.at);
    return Outcome::done();
}

Outcome GameActions::act(const HazardAction& action, ActionEvent& event) {
    event.point = action.pose.position;
    const auto laid = fight_.match.lay_hazard(
        {action.hazard, action.pose, action.team, action.source, action.carrier}, event.at);
    event.index = laid ? static_cast<std::int32_t>(*laid) : -1;
    return laid ? Outcome::done() : Outcome::refused("there is no room: MatchLimits::hazards are there");
}

Outcome GameActions::act(const EndHazardAction& action, ActionEvent& event) {
    MatchParts& match = fight_.parts();
    if (action.index >= match.hazards.size() || !match.hazards[action.index].spec) {
        return not_there;
    }
    event.index = static_cast<std::int32_t>(action.index);
    event.point = match.hazards[action.index].pose.position;
    stop_hazard(match, action.index, event.at);
    return Outcome::done();
}

Outcome GameActions::act(const PickupAction& action, ActionEvent& event) {
    event.point = action.position;
    const auto placed = fight_.match.place_pickup(action.pickup, action.position);
    event.index = placed ? static_cast<std::int32_t>(*placed) : -1;
    return placed ? Outcome::done() : Outcome::refused("there is no room: MatchLimits::pickups are there");
}

Outcome GameActions::act(const RemovePickupAction& action, ActionEvent& event) {
    MatchParts& match = fight_.parts();
    if (action.index >= match.pickups.size() || !is_there(match.pickups[action.index])) {
        return not_there;
    }
    PickupState& pickup = match.pickups[action.index];
    event.index = static_cast<std::int32_t>(action.index);
    event.point = pickup.position;
    pickup.there = false;
    pickup.back_at = Time::max();
    return Outcome::done();
}

Outcome GameActions::act(const PlaceAction& action, ActionEvent& event) {
    Fighter* fighter = fighter_of(action.who);
    if (fighter == nullptr) {
        return not_there;
    }
    event.point = action.position;
    fighter->motion = {.position = action.position, .game = fighter->motion.game};
    fighter->position_before = action.position;
    fighter->pose = {};
    fighter->look = fighter->look_before = {action.yaw, 0.0};
    fighter->intent.yaw = static_cast<float>(action.yaw);
    fighter->intent.pitch = 0.0F;
    return Outcome::done();
}

Outcome GameActions::act(const TeamAction& action, ActionEvent& event) {
    Combatant* who = combatant_of(action.who);
    if (who == nullptr) {
        return not_there;
    }
    clear_alerts(fight_.parts(), *who, event.at);
    change_alerts(fight_.parts(), event.at, nobody, [&] { who->team = action.team; });
    fight_.scene.assign(action.who, action.team, CollisionLayer::bodies);
    if (fight_.snapshots) {
        fight_.snapshots->assign(action.who, action.team, CollisionLayer::bodies);
    }
    check_over(fight_.parts(), event.at);
    return Outcome::done();
}

Outcome GameActions::act(const EnterAction& action, ActionEvent& event) {
    Entrant entrant{.id = action.who,
                    .team = action.team,
                    .body = action.body,
                    .melee = action.melee,
                    .role = action.role,
                    .weapons = std::span{action.weapons}.first(action.weapon_count),
                    .yaw = action.yaw};
    if (action.is_placed) {
        entrant.at = action.position;
    }
    const Outcome outcome = roster_.enter(entrant, event.at);
    if (const Fighter* fighter = fighter_of(action.who)) {
        event.point = fighter->motion.position;
    }
    return outcome;
}

Outcome GameActions::act(const LeaveAction& action, ActionEvent&) {
    return roster_.leave(action.who) ? Outcome::done() : not_there;
}

Outcome GameActions::act(const RulesAction& action, ActionEvent& event) {
    change_alerts(fight_.parts(), event.at, nobody, [&] { fight_.parts().set_rules(action.rules); });
    check_over(fight_.parts(), event.at);
    return Outcome::done();
}

} // namespace avrek::detail
