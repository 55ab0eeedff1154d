#pragma once
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/projectiles.h>
#include <avrek/core/ids.h>
#include <avrek/scene/scene.h>
#include <avrek/skirmish/body_stance.h>
#include <avrek/skirmish/fighter.h>
#include <avrek/skirmish/intent.h>
#include <avrek/skirmish/level_plan.h>
#include <avrek/skirmish/match.h>
#include <avrek/skirmish/skirmish_events.h>
#include <avrek/skirmish/snapshots.h>
#include <avrek/weapon/readout.h>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

/// A whole fight as one object: intents in, events out.
namespace avrek {

class FeetWorld;

/// Settings of a skirmish. Plain data. Skirmishes that must agree need equal settings.
struct SkirmishSettings {
    TickRate rate{64};              ///< 1 to 1000
    MatchId rules{};                ///< default: the first
    bool walking_locomotion = true; ///< WalkingLocomotion moves the bodies that the game does not
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
///     const SkirmishEvents& events = fight.advance(intents);   // one tick
///
/// Two things depend on the tick: bodies move evenly within it, and a respawned combatant stops shots from
/// the next tick on. Everything else is exact.
///
/// The arsenal, after resolve_references(), must outlive it. After about a second, ticks do not allocate.
/// Copies are deep. Preconditions (asserted): as the settings and specs say.
class Skirmish {
  public:
    /// Makes a fight without combatants. Refers to the arsenal. Precondition (asserted): valid settings.
    Skirmish(const Arsenal& arsenal, Level level, const SkirmishSettings& settings, std::uint64_t seed,
             LevelPlan plan = {});

    /// Adds a combatant between two ticks. Changes nothing and says why if its id is taken, its team is no
    /// team, there is no room, or the match is over.
    Outcome add(const Entrant& entrant);
    /// Removes a combatant without a death. Returns false if it is not there.
    bool remove(BodyId id);

    /// Advances by one tick. A combatant without an intent repeats its last one (see repeated()). Of several
    /// intents for one combatant the first counts. Intents and updates of unknown combatants are ignored. The
    /// events stay valid until the next call.
    const SkirmishEvents& advance(std::span<const Intent> intents, std::span<const BodyUpdate> updates = {});

    Tick tick() const { return tick_; } ///< the next tick
    /// Returns the start of the next tick.
    Time now() const { return tick_span(tick_, settings_.rate).begin; }
    /// Returns whether the match is over.
    bool is_over() const { return match_.is_over(); }
    const SkirmishEvents& events() const { return events_; } ///< events of the last tick
    /// Returns the settings.
    const SkirmishSettings& settings() const { return settings_; }
    /// Returns the arsenal.
    const Arsenal& arsenal() const { return *arsenal_; }
    /// Returns the plan of the level.
    const LevelPlan& plan() const { return plan_; }
    /// Returns the seed.
    std::uint64_t seed() const { return seed_; }

    /// Returns life, death and score.
    const Match& match() const { return match_; }
    /// Returns the world with its bodies.
    const Scene& scene() const { return scene_; }
    /// Returns the fighters, in order of ids.
    std::span<const Fighter> fighters() const { return {fighters_.data(), fighters_.size()}; }
    /// Returns a combatant's position, look and intent, or null.
    const Fighter* find(BodyId id) const;
    /// Returns the pools, one for each of Arsenal::projectiles, in its order.
    std::span<const ProjectilePool> projectiles() const { return {pools_.data(), pools_.size()}; }
    /// Applies a hit or a condition of the game's own between two ticks, at now(), before anything else of
    /// the next tick, which reports its events. A restore() in between drops it, and replays do not record
    /// it. Results as in Match.
    HitResult hit(BodyId target, const IncomingHit& hit);
    /// Gives a condition of the game's own, as hit(). Returns whether it took hold.
    bool give_condition(BodyId target, const NewCondition& condition);

