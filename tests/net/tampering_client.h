#pragma once
// A client that does not play fair: it speaks the protocol, with packets of its own making.
#include "../scene/draw.h"
#include "packed_intents.h"
#include "wire.h"
#include <avrek/net/transport.h>
#include <avrek/skirmish/blended_poses.h>

#include <vector>

namespace avrek::trial {

/// Ways of tampering.
struct Tampering {
    bool taps = false;        ///< lets go and presses again each tick, to fire faster
    bool contradicts = false; ///< says five different things of each tick
    bool hurries = false;     ///< sends intents for ticks that are far off
    bool claims = false;      ///< sends what only a server says: hits, health, deaths, ledgers
    bool replays = false;     ///< sends all its packets again
    bool garbles = false;     ///< sends garbage, and packets with bits changed
    bool walks = false;       ///< no tampering: at its speed
    bool runs = false;        ///< asks for a hundred times its speed
    int floods = 0;           ///< so many more packets a millisecond
    Duration interpolation{};
};

class TamperingClient {
  public:
    TamperingClient(Transport& transport, const ArsenalDigest& arsenal, std::uint64_t level,
                    const Tampering& tampering)
        : transport_(transport), arsenal_(arsenal), level_(level), tampering_(tampering) {}

    /// To be called each millisecond, with what it would do if it played fair.
    void run(Intent fair, Tick server_tick, int in_hand = 4, Tick names = -1) {
        names_ = names;
        TransportEvent event;
        while (transport_.receive(event)) {
            take(event);
        }
        if (!in_) {
            return;
        }
        for (; next_ <= server_tick + in_hand; ++next_) {
            send_tick(fair);
        }
        tamper(server_tick);
    }
    bool is_out() const { return out_; }
    /// Returns the next tick that it has sent no intent for.
    Tick next() const { return next_; }
    /// A snapshot that has come, and the age of the picture that it assigns.
    struct View {
        Tick tick = -1;
        Duration delay{};
    };
    std::span<const View> views() const { return views_; }

  private:
    void take(const TransportEvent& event) {
        if (event.kind == TransportEventKind::connected) {
            detail::JoinMessage join;
            join.arsenal = arsenal_;
            join.level = level_;
            join.locomotions = names_of({});
            join.poses = name_of(blended_poses());
            join.interpolation = tampering_.interpolation;
            detail::Bytes packet{std::byte{static_cast<std::uint8_t>(detail::MessageKind::join)}};
            const detail::Bytes body = detail::encode(join);
            packet.insert(packet.end(), body.begin(), body.end());
            transport_.send(server_peer, Channel::reliable, packet);
        } else if (event.kind == TransportEventKind::disconnected) {
            out_ = true;
        } else if (!event.bytes.empty() &&
                   event.bytes[0] == std::byte{static_cast<std::uint8_t>(detail::MessageKind::welcome)}) {
            const auto welcome = detail::decode_welcome(std::span{event.bytes}.subspan(1));
            in_ = welcome.has_value();
            next_ = welcome ? welcome->tick + 4 : 0;
        } else if (!event.bytes.empty() &&
                   event.bytes[0] == std::byte{static_cast<std::uint8_t>(detail::MessageKind::snapshot)}) {
            const auto snapshot = detail::decode_snapshot(std::span{event.bytes}.subspan(1));
            if (snapshot && (views_.empty() || snapshot->tick > views_.back().tick)) {
                views_.push_back({snapshot->tick, snapshot->view_delay});
            }
        }
    }
    void send(detail::MessageKind kind, Channel channel, std::span<const std::byte> body) {
        std::vector<std::byte> packet{std::byte{static_cast<std::uint8_t>(kind)}};
        packet.insert(packet.end(), body.begin(), body.end());
        transport_.send(server_peer, channel, packet);
        if (sent_.size() < 400) {
            sent_.emplace_back(packet.begin(), packet.end());
        }
    }
    void send_tick(Intent intent) {
        if (tampering_.taps && next_ % 2 == 0) {
            intent.buttons.set(Button::trigger, false);
        }
        intent.ahead = tampering_.walks ? 1.0F : intent.ahead;
        detail::IntentsMessage message{next_, names_, {intent}};
        if (tampering_.runs) {
            message.intents[0].ahead = 100.0F;
        }
        send(detail::MessageKind::intents, Channel::unreliable, detail::encode(message));
        for (int again = 0; again < (tampering_.contradicts ? 5 : 0); ++again) {
            intent.press_offset = static_cast<std::uint32_t>(again) * 3'000'000U;
            intent.buttons.set(Button::trigger, again % 2 == 0);
            intent.slot = static_cast<std::int8_t>(again % 2);
            send(detail::MessageKind::intents, Channel::unreliable,
                 detail::encode(detail::IntentsMessage{next_, -1, {intent}}));
        }
    }
    void tamper(Tick server_tick) {
        if (tampering_.hurries) {
            Intent intent{.buttons = {Button::trigger}};
            send(detail::MessageKind::intents, Channel::unreliable,
                 detail::encode(detail::IntentsMessage{server_tick + 100'000, server_tick + 7, {intent}}));
        }
        if (tampering_.claims) {
            const Notice hit{.kind = NoticeKind::hit, .who = BodyId{2}, .by = BodyId{1}, .amount = 1e6};
            send(detail::MessageKind::notices, Channel::reliable, detail::encode(std::span{&hit, 1}));
            send(detail::MessageKind::ledger, Channel::reliable,
                 detail::encode(detail::LedgerMessage{
                     false, {{BodyId{2}, "health", 0.0}, {BodyId{1}, "score", std::int64_t{99}}}}));
            send(detail::MessageKind::snapshot, Channel::unreliable,
                 detail::encode(detail::SnapshotMessage{}));
        }
        if (tampering_.replays && !sent_.empty()) {
            for (int again = 0; again < 3; ++again) {
                const auto& old = sent_[draw_.below(sent_.size())];
                transport_.send(server_peer, Channel::unreliable, old);
                transport_.send(server_peer, Channel::reliable, old);
            }
        }
        if (tampering_.garbles) {
            std::vector<std::byte> bytes(draw_.below(200));
            for (std::byte& byte : bytes) {
                byte = static_cast<std::byte>(draw_.below(256));
            }
            transport_.send(server_peer, draw_.below(2) == 0 ? Channel::unreliable : Channel::reliable,
                            bytes);
            if (!sent_.empty()) {
                auto changed = sent_.back();
                changed[draw_.below(changed.size())] ^= std::byte{4};
                transport_.send(server_peer, Channel::unreliable, changed);
            }
        }
        for (int more = 0; more < tampering_.floods && !sent_.empty(); ++more) {
            transport_.send(server_peer, Channel::unreliable, sent_[draw_.below(sent_.size())]);
        }
    }

    Transport& transport_;
    ArsenalDigest arsenal_;
    std::uint64_t level_;
    Tampering tampering_;
    std::vector<std::vector<std::byte>> sent_{};
    std::vector<View> views_{};
    Draw draw_{77};
    Tick names_ = -1; ///< the snapshot that its intents acknowledge
    Tick next_ = 0;
    bool in_ = false;
    bool out_ = false;
};

} // namespace avrek::trial
