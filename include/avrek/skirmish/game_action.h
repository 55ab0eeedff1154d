#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/ids.h>
#include <avrek/core/outcome.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/skirmish/combatant.h>
#include <avrek/weapon/loadout.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string_view>
#include <variant>

/// Actions: what the game itself does to a fight. They are input of a tick, as intents are, so rollback and
/// replays repeat them.
namespace avrek {

/// Hits a combatant, through its guard, defence layers, resistances and conditions. Where a fight applies no
/// damage, as on clients, it does nothing.
struct HitAction {
    BodyId who = nobody;
    BodyId source = nobody; ///< combatant that gets credit
    double damage = 0.0;    ///< points before the defences, 0 to 1e6
    std::optional<DamageTypeId> type{};
    std::optional<RegionId> region{}; ///< told by the events; the damage counts it already
    ReactionClass reaction = ReactionClass::none;
    std::optional<ConditionId> condition{}; ///< condition that the hit leaves
    double strength = 1.0;                  ///< strength of the condition, over 0, at most 1e6
    Vector3 direction = Vector3::Zero();    ///< hit direction, for guards and falls; zero: none
    Vector3 push = Vector3::Zero();         ///< m/s
    bool melee = false;
};

/// Heals a combatant: health, then the layers that take healing. Clients do nothing.
struct HealAction {
    BodyId who = nobody;
    BodyId source = nobody;
    double points = 0.0;                ///< 0 to 1e6
    std::optional<DamageTypeId> type{}; ///< for resistances
};

/// Sets off an explosion, as a projectile of this kind has. Clients hurt nobody.
struct BlastAction {
    ProjectileId projectile{};
    Vector3 centre = Vector3::Zero();
    BodyId source = nobody;
    double power = 1.0; ///< factor for damage and push, 0 to 1e3
};

/// Changes the velocity of a combatant, through its motion.
struct PushAction {
    BodyId who = nobody;
    Vector3 velocity = Vector3::Zero(); ///< m/s
    bool replaces = false;              ///< false: the velocity is added
};

/// Gives a condition to a combatant, or ends it.
struct ConditionAction {
    BodyId who = nobody;
    BodyId source = nobody;
    ConditionId condition{};
    double strength = 1.0; ///< over 0, at most 1e6
    bool ends = false;
};

/// Makes a living combatant a ragdoll. Then it rises as its heavy reaction says.
struct RagdollAction {
    BodyId who = nobody;
    Duration lasts = std::chrono::seconds{2}; ///< over 0, at most an hour
    bool on_back = false;
};

/// Lets a combatant that is down or a ragdoll rise.
struct StandUpAction {
    BodyId who = nobody;
};

/// Changes the lives of a combatant, within the limits of the rules.
struct LivesAction {
    BodyId who = nobody;
    std::int32_t by = 0;
};

/// Gives points to a combatant and its team.
struct ScoreAction {
    BodyId who = nobody;
    std::int32_t points = 0; ///< -1e6 to 1e6
};

/// Lays a hazard.
struct HazardAction {
    HazardId hazard{};
    Pose pose{};
    TeamId team{};
    BodyId source = nobody;  ///< combatant that gets credit
    BodyId carrier = nobody; ///< the hazard ends with this combatant's life
};

/// Ends a hazard.
struct EndHazardAction {
    std::uint32_t index = 0; ///< in Match::hazards()
};

/// Places a pickup.
struct PickupAction {
    PickupId pickup{};
    Vector3 position = Vector3::Zero();
};

/// Removes a pickup for good.
struct RemovePickupAction {
    std::uint32_t index = 0; ///< in Match::pickups()
};

/// Puts a combatant somewhere, at rest, at the start of the tick. It passes through nothing in between.
struct PlaceAction {
    BodyId who = nobody;
    Vector3 position = Vector3::Zero();
    Radians yaw = 0.0; ///< its look, until its next intent
};

/// Changes the team of a combatant, at the start of the tick.
struct TeamAction {
    BodyId who = nobody;
    TeamId team{};
};

/// Adds a combatant or a prop, at the start of the tick.
struct EnterAction {
    BodyId who = nobody;
    TeamId team{};
    BodySpecId body{};
    std::optional<MeleeId> melee{};
    Role role = Role::combatant;
    std::array<WeaponId, Loadout::slot_count> weapons{};
    std::uint32_t weapon_count = 0;
    bool is_placed = false; ///< false: at a spawn point of its team
    Vector3 position = Vector3::Zero();
    Radians yaw = 0.0;
};

/// Removes a combatant or a prop without a death, at the start of the tick.
struct LeaveAction {
    BodyId who = nobody;
};

/// Sets the rules of the match, at the start of the tick.
struct RulesAction {
    MatchId rules{};
};

/// The kind of an action, with its values.
using ActionKind =
    std::variant<HitAction, HealAction, BlastAction, PushAction, ConditionAction, RagdollAction,
                 StandUpAction, LivesAction, ScoreAction, HazardAction, EndHazardAction, PickupAction,
                 RemovePickupAction, PlaceAction, TeamAction, EnterAction, LeaveAction, RulesAction>;

/// An action of the game.
///
///     const GameAction actions[] = {{.at = fight.now(), .by = me, .tag = hook,
///                                    .what = PushAction{.who = foe, .velocity = pull}}};
///     for (const Event& event : fight.advance(intents, {}, actions)) { react(event); }
struct GameAction {
    Time at{};             ///< a time outside of the tick counts as the nearest in it
    BodyId by = nobody;    ///< combatant that did it: its client can predict it
    std::uint32_t tag = 0; ///< the game's own number: its event and notice have it
    ActionKind what{};
};

/// An action was done, or refused. What it caused follows as events of its own.
struct ActionEvent {
    Time at{};
    BodyId who = nobody;   ///< combatant that it is about; nobody: none
    BodyId by = nobody;    ///< as the action says
    std::uint32_t tag = 0; ///< as the action says
    std::uint8_t kind = 0; ///< index in ActionKind
    bool done = true;
    std::string_view why{};          ///< reason why it was refused
    std::int32_t index = -1;         ///< hazard or pickup that it made
    Vector3 point = Vector3::Zero(); ///< place that it is about
};

/// Returns the words for an action by its index in ActionKind, such as "blast".
std::string_view action_words(std::size_t kind);

/// Returns why an action cannot be one of this arsenal's: a number out of its range, an id that it lacks.
Outcome validate(const Arsenal& arsenal, const GameAction& action);

} // namespace avrek