    /// Direct access, for set-up. The caller handles the events of its changes; nobody else learns of them,
    /// and replays do not record them.
    Match& match() { return match_; }
    /// Direct access to the scene, for set-up.
    Scene& scene() { return scene_; }
    /// Returns a fighter to change, or null, for set-up. Do not change its id.
    Fighter* edit(BodyId id);

    /// Returns the snapshots that players see; null without SkirmishSettings::snapshot_interval.
    const Scene* snapshots() const { return snapshots_ ? &*snapshots_ : nullptr; }
    /// Returns the bodies of the newest snapshot, in order of ids.
    std::span<const SnapshotBody> snapshot_bodies() const {
        return {snapshot_bodies_.data(), snapshot_bodies_.size()};
    }
    /// Sets the world in which rewound shots are cast, in place of the recorded history. The caller keeps it
    /// up to date: a client passes the picture that it draws. Not part of the state; null resets it.
    void set_rewind_world(const World* seen) { rewind_world_ = seen; }

    /// Returns the readout of a combatant. Precondition (asserted): it is there.
    CombatantReadout readout(BodyId id, const Screen& screen = {}) const;
    /// Returns the peak use of every pool.
    std::vector<HighWater> high_water() const;

    /// Returns the size that save() writes now.
    std::size_t saved_size() const;
    /// Saves the whole state. Returns the part of `room` that it takes, saved_size() bytes; empty if there is
    /// too little room, whose content is then undefined.
    [[nodiscard]] std::span<std::byte> save(std::span<std::byte> room) const;
    /// Restores a state written by save(), of a skirmish with the same arsenal, level, settings and seed.
    /// Changes nothing and says why if the bytes are damaged or belong to another fight. Detects corruption,
    /// not tampering.
    Outcome restore(std::span<const std::byte> from);
    /// Returns a hash: equal for equal states on every machine; others almost surely differ.
    std::uint64_t state_hash() const;

  private:
    // An action in a tick, queued for its time.
    enum class ActionKind : std::uint8_t { flight, press, weapon, swing };
    struct Action {
        Time at{};
        BodyId who = nobody;
        ActionKind kind = ActionKind::flight;
        std::uint32_t index = 0;   // index of an event of its kind
        std::uint32_t version = 0; // version of its weapon plan
    };
    struct RunsAfter {
        bool operator()(const Action& one, const Action& other) const;
    };
    // Events of a combatant's weapons in the tick if nothing interrupts.
    struct WeaponPlan {
        Loadout ahead{};
        LoadoutIntent ahead_stated{};
        Gates gates{};
        std::array<LoadoutIntent, 8> intents{}; // in order of time
        std::size_t intent_count = 0;
        std::array<Span, 2> blows{}; // while the hands strike: what went on, and what begins in the tick
        Time plan_from{};            // actions of older plans hold before that
        std::uint32_t version = 0;
        bool intent_given = false;
        Buttons pressed{}; // in this tick
        Buttons released{};
        const BodyUpdate* update = nullptr;
    };
    struct PlannedEvent {
        BodyId who = nobody;
        std::optional<WeaponId> weapon{}; // in the event's slot, as it was planned
        WeaponEvent event{};
    };
    // Origin of a projectile, by pool and slot.
    struct Origin {
        std::optional<WeaponId> weapon{};
        double power = 1.0;
    };
    struct Aimed {
        Vector3 eye;
        Vector3 grip;
        Vector3 muzzle;
        Vector3 direction;
    };

    // The steps of a tick, in order.
    void begin_tick();
    void take_intents(std::span<const Intent> intents);
    void place_respawned();
    void move_bodies(std::span<const BodyUpdate> updates);
    void swing_blades();
    void advance_projectiles();
    void plan_weapons();
    void resolve_actions();
    void end_tick();

