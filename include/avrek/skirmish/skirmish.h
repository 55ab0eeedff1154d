#pragma once
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/core/diagnostics.h>
#include <avrek/core/ids.h>
#include <avrek/scene/scene.h>
#include <avrek/skirmish/companion_state.h>
#include <avrek/skirmish/event.h>
#include <avrek/skirmish/fighter.h>
#include <avrek/skirmish/game_action.h>
#include <avrek/skirmish/intent.h>
#include <avrek/skirmish/level_plan.h>
#include <avrek/skirmish/locomotion.h>
#include <avrek/skirmish/match.h>
#include <avrek/skirmish/snapshots.h>
#include <avrek/weapon/readout.h>

#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <vector>

/// A whole fight as one object: intents in, events out.
namespace avrek {

/// Settings of a skirmish. Plain data. Skirmishes that must agree need equal settings.
struct SkirmishSettings {
    TickRate rate{64};                 ///< 1 to 1000
    MatchId rules{};                   ///< default: the first
    bool moves_bodies = true;          ///< false: bodies stay where the game places them
    Locomotions locomotions{};         ///< empty: WalkingLocomotion
    const PoseSource* poses = nullptr; ///< null: BlendedPoses; outlives the skirmish
    MuzzleRule muzzle = MuzzleRule::draw_back;
    MatchLimits limits{};
    std::size_t projectiles = 256; ///< capacity of each kind's pool
    /// Frames that the scene records, at least 2. Lag compensation needs as many ticks as
    /// LagCompensationSpec::max_rewind has, and two.
    std::size_t history_frames = 4;
    std::int32_t snapshot_interval = 0; ///< ticks between snapshots; 0: players see every tick
    std::size_t snapshot_history = 0;   ///< recorded snapshots, at least 2 where there are any
    Tick first_tick = 0;                ///< first tick, at least 0
    /// If false, hits are reported but apply no damage. Clients set it.
    bool applies_damage = true;
};

/// Returns the faults of settings for an arsenal and a plan; each diagnostic names its member, such as
/// "rate.hertz". Without any, a Skirmish can be made of them.
std::vector<Diagnostic> validate(const Arsenal& arsenal, const SkirmishSettings& settings,
                                 const LevelPlan& plan = {});

/// A combatant that enters a skirmish.
struct Entrant {
    BodyId id = nobody; ///< not nobody
    TeamId team{};
    BodySpecId body{};
    std::optional<MeleeId> melee{}; ///< none: no blade
    Role role = Role::combatant;
    std::span<const WeaponId> weapons{}; ///< at most Loadout::slot_count
    /// Spawn points of the level's plan, at most Fighter::max_spawns; none: its team's.
    std::span<const std::uint16_t> spawns{};
    std::optional<Vector3> at{}; ///< first position; none: a spawn point
    Radians yaw = 0.0;           ///< with `at`
    /// Keys its spread; none: the seed of the fight. A server gives each player one of its own, so that a
    /// client that knows it can draw its own shots and nobody else's.
    std::optional<std::uint64_t> spread_seed{};
};

/// Peak use of a pool of limited size.
struct HighWater {
    std::string_view pool; ///< "combatants", or the id of a projectile
    std::size_t max = 0;
    std::size_t room = 0;
};

/// Readout of one combatant for an interface, at the end of the last tick.
struct CombatantReadout {
    bool alive = false;
    double health = 0.0;                   ///< share of its maximum, 0 to 1
    std::optional<WeaponReadout> weapon{}; ///< in hand
    Look view{};                           ///< look of its eye, recoil included
    Vector3 eye = Vector3::Zero();
    std::optional<Time> respawn_at{};
};

/// A fight. A tick takes the intents, moves the bodies, and does everything that is due in its span in order
/// of exact time: the earlier of two deadly shots wins, and shots at the same time trade.
///
///     Skirmish fight{arsenal, arena.level, {.rate = {64}}, seed, arena.plan};
///     const Outcome added =
///         fight.add({.id = BodyId{1}, .team = canopy, .body = crew, .weapons = weapons});
///     for (const Event& event : fight.advance(intents)) { react(event); }   // one tick
///
/// Two things depend on the tick: bodies move evenly within it, and a respawned combatant stops shots from
/// the next tick on. Everything else is exact.
///
/// The arsenal, after resolve_references(), must outlive it. After about a second, ticks do not allocate.
/// Copies are deep. Preconditions (asserted): as the settings and specs say.
class Skirmish {
  public:
    /// Makes a fight without combatants. Refers to the arsenal. Precondition (asserted): validate()
    /// finds nothing.
    Skirmish(const Arsenal& arsenal, Level level, const SkirmishSettings& settings, std::uint64_t seed,
             LevelPlan plan = {});
    Skirmish(const Skirmish& other);            ///< a deep copy
    Skirmish& operator=(const Skirmish& other); ///< a deep copy
    Skirmish(Skirmish&&) noexcept;              ///< leaves `other` to be destroyed or assigned
    Skirmish& operator=(Skirmish&&) noexcept;   ///< leaves `other` to be destroyed or assigned
    ~Skirmish();

    /// Adds a combatant between two ticks. Changes nothing and says why if its id is taken, its team is no
    /// team, there is no room, or the match is over.
    Outcome add(const Entrant& entrant);
    /// Removes a combatant without a death. Returns false if it is not there.
    bool remove(BodyId id);

