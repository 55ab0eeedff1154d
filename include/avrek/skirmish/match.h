#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/state_bytes.h>
#include <avrek/scene/world.h>
#include <avrek/skirmish/combatant.h>
#include <avrek/skirmish/gating.h>
#include <avrek/skirmish/hazards_and_pickups.h>
#include <avrek/skirmish/match_events.h>
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/hits.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

/// Who lives, who is hurt by whom, who comes back, who scores, and when it is over.
namespace avrek {

/// What a match has room for. All of it is reserved when it is made.
struct MatchLimits {
    std::size_t combatants = 64; ///< props counted
    std::size_t hazards = 32;
    std::size_t pickups = 64;
    std::size_t dropped = 64; ///< weapons that lie about
};

/// Somebody who joins.
struct Joining {
    BodyId id = nobody; ///< as in the world; not nobody
    TeamId team{};
    std::int32_t body = 0; ///< index into Arsenal::bodies
    Role role = Role::combatant;
    std::span<const std::int32_t> weapons{}; ///< indices into Arsenal::weapons, at most Loadout::slot_count
};

/// A hazard to be laid.
struct HazardPlacement {
    std::int32_t spec = 0; ///< index into Arsenal::hazards
    Pose pose{};
    TeamId team{};
    BodyId source = nobody;  ///< who gets credit
    BodyId carrier = nobody; ///< it ends with this one's life
};

/// The whole of life and death in a match. The game reports what happened, in order of time, and the match
/// says what comes of it: every function that takes a time first lets everything happen that is due before.
/// Events are appended in order of time. After match_over nothing changes any more. Nothing allocates after
/// the constructor, but for the events. The functions say whether they did something: an id that is not there
/// is no error, as somebody may just have left.
///
/// The arsenal, which has been through link(), and the rules must outlive it. Preconditions (asserted): times
/// never go back; indices are the arsenal's; specs without errors among their validate().
class Match {
  public:
    using Events = std::vector<MatchEvent>;

    Match(const Arsenal& arsenal, const MatchSpec& rules, const MatchLimits& limits = {});

    /// Somebody joins at now(). Returns false, and nothing happens, when the id is taken, its team is no
    /// team, there is no room, or the match is over.
    bool join(const Joining& joining);
    /// Somebody leaves, without a death. Returns false when it is not there.
    bool leave(BodyId id, Events& events);

    /// Lets a hit meet a combatant, by the rules for damage to the own side and to oneself and with what the
    /// conditions of the attacker make of it. Nothing happens, without an event, to the dead and to whom the
    /// rules spare. What is reflected meets the attacker.
    HitResult hit(const World& world, BodyId target, IncomingHit hit, Time at, Events& events);
    /// Gives somebody a condition. Returns whether it came.
    bool give_condition(const World& world, BodyId target, const NewCondition& condition, Time at,
                        Events& events);
    /// States whether somebody holds its guard. This and the next three return false, and do nothing, when
    /// the match is over or somebody named is not there.
    bool hold_guard(const World& world, BodyId id, bool held, Time at, Events& events);
    /// Somebody fired, or began to strike: this ends protection and conditions, by their rules. `shots` are
    /// counted.
    bool report_action(const World& world, BodyId id, Act act, std::uint32_t shots, Time at, Events& events);
    /// Somebody hostile notices `target`, or does not any more.
    bool notice(const World& world, BodyId target, BodyId hostile, bool sees, Time at, Events& events);
    /// Changes somebody's lives, within the limits of the rules; who was out comes back.
    bool change_lives(const World& world, BodyId id, std::int32_t by, Time at, Events& events);

    /// Lays a hazard at `at`; returns its place, or none when there is no room.
    std::optional<std::int32_t> lay_hazard(const World& world, const HazardPlacement& placement, Time at,
                                           Events& events);
    /// Places a pickup; returns its place, or none when there is no room.
    std::optional<std::int32_t> place_pickup(std::int32_t spec, const Vector3& position);
    /// Somebody asks for the nearest pickup in reach. Returns whether it took one.
    bool request_pickup(const World& world, BodyId id, Time at, Events& events);
    /// Somebody takes the weapon nearest to it within `reach` of those that lie about. Returns whether it
    /// did.
    bool take_dropped(const World& world, BodyId id, Metres reach, Time at, Events& events);

    /// When something is next due by itself; perhaps a little before.
    Time due();

    /// Lets what is due next happen, and no time pass after it.
    void do_next(const World& world, Events& events);

    /// As advance() to a moment at which something is reported, but quick when nothing is due before.
    void advance_to(const World& world, Time at, Events& events);

    /// Lets time pass until `until`; what is due then belongs to the next call. Bodies stand where the world
    /// says.
    void advance(const World& world, Time until, Events& events);

    /// Moves the weapons of one combatant from where they are to `until`, with what its life forbids kept
    /// from them. Call it before advance() with the same span. Forbidden acts that end within the span end on
    /// time; what only comes in the span, with hits, holds from its end on. Conditions
    /// widen the cones of their shots. The dead do nothing. Intents are
    /// in order of time, as for advance() of a loadout.
    void act(BodyId id, Time until, std::span<const LoadoutIntent> intents, std::vector<WeaponEvent>& events);

    /// What somebody will not be allowed to do from `from` to `until`, as far as it is known now: hits will
    /// change it. Precondition (asserted): it is there.
    Gates planned_gates(BodyId id, Time from, Time until);

    /// What somebody's conditions make of it now: the game multiplies its speed by what they say.
    ConditionFactors factors(BodyId id) const;

    /// Whether somebody may do something now: the one place that gates acting.
    bool can_act(BodyId id, Act act) const;

