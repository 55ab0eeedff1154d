#include "server_impl.h"

#include <algorithm>

/// Pickups: clients know of those that their players could see.
namespace avrek {

namespace {

constexpr std::size_t turns = 8; // ticks in which all pickups are looked at

// Above the ground on which it lies.
Vector3 middle_of(const PickupState& pickup, const Arsenal& arsenal) {
    return pickup.position + Vector3{0.0, 0.5 * arsenal[pickup.spec].radius, 0.0};
}

} // namespace

// Its own side learns at once who took it, and those who could see it. The others find out.
void Server::Impl::notify_pickup(const PickupEvent& pickup) {
    if (pickup.change == PickupChange::refused) {
        return;
    }
    const bool is_there = pickup.change == PickupChange::back;
    const Vector3 middle =
        middle_of(std::as_const(skirmish).match().pickups()[pickup.index], skirmish.arsenal());
    for (auto& [number, peer] : peers) {
        if (peer.player == nobody) {
            continue;
        }
        const bool is_ours = !is_there && may_know_of(peer.player, pickup.who);
        if (is_ours || comes_to_see(peer, middle)) {
            const bool knows_who = !is_there && knows(peer, pickup.who);
            tell_pickup(peer, pickup.index, is_there, pickup.at, knows_who ? pickup.who : nobody);
        }
    }
}

bool Server::Impl::comes_to_see(detail::Peer& peer, const Vector3& point) {
    std::size_t rays = detail::KnownBodies::max_eyes;
    return settings.interest.everything || peer.known.comes_to_see(skirmish, point, rays);
}

void Server::Impl::tell_pickup(detail::Peer& peer, std::size_t index, bool is_there, Time at, BodyId who) {
    const PickupState& pickup = std::as_const(skirmish).match().pickups()[index];
    Notice notice{.kind = is_there ? NoticeKind::offered : NoticeKind::taken,
                  .id = ++notice_ids,
                  .at = at,
                  .who = who,
                  .index = static_cast<std::int32_t>(index)};
    if (is_there) {
        notice.number = static_cast<std::uint32_t>(to_index(pickup.spec));
        notice.point = pickup.position;
    }
    peer.pickups.resize(std::max(peer.pickups.size(), index + 1), 0);
    peer.pickups[index] = is_there ? 1 : 0;
    peer.outbox.push_back(std::move(notice));
}

// Looks at some of the pickups of which clients know something else than what is so.
void Server::Impl::find_pickups() {
    const std::span<const PickupState> all = std::as_const(skirmish).match().pickups();
    const std::size_t count = (all.size() + turns - 1) / turns;
    for (auto& [number, peer] : peers) {
        if (peer.player == nobody) {
            continue;
        }
        peer.pickups.resize(all.size(), 0);
        for (std::size_t turn = 0; turn < count; ++turn) {
            const std::size_t index = peer.next_pickup++ % all.size();
            if ((peer.pickups[index] != 0) != all[index].there &&
                comes_to_see(peer, middle_of(all[index], skirmish.arsenal()))) {
                tell_pickup(peer, index, all[index].there, now(), nobody);
            }
        }
    }
}

} // namespace avrek
