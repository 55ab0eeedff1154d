#include "server_impl.h"

#include <algorithm>
#include <cmath>
#include <utility>

/// Values of the server's fight that change while it runs.
namespace avrek {

namespace {

constexpr Duration unknown_trip = std::chrono::milliseconds{250}; // until the first measurement
constexpr Duration spare = std::chrono::milliseconds{100};        // covers jitter, and packets sent again
constexpr Duration max_ahead = std::chrono::seconds{2};
constexpr Duration between_proposals = std::chrono::seconds{1};

} // namespace

// Clients are ahead of the server by their way there, and hear of it after their way back.
Tick Server::Impl::tick_for_all() const {
    Duration longest{};
    for (const auto& [number, peer] : peers) {
        if (peer.player != nobody) {
            longest = std::max(longest, peer.round_trip > Duration{} ? peer.round_trip : unknown_trip);
        }
    }
    const Duration ahead = longest > Duration{} ? std::min(longest + spare, max_ahead) : Duration{};
    const Tick tick =
        skirmish.tick() + static_cast<Tick>(std::ceil(to_seconds(ahead) * skirmish.settings().rate.hertz));
    return tunings.empty() ? tick : std::max(tick, tunings.back().tick);
}

Loaded<Tick> Server::Impl::retune(TuningStep step) {
    auto arsenal = tuned.with(step);
    if (!arsenal) {
        return {std::nullopt, std::move(arsenal.diagnostics)};
    }
    const std::string name = step.texts.empty() ? std::string{} : step.texts.front().name;
    constexpr std::size_t most = detail::max_packet - 1024;
    detail::PlannedTuning planned{tick_for_all(), std::move(*arsenal.value), {}};
    planned.message = {static_cast<std::uint32_t>(tunings.size()), planned.tick, pack(step)};
    if (planned.message.packed.size() > most) {
        arsenal.diagnostics.push_back(
            {.file = name,
             .message = "is too large to be sent: " + std::to_string(planned.message.packed.size()) +
                        " bytes when packed",
             .allowed = "at most " + std::to_string(most) + "; an overlay of what changes is smaller"});
        return {std::nullopt, std::move(arsenal.diagnostics)};
    }
    // Places and room are those of a fight: it says now what it would refuse then.
    if (const Outcome known = skirmish.know(planned.arsenal); !known) {
        arsenal.diagnostics.push_back({.file = name, .message = std::string{known.why()}});
        return {std::nullopt, std::move(arsenal.diagnostics)};
    }
    tuned.take(std::move(step));
    const detail::Bytes bytes = detail::encode(planned.message);
    for (auto& [number, peer] : peers) {
        if (peer.player != nobody) {
            send(peer, detail::MessageKind::tuning, Channel::reliable, TrafficKind::session, bytes);
        }
    }
    transport.flush();
    tunings.push_back(std::move(planned));
    return {tunings.back().tick, std::move(arsenal.diagnostics)};
}

// The steps whose tick has come.
void Server::Impl::count_tunings() {
    retuned.clear();
    for (; counting < tunings.size() && tunings[counting].tick <= skirmish.tick(); ++counting) {
        if (skirmish.retune(tunings[counting].arsenal)) {
            retuned.push_back(tuned.steps()[counting]);
        }
    }
}

void Server::Impl::take_proposal(detail::Peer& peer, std::span<const std::byte> body) {
    const auto packed = detail::decode_proposal(body);
    auto step = packed && peer.may_tune ? unpack_tuning(*packed) : std::nullopt;
    if (!packed || (peer.may_tune && !step)) {
        fault(peer, PeerFault::malformed);
        return;
    }
    std::vector<std::string> faults;
    if (!peer.may_tune) {
        faults = {"the ticket does not allow to change values: TicketClaims::may_tune"};
    } else if (now() < peer.may_propose_at) {
        faults = {"one step a second: this one came too early"};
    } else {
        peer.may_propose_at = now() + between_proposals;
        const Loaded<Tick> taken = retune(std::move(*step));
        for (const Diagnostic& diagnostic : taken.diagnostics) {
            if (!taken && faults.size() < 16) {
                faults.push_back(to_string(diagnostic));
            }
        }
    }
    send(peer, detail::MessageKind::answer, Channel::reliable, TrafficKind::session,
         detail::encode_answer(faults));
}

Loaded<Tick> Server::retune(TuningStep step) {
    return impl_->retune(std::move(step));
}

std::span<const TuningStep> Server::retuned() const {
    return impl_->retuned;
}

} // namespace avrek
