#include "server_impl.h"

#include <algorithm>
#include <utility>

/// Intents and commands that come from peers.
namespace avrek {

void Server::Impl::take_command(detail::Peer& peer, std::span<const std::byte> body) {
    auto command = detail::decode_command(body, peer.player);
    const auto ahead = static_cast<Tick>(to_seconds(settings.limits.ahead) * skirmish.settings().rate.hertz);
    if (!command) {
        fault(peer, PeerFault::malformed);
    } else if (command->tick > skirmish.tick() + ahead) {
        fault(peer, PeerFault::too_early);
    } else if (peer.commands.size() >= settings.limits.commands) {
        fault(peer, PeerFault::too_many);
    } else {
        peer.commands.push_back(std::move(*command));
    }
}

// Its client hears of it, and sets its clock.
void Server::Impl::note_early(detail::Peer& peer, Tick newest) const {
    const auto early = static_cast<std::int32_t>(std::clamp<Tick>(newest - skirmish.tick(), -10000, 10000));
    peer.early = peer.early_is_new ? std::min(peer.early, early) : early;
    peer.early_is_new = true;
}

void Server::Impl::take_intents(detail::Peer& peer, const detail::IntentsMessage& message) {
    const Tick next = skirmish.tick();
    const TickRate rate = skirmish.settings().rate;
    const Tick furthest = next + static_cast<Tick>(to_seconds(settings.limits.ahead) * rate.hertz);
    const auto count = static_cast<Tick>(message.intents.size());
    const detail::Peer::Sent& seen =
        peer.sent[index_of(std::max<Tick>(0, message.snapshot), peer.sent.size())];
    const bool was_sent = message.snapshot >= 0 && seen.tick == message.snapshot;
    peer.signs.stale += message.newest > peer.newest && message.snapshot < peer.snapshot ? 1 : 0;
    const bool is_first = was_sent && message.snapshot > peer.snapshot;
    if (is_first) {
        peer.snapshot = message.snapshot;
        const Duration sample = now() - seen.at;
        peer.round_trip =
            peer.round_trip == Duration{} ? sample : peer.round_trip + (sample - peer.round_trip) / 16;
    }
    if (message.game_since_snapshot && !was_sent) {
        fault(peer, PeerFault::too_late); // nobody knows what it differs from any more
        return;
    }
    if (message.newest > furthest) {
        fault(peer, PeerFault::too_early);
        ++peer.signs.early;
        note_early(peer, message.newest);
        return;
    }
    if (is_first) { // a tick that may be is all that is measured
        peer.view.measure(tick_span(message.newest, rate).begin - tick_span(message.snapshot, rate).end);
    }
    const Span one = tick_span(0, rate);
    const Time at = now();
    const Duration view_delay =
        peer.view.near(was_sent ? seen.view_delay : peer.view.value(), one.end - one.begin);
    for (Tick place = 0; place < count; ++place) {
        const Tick tick = message.newest - (count - 1 - place);
        if (tick < peer.joined) {
            continue;
        }
        detail::Peer::Wanted& wanted = peer.wanted[static_cast<std::size_t>(tick) % detail::Peer::ring];
        if (tick < next) {
            if (wanted.tick != tick) {
                wanted = {tick, {}}; // once is enough
                fault(peer, PeerFault::too_late);
            }
        } else if (wanted.tick != tick) {
            wanted = {tick, message.intents[static_cast<std::size_t>(place)]};
            wanted.intent.view_delay = static_cast<std::uint32_t>(view_delay.count());
            peer.signs.early += tick_span(tick, rate).begin - at > settings.limits.early ? 1 : 0;
            if (message.game_since_snapshot) {
                wanted.intent.game ^= seen.game;
            }
        }
    }
    if (message.newest > peer.newest) {
        peer.newest = message.newest;
        note_early(peer, message.newest);
    }
}

} // namespace avrek