    /// Advances by one tick. A combatant without an intent repeats its last one (see repeated()). Of several
    /// intents for one combatant the first counts. Intents and updates of unknown combatants are ignored.
    /// Actions of the game's own are done with everything else in order of time, those at one time last;
    /// those that count at the start of the tick are done before all else, in order of the list. Actions
    /// that validate() refuses are ignored. Returns the events of the tick, in order of time, and of effect
    /// at one time; valid until the next call.
    std::span<const Event> advance(std::span<const Intent> intents, std::span<const BodyUpdate> updates = {},
                                   std::span<const GameAction> actions = {});

    /// Takes the fight over to the values of another arsenal between two ticks: whole, in order, and the same
    /// on every machine. Everything under way goes on by them; see the retune() of each layer. The next tick
    /// reports it: a RetunedEvent of nobody, then what came of it. Entries go by their names: those that
    /// `arsenal` lacks stay as they were, for what uses them; new ones come last. Equal values change
    /// nothing. Changes nothing and says why if the match is over, or the entries are too many or do not fit
    /// the settings.
    ///
    /// A state from before is restored with its values, and one from after with the later ones. Allocates.
    /// Preconditions (asserted): not null; finish() finds no error in it.
    Outcome retune(std::shared_ptr<const Arsenal> arsenal);
    /// Makes the states of an arsenal known to restore(), without a change now: call it for each that a saved
    /// fight was retuned to, in that order.
    Outcome know(std::shared_ptr<const Arsenal> arsenal);
    /// Forgets the arsenals that it was retuned to, for tools that change values for hours. The first one,
    /// the present one and those equal to one of `keep` stay. States of forgotten ones are no longer
    /// restored.
    void forget_arsenals(std::span<const std::shared_ptr<const Arsenal>> keep);

    Tick tick() const;                     ///< the next tick
    Time now() const;                      ///< start of the next tick
    bool is_over() const;                  ///< the match is over
    std::span<const Event> events() const; ///< events of the last tick
    /// Returns how many intents, updates and actions the last tick ignored: of unknown combatants, or not
    /// valid.
    std::uint32_t disregarded() const;
    const SkirmishSettings& settings() const; ///< as it was made
    const Arsenal& arsenal() const;           ///< arsenal that counts now
    const LevelPlan& plan() const;            ///< plan of the level
    std::uint64_t seed() const;               ///< as it was made

    const Match& match() const;                ///< life, death and score
    const Scene& scene() const;                ///< the world with its bodies
    std::span<const Fighter> fighters() const; ///< in order of ids
    /// Returns a combatant's position, look and intent, or null.
    const Fighter* find(BodyId id) const;
    /// Returns the pools, one for each of Arsenal::projectiles, in its order.
    std::span<const ProjectilePool> projectiles() const;

    /// Direct access, for set-up. Replays do not record its changes; the next tick reports their events.
    Match& match();
    /// Direct access to the pools, for pictures. Projectiles put in here do no damage.
    std::span<ProjectilePool> projectiles();
    /// Direct access to the scene, for set-up.
    Scene& scene();
    /// Returns a fighter to change, or null, for set-up. Do not change its id.
    Fighter* edit(BodyId id);

    /// Returns the snapshots that players see; null without SkirmishSettings::snapshot_interval.
    const Scene* snapshots() const;
    /// Returns the bodies of the newest snapshot, in order of ids.
    std::span<const SnapshotBody> snapshot_bodies() const;
    /// Sets the world in which rewound shots are cast, in place of the recorded history. The caller keeps it
    /// up to date: a client passes the picture that it draws. Not part of the state; null resets it.
    void set_rewind_world(const World* seen);

    /// Sets the state of the game's own that save(), restore() and state_hash() cover too; null: none. It
    /// must outlive the skirmish. Copies of the skirmish have none.
    void set_companion(CompanionState* companion);
    /// Returns the state of the game's own, or null.
    CompanionState* companion() const;

    /// Returns the readout of a combatant. Precondition (asserted): it is there.
    CombatantReadout readout(BodyId id, const Screen& screen = {}) const;
    /// Returns the eye of a combatant, as readout() does, and faster. Precondition (asserted): it is there.
    Vector3 eye_of(BodyId id) const;
    /// Returns the peak use of every pool.
    std::vector<HighWater> high_water() const;

    /// Returns the size that save() writes now.
    std::size_t saved_size() const;
    /// Saves the whole state. Returns the part of `room` that it takes, saved_size() bytes; empty if there is
    /// too little room, whose content is then undefined.
    [[nodiscard]] std::span<std::byte> save(std::span<std::byte> room) const;
    /// Restores a state written by save(), of a skirmish with the same arsenal, level, settings and seed, or
    /// with one of the arsenals that this one has been retuned to.
    /// Changes nothing and says why if the bytes are damaged or belong to another fight. Detects corruption,
    /// not tampering.
    Outcome restore(std::span<const std::byte> from);
    /// Returns a hash: equal for equal states on every machine; others almost surely differ.
    std::uint64_t state_hash() const;
    /// Returns the hash of the fight alone, without its companion.
    std::uint64_t fight_hash() const;

  private:
    struct Impl;
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
