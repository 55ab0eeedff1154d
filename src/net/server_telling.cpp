#include "server_running.h"

#include <algorithm>
#include <cmath>
#include <utility>

/// What the server tells: the stream of what is shown, notices, the ledger.
namespace avrek {

void Server::Running::send(Peer& peer, net::MessageKind kind, Carriage carriage, TrafficKind traffic,
                           std::span<const std::byte> body) {
    const std::span<const std::byte> packet =
        peer.seal.close(static_cast<std::uint8_t>(kind), carriage == Carriage::certain, body);
    transport.send(peer.id, carriage, packet);
    peer.down.add(traffic, packet.size());
}

void Server::Running::publish(Notice notice, const Audience& audience, bool remembered) {
    notice.id = ++notice_ids;
    if (remembered) {
        board.remember(notice, audience);
    }
    for (auto& [number, peer] : peers) {
        if (peer.player != nobody && audience.holds(peer.player, peer.team)) {
            peer.outbox.push_back(notice);
        }
    }
}

void Server::Running::send_notices() {
    for (auto& [number, peer] : peers) {
        if (peer.outbox.empty()) {
            continue;
        }
        constexpr std::size_t each = 64;
        for (std::size_t first = 0; first < peer.outbox.size(); first += each) {
            const auto part =
                std::span{peer.outbox}.subspan(first, std::min(each, peer.outbox.size() - first));
            send(peer, net::MessageKind::notices, Carriage::certain, TrafficKind::notices, net::encode(part));
        }
        for (const Notice& notice : peer.outbox) {
            ++peer.notices;
            peer.notice_chain = (peer.notice_chain ^ notice.id) * 0x9e3779b97f4a7c15U;
        }
        peer.outbox.clear();
    }
}

std::int32_t Server::Running::weapon_of(BodyId id) const {
    const Combatant* who = skirmish.match().find(id);
    return who != nullptr && who->loadout.in_hand >= 0
               ? who->loadout.slots[static_cast<std::size_t>(who->loadout.in_hand)].weapon
               : -1;
}

void Server::Running::tell_events(const SkirmishEvents& events) {
    for (const EventRef& ref : events.order) {
        if (ref.kind == EventKind::life) {
            tell_life(events.lives[ref.index]);
        } else if (ref.kind == EventKind::flight) {
            tell_flight(events.flights[ref.index]);
        } else if (ref.kind == EventKind::blast) {
            const BlastEvent& blast = events.blasts[ref.index];
            publish({.kind = NoticeKind::burst,
                     .at = blast.at,
                     .by = blast.who,
                     .weapon = blast.weapon,
                     .number = blast.shot,
                     .amount = blast.radius,
                     .point = blast.centre},
                    {}, false);
        } else if (ref.kind == EventKind::spawn) {
            const SpawnEvent& spawn = events.spawns[ref.index];
            board.forget(NoticeKind::death, spawn.who);
            publish({.kind = NoticeKind::respawn, .at = spawn.at, .who = spawn.who, .point = spawn.position},
                    {}, false);
        }
    }
}

void Server::Running::tell_life(const MatchEvent& event) {
    Notice notice;
    notice.at = event.at;
    notice.who = event.who;
    switch (event.kind) {
    case MatchEventKind::vitals:
        if (event.vitals.kind == VitalsEventKind::damaged && event.vitals.source != nobody) {
            notice.kind = NoticeKind::hit;
            notice.by = event.vitals.source;
            notice.amount = event.vitals.damage.amount() + event.vitals.absorbed;
            notice.place = event.vitals.region ? static_cast<std::int32_t>(*event.vitals.region) : -1;
            notice.direction = event.vitals.push;
            publish(notice, {.kind = AudienceKind::one, .who = event.who}, false);
            if (event.vitals.source != event.who) {
                publish(notice, {.kind = AudienceKind::one, .who = event.vitals.source}, false);
            }
        }
        break;
    case MatchEventKind::killed:
        notice.kind = NoticeKind::death;
        notice.by = event.by;
        notice.weapon = event.by != nobody ? weapon_of(event.by) : -1;
        publish(notice, {}, true);
        break;
    case MatchEventKind::pickup_taken:
        notice.kind = NoticeKind::taken;
        notice.place = event.place;
        publish(notice, {}, false);
        break;
    case MatchEventKind::match_over:
        notice.kind = NoticeKind::match_over;
        notice.place = static_cast<std::int32_t>(event.count);
        publish(notice, {}, true);
        break;
    default:
        break;
    }
}

// Where something starts to fly and where it ends; clients let it fly in between.
void Server::Running::tell_flight(const FlightEvent& flight) {
    const ProjectileEvent& event = flight.event;
    Notice notice;
    notice.at = event.at;
    notice.by = event.shooter;
    notice.weapon = flight.weapon;
    notice.number = event.shot;
    notice.point = event.point;
    switch (event.kind) {
    case ProjectileEventKind::launched:
        notice.kind = NoticeKind::launched;
        notice.direction = event.velocity;
        break;
    case ProjectileEventKind::stopped:
    case ProjectileEventKind::exploded:
    case ProjectileEventKind::expired:
        notice.kind = NoticeKind::landed;
        break;
    default:
        return;
    }
    publish(notice, {}, false);
}

void Server::Running::keep_ledger() {
    const Match& match = std::as_const(skirmish).match();
    connected.clear();
    for (const auto& [number, peer] : peers) {
        connected.push_back(peer.player);
    }
    for (const Combatant& who : match.combatants()) {
        const bool is_connected = std::find(connected.begin(), connected.end(), who.id) != connected.end() ||
                                  seat_of(who.id) == nullptr; // of the server's own
        const Told now{false,
                       who.team,
                       who.body,
                       who.vitals.life == LifeState::alive,
                       is_connected,
                       who.vitals.health,
                       who.tally.score,
                       who.tally.kills,
                       who.tally.deaths,
                       who.tally.assists,
                       who.lives};
        Told& before = told[static_cast<std::uint32_t>(who.id)];
        if (before == now) {
            continue;
        }
        const auto set = [&](const char* property, const auto& value, const auto& old) {
            if (before.is_new || value != old) {
                ledger.set(who.id, property, LedgerValue{value});
            }
        };
        set("team", std::int64_t{static_cast<std::uint8_t>(now.team)},
            std::int64_t{static_cast<std::uint8_t>(before.team)});
        if (before.is_new || now.body != before.body) {
            ledger.set(who.id, "body", skirmish.arsenal().bodies[static_cast<std::size_t>(now.body)].id);
        }
        set("alive", std::int64_t{now.alive}, std::int64_t{before.alive});
        set("connected", std::int64_t{now.connected}, std::int64_t{before.connected});
        set("health", now.health, before.health);
        set("score", std::int64_t{now.score}, std::int64_t{before.score});
        set("kills", std::int64_t{now.kills}, std::int64_t{before.kills});
        set("deaths", std::int64_t{now.deaths}, std::int64_t{before.deaths});
        set("assists", std::int64_t{now.assists}, std::int64_t{before.assists});
        set("lives", std::int64_t{now.lives}, std::int64_t{before.lives});
        before = now;
    }
    // Those that the server itself took out.
    for (auto known = told.begin(); known != told.end();) {
        const BodyId id{known->first};
        const bool is_there = match.find(id) != nullptr;
        known = is_there ? std::next(known) : told.erase(known);
        if (!is_there) {
            ledger.forget(id);
            board.forget(NoticeKind::death, id);
            publish({.kind = NoticeKind::left, .at = this->now(), .who = id}, {}, false);
        }
    }
    for (std::uint8_t team = 0; team < team_scores.size(); ++team) {
        const std::int64_t score = match.team_score(TeamId{team});
        if (score != team_scores[team]) {
            team_scores[team] = score;
            ledger.set(nobody, "score." + std::to_string(team), score);
        }
    }
    if (match.is_over() && !told_over) {
        told_over = true;
        ledger.set(nobody, "over", std::int64_t{1});
    }
}

void Server::Running::send_ledger(Peer& peer) {
    constexpr std::size_t each = 200;
    const std::vector<LedgerEntry> entries = ledger.entries();
    for (std::size_t first = 0; first == 0 || first < entries.size(); first += each) {
        net::LedgerMessage message;
        message.whole = first == 0;
        message.entries.assign(entries.begin() + static_cast<std::ptrdiff_t>(first),
                               entries.begin() +
                                   static_cast<std::ptrdiff_t>(std::min(entries.size(), first + each)));
        send(peer, net::MessageKind::ledger, Carriage::certain, TrafficKind::ledger, net::encode(message));
    }
}

void Server::Running::send_changes() {
    net::LedgerMessage message;
    message.entries = ledger.take_changes();
    if (message.entries.empty()) {
        return;
    }
    const net::Bytes bytes = net::encode(message);
    for (auto& [number, peer] : peers) {
        if (peer.player != nobody) {
            send(peer, net::MessageKind::ledger, Carriage::certain, TrafficKind::ledger, bytes);
        }
    }
}

void Server::Running::note_shown() {
    const Tick tick = skirmish.tick() - 1;
    ShownMoment& moment = moments[place_of(tick, moments.size())];
    moment.tick = tick;
    moment.bodies.clear();
    packed_bodies.clear();
    for (const ShownBody& shown : skirmish.shown_bodies()) {
        const Fighter& fighter = *skirmish.find(shown.id);
        const Combatant& who = *std::as_const(skirmish).match().find(shown.id);
        net::SeenBody body;
        body.id = shown.id;
        body.place = shown.place;
        body.state = who.vitals.state;
        body.pitch = static_cast<std::int16_t>(std::lround(fighter.look.pitch * 2048.0 / pi));
        const auto flag = [&body](net::SeenFlag which, bool is) {
            body.flags = static_cast<std::uint8_t>(body.flags | (is ? static_cast<std::uint8_t>(which) : 0));
        };
        flag(net::SeenFlag::dead, who.vitals.life == LifeState::dead);
        flag(net::SeenFlag::airborne, fighter.airborne);
        flag(net::SeenFlag::crouching, fighter.intent.buttons.has(Button::crouch));
        flag(net::SeenFlag::guarding, who.vitals.guard.up);
        flag(net::SeenFlag::on_back, who.vitals.on_back);
        const WeaponState* weapon = state_in(who.loadout, who.loadout.in_hand);
        flag(net::SeenFlag::aiming, weapon != nullptr && weapon->aiming);
        flag(net::SeenFlag::reloading, weapon != nullptr && is_reloading(*weapon));
        const std::int32_t index = weapon_of(shown.id);
        body.weapon = static_cast<std::uint8_t>(index >= 0 && index < 255 ? index + 1 : 0);
        body.shots = static_cast<std::uint8_t>(fighter.shots);
        moment.bodies.push_back(body);
    }
}

void Server::Running::send_shown(Peer& peer) {
    const Tick tick = skirmish.tick() - 1;
    const ShownMoment& moment = moments[place_of(tick, moments.size())];
    net::ShownMessage message;
    message.tick = tick;
    const ShownMoment* before = nullptr;
    const Peer::Sent* sent_before = nullptr;
    if (peer.shown >= 0 && moments[place_of(peer.shown, moments.size())].tick == peer.shown) {
        const Peer::Sent& sent = peer.sent[place_of(peer.shown, peer.sent.size())];
        if (sent.tick == peer.shown) {
            before = &moments[place_of(peer.shown, moments.size())];
            sent_before = &sent;
            message.before = peer.shown;
        }
    }
    message.early =
        peer.early_is_new
            ? peer.early
            : static_cast<std::int32_t>(std::clamp<Tick>(peer.newest - skirmish.tick(), -10000, 10000));
    peer.early_is_new = false;
    // Most listeners have seen the same moment last.
    const auto [packed, is_new] = packed_bodies.try_emplace(message.before);
    if (is_new) {
        packed->second = net::pack_bodies(before != nullptr ? std::span<const net::SeenBody>{before->bodies}
                                                            : std::span<const net::SeenBody>{},
                                          moment.bodies);
    }
    message.bodies = packed->second;
    net::OwnState own = net::own_state(skirmish, peer.player);
    net::BitWriter bits{message.own};
    net::write_change(bits, peer.own_kinds, sent_before != nullptr ? sent_before->own : net::OwnState{}, own);
    peer.sent[place_of(tick, peer.sent.size())] = {tick, tick_span(tick, skirmish.settings().rate).begin,
                                                   std::move(own)};
    send(peer, net::MessageKind::shown, Carriage::newest, TrafficKind::stream, net::encode(message));
}

} // namespace avrek
