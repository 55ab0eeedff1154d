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

void Server::Impl::send(Peer& peer, detail::MessageKind kind, Channel channel, TrafficKind traffic,
                        std::span<const std::byte> body) {
    packet.assign(1, std::byte{static_cast<std::uint8_t>(kind)});
    packet.insert(packet.end(), body.begin(), body.end());
    const bool is_sent = transport.send(peer.id, channel, packet);
    peer.is_behind = peer.is_behind || (!is_sent && channel != Channel::unreliable);
    peer.down.add(traffic, packet.size());
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
    return who != nullptr && who->loadout.in_hand >= 0
               ? who->loadout.slots[static_cast<std::size_t>(who->loadout.in_hand)].weapon
               : std::nullopt;
}

void Server::Impl::notify_events(std::span<const Event> events) {
    // Hits stand before the damage that they do.
    struct {
        Time at{};
        BodyId body = nobody;
        Vector3 point = Vector3::Zero();
    } met;
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
        [this](const BlastEvent& blast) {
            publish({.kind = NoticeKind::exploded,
                     .at = blast.at,
                     .by = blast.who,
                     .weapon = blast.weapon,
                     .number = blast.shot,
                     .amount = blast.radius,
                     .point = blast.centre},
                    {}, false);
        },
        [this](const SpawnEvent& spawn) {
            board.forget(NoticeKind::death, spawn.who);
            publish({.kind = NoticeKind::respawn, .at = spawn.at, .who = spawn.who, .point = spawn.position},
                    {}, false);
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
        [this](const PickupEvent& pickup) {
            if (pickup.change == PickupChange::taken) {
                publish({.kind = NoticeKind::taken,
                         .at = pickup.at,
                         .who = pickup.who,
                         .index = static_cast<std::int32_t>(pickup.index)},
                        {}, false);
            }
        },
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

// The notices that clients need beside the launch and the level: bodies in the way, and the end.
void Server::Impl::notify_flight(const FlightEvent& flight) {
    const ProjectileEvent& event = flight.event;
    const auto kind = flight.weapon ? skirmish.arsenal()[*flight.weapon].projectile.spec : std::nullopt;
    if (!kind) {
        return;
    }
    const ProjectilePool& pool = skirmish.projectiles()[static_cast<std::size_t>(*kind)];
    const ProjectileSpec& spec = pool.spec();
    Notice notice{.at = event.at,
                  .by = event.shooter,
                  .weapon = flight.weapon,
                  .index = static_cast<std::int32_t>(event.number & 0x7fffffffU),
                  .number = event.shot,
                  .point = event.point};
    const double since = to_seconds(event.at - flight.as_of); // while a late launch catches up
    switch (event.kind) {
    case ProjectileEventKind::launched:
        notice.kind = NoticeKind::launched;
        notice.direction = event.velocity;
        notice.amount = since;
        if (const auto readout = pool.find(event.projectile); readout && readout->target) {
            notice.who = *readout->target;
            notice.aim = readout->aim_at;
        }
        publish(notice, {}, true);
        return;
    case ProjectileEventKind::bounced:
        if (!event.hit || !event.hit->body) {
            return;
        }
        notice.kind = NoticeKind::deflected;
        notice.who = *event.hit->body;
        notice.direction = event.velocity_after;
        notice.amount = since;
        publish(notice, {}, false);
        return;
    case ProjectileEventKind::stuck:
        notice.kind = NoticeKind::stuck;
        if (event.hit && event.hit->body) {
            notice.who = *event.hit->body;
            const auto pose = skirmish.scene().pose_of(notice.who, flight.as_of);
            notice.aim = pose ? to_local(*pose, event.point) : Vector3(Vector3::Zero());
        }
        publish(notice, {}, true);
        return;
    case ProjectileEventKind::stopped:
        if (spec.sticks || spec.blast.radius > 0.0) {
            return; // another event of it follows
        }
        break;
    case ProjectileEventKind::exploded:
    case ProjectileEventKind::expired:
        break;
    default:
        return;
    }
    notice.kind = NoticeKind::landed;
    board.forget_projectile(notice.weapon, notice.index);
    publish(notice, {}, false);
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
        const LedgerRecord now{false,
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
        LedgerRecord& before = recorded[static_cast<std::uint32_t>(who.id)];
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
    for (std::uint8_t team = 0; team < team_scores.size(); ++team) {
        const std::int64_t score = match.team_score(TeamId{team});
        if (score != team_scores[team]) {
            team_scores[team] = score;
            ledger.set(nobody, "score." + std::to_string(team), score);
        }
    }
    const bool shares = !match.rules().sides.empty() || told_respawns;
    for (std::uint8_t team = 0; shares && team < team_respawns.size(); ++team) {
        const std::int64_t left = match.respawns_left(TeamId{team});
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

// A player is not told the health of foes.
bool Server::Impl::may_know(BodyId player, const LedgerEntry& entry) const {
    if (entry.property != its_health || entry.subject == player || settings.interest.everything) {
        return true;
    }
    const Match& match = std::as_const(skirmish).match();
    const Combatant* one = match.find(player);
    const Combatant* other = match.find(entry.subject);
    return one == nullptr || other == nullptr || !match.are_hostile(*one, *other);
}

void Server::Impl::send_ledger(Peer& peer) {
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