    /// Whether what is fired meets somebody's body now: not when it is gone, and of the dead as the rules
    /// say. The game takes the others out of its scene, or has its queries ignore them.
    bool stops_shots(BodyId id) const;

    Time now() const { return now_; }
    /// Whether what one does to the other counts as done to a foe.
    bool are_hostile(const Combatant& one, const Combatant& other) const;
    bool is_over() const { return over_; }
    const Arsenal& arsenal() const { return *arsenal_; }
    const MatchSpec& rules() const { return *rules_; }
    std::int32_t team_score(TeamId team) const;
    const Combatant* find(BodyId id) const;
    /// Direct access, for those who set something up.
    Combatant* find(BodyId id);
    /// The one at a place of combatants(), to move its loadout: nothing else of it may be changed.
    Combatant& combatant_at(std::size_t index);
    std::span<const Combatant> combatants() const {
        return {combatants_.data(), combatants_.size()};
    } ///< in order of their ids
    std::span<const HazardState> hazards() const { return {hazards_.data(), hazards_.size()}; }
    std::span<const PickupState> pickups() const { return {pickups_.data(), pickups_.size()}; }
    std::span<const DroppedWeapon> dropped() const { return {dropped_.data(), dropped_.size()}; }
    bool is_alert(BodyId id) const; ///< somebody hostile notices it

    /// Equal for equal states.
    std::uint64_t state_hash() const;

    void save(StateWriter& to) const;
    /// Into a match of the same arsenal, rules and limits. A failure leaves anything in it.
    bool restore(StateReader& from);

  private:
    // At one moment in this order: a body that comes back touches nothing where it died.
    enum class DueKind : std::uint8_t { combatant, hazard, pickup, touches, respawn };
    struct Due {
        Time at{};
        DueKind kind = DueKind::combatant;
        std::uint32_t key = 0; ///< id of a combatant, place of a hazard or pickup
    };
    struct DueLater {
        bool operator()(const Due& one, const Due& other) const;
    };

    Combatant* find_any(BodyId id);
    const BodySpec& body_of(const Combatant& who) const;
    Time next_due() const;
    void refresh_dues();
    MatchEvent& emit(MatchEventKind kind, BodyId who, Time at, Events& events) const;
    HitResult hit_now(const World& world, Combatant& target, IncomingHit hit, Time at, Events& events);
    // Runs `change` on the vitals, then does what follows from the events it gives.
    template <class Change>
    auto change_vitals(const World& world, Combatant& who, Events& events, const Change& change);
    void follow(const World& world, Combatant& who, Events& events);
    void follow_death(const World& world, Combatant& who, const VitalsEvent& death, Events& events);
    void credit_kill(Combatant& who, BodyId killer, Time at, Events& events);
    void add_score(Combatant& who, std::int32_t points, Time at, Events& events);
    void drop_weapon_of(const World& world, Combatant& who, Time at, Events& events);
    void emit_weapon_events(BodyId who, Events& events);
    void respawn(Combatant& who, Time at, Events& events);
    void set_lives(Combatant& who, std::int64_t lives, Time at, Events& events);
    void clear_alerts(const Combatant& who, Time at, Events& events);
    bool is_alert(const Combatant& who) const;
    // Teams, or, where everybody is alone, combatants.
    struct Sides {
        bool several = false;      // there is more than one
        bool several_left = false; // and more than one has somebody left
        std::int64_t left = -1;    // one that has
        std::int64_t leader = -1;  // the one with the most points; -1 when several have
        std::int64_t best = 0;     // the most points
    };
    Sides count_sides() const;
    void check_over(Time at, Events& events);
    void end(Time at, Events& events);

    void run(const World& world, Time until, Events& events);
    Time limit() const;
    void do_due(const World& world, const Due& due, Events& events);
    void push_due(const Due& due);
    void push_due_of(const Combatant& who);
    static Time due_of(const Combatant& who);
    static Time due_of(const HazardState& hazard);
    bool has_touches() const;
    Time next_touch() const;
    void check_touches(const World& world, Time at, Events& events);
    void check_hazard(const World& world, std::size_t index, Time at, Events& events);
    void do_hazard(const World& world, std::size_t index, Time at, Events& events);
    void leave_hazard(std::size_t index, std::size_t touch, Time at, Events& events);
    void stop_hazard(std::size_t index, Time at, Events& events);
    void forget_touches(BodyId id, Time at, Events& events);
    bool is_useful(const PickupSpec& pickup, const Combatant& who) const;
    void take_pickup(const World& world, std::size_t index, Combatant& who, Time at, Events& events);

    const Arsenal* arsenal_;
    const MatchSpec* rules_;
    MatchLimits limits_;
    Time now_{};
    Time doing_until_ = Time::min(); ///< while advance() runs: what is due before this it does
    Time quiet_until_ = Time::min(); ///< nothing is due before
    Time looked_until_{};            ///< touches before this have been looked at
    bool over_ = false;
    std::vector<Combatant> combatants_;
    std::vector<Time> dues_; ///< of the combatants, unless quiet_until_ is Time::min()
    std::vector<HazardState> hazards_;
    std::vector<PickupState> pickups_;
    std::vector<DroppedWeapon> dropped_;
    std::vector<std::uint64_t> noticed_; ///< for each slot a row of bits: the slots of whom notices it
    std::size_t row_words_;
    std::array<std::int32_t, 32> team_scores_{};
    std::vector<Due> heap_; ///< room to work in, as are the next two
    std::vector<VitalsEvent> vitals_events_;
    std::vector<WeaponEvent> weapon_events_;
};

} // namespace avrek