    std::size_t index_of(BodyId id) const; // index in fighters_; its size if unknown
    const BodySpec& body_of(const Fighter& fighter) const;
    std::size_t pool_of(std::optional<WeaponId> weapon) const { // one that launches projectiles
        return to_index(*(*arsenal_)[*weapon].projectile.spec);
    }
    Vector3 position_at(const Fighter& fighter, Time at) const;
    Look look_at(const Fighter& fighter, Time at) const;
    Aimed aim_of(const Fighter& fighter, const Look& view, const Vector3& feet, bool crouching,
                 bool has_weapon) const;
    void place_body(Fighter& fighter, const Combatant& who, bool first);
    void walk(Fighter& fighter, const Combatant& who);
    void update_body(Fighter& fighter, const Combatant& who, const BodyUpdate* update);
    void state_intents(std::size_t index);
    Span swing_span_of(const Fighter& fighter) const;

    void push(const Action& action);
    void plan(std::size_t index, Time from);
    void commit_until(std::size_t index, Time at);
    void replan_after(std::size_t index, Time at);
    void apply_match_events();
    void begin_life(std::size_t index);
    void keep_intent(std::size_t index);
    void apply_push(std::size_t index, const Vector3& push);
    static void state_buttons(Buttons held, LoadoutIntent& intent);
    void emit(EventKind kind, Time at, std::size_t index);

    void do_action(const Action& action);
    void do_press(std::size_t index, Time at);
    void do_weapon(std::size_t index, const PlannedEvent& told);
    void do_swing(std::size_t index, const MeleeEvent& event);
    void cancel_swing(Fighter& fighter, Time at);
    void queue_flights(std::size_t pool);
    void do_flight(std::size_t index);
    bool flies_on(std::size_t index);
    void fire(std::size_t index, const PlannedEvent& told);
    void fire_at_once(const ShotEvent& shot, std::int32_t pellet, const Vector3& direction);
    void fire_spray(const ShotEvent& shot);
    void launch(const ShotEvent& shot, const Vector3& direction, const AimSolution& solution);
    void explode(const FlightEvent& flight);
    // A hit on a body, and the past time at which the shooter saw it.
    struct RewoundHit {
        Hit hit;
        Time at;
        Time as_of;
        Vector3 from; // where its shooter is, or was
    };
    struct HitVerdict {
        Verdict verdict = Verdict::stands;
        Duration covered_for{};
    };
    HitVerdict validate_hit(BodyId target, const RewoundHit& met, BodyId source) const;
    HitVerdict apply_hit(BodyId target, const RewoundHit& met, IncomingHit hit);
    void leave_scene(std::size_t index);
    void record_snapshot();
    const World& rewind_world() const;
    FeetWorld feet() const; // what the match asks
    BodyStance stance_of(const Fighter& fighter) const;
    Duration view_delay_of(const Fighter& fighter) const;
    const RigSpec* rig_of(BodyId id) const;
    std::uint64_t kind_of_state() const;
    std::size_t write(std::span<std::byte> room) const; // returns the size that it needs

    const Arsenal* arsenal_;
    SkirmishSettings settings_;
    std::uint64_t seed_;
    LevelPlan plan_;
    std::uint64_t kind_ = 0; // distinguishes skirmishes with incompatible states

    Tick tick_ = 0;
    Match match_;
    Scene scene_;
    std::optional<Scene> snapshots_;
    std::vector<SnapshotBody> snapshot_bodies_;
    const World* rewind_world_ = nullptr;
    std::vector<Fighter> fighters_; // as Match::combatants()
    std::vector<ProjectilePool> pools_;
    std::vector<std::vector<Origin>> origins_;

    SkirmishEvents events_;
    Span span_{};                   // the present tick; scratch members follow
    std::vector<MatchEvent> early_; // between two ticks
    std::size_t absorbed_ = 0;      // applied events of events_.match
    std::vector<WeaponPlan> weapon_plans_;
    std::vector<Action> actions_; // a heap
    std::vector<PlannedEvent> planned_events_;
    std::vector<SwingEvent> swung_;
    std::vector<FlightEvent> flown_;
    std::vector<WeaponEvent> weapon_events_;
    std::vector<MeleeEvent> melee_events_;
    std::vector<ProjectileEvent> projectile_events_;
    std::vector<std::size_t> most_; // for high_water()
};

} // namespace avrek
