#pragma once
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/projectiles.h>
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

/// What a skirmish is like. Plain data; two that shall agree must have the same.
struct SkirmishSettings {
    TickRate rate{64};              ///< 1 to 1000
    std::int32_t rules = 0;         ///< index into Arsenal::matches
    bool walking_locomotion = true; ///< bodies move by the stand-in, unless they are placed
    MuzzleRule muzzle = MuzzleRule::draw_back;
    MatchLimits limits{};
    std::size_t projectiles = 256;  ///< room for so many of each kind
    std::size_t history_frames = 4; ///< that the scene remembers, at least 2: for shots that look back, as
                                    ///< many ticks as LagCompensationSpec::rewind has, and two
    std::int32_t snapshot_interval =
        0; ///< ticks between two moments that players are shown; 0: they see every tick
    std::size_t snapshot_history = 0; ///< so many of these are remembered, at least 2 where there are any
    Tick first_tick = 0;              ///< that it begins with, at least 0
    bool applies_damage =
        true; ///< false: nobody is hurt here, because somebody else says who is; of a client
};

/// Somebody who comes into a skirmish.
struct Entrant {
    BodyId id = nobody; ///< not nobody
    TeamId team{};
    std::int32_t body = 0;   ///< index into Arsenal::bodies
    std::int32_t melee = -1; ///< index into Arsenal::melee; -1: it has no blade
    Role role = Role::combatant;
    std::span<const std::int32_t> weapons{}; ///< indices into Arsenal::weapons, at most Loadout::slot_count
    std::span<const std::uint16_t>
        spawns{};                ///< of the level's plan, at most Fighter::max_spawns; none: its team's
    std::optional<Vector3> at{}; ///< where it comes first; none: at a spawn point
    Radians yaw = 0.0;           ///< with `at`
};

/// How full something of limited size has been.
struct HighWater {
    std::string_view pool; ///< such as "combatants"; of projectiles, their id
    std::size_t max = 0;
    std::size_t room = 0;
};

/// What an interface shows of one combatant, at the end of the last tick.
struct CombatantReadout {
    bool alive = false;
    double health = 0.0;                   ///< share of its maximum, 0 to 1
    std::optional<WeaponReadout> weapon{}; ///< in hand
    Look view{};                           ///< where its eye looks, kicks included
    Vector3 eye = Vector3::Zero();
    std::optional<Time> respawn_at{};
};

/// The fight. A tick takes what everybody wants, moves the bodies, and lets everything that is due within its
/// span happen in the order of its exact time: of two deadly shots in one tick the earlier wins, and those of
/// the very same moment trade.
///
/// Where the tick shows: bodies move evenly within it, and a combatant that comes back is in the way of shots
/// from the next tick on. All else is exact.
///
/// The arsenal, which has been through link(), must outlive it. After a second or so a tick allocates
/// nothing. Copies are whole. Preconditions (asserted): as the settings and specs say.
class Skirmish {
  public:
    Skirmish(const Arsenal& arsenal, Level level, const SkirmishSettings& settings, std::uint64_t seed,
             LevelPlan plan = {});

    /// Brings somebody in, between two ticks. Returns false, and nothing happens, when the id is taken, there
    /// is no room, or the match is over.
    bool add(const Entrant& entrant);
    /// Takes somebody out, without a death. Returns false when it is not there.
    bool remove(BodyId id);

    /// Advances by one tick. A combatant without an intent repeats its last one (see repeated()); of several
    /// intents of one combatant the first counts. Intents and updates of combatants that are not there do
    /// nothing. The events last until the next call.
    const SkirmishEvents& advance(std::span<const Intent> intents, std::span<const BodyUpdate> updates = {});

    Tick tick() const { return tick_; } ///< the next one
    Time now() const { return tick_span(tick_, settings_.rate).begin; }
    bool is_over() const { return match_.is_over(); }
    const SkirmishEvents& events() const { return events_; } ///< of the last tick
    const SkirmishSettings& settings() const { return settings_; }
    const Arsenal& arsenal() const { return *arsenal_; }
    const LevelPlan& plan() const { return plan_; }
    std::uint64_t seed() const { return seed_; }

