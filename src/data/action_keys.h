#pragma once
#include "key_reading.h"
#include <avrek/arsenal/arsenal.h>
#include <avrek/skirmish/game_action.h>

namespace avrek::detail {

/// Reads the number of a combatant.
void read_body(KeyReading& key, const char* name, BodyId& body, const char* meaning, bool required = false);

/// Lets values name the entries of an arsenal.
void know_ids(const Arsenal& arsenal, Faults& faults);

/// Reads the values of an action of each kind from its table.
class ActionKeys {
  public:
    ActionKeys(KeyReading& key, const Arsenal& arsenal) : key_(key), arsenal_(arsenal) {}

    void operator()(HitAction& hit);
    void operator()(HealAction& heal);
    void operator()(BlastAction& blast);
    void operator()(PushAction& push);
    void operator()(ConditionAction& condition);
    void operator()(RagdollAction& ragdoll);
    void operator()(StandUpAction& stand_up);
    void operator()(LivesAction& lives);
    void operator()(ScoreAction& score);
    void operator()(HazardAction& hazard);
    void operator()(EndHazardAction& end);
    void operator()(PickupAction& pickup);
    void operator()(RemovePickupAction& removal);
    void operator()(PlaceAction& place);
    void operator()(TeamAction& change);
    void operator()(EnterAction& enter);
    void operator()(LeaveAction& leave);
    void operator()(RulesAction& rules);

  private:
    void who(BodyId& member) { read_body(key_, "who", member, "Combatant that it is about.", true); }
    void source(BodyId& member) { read_body(key_, "source", member, "Combatant that gets credit."); }
    void team(TeamId& member);
    void point(const char* name, Vector3& member, const char* meaning, bool required = false);
    template <class Id>
    std::optional<Id> id(const char* name, const char* section, const char* meaning, bool required,
                         std::optional<Id> (Arsenal::*find)(std::string_view) const);

    KeyReading& key_;
    const Arsenal& arsenal_;
};

} // namespace avrek::detail
