#pragma once
#include "roster.h"
#include "shot_resolution.h"

#include <vector>

namespace avrek::detail {

/// Does what the game itself does to a fight.
class GameActions {
  public:
    GameActions(Fight& fight, WeaponPlanning& planning, Consequences& consequences, Roster& roster,
                ShotResolution& shots);

    /// Begins a tick: does what counts at its start, and queues the rest.
    void begin(std::span<const GameAction> actions);
    /// Does a queued action.
    void act(std::size_t index, Time at);

  private:
    ActionEvent event_of(const GameAction& action, Time at) const;
    void act_now(const GameAction& action, Time at);
    Fighter* fighter_of(BodyId id);
    Combatant* combatant_of(BodyId id) { return fight_.parts().find(id); }
    template <class Change>
    Outcome change_body(BodyId who, Time at, const Change& change);

    Outcome act(const HitAction& action, ActionEvent& event);
    Outcome act(const HealAction& action, ActionEvent& event);
    Outcome act(const BlastAction& action, ActionEvent& event);
    Outcome act(const PushAction& action, ActionEvent& event);
    Outcome act(const ConditionAction& action, ActionEvent& event);
    Outcome act(const RagdollAction& action, ActionEvent& event);
    Outcome act(const StandUpAction& action, ActionEvent& event);
    Outcome act(const LivesAction& action, ActionEvent& event);
    Outcome act(const ScoreAction& action, ActionEvent& event);
    Outcome act(const HazardAction& action, ActionEvent& event);
    Outcome act(const EndHazardAction& action, ActionEvent& event);
    Outcome act(const PickupAction& action, ActionEvent& event);
    Outcome act(const RemovePickupAction& action, ActionEvent& event);
    Outcome act(const PlaceAction& action, ActionEvent& event);
    Outcome act(const TeamAction& action, ActionEvent& event);
    Outcome act(const EnterAction& action, ActionEvent& event);
    Outcome act(const LeaveAction& action, ActionEvent& event);
    Outcome act(const RulesAction& action, ActionEvent& event);
    void hit(std::size_t index, const IncomingHit& hit, Time at);

    Fight& fight_;
    WeaponPlanning& planning_;
    Consequences& consequences_;
    Roster& roster_;
    ShotResolution& shots_;
    std::vector<GameAction> queued_{};
};

} // namespace avrek::detail
