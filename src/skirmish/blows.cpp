#include "rewound.h"
#include "shot_resolution.h"

#include <cmath>

/// Blows of blades.
namespace avrek::detail {

void ShotResolution::swing_blades() {
    for (std::size_t index = 0; index < fight_.fighters.size(); ++index) {
        Fighter& fighter = fight_.fighters[index];
        if (!fighter.melee) {
            continue;
        }
        const MeleeSpec& melee = (*fight_.arsenal)[*fighter.melee];
        MeleePress press{fight_.span.begin + Duration{fighter.intent.press_offset}, 0};
        const bool stated = fighter.intent.strike >= 0 &&
                            static_cast<std::size_t>(fighter.intent.strike) < melee.attacks.size();
        const bool presses = stated && fighter.intent.strike != fighter.strike_before &&
                             fight_.match.can_act(fighter.id, Act::strike);
        fighter.strike_before = fighter.intent.strike;
        if (presses) {
            press.attack = static_cast<std::size_t>(fighter.intent.strike);
        } else if (fighter.swing.attack < 0) {
            continue;
        }
        const auto held = [&](const Look& look, const Vector3& feet) {
            return Pose{fight_.aim_of(fighter, look, feet, false).grip, turned_to(look)};
        };
        melee_events_.clear();
        const Rewound world{lag_.rewind_world(), lag_.view_delay_of(fighter)};
        avrek::advance(melee, fighter.swing, world,
                       {.hits = {CollisionLayer::bodies}, .ignores = {fighter.id}},
                       {fighter.id, held(fighter.look_before, fighter.position_before),
                        held(fighter.look, fighter.motion.position)},
                       fight_.span, {&press, presses ? 1U : 0U}, melee_events_);
        planning_.note_blow(index, presses ? fight_.swing_span_of(fighter) : Span{});
        for (const MeleeEvent& event : melee_events_) {
            swung_.push_back({fighter.id, event});
            fight_.queue.push(
                {event.at, fighter.id, QueuedKind::swing, static_cast<std::uint32_t>(swung_.size() - 1)});
        }
    }
}

void ShotResolution::do_swing(std::size_t index) {
    const SwingEvent swing = swung_[index];
    const MeleeEvent& event = swing.event;
    Fighter& fighter = fight_.fighters[fight_.index_of(swing.who)];
    const bool over = fighter.swing_ended > event.swing; // it was cancelled
    if (over && event.kind != MeleeEventKind::started) {
        return;
    }
    MeleeEvent happened = event;
    if (event.kind != MeleeEventKind::refused && !fight_.match.can_act(fighter.id, Act::strike)) {
        happened.kind = MeleeEventKind::cancelled;
        happened.hit = {};
        fighter.swing_ended = event.swing + 1;
        fighter.swing.attack = -1;
    }
    const std::size_t emitted = fight_.events().size();
    fight_.events().emplace_back(SwingEvent{fighter.id, happened});
    if (happened.kind == MeleeEventKind::started) {
        fight_.match.report_action(fighter.id, Act::strike, 0, event.at);
        return;
    }
    if (happened.kind == MeleeEventKind::struck && event.hit.body) {
        strike(swing, emitted);
    }
}

void ShotResolution::strike(const SwingEvent& swing, std::size_t emitted) {
    const MeleeEvent& event = swing.event;
    const Fighter& fighter = fight_.fighters[fight_.index_of(swing.who)];
    const MeleeSpec& melee = (*fight_.arsenal)[*fighter.melee];
    const MeleeAttackSpec& attack = melee.attacks[event.attack];
    const RigSpec* rig = fight_.rig_of(*event.hit.body);
    if (rig == nullptr) {
        return;
    }
    IncomingHit hit;
    hit.damage = strike_damage(melee, attack, *rig, *event.hit.region);
    hit.effect = &attack.effect;
    hit.source = fighter.id;
    hit.push = event.push;
    const double speed = std::sqrt(event.push.squaredNorm());
    hit.direction = speed > 1e-9 ? Vector3(event.push / speed)
                                 : direction_of({fight_.look_at(fighter, event.at).yaw, 0.0});
    hit.melee = true;
    const Vector3 from =
        fight_
            .aim_of(fighter, fight_.look_at(fighter, event.at), fight_.position_at(fighter, event.at), false)
            .grip;
    const HitVerdict validated =
        apply_hit(*event.hit.body, {event.hit, event.at, event.at - lag_.view_delay_of(fighter), from}, hit);
    std::get<SwingEvent>(fight_.events()[emitted]).verdict = validated.verdict;
}

} // namespace avrek::detail
