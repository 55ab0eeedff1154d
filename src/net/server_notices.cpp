#include "server_impl.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <utility>

/// Outgoing side of the server: notices and the ledger.
namespace avrek {

namespace {

constexpr const char* its_health = "health";

} // namespace

void Server::Impl::send(detail::Peer& peer, detail::MessageKind kind, Channel channel, TrafficKind traffic,
                        std::span<const std::byte> body) {
    packet.assign(1, std::byte{static_cast<std::uint8_t>(kind)});
    packet.insert(packet.end(), body.begin(), body.end());
    const bool is_sent = transport.send(peer.id, channel, packet);
    peer.is_behind = peer.is_behind || (!is_sent && channel != Channel::unreliable);
    peer.down.add(traffic, packet.size());
    peer.may_get -=
        traffic == TrafficKind::session ? 0.0 : static_cast<double>(packet.size()) + detail::datagram_cost;
}

void Server::Impl::publish(Notice notice, const Audience& audience, bool remembered) {
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

void Server::Impl::send_notices() {
    for (auto& [number, peer] : peers) {
        if (peer.outbox.empty()) {
            continue;
        }
        constexpr std::size_t each = 64;
        for (std::size_t first = 0; first < peer.outbox.size(); first += each) {
            const auto part =
                std::span{peer.outbox}.subspan(first, std::min(each, peer.outbox.size() - first));
            send(peer, detail::MessageKind::notices, Channel::notices, TrafficKind::notices,
                 detail::encode(part));
        }
        for (const Notice& notice : peer.outbox) {
            ++peer.notices;
            peer.notice_chain = (peer.notice_chain ^ notice.id) * 0x9e3779b97f4a7c15U;
        }
        peer.outbox.clear();
    }
}

std::optional<WeaponId> Server::Impl::weapon_of(BodyId id) const {
    const Combatant* who = skirmish.match().find(id);
    const std::int32_t slot = who != nullptr ? who->loadout.in_hand : -1;
    return slot >= 0 ? who->loadout.slots[static_cast<std::size_t>(slot)].weapon : std::nullopt;
}

void Server::Impl::notify_events(std::span<const Event> events) {
    // Hits stand before the damage that they do.
    struct {
        Time at{};
        BodyId body = nobody;
        Vector3 point = Vector3::Zero();
    } met;
    std::size_t rays = settings.interest.rays; // for all explosions of the tick
    const auto note_hit = [&met](Time at, const std::optional<Hit>& hit) {
        if (hit && hit->body) {
            met = {at, *hit->body, hit->point};
        }
    };
    const EventHandlers notify{
        [this, &note_hit](const FlightEvent& flight) {
            note_hit(flight.event.at, flight.event.hit);
            notify_flight(flight);
        },
        [this, &rays](const BlastEvent& blast) { notify_blast(blast, rays); },
        [this](const SpawnEvent& spawn) {
            board.forget(NoticeKind::death, spawn.who);
            notify_respawn(spawn);
        },
        [this, &met](const DamageEvent& hurt) {
            const bool is_it = met.body == hurt.who && met.at == hurt.at;
            notify_damage(hurt, is_it ? met.point : Vector3(Vector3::Zero()));
        },
        [&note_hit](const SegmentEvent& segment) { note_hit(segment.at, segment.segment.hit); },
        [&note_hit](const SwingEvent& swing) { note_hit(swing.event.at, swing.event.hit); },
        [this](const ActionEvent& action) {
            if (action.done && action.tag != 0) {
                publish({.kind = NoticeKind::action,
                         .at = action.at,
                         .who = action.who,
                         .by = action.by,
                         .index = action.kind,
                         .number = action.tag,
                         .point = action.point},
                        {}, false);
            }
        },
        [this](const KillEvent& kill) {
            publish({.kind = NoticeKind::death,
                     .at = kill.at,
                     .who = kill.who,
                     .by = kill.by,
                     .weapon = kill.by != nobody ? weapon_of(kill.by) : std::nullopt},
                    {}, true);
        },
        [this](const PickupEvent& pickup) { things.note(pickup); },
        [this](const DropEvent& drop) { things.note(drop); },
        [this](const MatchOverEvent& over) {
            publish({.kind = NoticeKind::match_over,
                     .at = over.at,
                     .index = static_cast<std::int32_t>(over.winner)},
                    {}, true);
        },
        [](const auto&) {}};
    for (const Event& event : events) {
        std::visit(notify, event);
    }
}

// Its own side and those who could see it learn of it. The others hear it.
void Server::Impl::notify_blast(const BlastEvent& blast, std::size_t& rays) {
    constexpr Metres above = 1.0; // the flash is higher than what it comes from
    const Vector3 flash = blast.centre + Vector3{0.0, above, 0.0};
    Notice notice{.kind = NoticeKind::exploded,
                  .id = ++notice_ids,
                  .at = blast.at,
                  .weapon = blast.weapon,
                  .amount = blast.radius,
                  .point = blast.centre};
    std::vector<BodyId> told;
    for (auto& [number, peer] : peers) {
        if (peer.player == nobody) {
            continue;
        }
        const bool is_ours = blast.who != nobody && may_know_of(peer.player, blast.who);
        if (!is_ours && !settings.interest.everything &&
            !peer.known.could_see(skirmish, blast.centre, rays) &&
            !peer.known.could_see(skirmish, flash, rays)) {
            continue;
        }
        const bool knows_who = knows(peer, blast.who);
        notice.by = knows_who ? blast.who : nobody;
        notice.number = knows_who ? blast.shot : 0;
        peer.outbox.push_back(notice);
        told.push_back(peer.player);
    }
    noises.explode(blast.centre, blast.weapon, std::move(told));
}

// Foes learn that it is back, not where.
void Server::Impl::notify_respawn(const SpawnEvent& spawn) {
    Notice notice{.kind = NoticeKind::respawn, .id = ++notice_ids, .at = spawn.at, .who = spawn.who};
    for (auto& [number, peer] : peers) {
        if (peer.player != nobody) {
            notice.point = may_know_of(peer.player, spawn.who) ? spawn.position : Vector3(Vector3::Zero());
            peer.outbox.push_back(notice);
        }
    }
}

void Server::Impl::notify_damage(const DamageEvent& hurt, const Vector3& point) {
    if (hurt.source == nobody) {
        return;
    }
    const Notice notice{.kind = NoticeKind::hit,
                        .at = hurt.at,
                        .who = hurt.who,
                        .by = hurt.source,
                        .index = hurt.region ? static_cast<std::int32_t>(*hurt.region) : -1,
                        .amount = points_of(hurt),
                        .point = point,
                        .direction = hurt.push};
    publish(notice, {.kind = AudienceKind::one, .who = hurt.who}, false);
    if (hurt.source != hurt.who) {
        Notice for_shooter = notice;
        for_shooter.amount = settings.interest.tells_damage ? notice.amount : 0.0;
        publish(std::move(for_shooter), {.kind = AudienceKind::one, .who = hurt.source}, false);
    }
}

void Server::Impl::keep_ledger() {
    const Match& match = std::as_const(skirmish).match();
    connected.clear();
    for (auto& [number, peer] : peers) {
        connected.push_back(peer.player);
        const Combatant* player = match.find(peer.player);
        peer.team = player != nullptr ? player->team : peer.team;
    }
    for (const Combatant& who : match.combatants()) {
        const bool is_connected = std::find(connected.begin(), connected.end(), who.id) != connected.end() ||
                                  slot_of(who.id) == nullptr; // the server's own
        const detail::LedgerRecord now{false,
                                       who.team,
                                       who.body,
                                       who.vitals.life == LifeState::alive,
                                       is_connected,
                                       who.vitals.health,
                                       who.stats.score,
                                       who.stats.kills,
                                       who.stats.deaths,
                                       who.stats.assists,
                                       who.lives};
        detail::LedgerRecord& before = recorded[static_cast<std::uint32_t>(who.id)];
        if (before == now) {
            continue;
        }
        teams_changed = teams_changed || (!before.is_new && before.team != now.team);
        const auto set = [&](const char* property, const auto& value, const auto& old) {
            if (before.is_new || value != old) {
                ledger.set(who.id, property, LedgerValue{value});
            }
        };
        set("team", std::int64_t{static_cast<std::uint8_t>(now.team)},
            std::int64_t{static_cast<std::uint8_t>(before.team)});
        if (before.is_new || now.body != before.body) {
            ledger.set(who.id, "body", skirmish.arsenal()[now.body].id);
        }
        set("alive", std::int64_t{now.alive}, std::int64_t{before.alive});
        set("connected", std::int64_t{now.connected}, std::int64_t{before.connected});
        set(its_health, now.health, before.health);
        set("score", std::int64_t{now.score}, std::int64_t{before.score});
        set("kills", std::int64_t{now.kills}, std::int64_t{before.kills});
        set("deaths", std::int64_t{now.deaths}, std::int64_t{before.deaths});
        set("assists", std::int64_t{now.assists}, std::int64_t{before.assists});
        set("lives", std::int64_t{now.lives}, std::int64_t{before.lives});
        before = now;
    }
    // Those that the server itself took out: everybody who is there has been recorded.
    for (auto known = recorded.begin();
         recorded.size() > match.combatants().size() && known != recorded.end();) {
        const BodyId id{known->first};
        const bool is_there = match.find(id) != nullptr;
        known = is_there ? std::next(known) : recorded.erase(known);
        if (!is_there) {
            ledger.forget(id);
            board.forget(NoticeKind::death, id);
            publish({.kind = NoticeKind::left, .at = this->now(), .who = id}, {}, false);
        }
    }
    for (std::size_t team = 0; team < team_scores.size(); ++team) {
        const std::int64_t score = match.team_score(TeamId{static_cast<std::uint8_t>(team)});
        if (score != team_scores[team]) {
            team_scores[team] = score;
            ledger.set(nobody, "score." + std::to_string(team), score);
        }
    }
    const bool shares = !match.rules().sides.empty() || told_respawns;
    for (std::size_t team = 0; shares && team < team_respawns.size(); ++team) {
        const std::int64_t left = match.respawns_left(TeamId{static_cast<std::uint8_t>(team)});
        if (left != team_respawns[team]) {
            team_respawns[team] = left;
            told_respawns = true;
            ledger.set(nobody, "respawns." + std::to_string(team), left);
        }
    }
    if (match.is_over() && !told_over) {
        told_over = true;
        ledger.set(nobody, "over", std::int64_t{1});
    }
}

// Whether a player may know all about a combatant: it is in the fight, and none of its foes.
bool Server::Impl::may_know_of(BodyId player, BodyId other) const {
    if (other == player || settings.interest.everything) {
        return true;
    }
    const Match& match = std::as_const(skirmish).match();
    const Combatant* one = match.find(player);
    const Combatant* there = match.find(other);
    return there != nullptr && (one == nullptr || !match.are_hostile(*one, *there));
}

// A player is not told the health of foes.
bool Server::Impl::may_know(BodyId player, const LedgerEntry& entry) const {
    return entry.property != its_health || may_know_of(player, entry.subject) ||
           std::as_const(skirmish).match().find(entry.subject) == nullptr;
}

// Whether the client of a peer is told where a combatant is.
bool Server::Impl::knows(const detail::Peer& peer, BodyId other) const {
    return may_know_of(peer.player, other) || peer.known.knows(other);
}

void Server::Impl::send_ledger(detail::Peer& peer) {
    constexpr std::size_t each = 200;
    std::vector<LedgerEntry> entries = ledger.entries();
    std::erase_if(entries, [&](const LedgerEntry& one) { return !may_know(peer.player, one); });
    for (std::size_t first = 0; first == 0 || first < entries.size(); first += each) {
        detail::LedgerMessage message;
        message.whole = first == 0;
        message.entries.assign(entries.begin() + static_cast<std::ptrdiff_t>(first),
                               entries.begin() +
                                   static_cast<std::ptrdiff_t>(std::min(entries.size(), first + each)));
        send(peer, detail::MessageKind::ledger, Channel::ledger, TrafficKind::ledger,
             detail::encode(message));
    }
}

void Server::Impl::send_changes() {
    const bool all_anew = std::exchange(teams_changed, false); // others are foes now
    for (auto& [number, peer] : peers) {
        if (all_anew && peer.player != nobody) {
            send_ledger(peer);
        }
    }
    detail::LedgerMessage message;
    message.entries = ledger.take_changes();
    if (message.entries.empty()) {
        return;
    }
    const bool all_know = std::none_of(message.entries.begin(), message.entries.end(),
                                       [](const LedgerEntry& one) { return one.property == its_health; });
    const detail::Bytes for_all = all_know ? detail::encode(message) : detail::Bytes{};
    detail::LedgerMessage some;
    for (auto& [number, peer] : peers) {
        const BodyId player = peer.player;
        if (player == nobody) {
            continue;
        }
        some.entries.clear();
        if (!all_know) {
            std::copy_if(message.entries.begin(), message.entries.end(), std::back_inserter(some.entries),
                         [&](const LedgerEntry& one) { return may_know(player, one); });
        }
        if (all_know || !some.entries.empty()) {
            send(peer, detail::MessageKind::ledger, Channel::ledger, TrafficKind::ledger,
                 all_know ? for_all : detail::encode(some));
        }
    }
}

} // namespace avrek
