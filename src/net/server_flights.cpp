#include "server_impl.h"

#include <algorithm>
#include <cassert>
#include <utility>

/// Notices about projectiles: to each client those that its player could see.
namespace avrek {

// The notices that clients need beside the launch and the level: bodies in the way, and the end.
void Server::Impl::notify_flight(const FlightEvent& flight) {
    const ProjectileEvent& event = flight.event;
    const auto kind = flight.weapon ? skirmish.arsenal()[*flight.weapon].projectile.spec : std::nullopt;
    if (!kind) {
        return;
    }
    const auto pool_index = static_cast<std::size_t>(*kind);
    const ProjectilePool& pool = skirmish.projectiles()[pool_index];
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
        tell_launch(std::move(notice), pool_index, event.projectile);
        return;
    case ProjectileEventKind::bounced:
        if (!event.hit || !event.hit->body) {
            return;
        }
        notice.kind = NoticeKind::deflected;
        notice.who = *event.hit->body;
        notice.direction = event.velocity_after;
        notice.amount = since;
        tell_of_flight(std::move(notice));
        return;
    case ProjectileEventKind::stuck:
        notice.kind = NoticeKind::stuck;
        if (event.hit && event.hit->body) {
            notice.who = *event.hit->body;
            const auto pose = skirmish.scene().pose_of(notice.who, flight.as_of);
            notice.aim = pose ? to_local(*pose, event.point) : Vector3(Vector3::Zero());
        }
        tell_of_flight(std::move(notice));
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
    tell_of_flight(std::move(notice));
}

void Server::Impl::tell_launch(Notice notice, std::size_t pool, ProjectileHandle projectile) {
    notice.id = ++notice_ids;
    for (auto& [number, peer] : peers) {
        if (peer.player == nobody) {
            continue;
        }
        if (knows(peer, notice.by)) {
            peer.outbox.push_back(notice);
        } else {
            peer.hidden_flights.push_back(notice.id);
        }
    }
    flights.push_back({std::move(notice), std::nullopt, pool, projectile});
}

// Tells of a flight those who know of its launch.
void Server::Impl::tell_of_flight(Notice notice) {
    const auto flight =
        std::find_if(flights.begin(), flights.end(), [&notice](const detail::ToldFlight& one) {
            return one.launched.weapon == notice.weapon && one.launched.index == notice.index;
        });
    if (flight == flights.end()) {
        return; // it was launched before anybody could be told
    }
    notice.id = ++notice_ids;
    for (auto& [number, peer] : peers) {
        const auto untold =
            std::find(peer.hidden_flights.begin(), peer.hidden_flights.end(), flight->launched.id);
        if (peer.player != nobody && untold == peer.hidden_flights.end()) {
            peer.outbox.push_back(notice);
        } else if (peer.player != nobody && notice.kind == NoticeKind::landed) {
            peer.hidden_flights.erase(untold);
        }
    }
    if (notice.kind == NoticeKind::landed) {
        flights.erase(flight);
    } else if (notice.kind == NoticeKind::stuck) {
        flight->stuck = std::move(notice);
    }
}

// For a client that has just come: it learns at once of what flies from its own side.
void Server::Impl::tell_flights(detail::Peer& peer) {
    for (const detail::ToldFlight& flight : flights) {
        if (!knows(peer, flight.launched.by)) {
            peer.hidden_flights.push_back(flight.launched.id);
            continue;
        }
        peer.outbox.push_back(flight.launched);
        if (flight.stuck) {
            peer.outbox.push_back(*flight.stuck);
        }
    }
}

// Tells a client of projectiles that have come where its player could see them.
void Server::Impl::find_flights(detail::Peer& peer, std::size_t& rays) {
    const Span interval = tick_span(skirmish.settings().snapshot_interval, skirmish.settings().rate);
    const double seconds = to_seconds(interval.begin - Time{});
    std::erase_if(peer.hidden_flights, [&](std::uint64_t id) {
        const auto flight = std::lower_bound(
            flights.begin(), flights.end(), id,
            [](const detail::ToldFlight& one, std::uint64_t wanted) { return one.launched.id < wanted; });
        if (flight == flights.end() || flight->launched.id != id) {
            return true;
        }
        const auto now = skirmish.projectiles()[flight->pool].find(flight->projectile);
        if (!now) {
            return true;
        }
        const Vector3 onward = now->position + seconds * now->velocity;
        if (!peer.known.could_see(skirmish, now->position, rays) &&
            (now->stuck || !peer.known.could_see(skirmish, onward, rays))) {
            return false;
        }
        tell_found(peer, *flight, now->position, now->velocity);
        return true;
    });
}

// Tells a client of a projectile from where it is now: where it came from shows where its shooter was.
void Server::Impl::tell_found(detail::Peer& peer, const detail::ToldFlight& flight, const Vector3& place,
                              const Vector3& velocity) {
    const auto tell = [&](Notice notice) {
        notice.id = ++notice_ids;
        notice.at = skirmish.now();
        notice.point = place;
        notice.direction = flight.stuck ? Vector3(Vector3::Zero()) : velocity;
        notice.amount = 0.0;
        peer.outbox.push_back(std::move(notice));
    };
    tell(flight.launched);
    if (flight.stuck) {
        tell(*flight.stuck);
    }
}

} // namespace avrek
