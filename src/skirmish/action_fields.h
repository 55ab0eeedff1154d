#pragma once
#include <avrek/skirmish/game_action.h>

/// The fields of actions, for their records.
namespace avrek {

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<HitAction> auto& action) {
    field("who", action.who);
    field("source", action.source);
    field("damage", action.damage);
    field("type", action.type);
    field("region", action.region);
    field("reaction", action.reaction);
    field("condition", action.condition);
    field("strength", action.strength);
    field("direction", action.direction);
    field("push", action.push);
    field("melee", action.melee);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<HealAction> auto& action) {
    field("who", action.who);
    field("source", action.source);
    field("points", action.points);
    field("type", action.type);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<BlastAction> auto& action) {
    field("projectile", action.projectile);
    field("centre", action.centre);
    field("source", action.source);
    field("power", action.power);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<PushAction> auto& action) {
    field("who", action.who);
    field("velocity", action.velocity);
    field("replaces", action.replaces);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<ConditionAction> auto& action) {
    field("who", action.who);
    field("source", action.source);
    field("condition", action.condition);
    field("strength", action.strength);
    field("ends", action.ends);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<RagdollAction> auto& action) {
    field("who", action.who);
    field("lasts", action.lasts);
    field("on_back", action.on_back);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<StandUpAction> auto& action) {
    field("who", action.who);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<LivesAction> auto& action) {
    field("who", action.who);
    field("by", action.by);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<ScoreAction> auto& action) {
    field("who", action.who);
    field("points", action.points);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<HazardAction> auto& action) {
    field("hazard", action.hazard);
    field("pose", action.pose);
    field("team", action.team);
    field("source", action.source);
    field("carrier", action.carrier);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<EndHazardAction> auto& action) {
    field("index", action.index);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<PickupAction> auto& action) {
    field("pickup", action.pickup);
    field("position", action.position);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<RemovePickupAction> auto& action) {
    field("index", action.index);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<PlaceAction> auto& action) {
    field("who", action.who);
    field("position", action.position);
    field("yaw", action.yaw);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<TeamAction> auto& action) {
    field("who", action.who);
    field("team", action.team);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<EnterAction> auto& action) {
    field("who", action.who);
    field("team", action.team);
    field("body", action.body);
    field("melee", action.melee);
    field("role", action.role);
    field.list("weapons", action.weapons, action.weapon_count);
    field("weapon_count", action.weapon_count);
    field("is_placed", action.is_placed);
    field("position", action.position);
    field("yaw", action.yaw);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<LeaveAction> auto& action) {
    field("who", action.who);
}

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<RulesAction> auto& action) {
    field("rules", action.rules);
}

} // namespace avrek
