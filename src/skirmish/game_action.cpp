#include "../core/words.h"
#include <avrek/skirmish/game_action.h>

#include <array>
#include <cmath>

namespace avrek {

namespace {

constexpr double max_coordinate = 1e5; // m, m/s

// Collects the first fault of an action.
struct Check {
    const Arsenal& arsenal;
    Outcome found = Outcome::done();

    void unless(bool holds, std::string_view why) {
        if (found && !holds) {
            found = Outcome::refused(why);
        }
    }
    void vector(const Vector3& vector) {
        unless(vector.allFinite() && vector.cwiseAbs().maxCoeff() <= max_coordinate,
               "a vector is beyond 1e5, or not finite");
    }
    void range(double number, double min, double max) {
        unless(number >= min && number <= max, "a number is out of its range");
    }
    template <class Id, class Spec>
    void id(Id id, const std::vector<Spec>& specs) {
        unless(to_index(id) < specs.size(), "an id is not the arsenal's");
    }
    template <class Id, class Spec>
    void id(std::optional<Id> some, const std::vector<Spec>& specs) {
        if (some) {
            id(*some, specs);
        }
    }
    void team(TeamId team) { unless(static_cast<std::size_t>(team) < team_count, "the team is none"); }
    void yaw(Radians yaw) { range(yaw, -1e3, 1e3); }

    void operator()(const HitAction& hit) {
        range(hit.damage, 0.0, 1e6);
        id(hit.type, arsenal.damage_types);
        id(hit.condition, arsenal.conditions);
        range(hit.strength, 1e-6, 1e6);
        unless(static_cast<std::size_t>(hit.reaction) <= reaction_count, "the reaction is none");
        vector(hit.direction);
        vector(hit.push);
    }
    void operator()(const HealAction& heal) {
        range(heal.points, 0.0, 1e6);
        id(heal.type, arsenal.damage_types);
    }
    void operator()(const BlastAction& blast) {
        id(blast.projectile, arsenal.projectiles);
        vector(blast.centre);
        range(blast.power, 0.0, 1e3);
    }
    void operator()(const PushAction& push) { vector(push.velocity); }
    void operator()(const ConditionAction& condition) {
        id(condition.condition, arsenal.conditions);
        range(condition.strength, 1e-6, 1e6);
    }
    void operator()(const RagdollAction& ragdoll) {
        unless(ragdoll.lasts > Duration::zero() && ragdoll.lasts <= std::chrono::hours{1},
               "a duration is out of its range");
    }
    void operator()(const ScoreAction& score) { range(score.points, -1e6, 1e6); }
    void operator()(const HazardAction& hazard) {
        id(hazard.hazard, arsenal.hazards);
        vector(hazard.pose.position);
        unless(std::abs(hazard.pose.rotation.squaredNorm() - 1.0) < 1e-6, "a rotation has no unit length");
        team(hazard.team);
    }
    void operator()(const PickupAction& pickup) {
        id(pickup.pickup, arsenal.pickups);
        vector(pickup.position);
    }
    void operator()(const PlaceAction& place) {
        vector(place.position);
        yaw(place.yaw);
    }
    void operator()(const TeamAction& change) { team(change.team); }
    void operator()(const EnterAction& enter) {
        unless(enter.who != nobody, "nobody enters");
        team(enter.team);
        id(enter.body, arsenal.bodies);
        id(enter.melee, arsenal.melee);
        unless(enter.role <= Role::prop, "the role is none");
        unless(enter.weapon_count <= enter.weapons.size(), "it carries too many weapons");
        for (std::size_t index = 0; found && index < enter.weapon_count; ++index) {
            id(enter.weapons[index], arsenal.weapons);
        }
        vector(enter.position);
        yaw(enter.yaw);
    }
    void operator()(const RulesAction& rules) { id(rules.rules, arsenal.matches); }
    void operator()(const auto&) {} // any number is allowed
};

} // namespace

std::string_view action_words(std::size_t kind) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"hit", "heal", "blast", "push", "condition", "ragdoll", "stand up", "lives", "score", "hazard",
         "end of hazard", "pickup", "removal of pickup", "place", "team", "entry", "leave", "rules"});
    static_assert(words.size() == std::variant_size_v<ActionKind>);
    return detail::word_of(words, kind);
}

Outcome validate(const Arsenal& arsenal, const GameAction& action) {
    Check check{arsenal};
    std::visit(check, action.what);
    return check.found;
}

} // namespace avrek
