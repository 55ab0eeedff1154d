#include "server_impl.h"

#include <algorithm>
#include <cassert>
#include <utility>

/// Snapshots of the bodies, for each client what its player may know.
namespace avrek {

void Server::Impl::note_snapshot() {
    const Tick tick = skirmish.tick() - 1;
    ShownMoment& moment = moments[index_of(tick, moments.size())];
    moment.tick = tick;
    moment.bodies.clear();
    packed_bodies.clear();
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
    }
}

// Another client comes first each time, as there may not be rays for all.
void Server::Impl::find_known() {
    std::size_t rays = settings.interest.rays;
    const auto first = peers.upper_bound(looked_first);
    const auto look = [&](auto from, auto to) {
        for (; from != to; ++from) {
            if (from->second.player != nobody) {
                Peer& peer = from->second;
                peer.known.look(skirmish, peer.player, peer.view.value(), settings.interest, rays);
            }
        }
    };
    looked_first = first != peers.end() ? first->first : 0;
    look(first, peers.end());
    look(peers.begin(), first);
}

namespace {

// The bodies of a moment that a client was told of.
std::vector<detail::SeenBody> told(const std::vector<detail::SeenBody>& bodies,
                                   const std::vector<bool>& known) {
    std::vector<detail::SeenBody> some;
    for (std::size_t index = 0; index < bodies.size(); ++index) {
        if (known[index]) {
            some.push_back(bodies[index]);
        }
    }
    return some;
}

bool is_all(const std::vector<bool>& known) {
    return std::find(known.begin(), known.end(), false) == known.end();
}

} // namespace

// The bodies that a client knows, as changes of those that it knew.
std::vector<std::uint8_t> Server::Impl::pack_for(const ShownMoment* before, const Peer::Sent* sent_before,
                                                 const ShownMoment& moment, const Peer::Sent& sent) {
    const std::vector<detail::SeenBody> none;
    const std::vector<detail::SeenBody>& earlier = before != nullptr ? before->bodies : none;
    if (!is_all(sent.known) || (sent_before != nullptr && !is_all(sent_before->known))) {
        return detail::pack_bodies(sent_before != nullptr ? told(earlier, sent_before->known) : none,
                                   told(moment.bodies, sent.known));
    }
    // Most that know all have seen the same moment last.
    const auto [packed, is_new] = packed_bodies.try_emplace(before != nullptr ? before->tick : -1);
    if (is_new) {
        packed->second = detail::pack_bodies(earlier, moment.bodies);
    }
    return packed->second;
}

void Server::Impl::send_snapshot(Peer& peer) {
    const Tick tick = skirmish.tick() - 1;
    const ShownMoment& moment = moments[index_of(tick, moments.size())];
    detail::SnapshotMessage message;
    message.tick = tick;
    const ShownMoment* before = nullptr;
    const Peer::Sent* sent_before = nullptr;
    if (peer.snapshot >= 0 && moments[index_of(peer.snapshot, moments.size())].tick == peer.snapshot) {
        const Peer::Sent& sent = peer.sent[index_of(peer.snapshot, peer.sent.size())];
        if (sent.tick == peer.snapshot) {
            before = &moments[index_of(peer.snapshot, moments.size())];
            sent_before = &sent;
            message.before = peer.snapshot;
        }
    }
    message.early =
        peer.early_is_new
            ? peer.early
            : static_cast<std::int32_t>(std::clamp<Tick>(peer.newest - skirmish.tick(), -10000, 10000));
    peer.early_is_new = false;
    const TickRate rate = skirmish.settings().rate;
    const Duration view_delay = peer.view.next(
        tick_span(tick, rate).end - tick_span(tick - skirmish.settings().snapshot_interval, rate).end);
    message.view_delay = view_delay - view_delay % detail::view_delay_step;
    Peer::Sent& sent = peer.sent[index_of(tick, peer.sent.size())];
    assert(&sent != sent_before); // it has the tick of an older snapshot
    sent.known.clear();
    for (const detail::SeenBody& body : moment.bodies) {
        sent.known.push_back(settings.interest.everything || peer.known.knows(body.id));
    }
    message.bodies = pack_for(before, sent_before, moment, sent);
    detail::write_own_state(skirmish, peer.player, sent.own);
    detail::BitWriter bits{message.own};
    const detail::OwnState none;
    detail::write_change(bits, peer.own_kinds, sent_before != nullptr ? sent_before->own : none, sent.own);
    sent.tick = tick;
    sent.at = tick_span(tick, rate).begin;
    sent.view_delay = message.view_delay;
    sent.game = skirmish.find(peer.player)->intent.game;
    send(peer, detail::MessageKind::snapshot, Channel::unreliable, TrafficKind::stream,
         detail::encode(message));
}

} // namespace avrek
