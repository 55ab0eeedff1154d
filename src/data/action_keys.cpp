#include "action_keys.h"

#include "../arsenal/keys/sections.h"

namespace avrek::detail {

namespace {

constexpr KeyRow any_points{.range = {0.0, 1e6}};
constexpr KeyRow strengths{.range = {0.0, 1e6, true}};

} // namespace

void read_body(KeyReading& key, const char* name, BodyId& body, const char* meaning, bool required) {
    auto number = static_cast<std::int32_t>(-1);
    key(name, number, {.range = {0.0, 1e9}, .required = required}, meaning);
    body = number >= 0 ? BodyId{static_cast<std::uint32_t>(number)} : body;
}

void know_ids(const Arsenal& arsenal, Faults& faults) {
    Arsenal copy = arsenal; // visitors may change what they visit
    visit_sections(
        [&faults](const char* name, const auto& specs) {
            std::vector<std::string> ids;
            for (const auto& spec : specs) {
                ids.push_back(spec.id);
            }
            faults.know(name, std::move(ids));
        },
        copy);
    std::vector<std::string> reactions;
    for (std::size_t reaction = 0; reaction <= reaction_count; ++reaction) {
        const std::string_view name = arsenal.name_of(static_cast<ReactionClass>(reaction));
        if (!name.empty()) {
            reactions.emplace_back(name);
        }
    }
    faults.know("reaction", std::move(reactions));
}

void ActionKeys::team(TeamId& member) {
    auto number = static_cast<std::int32_t>(member);
    key_("team", number, {.range = {0.0, 31.0}}, "Number of a team.");
    member = TeamId{static_cast<std::uint8_t>(number)};
}

void ActionKeys::point(const char* name, Vector3& member, const char* meaning, bool required) {
    key_(name, member, {.unit = "m", .range = {-1e5, 1e5}, .required = required}, meaning);
}

template <class Id>
std::optional<Id> ActionKeys::id(const char* name, const char* section, const char* meaning, bool required,
                                 std::optional<Id> (Arsenal::*find)(std::string_view) const) {
    SpecRef<Id> ref;
    key_(name, ref, {.required = required, .refers = section}, meaning);
    return ref.id.empty() ? std::nullopt : (arsenal_.*find)(ref.id);
}

void ActionKeys::operator()(HitAction& hit) {
    who(hit.who);
    source(hit.source);
    key_("damage", hit.damage, {.range = any_points.range, .required = true}, "Damage before the defences.");
    hit.type = id("type", "damage", "Damage type.", false, &Arsenal::damage_type);
    hit.condition = id("condition", "condition", "Condition that it leaves.", false, &Arsenal::condition);
    hit.reaction = id("reaction", "reaction", "Reaction.", false, &Arsenal::reaction).value_or(hit.reaction);
    key_("strength", hit.strength, strengths, "Strength of the condition.");
    key_("direction", hit.direction, {.range = {-1.0, 1.0}}, "Direction of the hit.");
    key_("push", hit.push, {.unit = "m/s", .range = {-1e3, 1e3}}, "Speed that it gives.");
    key_("melee", hit.melee, {}, "It counts as a blow.");
}

void ActionKeys::operator()(HealAction& heal) {
    who(heal.who);
    source(heal.source);
    key_("points", heal.points, {.range = any_points.range, .required = true}, "Points.");
    heal.type = id("type", "damage", "Type, for resistances.", false, &Arsenal::damage_type);
}

void ActionKeys::operator()(BlastAction& blast) {
    blast.projectile =
        id("projectile", "projectile", "Projectile whose explosion it is.", true, &Arsenal::projectile)
            .value_or(blast.projectile);
    point("centre", blast.centre, "Centre.", true);
    source(blast.source);
    key_("power", blast.power, {.range = {0.0, 1e3}}, "Factor for damage and push.");
}

void ActionKeys::operator()(PushAction& push) {
    who(push.who);
    key_("velocity", push.velocity, {.unit = "m/s", .range = {-1e3, 1e3}, .required = true}, "Velocity.");
    key_("replaces", push.replaces, {}, "It replaces the velocity; otherwise it is added.");
}

void ActionKeys::operator()(ConditionAction& condition) {
    who(condition.who);
    source(condition.source);
    condition.condition =
        id("condition", "condition", "Condition.", true, &Arsenal::condition).value_or(condition.condition);
    key_("strength", condition.strength, strengths, "Strength.");
    key_("ends", condition.ends, {}, "It ends; otherwise it begins.");
}

void ActionKeys::operator()(RagdollAction& ragdoll) {
    who(ragdoll.who);
    key_("lasts", ragdoll.lasts, {.unit = "s", .range = {0.0, 3600.0, true}}, "Duration.");
    key_("on_back", ragdoll.on_back, {}, "It lies on its back.");
}

void ActionKeys::operator()(StandUpAction& stand_up) {
    who(stand_up.who);
}

void ActionKeys::operator()(LivesAction& lives) {
    who(lives.who);
    key_("by", lives.by, {.range = {-1000.0, 1000.0}, .required = true}, "Change of its lives.");
}

void ActionKeys::operator()(ScoreAction& score) {
    who(score.who);
    key_("points", score.points, {.range = {-1e6, 1e6}, .required = true}, "Points.");
}

void ActionKeys::operator()(HazardAction& hazard) {
    hazard.hazard = id("hazard", "hazard", "Hazard.", true, &Arsenal::hazard).value_or(hazard.hazard);
    point("position", hazard.pose.position, "Position.", true);
    key_("turn", hazard.pose.rotation, {.unit = "degrees", .range = {-360.0, 360.0}}, "Yaw and pitch.");
    team(hazard.team);
    source(hazard.source);
    read_body(key_, "carrier", hazard.carrier, "Combatant with whose life it ends.");
}

void ActionKeys::operator()(EndHazardAction& end) {
    auto index = static_cast<std::int32_t>(0);
    key_("index", index, {.range = {0.0, 1e6}, .required = true}, "Number of the hazard, from 0.");
    end.index = static_cast<std::uint32_t>(index);
}

void ActionKeys::operator()(PickupAction& pickup) {
    pickup.pickup = id("pickup", "pickup", "Pickup.", true, &Arsenal::pickup).value_or(pickup.pickup);
    point("position", pickup.position, "Position.", true);
}

void ActionKeys::operator()(RemovePickupAction& removal) {
    auto index = static_cast<std::int32_t>(0);
    key_("index", index, {.range = {0.0, 1e6}, .required = true}, "Number of the pickup, from 0.");
    removal.index = static_cast<std::uint32_t>(index);
}

void ActionKeys::operator()(PlaceAction& place) {
    who(place.who);
    point("position", place.position, "Position.", true);
    key_("yaw", place.yaw, {.unit = "degrees", .range = {-360.0, 360.0}}, "Look.");
}

void ActionKeys::operator()(TeamAction& change) {
    who(change.who);
    team(change.team);
}

void ActionKeys::operator()(EnterAction& enter) {
    who(enter.who);
    team(enter.team);
    enter.body = id("body", "body", "Body.", true, &Arsenal::body).value_or(enter.body);
    enter.melee = id("blade", "melee", "Blade.", false, &Arsenal::melee_weapon);
    std::vector<SpecRef<WeaponId>> weapons;
    key_("weapons", weapons, {.refers = "weapon"}, "Weapons, at most 6.");
    for (std::size_t index = 0; index < weapons.size() && index < enter.weapons.size(); ++index) {
        enter.weapons[index] = arsenal_.weapon(weapons[index].id).value_or(WeaponId{});
    }
    enter.weapon_count = static_cast<std::uint32_t>(weapons.size());
    bool prop = false;
    key_("prop", prop, {}, "It is a prop.");
    enter.role = prop ? Role::prop : Role::combatant;
    const Vector3 nowhere = Vector3::Constant(1e9);
    enter.position = nowhere;
    point("position", enter.position, "Position; a spawn point if not given.");
    enter.is_placed = enter.position != nowhere;
    enter.position = enter.is_placed ? enter.position : Vector3(Vector3::Zero());
    key_("yaw", enter.yaw, {.unit = "degrees", .range = {-360.0, 360.0}}, "Look.");
}

void ActionKeys::operator()(LeaveAction& leave) {
    who(leave.who);
}

void ActionKeys::operator()(RulesAction& rules) {
    rules.rules = id("match", "match", "Rules.", true, &Arsenal::match).value_or(rules.rules);
}

} // namespace avrek::detail
