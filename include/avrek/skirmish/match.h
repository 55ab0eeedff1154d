#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/ids.h>
#include <avrek/core/outcome.h>
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

/// Life, death, credit, respawn and score, and the end of a match.
namespace avrek {

/// Capacity of a match. The constructor reserves all of it.
struct MatchLimits {
    std::size_t combatants = 64; ///< props included
    std::size_t hazards = 32;
    std::size_t pickups = 64;
    std::size_t dropped = 64; ///< weapons that lie about
};

/// A combatant that joins.
struct Joining {
    BodyId id = nobody; ///< the id in the world; not nobody
    TeamId team{};
    BodySpecId body{};
    Role role = Role::combatant;
    std::span<const WeaponId> weapons{}; ///< at most Loadout::slot_count
};

/// A hazard to place.
struct HazardPlacement {
    HazardId spec{};
    Pose pose{};
    TeamId team{};
    BodyId source = nobody;  ///< combatant that gets credit
    BodyId carrier = nobody; ///< the hazard ends with this combatant's life
};

/// Life and death in a match. The game reports what happens, in order of time; the match applies the
/// consequences. Every function that takes a time first does everything that is due before. Events are
/// appended in order of time. After match_over nothing changes. Only the constructor and the events allocate.
/// Functions return whether they did something: an unknown id is not an error, since its combatant can just
/// have left.
///
///     Match match{arsenal, *find(arsenal.matches, "last-stand")};
///     const Outcome joined = match.join(
///         {.id = keeper, .team = crew, .body = *arsenal.body("crew"), .weapons = weapons});
///     match.hit(scene, keeper, hit, shot.at, events);
///     match.advance(scene, tick_end, events);
///
/// The arsenal, after resolve_references(), and the rules must outlive it. Preconditions (asserted): times
/// never decrease; indices are the arsenal's; validate() finds no error in the specs.
class Match {
  public:
    /// Events are appended to this.
    using Events = std::vector<MatchEvent>;

    /// Makes a match without combatants at Time{}. Refers to arsenal and rules.
    Match(const Arsenal& arsenal, const MatchSpec& rules, const MatchLimits& limits = {});

    /// Adds a combatant at now(). Changes nothing and says why if its id is taken, its team is no team, there
    /// is no room, or the match is over.
    Outcome join(const Joining& joining);
    /// Removes a combatant without a death. Returns false if it is not there.
    bool leave(BodyId id, Events& events);

    /// Applies a hit to a combatant, with friendly fire, self damage and the attacker's conditions. The dead,
    /// and those that the rules spare, take nothing, without an event. Reflected damage hits the attacker.
    HitResult hit(const World& world, BodyId target, IncomingHit hit, Time at, Events& events);
    /// Gives a condition to a combatant. Returns whether it took hold.
    bool give_condition(const World& world, BodyId target, const NewCondition& condition, Time at,
                        Events& events);
    /// States whether a combatant holds its guard. This and the next three return false and do nothing if the
    /// match is over or a combatant is not there.
    bool hold_guard(const World& world, BodyId id, bool held, Time at, Events& events);
    /// Reports that a combatant fired or began a swing. That ends protection and conditions, by their rules.
    /// `shots` are counted.
    bool report_action(const World& world, BodyId id, Act act, std::uint32_t shots, Time at, Events& events);
    /// Reports that `hostile` notices `target`, or no longer does.
    bool notice(const World& world, BodyId target, BodyId hostile, bool sees, Time at, Events& events);
    /// Changes the lives of a combatant, within the limits of the rules. A combatant that was out respawns.
    bool change_lives(const World& world, BodyId id, std::int32_t by, Time at, Events& events);

    /// Places a hazard at `at`. Returns its index, or none if there is no room.
    std::optional<std::int32_t> lay_hazard(const World& world, const HazardPlacement& placement, Time at,
                                           Events& events);
    /// Places a pickup. Returns its index, or none if there is no room.
    std::optional<std::int32_t> place_pickup(PickupId spec, const Vector3& position);
    /// Takes the nearest pickup in reach for a combatant. Returns whether it took one.
    bool request_pickup(const World& world, BodyId id, Time at, Events& events);
    /// Takes the nearest dropped weapon within `reach` for a combatant. Returns whether it took one.
    bool take_dropped(const World& world, BodyId id, Metres reach, Time at, Events& events);

    /// Returns the time of the next due event, or a little before.
    Time due();

    /// Does what is due next, and advances no further.
    void do_next(const World& world, Events& events);

    /// Advances to `at`, the time of a report. Fast if nothing is due before.
    void advance_to(const World& world, Time at, Events& events);

