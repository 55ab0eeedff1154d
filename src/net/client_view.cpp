#include "client_impl.h"

#include <algorithm>
#include <utility>

/// The drawing of remote players.
namespace avrek {

// A new frame of the picture, and who has fired.
void Client::Impl::show(const Moment& moment) {
    const Moment* last = newest >= 0 ? &moments[index_of(newest)] : nullptr;
    shown.clear();
    for (const detail::SeenBody& body : moment.bodies) {
        const Combatant* who = std::as_const(*view).match().find(body.id);
        const auto* its_body = std::get_if<std::string>(ledger.find(body.id, "body"));
        const BodySpec* spec = who != nullptr
                                   ? &arsenal[who->body]
                                   : find(arsenal.bodies, its_body != nullptr ? *its_body : std::string{});
        const auto team = static_cast<std::uint8_t>(ledger.whole(body.id, "team") & 31);
        if (spec != nullptr) {
            shown.push_back({body.id, spec, TeamId{team}, body.pose, stance_of(body)});
        }
        if (last == nullptr || body.id == welcome.you || last->tick != newest) {
            continue;
        }
        for (const detail::SeenBody& earlier : last->bodies) {
            const auto fired = static_cast<std::uint8_t>(body.shots - earlier.shots);
            if (earlier.id == body.id && fired > 0 && fired < 128) {
                events.shots.push_back({body.id,
                                        optional_id<WeaponId>(body.weapon - 1),
                                        fired,
                                        position_of(body.pose),
                                        {yaw_of(body.pose), body.pitch * pi / 2048.0}});
            }
        }
    }
    const Time at = tick_span(moment.tick, welcome.settings.rate).end;
    if (at > picture->now()) {
        add_snapshot(*picture, at, shown);
    }
}

// Keeps the combatants in view equal to those of the ledger.
void Client::Impl::keep_view_members() {
    for (const Moment* moment = newest >= 0 ? &moments[index_of(newest)] : nullptr; moment != nullptr;
         moment = nullptr) {
        for (const detail::SeenBody& body : moment->bodies) {
            if (view->find(body.id) != nullptr) {
                continue;
            }
            const LedgerValue* named = ledger.find(body.id, "body");
            const auto* id = named != nullptr ? std::get_if<std::string>(named) : nullptr;
            const auto spec = id != nullptr ? arsenal.body(*id) : std::nullopt;
            if (spec) {
                (void)view->add(
                    {.id = body.id,
                     .team = TeamId{static_cast<std::uint8_t>(ledger.whole(body.id, "team") & 31)},
                     .body = *spec,
                     .at = position_of(body.pose)});
            }
        }
    }
    for (std::size_t index = view->fighters().size(); index > 0; --index) {
        const BodyId id = view->fighters()[index - 1].id;
        if (id != welcome.you && ledger.find(id, "body") == nullptr) {
            view->remove(id);
        }
    }
}

// A body as the newest moment has it; one that stands when it is not there.
detail::SeenBody Client::Impl::seen_lately(BodyId id) const {
    if (newest >= 0) {
        for (const detail::SeenBody& body : moments[index_of(newest)].bodies) {
            if (body.id == id) {
                return body;
            }
        }
    }
    return {.id = id};
}

// Brings the view to where the own combatant is, and everybody else to where they are shown by then.
void Client::Impl::see() {
    keep_view_members();
    const Time shown_time = drawn_server_time(own->now());
    updates.clear();
    const Fighter& self = *own->find(welcome.you);
    for (const Fighter& fighter : view->fighters()) {
        Combatant& who = *view->match().edit(fighter.id);
        if (fighter.id == welcome.you) {
            updates.push_back({.who = fighter.id,
                               .position = self.motion.position,
                               .yaw = self.look.yaw,
                               .velocity = self.motion.velocity,
                               .airborne = self.motion.airborne});
            continue;
        }
        const detail::SeenBody seen = seen_lately(fighter.id);
        const BodySpec& body = arsenal[who.body];
        std::optional<Pose> pose = picture->pose_of(fighter.id, shown_time);
        if (pose) {
            pose = standing_pose(stance_of(seen), body, *pose);
        }
        const TeamId team{static_cast<std::uint8_t>(ledger.whole(fighter.id, "team") & 31)};
        if (team != who.team) {
            who.team = team;
            view->scene().assign(fighter.id, team, CollisionLayer::bodies);
        }
        who.vitals.life = ledger.whole(fighter.id, "alive", 1) != 0 ? LifeState::alive : LifeState::dead;
        who.vitals.health = std::clamp(ledger.number(fighter.id, "health"), 0.0, who.vitals.maximum);
        who.vitals.state = pose ? seen.state : BodyState::gone;
        who.vitals.on_back = detail::has(seen, detail::SeenFlag::on_back);
        view->edit(fighter.id)
            ->intent.buttons.set(Button::crouch, detail::has(seen, detail::SeenFlag::crouching));
        who.vitals.state_until = who.vitals.due = Time::max();
        if (pose) {
            const Vector3 way = pose->position - fighter.motion.position;
            const double seconds = 1.0 / welcome.settings.rate.hertz;
            updates.push_back({.who = fighter.id,
                               .position = pose->position,
                               .yaw = look_of(pose->rotation * world_forward()).yaw,
                               .velocity = way / seconds,
                               .teleported = way.squaredNorm() > 1.0});
        }
    }
    if (view->tick() < own->tick()) {
        view->advance({}, updates);
    }
    detail::assume(*view, welcome.you, detail::own_state(*own, welcome.you));
}

} // namespace avrek
