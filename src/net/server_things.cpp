#include "server_impl.h"

#include <algorithm>
#include <array>
#include <numeric>
#include <utility>

/// Pickups, dropped weapons and hazards: clients know of those that their players could see.
namespace avrek {

namespace {

constexpr std::size_t look_turns = 8; // ticks in which all that lies near is looked at
constexpr std::size_t far_turns = 32; // and all that lies far away
constexpr Metres near = 12.0;
constexpr std::size_t max_gone = 256; // weapons or hazards that some client still believes in
constexpr std::size_t min_rays = 8;   // for a point; with fewer it is not looked at

NoticeKind gone_kind(std::size_t kind) {
    constexpr std::array kinds{NoticeKind::pickup_taken, NoticeKind::weapon_taken, NoticeKind::hazard_ended};
    return kinds[kind];
}

} // namespace

bool Server::Impl::comes_to_see(detail::Peer& peer, const detail::LyingThing& thing, std::size_t& rays) {
    if (settings.interest.everything) {
        return true;
    }
    const bool is_near = (thing.points[0] - peer.known.eye()).squaredNorm() <= near * near;
    if (!is_near && !thing.has_changed &&
        (static_cast<std::size_t>(skirmish.tick()) - static_cast<std::size_t>(thing.number)) % far_turns !=
            0) {
        return false;
    }
    for (std::size_t point = 0; point < thing.point_count && rays >= min_rays; ++point) {
        if (is_near ? peer.known.comes_to_see(skirmish, thing.points[point], rays)
                    : peer.known.sees(skirmish, thing.points[point], rays)) {
            return true;
        }
    }
    return false;
}

// Tells of what is otherwise than a client knows it: its own side at once, and those who come to see it, with
// the time if they see it happen. The others find out.
void Server::Impl::tell_of(const detail::LyingThing& thing, std::size_t kind, detail::Peer& peer,
                           std::size_t& rays) {
    std::vector<std::int32_t>& known = peer.things[kind];
    const auto place = std::lower_bound(known.begin(), known.end(), thing.number);
    const bool is_known = place != known.end() && *place == thing.number;
    const bool is_ours = thing.has_changed && thing.who != nobody && may_know_of(peer.player, thing.who);
    if (is_known == thing.there || (!is_ours && !thing.is_for_all && !comes_to_see(peer, thing, rays))) {
        return;
    }
    Notice notice = thing.there ? thing.notice : Notice{.kind = gone_kind(kind), .index = thing.number};
    notice.id = ++notice_ids;
    notice.at = thing.has_changed ? thing.at : now();
    notice.who = thing.has_changed && thing.who != nobody && knows(peer, thing.who) ? thing.who : nobody;
    peer.outbox.push_back(std::move(notice));
    if (thing.there) {
        known.insert(place, thing.number);
    } else {
        known.erase(place);
    }
}

void Server::Impl::tell_things() {
    things.look(skirmish);
    const auto tick = static_cast<std::size_t>(skirmish.tick());
    looking.clear();
    for (auto& [number, peer] : peers) {
        if (peer.player != nobody) {
            looking.push_back(&peer);
        }
    }
    if (!looking.empty()) { // with few rays left everybody has a turn
        const std::size_t first = tick / look_turns % looking.size();
        std::rotate(looking.begin(), looking.begin() + static_cast<std::ptrdiff_t>(first), looking.end());
    }
    std::size_t rays_for_new = settings.interest.rays; // for all that comes or goes in this tick
    std::size_t rays = settings.interest.rays / far_turns;
    for (std::size_t kind = 0; kind < things.of_kind.size(); ++kind) {
        for (const detail::LyingThing& thing : things.of_kind[kind]) {
            if (!thing.has_changed &&
                static_cast<std::size_t>(thing.number) % look_turns != tick % look_turns) {
                continue;
            }
            for (detail::Peer* peer : looking) {
                tell_of(thing, kind, *peer, thing.has_changed ? rays_for_new : rays);
            }
        }
    }
    if (skirmish.tick() % skirmish.settings().rate.hertz == 0) {
        forget_things();
    }
}

// Forgets weapons and hazards that are gone, once no client knows of them. The oldest are told to all when
// they are many: a long match does not fill the memory with places that nobody comes by.
void Server::Impl::forget_things() {
    for (const detail::ThingKind kind : {detail::ThingKind::weapon, detail::ThingKind::hazard}) {
        const auto index = static_cast<std::size_t>(kind);
        std::vector<detail::LyingThing>& all = things.of_kind[index];
        auto gone = static_cast<std::size_t>(
            std::count_if(all.begin(), all.end(), [](const detail::LyingThing& one) { return !one.there; }));
        for (auto thing = all.begin(); gone > max_gone; ++thing) {
            thing->is_for_all = !thing->there;
            gone -= thing->there ? 0 : 1;
        }
        std::erase_if(all, [&](const detail::LyingThing& thing) {
            return !thing.there && std::none_of(peers.begin(), peers.end(), [&](const auto& one) {
                const std::vector<std::int32_t>& known = one.second.things[index];
                return std::binary_search(known.begin(), known.end(), thing.number);
            });
        });
    }
}

// A client that has just come knows what the level has.
void Server::Impl::tell_plan(detail::Peer& peer) const {
    const auto count = [](std::vector<std::int32_t>& known, std::size_t size) {
        known.resize(size);
        std::iota(known.begin(), known.end(), 0);
    };
    count(peer.things[static_cast<std::size_t>(detail::ThingKind::pickup)], data.arena.plan.pickups.size());
    count(peer.things[static_cast<std::size_t>(detail::ThingKind::hazard)], data.arena.plan.hazards.size());
}

} // namespace avrek
