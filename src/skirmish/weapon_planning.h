#pragma once
#include "fight.h"

#include <array>
#include <span>
#include <vector>

namespace avrek::detail {

/// Events of a combatant's weapons in the tick if nothing interrupts.
struct WeaponPlan {
    Loadout ahead{};
    LoadoutIntent ahead_stated{};
    Gates gates{};
    std::array<LoadoutIntent, 8> intents{}; ///< in order of time
    std::size_t intent_count = 0;
    std::array<Span, 2> blows{}; ///< while the hands strike: what went on, and what begins in the tick
    Time plan_from{};            ///< actions of older plans hold before that
    std::uint32_t version = 0;
    bool intent_given = false;
    Buttons pressed{}; ///< in this tick
    Buttons released{};
};

/// An event of a weapon that will happen if nothing interrupts.
struct PlannedEvent {
    BodyId who = nobody;
    std::optional<WeaponId> weapon{}; ///< in the event's slot, as it was planned
    WeaponEvent event{};
};

/// Plans weapons within a tick: they are moved to the tick's end on a copy, which gives their events as
/// actions; `loadout` itself is moved on as these come to pass. When something comes between, what is left of
/// the plan is dropped and made anew from there.
class WeaponPlanning {
  public:
    explicit WeaponPlanning(Fight& fight);

    /// Takes the intents of a tick, sanitised, and begins new plans.
    void take_intents(std::span<const Intent> intents);
    /// Makes the plans of all combatants.
    void plan_all();
    /// Moves a loadout to just after `at`, as planned; its events are actions already.
    void commit_until(std::size_t index, Time at);
    /// Plans anew what comes after `at`.
    void replan_after(std::size_t index, Time at);
    /// Drops the plan of a combatant: until its next life begins it does nothing.
    void drop(std::size_t index);
    /// Buttons that were held when a life began are held and no presses: a trigger must be pulled again.
    void keep_intent(std::size_t index);
    /// Notes the span of a blow that begins in the tick.
    void note_blow(std::size_t index, const Span& blow) { plans_[index].blows[1] = blow; }
    /// Returns the event of an action if its plan still holds, having moved the loadout to it; or null.
    const PlannedEvent* come_to(const QueuedAction& action);
    /// Ends the tick: plans that held are what has happened.
    void finish();
    /// Returns the plan of a combatant.
    const WeaponPlan& plan_of(std::size_t index) const { return plans_[index]; }

  private:
    void state_intents(std::size_t index);
    void plan(std::size_t index, Time from);

    Fight& fight_;
    std::vector<WeaponPlan> plans_{}; // by fighter
    std::vector<PlannedEvent> planned_{};
    std::vector<WeaponEvent> events_{}; // room to work in
};

} // namespace avrek::detail