    const Match& match() const { return match_; }
    const Scene& scene() const { return scene_; }
    std::span<const Fighter> fighters() const {
        return {fighters_.data(), fighters_.size()};
    } ///< in order of their ids
    const Fighter* find(BodyId id) const;
    std::span<const ProjectilePool> projectiles() const {
        return {pools_.data(), pools_.size()};
    } ///< by Arsenal::projectiles
    /// A hit or a condition of the game's own, between two ticks: at now(), before anything else of the next
    /// tick, whose events tell of it; a restore() in between forgets these. A replay knows nothing of it. For
    /// the results see Match.
    HitResult hit(BodyId target, const IncomingHit& hit);
    bool give_condition(BodyId target, const NewCondition& condition);

    /// Direct access, for those who set something up: events of what is done to the match so are the caller's
    /// alone, and nobody else is told. A replay knows nothing of it.
    Match& match() { return match_; }
    Scene& scene() { return scene_; }
    Fighter* find_fighter(BodyId id); ///< its id stays

    /// What players are shown of others: null without SkirmishSettings::snapshot_interval.
    const Scene* snapshots() const { return snapshots_ ? &*snapshots_ : nullptr; }
    /// The bodies of its newest frame, in order of their ids.
    std::span<const SnapshotBody> snapshot_bodies() const {
        return {snapshot_bodies_.data(), snapshot_bodies_.size()};
    }
    /// From now on shots that look back are cast at this, which the caller keeps up to date, and not at what
    /// the skirmish remembers: of a client, the picture that it has shown. Not part of the state; null ends
    /// it.
    void set_rewind_world(const World* seen) { rewind_world_ = seen; }

    /// Precondition (asserted): it is there.
    CombatantReadout readout(BodyId id, const Screen& screen = {}) const;
    /// How full everything of limited size has been.
    std::vector<HighWater> high_water() const;

    /// How many bytes save() writes now.
    std::size_t saved_size() const;
    /// Writes the whole state; returns its size, or 0, with anything in `room`, when that is too small.
    std::size_t save(std::span<std::byte> room) const;
    /// Goes back, or on, to what save() wrote: of a skirmish with the same arsenal, level, settings and seed.
    /// Damaged bytes, and those of other skirmishes, are refused, and nothing changes. The bytes are one's
    /// own: who forges them with care can make nonsense of the state.
    bool restore(std::span<const std::byte> from);
    /// Equal for equal states, on every machine; hardly ever else.
    std::uint64_t state_hash() const;

  private:
    // What can happen in a tick, waiting for its time.
    enum class ActionKind : std::uint8_t { flight, press, weapon, swing };
    struct Action {
        Time at{};
        BodyId who = nobody;
        ActionKind kind = ActionKind::flight;
        std::uint32_t index = 0;   // of an event of its kind
        std::uint32_t version = 0; // of its hands' plan
    };
    struct RunsAfter {
        bool operator()(const Action& one, const Action& other) const;
    };
    // What somebody's weapons will do in the tick if nothing comes between.
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
        std::int32_t weapon = -1; // in the event's slot, as it was planned
        WeaponEvent event{};
    };
    // Where a projectile comes from, by pool and slot.
    struct Origin {
        std::int32_t weapon = -1;
        double power = 1.0;
    };
    struct Aimed {
        Vector3 eye;
        Vector3 grip;
        Vector3 muzzle;
        Vector3 direction;
    };

    // The steps of a tick, in their order.
    void begin_tick();
    void take_intents(std::span<const Intent> intents);
    void place_respawned();
    void move_bodies(std::span<const BodyUpdate> updates);
    void swing_blades();
    void advance_projectiles();
    void plan_weapons();
    void resolve_actions();
    void end_tick();

    std::size_t index_of(BodyId id) const; // of fighters; their number when it is not there
    const BodySpec& body_of(const Fighter& fighter) const;
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
    // What meets a body, and as it stood when.
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

    const Arsenal* arsenal_;
    SkirmishSettings settings_;
    std::uint64_t seed_;
    LevelPlan plan_;
    std::uint64_t kind_ = 0; // tells skirmishes apart whose states do not fit each other

    Tick tick_ = 0;
    Match match_;
    Scene scene_;
    std::optional<Scene> snapshots_;
    std::vector<SnapshotBody> snapshot_bodies_;
    const World* rewind_world_ = nullptr;
    std::vector<Fighter> fighters_; // as Match::combatants()
    std::vector<ProjectilePool> pools_;
    std::vector<std::vector<Origin>> origins_;
    std::vector<std::int32_t> pool_of_; // by weapon; -1: it launches nothing

    SkirmishEvents events_;
    Span span_{};                   // of the tick under way, and what follows is room to work in
    std::vector<MatchEvent> early_; // between two ticks
    std::size_t absorbed_ = 0;      // of events_.lives
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
