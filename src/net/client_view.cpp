#include "../core/by_id.h"
#include "client_impl.h"

#include <algorithm>
#include <utility>

/// The drawing of remote players.
namespace avrek {

// A new frame of the picture, and who has fired.
void Client::Impl::show(const Moment& moment) {
    const Moment* last = newest >= 0 ? &moments[index_of(newest)] : nullptr;
    shown.clear();
    for (const detail::SeenBody& body : moment.drawn) {
        const Combatant* who = std::as_const(*view).match().find(body.id);
        const auto* its_body = std::get_if<std::string>(ledger.find(body.id, "body"));
        const BodySpec* spec = who != nullptr
                                   ? &arsenal()[who->body]
                                   : find(arsenal().bodies, its_body != nullptr ? *its_body : std::string{});
        const auto team = static_cast<std::uint8_t>(ledger.whole(body.id, "team") & 31);
        if (spec != nullptr) {
            shown.push_back({body.id, spec, TeamId{team}, body.pose, body.pitch, body.posed});
        }
        if (last == nullptr || body.id == welcome.you || last->tick != newest) {
            continue;
        }
        for (const detail::SeenBody& earlier : last->drawn) {
            const auto fired = static_cast<std::uint8_t>(body.shots - earlier.shots);
            if (earlier.id == body.id && fired > 0 && fired < 128) {
                events.shots.push_back({body.id,
                                        optional_id<WeaponId>(body.weapon - 1),
                                        fired,
                                        position_of(body.pose),
                                        {yaw_of(body.pose), pitch_of(body.pitch)}});
            }
        }
    }
    const Time at = tick_span(moment.tick, welcome.settings.rate).end;
    if (at > picture->now()) {
        add_snapshot(*picture, at, shown, poses());
    }
}

// Keeps the combatants in view equal to those of the ledger.
void Client::Impl::keep_view_members() {
    for (std::size_t index = view->fighters().size(); index > 0; --index) {
        const BodyId id = view->fighters()[index - 1].id;
        if (id != welcome.you && ledger.find(id, "body") == nullptr) {
            view->remove(id);
        }
    }
    for (const BodyId id : ledger.subjects_with("body")) {
        const auto* body = std::get_if<std::string>(ledger.find(id, "body"));
        const auto spec = body != nullptr ? arsenal().body(*body) : std::nullopt;
        if (spec && view->find(id) == nullptr) {
            (void)view->add({.id = id,
                             .team = TeamId{static_cast<std::uint8_t>(ledger.whole(id, "team") & 31)},
                             .body = *spec,
                             .at = Vector3(Vector3::Zero())}); // until a snapshot shows it
        }
    }
    has_new_members = false;
}

// A body as the newest moment has it; one that stands when it is not there.
detail::SeenBody Client::Impl::seen_lately(BodyId id) const {
    const detail::SeenBody* body =
        newest >= 0 ? detail::find_by_id(moments[index_of(newest)].drawn, id) : nullptr;
    return body != nullptr ? *body : detail::SeenBody{.id = id};
}

// A remote player between the two snapshots around a server time.
std::optional<SeenPlayer> Client::Impl::seen_at(BodyId id, Time at) const {
    const auto time_of = [this](const Moment& moment) {
        return tick_span(moment.tick, welcome.settings.rate).end;
    };
    // The moments that show it before and after what is drawn, from the newest on; at the ends the nearest
    // alone.
    const Moment* before = nullptr;
    const Moment* after = nullptr;
    const detail::SeenBody* there = nullptr;
    const detail::SeenBody* then = nullptr;
    Tick tick = newest;
    for (std::size_t back = 0; back < moments.size() && there == nullptr && tick >= 0; ++back) {
        const Moment& moment = moments[index_of(tick)];
        const bool is_kept = moment.tick == tick;
        const detail::SeenBody* body = is_kept ? detail::find_by_id(moment.drawn, id) : nullptr;
        tick -= welcome.settings.snapshot_interval;
        if (body != nullptr && time_of(moment) <= at) {
            before = &moment;
            there = body;
        } else if (body != nullptr) {
            after = &moment;
            then = body;
        }
    }
    if (there == nullptr && then == nullptr) {
        return std::nullopt;
    }
    const detail::SeenBody& body = there != nullptr ? *there : *then;
    SeenPlayer seen = detail::seen_player(body);
    if (there != nullptr && then != nullptr) {
        const double share = static_cast<double>((at - time_of(*before)).count()) /
                             static_cast<double>((time_of(*after) - time_of(*before)).count());
        const SeenPlayer next = detail::seen_player(*then);
        const Vector3 way = next.position - seen.position;
        if (way.squaredNorm() <= snapshot_leap * snapshot_leap) {
            seen.position += share * way;
        }
        seen.look.yaw += share * shortest_turn(next.look.yaw - seen.look.yaw);
        seen.look.pitch += share * (next.look.pitch - seen.look.pitch);
    }
    return seen;
}

// The poses of a body in a scene at a time, in room that lasts until the next tick.
std::span<const Pose> Client::Impl::poses_in(const Scene& scene, BodyId id, Time at) {
    if (posed_count == update_poses.size()) {
        return {};
    }
    PoseRoom& room = update_poses[posed_count++];
    return std::span{room}.first(scene.poses_of(id, room, at));
}

// Brings the view to where the own combatant is, and everybody else to where they are shown by then.
void Client::Impl::see() {
    if (has_new_members) {
        keep_view_members();
    }
    const Time shown_time = drawn_server_time(own->now());
    updates.clear();
    posed_count = 0;
    const Fighter& self = *own->find(welcome.you);
    for (const Fighter& fighter : view->fighters()) {
        Combatant& who = *view->match().edit(fighter.id);
        if (fighter.id == welcome.you) {
            updates.push_back({.who = fighter.id,
                               .position = self.motion.position,
                               .yaw = self.look.yaw,
                               .velocity = self.motion.velocity,
                               .airborne = self.motion.airborne,
                               .poses = poses_in(own->scene(), fighter.id, present)});
            view->edit(fighter.id)->pose = self.pose;
            continue;
        }
        const detail::SeenBody seen = seen_lately(fighter.id);
        const std::optional<SeenPlayer> drawn =
            picture->pose_of(fighter.id, shown_time) ? seen_at(fighter.id, shown_time) : std::nullopt;
        const TeamId team{static_cast<std::uint8_t>(ledger.whole(fighter.id, "team") & 31)};
        if (team != who.team) {
            who.team = team;
            view->scene().assign(fighter.id, team, CollisionLayer::bodies);
        }
        const bool is_corpse = drawn && drawn->dead; // who comes back is drawn so for a while still
        const bool is_alive = !is_corpse && ledger.whole(fighter.id, "alive", 1) != 0;
        who.vitals.life = is_alive ? LifeState::alive : LifeState::dead;
        who.vitals.health =
            std::clamp(ledger.number(fighter.id, "health", who.vitals.maximum), 0.0, who.vitals.maximum);
        who.vitals.state = drawn ? seen.state : BodyState::gone;
        who.vitals.on_back = detail::has(seen, detail::SeenFlag::on_back);
        view->edit(fighter.id)
            ->intent.buttons.set(Button::crouch, detail::has(seen, detail::SeenFlag::crouching));
        who.vitals.state_until = who.vitals.due = Time::max();
        if (drawn) {
            const Vector3 way = drawn->position - fighter.motion.position;
            const double seconds = 1.0 / welcome.settings.rate.hertz;
            updates.push_back({.who = fighter.id,
                               .position = drawn->position,
                               .yaw = drawn->look.yaw,
                               .velocity = way / seconds,
                               .airborne = drawn->airborne,
                               .teleported = way.squaredNorm() > 1.0,
                               .poses = poses_in(*picture, fighter.id, shown_time)});
            view->edit(fighter.id)->pose = seen.posed;
        }
    }
    for (ProjectilePool& pool : view->projectiles()) {
        pool.clear();
    }
    if (view->tick() < own->tick()) {
        view->advance({}, updates);
        flights->advance(view->scene(), tick_span(view->tick() - 1, welcome.settings.rate),
                         view->now() - shown_time);
    }
    detail::assume(*view, welcome.you, detail::own_state(*own, welcome.you));
    show_notices(shown_time);
    show_projectiles();
}

// Notices whose time has come in the picture, in order of time.
void Client::Impl::show_notices(Time shown_time) {
    constexpr std::size_t max_unshown = 4096; // beyond that they are shown early
    const std::size_t early = unshown.size() - std::min(unshown.size(), max_unshown);
    std::stable_sort(unshown.begin(), unshown.end(),
                     [](const Notice& one, const Notice& other) { return one.at < other.at; });
    std::size_t due = 0;
    while (due < unshown.size() && (due < early || unshown[due].at <= shown_time)) {
        Notice& notice = unshown[due];
        const bool is_own = notice.by == welcome.you && notice.at >= joined;
        if (!is_own) {
            flights->take(notice, view->scene());
        }
        events.shown.push_back(std::move(notice));
        ++due;
    }
    unshown.erase(unshown.begin(), unshown.begin() + static_cast<std::ptrdiff_t>(due));
}

// The view has the projectiles of remote players and the own ones.
void Client::Impl::show_projectiles() {
    const std::span<ProjectilePool> pools = view->projectiles();
    const std::span<const ProjectilePool> remote = flights->pools();
    const std::span<const ProjectilePool> predicted = std::as_const(*own).projectiles();
    for (std::size_t pool = 0; pool < pools.size(); ++pool) {
        pools[pool].clear();
        pools[pool].add_copies(remote[pool]);
        pools[pool].add_copies(predicted[pool]);
    }
}

} // namespace avrek
