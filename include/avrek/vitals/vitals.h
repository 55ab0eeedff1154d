#pragma once
#include <avrek/arsenal/body_spec.h>
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/vitals/credit.h>
#include <avrek/vitals/damage.h>
#include <avrek/vitals/defence_layers.h>
#include <avrek/vitals/vitals_events.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

/// Vitals of one body: health and defence layers, conditions, guard, reactions, and one death.
///
/// take_hit() (<avrek/vitals/hits.h>) applies hits, add_condition() (<avrek/vitals/conditions.h>) gives
/// conditions, hold_guard() (<avrek/vitals/guard.h>) raises the guard, advance() lets time pass. Everything
/// happens at exact times, independent of the tick rate.
///
///     Vitals vitals = full_vitals(crew);
///     apply_damage(vitals, hit_damage(rifle, 30.0, "torso"), at, events);
namespace avrek {

/// Life of a body.
enum class LifeState : std::uint8_t { alive, dead };

/// A condition that a body has.
struct ConditionState {
    ConditionId spec{};
    std::uint32_t count = 1;
    double strength = 1.0;
    Time until = Time::max();
    Time next_tick = Time::max();
    BodyId source = nobody; ///< combatant that gets credit for its damage
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<ConditionState> auto& condition) {
    field("spec", condition.spec);
    field("count", condition.count);
    field("strength", condition.strength);
    field("until", condition.until);
    field("next_tick", condition.next_tick);
    field("source", condition.source, FieldUse::not_sent);
}

/// State of a guard.
struct GuardState {
    double stamina = 0.0; ///< stamina at `stamina_at`
    Time stamina_at{};
    Time perfect_until{};
    Time broken_until = Time::min(); ///< broken until then; Time::min(): not broken
    bool wanted = false;             ///< as last stated
    bool up = false;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<GuardState> auto& guard) {
    field("stamina", guard.stamina);
    field("stamina_at", guard.stamina_at);
    field("perfect_until", guard.perfect_until);
    field("broken_until", guard.broken_until);
    field("wanted", guard.wanted);
    field("up", guard.up);
}

/// Number of recent reactions.
struct ReactionCount {
    std::uint32_t count = 0;
    Time until{}; ///< when the count restarts
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<ReactionCount> auto& reaction) {
    field("count", reaction.count);
    field("until", reaction.until);
}

/// State of one body's vitals. Trivially copyable: save it, send it, go back to it.
struct Vitals {
    static constexpr std::size_t max_conditions = 12;

    Time now{};             ///< time up to which it is advanced
    Time due = Time::max(); ///< when something next happens by itself
    double health = 0.0;    ///< in [0, maximum]
    double maximum = 0.0;   ///< at least 0
    LifeState life = LifeState::alive;
    BodyState state = BodyState::active;
    ReactionClass reaction = ReactionClass::none; ///< present reaction, rising included
    bool on_back = false;                         ///< while down, rising or ragdoll
    std::uint8_t condition_count = 0;
    Time state_until = Time::max(); ///< when the state changes by itself
    Time protected_until{};         ///< nothing harms it before then
    Time last_hurt = Time::min();   ///< last loss of health or defence points
    Time last_return = Time::min(); ///< last return of health by itself
    std::array<DefenceLayerState, max_defence_layers> defence{};
    GuardState guard{};
    std::array<ReactionCount, reaction_count> reactions{};   ///< light, heavy, own ones
    std::array<ConditionState, max_conditions> conditions{}; ///< oldest first
    Credits credits{};

    /// Returns health as a share of its maximum, in [0, 1]; 0 when the maximum is 0.
    double fraction() const;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Vitals> auto& vitals) {
    field("now", vitals.now, FieldUse::not_sent);
    field("due", vitals.due);
    field("health", vitals.health);
    field("maximum", vitals.maximum);
    field("life", vitals.life);
    field("state", vitals.state);
    field("reaction", vitals.reaction);
    field("on_back", vitals.on_back);
    field("condition_count", vitals.condition_count);
    field("state_until", vitals.state_until);
    field("protected_until", vitals.protected_until);
    field("last_hurt", vitals.last_hurt);
    field("last_return", vitals.last_return);
    field.list("defence", vitals.defence, vitals.defence.size());
    field("guard", vitals.guard);
    field.list("reactions", vitals.reactions, vitals.reactions.size());
    field.list("conditions", vitals.conditions, vitals.condition_count);
    field("credits", vitals.credits, FieldUse::not_sent);
}

/// A body for the functions that act on its vitals: hits, conditions, guards, time.
///
///     take_hit({arsenal.conditions, crew, vitals}, hit, shot.at, events);
struct LivingBody {
    std::span<const ConditionSpec> conditions{}; ///< the arsenal's; empty: the body has none
    const BodySpec& spec;                        ///< the one that the vitals started with
    Vitals& vitals;
};

/// Returns the vitals at the start of a life, at `at`.
Vitals full_vitals(const BodySpec& spec, Time at = Time{});

/// Takes `damage` from the health alone at `at`. Appends nothing for the dead or for damage of 0; else
/// a DamageEvent, then a DeathEvent if no health is left. It is the last step of take_hit(), and enough for a
/// body without defence layers, guard and conditions.
///
/// Health stays in [0, maximum]. Less than a billionth of the maximum counts as 0, so five hits of
/// 19.999999999999996 kill a body with 100. Damage that differs from the remaining health then gets a `clamp`
/// step, so that the steps multiply out to the applied number and health is exactly 0.
void apply_damage(Vitals& vitals, Damage damage, Time at, std::vector<VitalsEvent>& events);

/// Advances a body from `vitals.now` to `until`. Appends events in order of time: ticks and ends of
/// conditions, ends of reactions, refilled layers, restored guards. What is due at `until` belongs to the
/// next call. At one time, conditions tick before they end. Precondition (asserted): `until >= vitals.now`.
void advance(const LivingBody& body, Time until, std::vector<VitalsEvent>& events);

/// Protects the body until `until`: hits and conditions do nothing before then.
void protect(Vitals& vitals, Time until);

/// Ends the protection, if any. Firing does so.
void end_protection(Vitals& vitals, Time at, std::vector<VitalsEvent>& events);

/// Returns the points of a defence layer at `vitals.now`; 0 beyond the body's last.
double defence_points(const BodySpec& spec, const Vitals& vitals, std::size_t layer);

/// Returns the acts that the body cannot do now: all for the dead, else those that its reaction and
/// conditions forbid. The one place that gates acting.
ActSet forbidden_acts(std::span<const ConditionSpec> conditions, const BodySpec& spec, const Vitals& vitals);

} // namespace avrek