    /// Advances to `until`; what is due then belongs to the next call. Bodies are where the world says.
    void advance(const World& world, Time until, Events& events);

    /// Advances the weapons of one combatant to `until`, without the acts that its life forbids. Call it
    /// before advance() with the same span. Restrictions that end within the span end on time; those that
    /// hits cause within it start at its end. Conditions widen the cones of shots. The dead do nothing.
    /// Intents are in order of time.
    void act(BodyId id, Time until, std::span<const LoadoutIntent> intents, std::vector<WeaponEvent>& events);

    /// Returns the restrictions of a combatant from `from` to `until`, as far as known now; hits will change
    /// them. Precondition (asserted): it is there.
    Gates planned_gates(BodyId id, Time from, Time until);

    /// Returns the combined factors of a combatant's conditions. The game multiplies its speed by them.
    ConditionFactors factors(BodyId id) const;

    /// Returns whether a combatant can do something now. The one place that gates acts.
    bool can_act(BodyId id, Act act) const;

    /// Returns whether shots hit a combatant's body now: not if it is removed; for the dead, by the rules.
    /// Remove other bodies from the scene, or ignore them in queries.
    bool stops_shots(BodyId id) const;

    /// Returns the time up to which the match is advanced.
    Time now() const { return now_; }
    /// Returns whether damage by one to the other counts as damage to a foe.
    bool are_hostile(const Combatant& one, const Combatant& other) const;
    /// Returns whether the match is over.
    bool is_over() const { return over_; }
    /// Returns the arsenal.
    const Arsenal& arsenal() const { return *arsenal_; }
    /// Returns the rules.
    const MatchSpec& rules() const { return *rules_; }
    /// Returns the score of a team.
    std::int32_t team_score(TeamId team) const;
    /// Returns a combatant, or null.
    const Combatant* find(BodyId id) const;
    /// Returns a combatant to change, or null, for set-up. Do not change its id or its slot.
    Combatant* edit(BodyId id);
    /// Returns a combatant by its index in combatants(), to advance its loadout. Change nothing else of it.
    Combatant& combatant_at(std::size_t index);
    /// Returns the combatants, in order of ids.
    std::span<const Combatant> combatants() const { return {combatants_.data(), combatants_.size()}; }
    /// Returns the hazards, removed ones included.
    std::span<const HazardState> hazards() const { return {hazards_.data(), hazards_.size()}; }
    /// Returns the pickups.
    std::span<const PickupState> pickups() const { return {pickups_.data(), pickups_.size()}; }
    /// Returns the weapons that lie about.
    std::span<const DroppedWeapon> dropped() const { return {dropped_.data(), dropped_.size()}; }
    bool is_alert(BodyId id) const; ///< a foe notices it

    /// Returns a hash: equal for equal states; others almost surely differ.
    std::uint64_t state_hash() const;

    /// Saves the whole match.
    void save(StateWriter& to) const;
    /// Restores a match of the same arsenal, rules and limits. Returns false on damaged bytes; the match is
    /// then undefined.
    bool restore(StateReader& from);

  private:
    // At one moment in this order: a body that comes back touches nothing where it died.
    enum class DueKind : std::uint8_t { combatant, hazard, pickup, touches, respawn };
    struct Due {
        Time at{};
        DueKind kind = DueKind::combatant;
        std::uint32_t key = 0; ///< id of a combatant, place of a hazard or pickup
    };
    struct DueRunsAfter {
        bool operator()(const Due& one, const Due& other) const;
    };

    Combatant* find_any(BodyId id);
    const BodySpec& body_of(const Combatant& who) const;
    Time next_due() const;
    void refresh_dues();
    MatchEvent& emit(MatchEventKind kind, BodyId who, Time at, Events& events) const;
    HitResult hit_now(const World& world, Combatant& target, IncomingHit hit, Time at, Events& events);
    // Runs `change` on the vitals, then handles the events it gives.
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
    // Teams, or combatants where everyone is alone.
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
    std::vector<Time> dues_; ///< by combatant; unused while quiet_until_ is Time::min()
    std::vector<HazardState> hazards_;
    std::vector<PickupState> pickups_;
    std::vector<DroppedWeapon> dropped_;
    std::vector<std::uint64_t> noticed_; ///< per slot a row of bits: the slots that notice it
    std::size_t row_words_;
    std::array<std::int32_t, 32> team_scores_{};
    std::vector<Due> heap_; ///< room to work in, as are the next two
    std::vector<VitalsEvent> vitals_events_;
    std::vector<WeaponEvent> weapon_events_;
};

} // namespace avrek
