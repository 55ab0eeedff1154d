#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/ids.h>
#include <avrek/core/outcome.h>
#include <avrek/core/state_bytes.h>
#include <avrek/scene/world.h>
#include <avrek/skirmish/combatant.h>
#include <avrek/skirmish/event.h>
#include <avrek/skirmish/hazards_and_pickups.h>
#include <avrek/vitals/conditions.h>
#include <avrek/vitals/hits.h>

#include <cstddef>
#include <cstdint>
#include <memory>
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

namespace detail {
struct MatchParts;
}

/// Life and death in a match. The game reports what happens, in order of time; the match applies the
/// consequences. Every function that takes a time first does everything that is due before. Events are kept
/// in order of time until forget_events(). After a MatchOverEvent nothing changes. Only the constructor and
/// the events allocate. Functions return whether they did something: an unknown id is not an error, since its
/// combatant can just have left.
///
///     Match match{arsenal, *find(arsenal.matches, "last-stand"), scene};
///     const Outcome joined = match.join(
///         {.id = keeper, .team = crew, .body = *arsenal.body("crew"), .weapons = weapons});
///     match.hit(keeper, hit, shot.at);
///     match.advance(tick_end);
///     for (const Event& event : match.events()) { react(event); }
///
/// The arsenal, after resolve_references(), the rules and the world must outlive it and its copies.
/// Preconditions (asserted): times never decrease; indices are the arsenal's; validate() finds no error in
/// the specs.
class Match {
  public:
    /// Makes a match without combatants at Time{}. Refers to arsenal, rules and world, in which bodies are
    /// where they are when it is asked.
    Match(const Arsenal& arsenal, const MatchSpec& rules, const World& world, const MatchLimits& limits = {});
    Match(const Match& other);            ///< a deep copy in the same world
    Match& operator=(const Match& other); ///< a deep copy in the same world
    Match(Match&&) noexcept;              ///< leaves `other` to be destroyed or assigned
    Match& operator=(Match&&) noexcept;   ///< leaves `other` to be destroyed or assigned
    ~Match();

    /// Adds a combatant at now(). Changes nothing and says why if its id is taken, its team is no team, there
    /// is no room, or the match is over.
    Outcome join(const Joining& joining);
    /// Removes a combatant without a death. Returns false if it is not there.
    bool leave(BodyId id);

    /// Applies a hit to a combatant, with friendly fire, self damage and the attacker's conditions. The dead,
    /// and those that the rules spare, take nothing, without an event. Reflected damage hits the attacker.
    HitResult hit(BodyId target, const IncomingHit& hit, Time at);
    /// Gives a condition to a combatant. Returns whether it took hold.
    bool give_condition(BodyId target, const NewCondition& condition, Time at);
    /// States whether a combatant holds its guard. This and the next three return false and do nothing if the
    /// match is over or a combatant is not there.
    bool hold_guard(BodyId id, bool held, Time at);
    /// Reports that a combatant fired or began a swing. That ends protection and conditions, by their rules.
    /// `shots` are counted.
    bool report_action(BodyId id, Act act, std::uint32_t shots, Time at);
    /// Reports that `hostile` notices `target`, or no longer does.
    bool notice(BodyId target, BodyId hostile, bool sees, Time at);
    /// Changes the lives of a combatant, within the limits of the rules. A combatant that was out respawns.
    bool change_lives(BodyId id, std::int32_t by, Time at);

    /// Places a hazard at `at`. Returns its index, or none if there is no room.
    std::optional<std::size_t> lay_hazard(const HazardPlacement& placement, Time at);
    /// Places a pickup. Returns its index, or none if there is no room.
    std::optional<std::size_t> place_pickup(PickupId spec, const Vector3& position);
    /// Takes the nearest pickup in reach for a combatant. Returns whether it took one.
    bool request_pickup(BodyId id, Time at);
    /// Takes the nearest dropped weapon within `reach` for a combatant. Returns whether it took one.
    bool take_dropped(BodyId id, Metres reach, Time at);

    /// Takes the match over to the values of another arsenal at now(). Bodies, weapons, conditions, waits,
    /// hazards, pickups and lives go on by them; see the retune() of each layer. Waits for a respawn, a
    /// pickup or the end of a hazard keep their shares; lives stay within the new limits. Appends a
    /// RetunedEvent of nobody, then what came of it. `is` must outlive the match. Precondition (asserted):
    /// keeps_places().
    void retune(const Arsenal& is);

    /// Advances to `until`; what is due then belongs to the next call.
    void advance(Time until);

    /// Advances the weapons of one combatant to `until`, without the acts that its life forbids. Call it
    /// before advance() with the same span. Restrictions that end within the span end on time; those that
    /// hits cause within it start at its end. Conditions widen the cones of shots. The dead do nothing.
    /// Intents are in order of time.
    void act(BodyId id, Time until, std::span<const LoadoutIntent> intents, std::vector<WeaponEvent>& events);

    /// Returns what happened since forget_events(), in order of time.
    std::span<const Event> events() const;
    /// Forgets the events so far. Call it when they are handled.
    void forget_events();

    /// Returns the combined factors of a combatant's conditions. The game multiplies its speed by them.
    ConditionFactors factors(BodyId id) const;
    /// Returns whether a combatant can do something now. The one place that gates acts.
    bool can_act(BodyId id, Act act) const;
    /// Returns whether shots hit a combatant's body now: not if it is removed; for the dead, by the rules.
    /// Remove other bodies from the scene, or ignore them in queries.
    bool stops_shots(BodyId id) const;
    /// Returns whether damage by one to the other counts as damage to a foe.
    bool are_hostile(const Combatant& one, const Combatant& other) const;
    /// Returns whether a foe notices a combatant, or one of its side if SideSpec::alert_spreads.
    bool is_alert(BodyId id) const;

    Time now() const;                           ///< time up to which the match is advanced
    bool is_over() const;                       ///< the match is over
    const Arsenal& arsenal() const;             ///< arsenal that it refers to
    const MatchSpec& rules() const;             ///< rules that count
    std::optional<MatchId> rules_set() const;   ///< rules that an action has set; none: the first ones
    std::int32_t team_score(TeamId team) const; ///< points of a team
    /// Returns the respawns left that a team shares; -1: any number.
    std::int32_t respawns_left(TeamId team) const;
    const Combatant* find(BodyId id) const;         ///< a combatant, or null
    std::span<const Combatant> combatants() const;  ///< in order of ids
    std::span<const HazardState> hazards() const;   ///< removed ones included
    std::span<const PickupState> pickups() const;   ///< taken ones included
    std::span<const DroppedWeapon> dropped() const; ///< weapons that lie about
    /// Returns a combatant to change, or null, for set-up. Do not change its id or its slot.
    Combatant* edit(BodyId id);

    /// Returns a hash: equal for equal states; others almost surely differ.
    std::uint64_t state_hash() const;
    /// Saves the whole match.
    void save(StateWriter& to) const;
    /// Restores a match of the same arsenal, rules and limits. Returns false on damaged bytes; the match is
    /// then undefined.
    bool restore(StateReader& from);

  private:
    friend struct detail::MatchParts;
    std::unique_ptr<detail::MatchParts> parts_;
};

} // namespace avrek
