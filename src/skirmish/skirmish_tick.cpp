#include "rewound.h"
#include <avrek/skirmish/skirmish.h>
#include <avrek/skirmish/walking_locomotion.h>
#include <avrek/weapon/aim.h>

#include <algorithm>
#include <cmath>
#include <utility>

namespace avrek {

namespace {

constexpr Radians steepest = 1.55;

float number_or(float value, float other) {
    return std::isfinite(value) && std::abs(value) < 1e6F ? value : other;
}

// Whether a placing is within what is allowed.
bool is_sound(const BodyUpdate& update) {
    constexpr double most = 1e5;
    return update.position.allFinite() && update.velocity.allFinite() &&
           update.position.cwiseAbs().maxCoeff() <= most && update.velocity.cwiseAbs().maxCoeff() <= most &&
           std::abs(update.yaw) <= 1e3;
}

// An intent as it counts: with what is allowed in place of what is not.
Intent allowed(const Intent& intent, const Intent& last, Duration tick) {
    Intent counts = intent;
    const auto most = static_cast<std::uint32_t>(tick.count() - 1);
    counts.press_offset = std::min(intent.press_offset, most);
    counts.yaw = static_cast<float>(shortest_turn(number_or(intent.yaw, last.yaw)));
    constexpr auto max_pitch = static_cast<float>(steepest);
    counts.pitch = std::clamp(number_or(intent.pitch, last.pitch), -max_pitch, max_pitch);
    counts.ahead = number_or(intent.ahead, 0.0F);
    counts.left = number_or(intent.left, 0.0F);
    const double size = std::sqrt(double{counts.ahead} * counts.ahead + double{counts.left} * counts.left);
    if (size > 1.0) {
        counts.ahead = static_cast<float>(counts.ahead / size);
        counts.left = static_cast<float>(counts.left / size);
    }
    counts.buttons = Buttons::from_bits(intent.buttons.bits());
    counts.slot = intent.slot >= 0 && intent.slot < Loadout::slot_count ? intent.slot : std::int8_t{-1};
    return counts;
}

} // namespace

const SkirmishEvents& Skirmish::advance(std::span<const Intent> intents,
                                        std::span<const BodyUpdate> updates) {
    begin_tick();
    if (!match_.is_over()) {
        take_intents(intents);
        place_respawned();
        move_bodies(updates);
        swing_blades();
        advance_projectiles();
        plan_weapons();
        resolve_actions();
    }
    for (; absorbed_ < events_.match.size(); ++absorbed_) { // the match was over before
        emit(EventKind::match, events_.match[absorbed_].at, absorbed_);
    }
    end_tick();
    return events_;
}

void Skirmish::begin_tick() {
    span_ = tick_span(tick_, settings_.rate);
    events_.clear();
    actions_.clear();
    planned_events_.clear();
    swung_.clear();
    flown_.clear();
    absorbed_ = 0;
    events_.match.assign(early_.begin(), early_.end());
    early_.clear();
}

void Skirmish::take_intents(std::span<const Intent> intents) {
    for (Fighter& fighter : fighters_) {
        fighter.position_before = fighter.position;
        fighter.look_before = fighter.look;
        fighter.intent = allowed(repeated(fighter.intent), fighter.intent, span_.end - span_.begin);
        fighter.look = {fighter.intent.yaw, fighter.intent.pitch};
        WeaponPlan& hands = weapon_plans_[static_cast<std::size_t>(&fighter - fighters_.data())];
        hands.pressed = hands.released = {};
        hands.intent_given = false;
        hands.plan_from = Time{};
        hands.intent_count = 0;
        hands.blows = {swing_span_of(fighter), Span{}};
    }
    for (const Intent& intent : intents) {
        const std::size_t index = index_of(intent.who);
        if (index == fighters_.size() || weapon_plans_[index].intent_given) {
            events_.disregarded += index == fighters_.size() ? 1 : 0;
            continue;
        }
        weapon_plans_[index].intent_given = true;
        Fighter& fighter = fighters_[index];
        const Buttons before = fighter.intent.buttons;
        fighter.intent = allowed(intent, fighter.intent, span_.end - span_.begin);
        const std::uint32_t now = fighter.intent.buttons.bits();
        weapon_plans_[index].pressed = Buttons::from_bits(now & ~std::uint32_t{before.bits()});
        weapon_plans_[index].released = Buttons::from_bits(before.bits() & ~now);
        fighter.look = {fighter.intent.yaw, fighter.intent.pitch};
    }
    for (const Fighter& fighter : fighters_) {
        if (fighter.intent.spotted != nobody) {
            match_.notice(scene_, fighter.intent.spotted, fighter.id, true, span_.begin, events_.match);
        }
        if (fighter.intent.lost_sight_of != nobody) {
            match_.notice(scene_, fighter.intent.lost_sight_of, fighter.id, false, span_.begin,
                          events_.match);
        }
    }
}

void Skirmish::move_bodies(std::span<const BodyUpdate> updates) {
    scene_.begin_frame(span_.end);
    for (WeaponPlan& hands : weapon_plans_) {
        hands.update = nullptr;
    }
    for (const BodyUpdate& update : updates) {
        const std::size_t index = index_of(update.who);
        if (index < fighters_.size() && is_sound(update)) {
            weapon_plans_[index].update = &update;
        } else {
            ++events_.disregarded;
        }
    }
    for (std::size_t index = 0; index < fighters_.size(); ++index) {
        Fighter& fighter = fighters_[index];
        const Combatant& who = match_.combatants()[index];
        if (who.role == Role::prop && weapon_plans_[index].update == nullptr) {
            if (fighter.in_scene && !match_.stops_shots(fighter.id)) {
                leave_scene(index);
            }
            continue;
        }
        const BodyUpdate* placed = weapon_plans_[index].update;
        if (placed != nullptr) {
            fighter.position = placed->position;
            fighter.velocity = placed->velocity;
            fighter.airborne = placed->airborne;
            if (placed->jumps) {
                fighter.position_before = fighter.position;
            }
        } else if (settings_.walking_locomotion && who.role == Role::combatant) {
            walk(fighter, who);
        }
        if (fighter.in_scene && !match_.stops_shots(fighter.id)) {
            leave_scene(index);
        } else if (match_.stops_shots(fighter.id)) {
            update_body(fighter, who, placed);
        }
    }
    record_snapshot();
}

// Puts the body where it is by now.
void Skirmish::update_body(Fighter& fighter, const Combatant& who, const BodyUpdate* update) {
    const BodySpec& body = body_of(fighter);
    const Radians faced = fighter.facing;
    if (update != nullptr || who.vitals.life == LifeState::alive) { // the dead do not turn
        fighter.facing = update != nullptr ? update->yaw : fighter.look.yaw;
    }
    const bool is_posed = update != nullptr && !update->joints.empty() &&
                          update->joints.size() == body.rig.joints.size(); // by the game, lying or not
    const BodyStance stance = is_posed ? BodyStance::standing : stance_of(fighter);
    const Pose pose = pose_in(stance, body, fighter.position, fighter.facing);
    if (!fighter.in_scene) {
        fighter.in_scene = scene_.add({.id = fighter.id, .rig = &body.rig, .pose = pose, .team = who.team});
        fighter.stance = stance;
        return;
    }
    const bool leans = stance != fighter.stance;
    const Pose before = pose_in(fighter.stance, body, fighter.position_before, faced);
    fighter.stance = stance;
    const std::optional<Pose> shown = scene_.pose_of(fighter.id);
    const bool jumps = !shown || (shown->position - before.position).squaredNorm() > 1e-12 ||
                       (update != nullptr && update->jumps);
    const bool moves = leans || fighter.position != fighter.position_before || fighter.facing != faced;
    if (is_posed) {
        std::array<Pose, max_joints + 1> poses;
        poses[0] = pose;
        std::copy(update->joints.begin(), update->joints.end(), poses.begin() + 1);
        scene_.move(fighter.id, std::span{poses}.first(body.rig.joints.size() + 1));
    } else if (jumps) {
        scene_.jump(fighter.id, pose);
    } else if (moves || update != nullptr) {
        scene_.move(fighter.id, pose);
    }
}

BodyStance Skirmish::stance_of(const Fighter& fighter) const {
    const auto index = static_cast<std::size_t>(&fighter - fighters_.data());
    const Combatant& who = match_.combatants()[index];
    return who.role == Role::prop ? BodyStance::standing
                                  : avrek::stance_of(who.vitals, fighter.intent.buttons.has(Button::crouch));
}

void Skirmish::leave_scene(std::size_t index) {
    scene_.remove(fighters_[index].id);
    fighters_[index].in_scene = false;
}

void Skirmish::walk(Fighter& fighter, const Combatant& who) {
    const MovementSpec& movement = body_of(fighter).movement;
    const Intent& intent = fighter.intent;
    DesiredMotion wish;
    if (match_.can_act(fighter.id, Act::move)) {
        const Vector3 ahead = direction_of({fighter.look.yaw, 0.0});
        const Vector3 left{ahead.z(), 0.0, -ahead.x()};
        double speed = movement.speed * match_.factors(fighter.id).speed;
        const WeaponSpec* weapon = weapon_in(*arsenal_, who.loadout, who.loadout.in_hand);
        if (intent.buttons.has(Button::crouch)) {
            speed *= movement.crouching;
        } else if (intent.buttons.has(Button::sprint)) {
            speed *= movement.sprint;
        }
        if (weapon != nullptr) {
            const WeaponState& state = *state_in(who.loadout, who.loadout.in_hand);
            speed *= blended(1.0, weapon->aim.movement, aim_blend_at(*weapon, state, state.now));
        }
        wish.velocity = speed * (double{intent.ahead} * ahead + double{intent.left} * left);
        wish.jump = intent.buttons.has(Button::jump);
    }
    BodyMotion stands{fighter.position, fighter.velocity, fighter.airborne};
    const bool rests = !stands.airborne && wish.velocity.squaredNorm() == 0.0 && !wish.jump &&
                       stands.velocity.squaredNorm() < 1e-6;
    if (rests) {
        fighter.velocity = Vector3::Zero();
        return;
    }
    advance_walking(scene_, movement, stands, wish, span_.end - span_.begin);
    fighter.position = stands.position;
    fighter.velocity = stands.velocity;
    fighter.airborne = stands.airborne;
}

Vector3 Skirmish::position_at(const Fighter& fighter, Time at) const {
    const double share = static_cast<double>((at - span_.begin).count()) /
                         static_cast<double>((span_.end - span_.begin).count());
    return fighter.position_before + share * (fighter.position - fighter.position_before);
}

// Where it looks, kicks apart: it turns evenly within the tick, by the shorter way.
Look Skirmish::look_at(const Fighter& fighter, Time at) const {
    const double share = static_cast<double>((at - span_.begin).count()) /
                         static_cast<double>((span_.end - span_.begin).count());
    return {fighter.look_before.yaw + share * shortest_turn(fighter.look.yaw - fighter.look_before.yaw),
            fighter.look_before.pitch + share * (fighter.look.pitch - fighter.look_before.pitch)};
}

Skirmish::Aimed Skirmish::aim_of(const Fighter& fighter, const Look& view, const Vector3& feet,
                                 bool crouching, bool has_weapon) const {
    const PostureSpec& posture = body_of(fighter).posture;
    const double height = crouching ? posture.crouched : 1.0;
    const Pose pose{feet, turned_to({view.yaw, 0.0})};
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

void Skirmish::swing_blades() {
    for (std::size_t index = 0; index < fighters_.size(); ++index) {
        Fighter& fighter = fighters_[index];
        if (!fighter.melee) {
            continue;
        }
        const MeleeSpec& melee = (*arsenal_)[*fighter.melee];
        MeleePress press{span_.begin + Duration{fighter.intent.press_offset}, 0};
        const bool stated = fighter.intent.strike >= 0 &&
                            static_cast<std::size_t>(fighter.intent.strike) < melee.attacks.size();
        const bool presses = stated && fighter.intent.strike != fighter.strike_before &&
                             match_.can_act(fighter.id, Act::strike);
        fighter.strike_before = fighter.intent.strike;
        if (presses) {
            press.attack = static_cast<std::size_t>(fighter.intent.strike);
        } else if (fighter.swing.attack < 0) {
            continue;
        }
        const bool crouches = fighter.intent.buttons.has(Button::crouch);
        const auto held = [&](const Look& look, const Vector3& feet) {
            return Pose{aim_of(fighter, look, feet, crouches, false).grip, turned_to(look)};
        };
        melee_events_.clear();
        const Rewound world{rewind_world(), view_delay_of(fighter)};
        avrek::advance(melee, fighter.swing, world,
                       {.hits = {CollisionLayer::bodies}, .ignores = {fighter.id}},
                       {fighter.id, held(fighter.look_before, fighter.position_before),
                        held(fighter.look, fighter.position)},
                       span_, {&press, presses ? 1U : 0U}, melee_events_);
        weapon_plans_[index].blows[1] = presses ? swing_span_of(fighter) : Span{};
        for (const MeleeEvent& event : melee_events_) {
            swung_.push_back({fighter.id, event});
            push({event.at, fighter.id, ActionKind::swing, static_cast<std::uint32_t>(swung_.size() - 1), 0});
        }
    }
}

void Skirmish::advance_projectiles() {
    for (std::size_t pool = 0; pool < pools_.size(); ++pool) {
        projectile_events_.clear();
        pools_[pool].advance(scene_, arsenal_->surfaces, span_, projectile_events_);
        queue_flights(pool);
    }
}

// Turns the events of projectiles into actions. Slots are used again, so the launches are noted now.
void Skirmish::queue_flights(std::size_t pool) {
    for (const ProjectileEvent& event : projectile_events_) {
        const Origin& origin = origins_[pool][event.projectile.slot];
        flown_.push_back({origin.weapon, origin.power, event, event.at});
        push({event.at, event.shooter, ActionKind::flight, static_cast<std::uint32_t>(flown_.size() - 1), 0});
    }
}

void Skirmish::end_tick() {
    std::size_t conditions = most_[4];
    for (const Combatant& who : match_.combatants()) {
        conditions = std::max<std::size_t>(conditions, who.vitals.condition_count);
    }
    std::size_t hazards = 0;
    for (const HazardState& hazard : match_.hazards()) {
        hazards += hazard.spec.has_value() ? 1 : 0;
    }
    const std::size_t now[] = {fighters_.size(), hazards, match_.pickups().size(), match_.dropped().size(),
                               conditions};
    for (std::size_t pool = 0; pool < std::size(now); ++pool) {
        most_[pool] = std::max(most_[pool], now[pool]);
    }
    ++tick_;
}

} // namespace avrek
