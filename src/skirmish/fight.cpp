#include "fight.h"

#include <avrek/skirmish/walking_locomotion.h>

#include <algorithm>
#include <utility>

namespace avrek::detail {

std::vector<const Locomotion*> movers_of(const Arsenal& arsenal, const Locomotions& locomotions) {
    std::vector<const Locomotion*> movers;
    for (const BodySpec& body : arsenal.bodies) {
        const auto named =
            std::find_if(locomotions.begin(), locomotions.end(),
                         [&body](const Locomotion* one) { return one->name() == body.movement.locomotion; });
        movers.push_back(named != locomotions.end() ? *named
                         : locomotions.empty()      ? &walking_locomotion()
                                                    : locomotions.front());
    }
    return movers;
}

Fight::Fight(const Arsenal& its_arsenal, Level level, const SkirmishSettings& its_settings,
             std::uint64_t its_seed, LevelPlan its_plan)
    : FightSetup{&its_arsenal, its_settings, its_seed, std::move(its_plan),
                 movers_of(its_arsenal, its_settings.locomotions)},
      SkirmishState(its_arsenal, feet, std::move(level), its_settings) {
    feet.show(scene, fighters, span);
    const std::size_t each = 8 * settings.limits.combatants + 64;
    events().reserve(4 * each);
    queue.reserve(8 * each);
}

Fight::Fight(const Fight& other)
    : FightSetup(other), SkirmishState(other), span(other.span), rewind_world(other.rewind_world) {
    feet.show(scene, fighters, span);
    parts().world = &feet;
}

std::size_t Fight::index_of(BodyId id) const {
    const auto place = place_by_id(fighters, id);
    return place != fighters.end() && place->id == id
               ? static_cast<std::size_t>(std::distance(fighters.begin(), place))
               : fighters.size();
}

const RigSpec* Fight::rig_of(BodyId id) const {
    const std::size_t index = index_of(id);
    return index < fighters.size() ? &body_of(fighters[index]).rig : nullptr;
}

Vector3 Fight::position_at(const Fighter& fighter, Time at) const {
    const double share =
        static_cast<double>((at - span.begin).count()) / static_cast<double>((span.end - span.begin).count());
    return fighter.position_before + share * (fighter.motion.position - fighter.position_before);
}

Look Fight::look_at(const Fighter& fighter, Time at) const {
    const double share =
        static_cast<double>((at - span.begin).count()) / static_cast<double>((span.end - span.begin).count());
    return {fighter.look_before.yaw + share * shortest_turn(fighter.look.yaw - fighter.look_before.yaw),
            fighter.look_before.pitch + share * (fighter.look.pitch - fighter.look_before.pitch)};
}

Aimed Fight::aim_of(const Fighter& fighter, const Look& view, const Vector3& at, bool has_weapon) const {
    const PostureSpec& posture = body_of(fighter).posture;
    const double height = fighter.intent.buttons.has(Button::crouch) ? posture.crouched : 1.0;
    const Pose pose{at, turned_to({view.yaw, 0.0})};
    const auto point = [&](const Vector3& own) {
        return to_world(pose, {own.x(), height * own.y(), own.z()});
    };
    Aimed aimed;
    aimed.direction = direction_of(view);
    aimed.eye = point(posture.eye);
    aimed.grip = point(posture.grip);
    aimed.muzzle = aimed.grip + (has_weapon ? posture.muzzle : 0.0) * aimed.direction;
    return aimed;
}

Span Fight::swing_span_of(const Fighter& fighter) const {
    if (!fighter.melee || fighter.swing.attack < 0) {
        return {};
    }
    const MeleeSpec& melee = (*arsenal)[*fighter.melee];
    const auto attack = static_cast<std::size_t>(fighter.swing.attack);
    return {fighter.swing.started, fighter.swing.started + length_of(melee.attacks[attack])};
}

void Fight::leave_scene(std::size_t index) {
    scene.remove(fighters[index].id);
    fighters[index].in_scene = false;
}

} // namespace avrek::detail
