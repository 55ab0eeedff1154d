#include "../core/by_id.h"
#include "server_impl.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <utility>

/// Snapshots of the bodies, for each client what its player may know.
namespace avrek {

void Server::Impl::note_snapshot() {
    const Tick tick = skirmish.tick() - 1;
    detail::ShownMoment& moment = moments[index_of(tick, moments.size())];
    moment.tick = tick;
    moment.bodies.clear();
    changes.clear();
    shown_bodies.clear();
    for (const SnapshotBody& shown : skirmish.snapshot_bodies()) {
        const Fighter& fighter = *skirmish.find(shown.id);
        const Combatant& who = *std::as_const(skirmish).match().find(shown.id);
        detail::SeenBody body;
        body.id = shown.id;
        body.pose = shown.pose;
        body.state = who.vitals.state;
        body.pitch = shown.pitch;
        body.posed = shown.state;
        const auto flag = [&body](detail::SeenFlag which, bool is) {
            body.flags = static_cast<std::uint8_t>(body.flags | (is ? static_cast<std::uint8_t>(which) : 0));
        };
        flag(detail::SeenFlag::dead, who.vitals.life == LifeState::dead);
        flag(detail::SeenFlag::airborne, fighter.motion.airborne);
        flag(detail::SeenFlag::crouching, fighter.intent.buttons.has(Button::crouch));
        flag(detail::SeenFlag::guarding, who.vitals.guard.up);
        flag(detail::SeenFlag::on_back, who.vitals.on_back);
        const WeaponState* weapon = state_in(who.loadout, who.loadout.in_hand);
        flag(detail::SeenFlag::aiming, weapon != nullptr && weapon->aiming);
        flag(detail::SeenFlag::reloading, weapon != nullptr && is_reloading(*weapon));
        const std::int32_t index = to_number(weapon_of(shown.id));
        body.weapon = static_cast<std::uint8_t>(index >= 0 && index < 255 ? index + 1 : 0);
        body.shots = static_cast<std::uint8_t>(fighter.shots);
        moment.bodies.push_back(body);
        shown_bodies.push_back({&who, position_of(shown.pose) + Vector3{0.0, 1.0, 0.0},
                                fighter.intent.buttons.has(Button::trigger)});
    }
}

// A part of the clients in each tick, so that all have looked by the next snapshot. Another one comes first
// each time, as there may not be rays for all.
void Server::Impl::find_known() {
    const auto parts = static_cast<std::size_t>(skirmish.settings().snapshot_interval);
    const auto part = static_cast<std::size_t>(skirmish.tick()) % parts;
    if (part == 0) {
        std::erase_if(flights, [this](const detail::ToldFlight& one) {
            return !skirmish.projectiles()[one.pool].find(one.projectile).has_value();
        });
        noises.look(skirmish);
    }
    looking.clear();
    std::size_t count = 0;
    for (auto& [number, peer] : peers) {
        if (peer.player != nobody && count++ % parts == part) {
            looking.push_back(&peer);
        }
    }
    if (looking.empty()) {
        return;
    }
    std::rotate(looking.begin(), looking.begin() + static_cast<std::ptrdiff_t>(looked++ % looking.size()),
                looking.end());
    const std::vector<detail::LookedAt> bodies = detail::bodies_to_look_at(skirmish);
    std::size_t rays = settings.interest.rays / parts;
    for (detail::Peer* peer : looking) {
        peer->known.look(skirmish, bodies, peer->player, peer->view.value(), settings.interest, rays);
        find_flights(*peer, rays);
    }
}

namespace {

constexpr std::uint8_t unknown = 255; // Peer::Sent::ages
constexpr std::int64_t max_age = 31;  // snapshots; what is older comes first
constexpr std::size_t min_room = 40;  // bytes for bodies, whatever was sent before

constexpr std::int64_t new_age = max_age + 1; // as which a body counts that the client does not have

} // namespace

// The changes of the newest moment's bodies since an older one; -1: a client that has none of them.
detail::ChangesSince& Server::Impl::changes_since(Tick told, std::size_t bodies) {
    const auto [place, is_new] = changes.try_emplace(told);
    detail::ChangesSince& since = place->second;
    if (is_new) {
        since.changes.resize(bodies);
        if (told >= 0) {
            since.then = &moments[index_of(told, moments.size())];
            assert(since.then->tick == told);
        }
    }
    return since;
}

const detail::PackedChange& detail::ChangesSince::of(std::size_t index, const detail::SeenBody& now) {
    detail::PackedChange& change = changes[index];
    if (change.bits == 0) {
        const auto* before = then != nullptr ? detail::find_by_id(then->bodies, now.id) : nullptr;
        change = detail::packed_change(before != nullptr ? *before : detail::SeenBody{.id = now.id}, now);
    }
    return change;
}

// The worth of a body to a player: the near, those it aims at, those that shoot and those that have waited
// longest come first.
double Server::Impl::worth_of(const Vector3& eye, const Vector3& aim, std::size_t index,
                              std::int64_t age) const {
    constexpr Metres near = 10.0;
    constexpr double aimed_at = 0.985; // cosine of ten degrees
    const detail::ShownBody& body = shown_bodies[index];
    const Vector3 way = body.middle - eye;
    const Metres far = std::sqrt(way.squaredNorm());
    constexpr double before_all_others = 1e6;
    return (age > max_age ? before_all_others : static_cast<double>(age)) / (near + far) *
           (way.dot(aim) > aimed_at * far ? 4.0 : 1.0) * (body.shoots ? 2.0 : 1.0);
}

// Packs the bodies that a client knows, as changes of those that it has by a snapshot before, and sets how
// old it has those that are left out.
std::vector<std::uint8_t> Server::Impl::pack_for(detail::Peer& peer, const detail::Peer::Sent* before,
                                                 detail::Peer::Sent& sent, std::size_t room) {
    const std::int64_t interval = skirmish.settings().snapshot_interval;
    const std::int64_t passed = before != nullptr ? (sent.tick - before->tick) / interval : 0; // snapshots
    const detail::ShownMoment& moment = moments[index_of(sent.tick, moments.size())];
    had.clear();
    offers.clear();
    offered.clear();
    const std::vector<detail::SeenBody> none;
    const auto& then = before != nullptr ? moments[index_of(before->tick, moments.size())].bodies : none;
    std::size_t at = 0;
    Tick last_told = -2;
    detail::ChangesSince* since = nullptr;
    for (std::size_t index = 0; index < moment.bodies.size(); ++index) {
        const BodyId id = moment.bodies[index].id;
        for (; at < then.size() && then[at].id < id; ++at) {
            if (before->ages[at] != unknown) {
                had.push_back(then[at].id);
            }
        }
        const bool has = at < then.size() && then[at].id == id && before->ages[at] != unknown;
        if (has) {
            had.push_back(id);
        }
        if (sent.ages[index] != unknown) {
            const Tick told = has ? before->tick - before->ages[at] * interval : -1;
            since = told != last_told ? &changes_since(told, moment.bodies.size()) : since;
            last_told = told;
            offers.push_back({.id = id, .change = &since->of(index, moment.bodies[index]), .is_new = !has});
            offered.push_back({index, has ? passed + before->ages[at] : new_age});
        }
    }
    for (; at < then.size(); ++at) {
        if (before->ages[at] != unknown) {
            had.push_back(then[at].id);
        }
    }
    if (detail::size_of(had, offers) > room) {
        leave_out(peer, sent, room);
    }
    return detail::pack_bodies(had, offers);
}

// Leaves out what there is no room for.
void Server::Impl::leave_out(detail::Peer& peer, detail::Peer::Sent& sent, std::size_t room) {
    const Fighter& self = *skirmish.find(peer.player);
    const Vector3 eye = skirmish.eye_of(peer.player);
    const Vector3 aim = direction_of({self.look.yaw + self.kick.yaw, self.look.pitch + self.kick.pitch});
    for (std::size_t index = 0; index < offers.size(); ++index) {
        offers[index].worth = worth_of(eye, aim, offered[index].index, offered[index].waited);
    }
    detail::choose_bodies(room, had, offers);
    for (std::size_t index = 0; index < offers.size(); ++index) {
        if (offers[index].fate != detail::BodyFate::fresh) {
            ++peer.left_out;
            sent.ages[offered[index].index] = offers[index].fate == detail::BodyFate::absent
                                                  ? unknown
                                                  : static_cast<std::uint8_t>(offered[index].waited);
        }
    }
}

// Whether all bodies that a client has by a snapshot can be looked up still.
bool Server::Impl::are_kept(const detail::Peer::Sent& sent, Tick tick) const {
    const std::int64_t since = (tick - sent.tick) / skirmish.settings().snapshot_interval;
    return std::all_of(sent.ages.begin(), sent.ages.end(), [&](std::uint8_t age) {
        return age == unknown || age + since < std::ssize(moments) / 2;
    });
}

void Server::Impl::send_snapshot(detail::Peer& peer) {
    const Tick tick = skirmish.tick() - 1;
    detail::SnapshotMessage message;
    message.tick = tick;
    const detail::Peer::Sent* before = nullptr;
    if (peer.snapshot >= 0) {
        const detail::Peer::Sent& sent = peer.sent[index_of(peer.snapshot, peer.sent.size())];
        if (sent.tick == peer.snapshot && are_kept(sent, tick)) {
            before = &sent;
            message.before = peer.snapshot;
        }
    }
    message.early =
        peer.early_is_new
            ? peer.early
            : static_cast<std::int32_t>(std::clamp<Tick>(peer.newest - skirmish.tick(), -10000, 10000));
    peer.early_is_new = false;
    const TickRate rate = skirmish.settings().rate;
    const Duration interval = tick_span(skirmish.settings().snapshot_interval, rate).begin - Time{};
    const Duration view_delay = peer.view.next(interval);
    message.view_delay = view_delay - view_delay % detail::view_delay_step;
    detail::Peer::Sent& sent = peer.sent[index_of(tick, peer.sent.size())];
    assert(&sent != before); // it has the tick of an older snapshot
    sent.ages.clear();
    hidden.clear();
    const Match& match = std::as_const(skirmish).match();
    const Combatant& self = *match.find(peer.player);
    std::size_t foe = 0;
    for (const detail::ShownBody& body : shown_bodies) {
        const bool is_told = settings.interest.everything || body.who->id == peer.player ||
                             !match.are_hostile(self, *body.who) || peer.known.knows(body.who->id, foe);
        sent.ages.push_back(is_told ? 0 : unknown);
        if (!is_told) {
            hidden.push_back(body.who->id);
        }
    }
    noises.tell(skirmish, peer.player, settings.interest, hidden, message.noises);
    detail::write_own_state(skirmish, peer.player, sent.own);
    detail::BitWriter bits{message.own};
    const detail::OwnState none;
    detail::write_change(bits, peer.own_kinds, before != nullptr ? before->own : none, sent.own);
    sent.tick = tick;
    sent.at = tick_span(tick, rate).begin;
    sent.view_delay = message.view_delay;
    sent.game = skirmish.find(peer.player)->intent.game;
    message.bodies = pack_for(peer, before, sent, room_for_bodies(peer, interval, message));
    send(peer, detail::MessageKind::snapshot, Channel::unreliable, TrafficKind::stream,
         detail::encode(message));
}

// Bytes for bodies in a snapshot, by what a client may get a second and what it has got.
std::size_t Server::Impl::room_for_bodies(detail::Peer& peer, Duration interval,
                                          const detail::SnapshotMessage& message) {
    constexpr double lasts = 0.25; // seconds, of what was not used
    const double each = static_cast<double>(settings.budget) * to_seconds(interval);
    peer.may_get = std::clamp(peer.may_get, -each, lasts * settings.budget - each) + each;
    const double largest = static_cast<double>(transport.max_datagram());
    const double others = static_cast<double>(detail::encode(message).size()) + 2.0;
    return static_cast<std::size_t>(std::max(
        static_cast<double>(min_room), std::min(peer.may_get - detail::datagram_cost, largest) - others));
}

} // namespace avrek
