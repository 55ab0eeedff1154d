#include "server_impl.h"
#include "sight.h"
#include <avrek/scene/level_digest.h>

#include <algorithm>
#include <cassert>
#include <cmath>
#include <iterator>
#include <utility>

namespace avrek {

namespace {

constexpr std::uint32_t max_wrong_claims = 8; // a second; others are not looked at

SkirmishSettings enough(SkirmishSettings settings, const Arsenal& arsenal) {
    if (settings.snapshot_interval <= 0) {
        settings.snapshot_interval = 2;
    }
    const Duration rewind =
        arsenal.matches[static_cast<std::size_t>(settings.rules)].lag_compensation.max_rewind;
    const auto ticks = static_cast<std::size_t>(std::ceil(to_seconds(rewind) * settings.rate.hertz));
    settings.history_frames = std::max(settings.history_frames, ticks + 4);
    settings.snapshot_history =
        std::max(settings.snapshot_history, ticks / static_cast<std::size_t>(settings.snapshot_interval) + 4);
    return settings;
}

} // namespace

Server::Impl::Impl(const GameData& its_data, const ServerSettings& its_settings, std::uint64_t seed,
                   Transport& its_transport)
    : data(its_data), settings(its_settings), transport(its_transport),
      skirmish(data.arsenal, data.arena.level, enough(settings.skirmish, data.arsenal), seed,
               data.arena.plan),
      tickets({its_settings.issuer, return_keys.open}, its_settings.match, its_transport.key()),
      tuned(its_data.texts) {
    assert(validate(data, settings).empty());
    level_digest = digest_of(skirmish.scene().level());
    transport.check_greetings([check = tickets, day = clock](std::span<const std::byte> greeting) {
        TicketClaims claims;
        const TicketFault fault = check.examine(greeting, *day, claims);
        return fault == TicketFault::none ? std::string{} : "the ticket " + std::string{to_string(fault)};
    });
    ledger.set(nobody, "over", std::int64_t{0});
    things.look(skirmish); // the plan's first: clients count them likewise
}

Server::Server(const GameData& data, const ServerSettings& settings, std::uint64_t seed, Transport& transport)
    : impl_(std::make_unique<Impl>(data, settings, seed, transport)) {}

Server::~Server() = default;

std::span<const Event> Server::tick(std::int64_t now, std::span<const Intent> own,
                                    std::span<const BodyUpdate> updates,
                                    std::span<const GameAction> actions) {
    Impl& run = *impl_;
    run.now_of_day = now;
    *run.clock = now;
    run.connection_events.clear();
    run.entered.clear();
    run.departed.clear();
    run.receive();
    run.look_at_peers();
    run.give_up_seats();
    run.gather_intents(own);
    run.count_tunings();
    run.let_game_act(actions);
    const std::span<const Event> events = run.skirmish.advance(run.intents, updates, run.actions);
    run.notify_events(events);
    run.drop_removed();
    run.keep_ledger();
    const bool sends_snapshots = run.skirmish.tick() % run.skirmish.settings().snapshot_interval == 0;
    if (!run.settings.interest.everything) {
        run.find_known();
    }
    run.tell_things();
    run.send_notices();
    if (sends_snapshots) {
        run.send_changes();
        run.note_snapshot();
        for (auto& [number, peer] : run.peers) {
            if (peer.player != nobody) {
                run.send_snapshot(peer);
            }
        }
    }
    run.transport.flush();
    return events;
}

// Gathers one intent for each combatant.
void Server::Impl::gather_intents(std::span<const Intent> own) {
    intents.assign(own.begin(), own.end());
    const Tick tick = skirmish.tick();
    const std::int32_t patience = std::max(1, skirmish.settings().rate.hertz / 4);
    for (auto& [number, peer] : peers) {
        if (peer.player == nobody) {
            continue;
        }
        const detail::Peer::Wanted& wanted = peer.wanted[static_cast<std::size_t>(tick) % detail::Peer::ring];
        if (wanted.tick == tick) {
            peer.missing_now = 0;
            intents.push_back(checked_intent(peer, wanted.intent));
            continue;
        }
        ++peer.missing;
        ++peer.missing_now;
        if (peer.missing_now == patience) { // until then it goes on as before
            if (const Fighter* fighter = skirmish.find(peer.player)) {
                intents.push_back(
                    {.who = peer.player, .yaw = fighter->intent.yaw, .pitch = fighter->intent.pitch});
            }
        }
    }
    for (const auto& [player, until] : waiting_slots) {
        const Fighter* fighter = skirmish.find(BodyId{player});
        if (fighter != nullptr && fighter->intent.buttons.bits() != 0) {
            intents.push_back(
                {.who = BodyId{player}, .yaw = fighter->intent.yaw, .pitch = fighter->intent.pitch});
        }
    }
}

// The game's turn: it sees the commands whose tick has come.
void Server::Impl::let_game_act(std::span<const GameAction> own) {
    actions.assign(own.begin(), own.end());
    commands.clear();
    const Tick tick = skirmish.tick();
    for (auto& [number, peer] : peers) {
        const auto due = std::stable_partition(peer.commands.begin(), peer.commands.end(),
                                               [tick](const GameCommand& one) { return one.tick > tick; });
        std::move(due, peer.commands.end(), std::back_inserter(commands));
        peer.commands.erase(due, peer.commands.end());
    }
    if (hook) {
        GameTick turn{skirmish, intents, commands, actions};
        hook(turn);
    }
}

// Players whose combatants the game has taken out.
void Server::Impl::drop_removed() {
    std::vector<std::uint32_t> removed;
    for (const auto& [number, peer] : peers) {
        if (peer.player != nobody && skirmish.find(peer.player) == nullptr) {
            removed.push_back(number);
        }
    }
    for (const std::uint32_t number : removed) {
        drop(number, ConnectionEvent::Kind::removed, "the game has taken it out");
    }
}

// Whether a player can see a body where it is, or where its picture had it: to within what a snapshot rounds
// and a tick moves.
bool Server::Impl::could_see(BodyId player, BodyId target, Duration view_delay) const {
    constexpr Metres about = 0.1;
    const Fighter* seen = skirmish.find(target);
    if (seen == nullptr) {
        return false;
    }
    const Vector3 eye = skirmish.eye_of(player);
    const Scene& scene = skirmish.scene();
    const Time shown = skirmish.now() - view_delay;
    const Vector3 way = seen->motion.position - eye;
    const Vector3 aside = about * (Rotation{turned_to({.yaw = look_of(way).yaw})} * Vector3{1.0, 0.0, 0.0});
    return detail::is_in_sight(scene, eye, target, present) ||
           detail::is_in_sight(scene, eye, target, shown) ||
           detail::is_in_sight(scene, eye + aside, target, shown) ||
           detail::is_in_sight(scene, eye - aside, target, shown);
}

// Whether a player can see the foe that it claims to notice. After some that were wrong none is believed for
// a while: each costs rays.
bool Server::Impl::is_believed(detail::Peer& peer, const Intent& intent) const {
    const std::int64_t second = skirmish.tick() / skirmish.settings().rate.hertz;
    if (std::exchange(peer.claims_in, second) != second) {
        peer.wrong_claims = 0;
    }
    if (peer.wrong_claims < max_wrong_claims &&
        could_see(peer.player, intent.spotted, Duration{intent.view_delay})) {
        return true;
    }
    ++peer.wrong_claims;
    return false;
}

// An intent without what its player cannot know, and what it shows is counted.
Intent Server::Impl::checked_intent(detail::Peer& peer, Intent intent) {
    const Fighter* fighter = skirmish.find(peer.player);
    if (fighter == nullptr) {
        return intent;
    }
    const double turn = std::max(std::abs(shortest_turn(intent.yaw - fighter->intent.yaw)),
                                 static_cast<double>(std::abs(intent.pitch - fighter->intent.pitch)));
    const bool was_here = fighter->alive_since < skirmish.now(); // a new life may look elsewhere
    peer.signs.turns += was_here && turn * skirmish.settings().rate.hertz > settings.limits.turn ? 1 : 0;
    if (intent.spotted != nobody && !is_believed(peer, intent)) {
        ++peer.signs.unseen;
        intent.spotted = nobody;
    }
    return intent;
}

const Skirmish& Server::skirmish() const {
    return impl_->skirmish;
}

Skirmish& Server::skirmish() {
    return impl_->skirmish;
}

std::span<const Intent> Server::intents() const {
    return impl_->intents;
}

std::span<const BodyId> Server::entered() const {
    return impl_->entered;
}

std::span<const BodyId> Server::departed() const {
    return impl_->departed;
}

Entrant Server::entrant_of(BodyId player) const {
    const PlayerSlot* slot = impl_->slot_of(player);
    assert(slot != nullptr);
    return impl_->entrant_of(*slot);
}

void Server::notify(Notice notice, const Audience& audience, bool remembered) {
    impl_->publish(std::move(notice), audience, remembered);
}

void Server::forget_topic(std::uint32_t topic) {
    impl_->board.forget_topic(topic);
}

void Server::on_tick(GameTickHook hook) {
    impl_->hook = std::move(hook);
}

std::span<const GameAction> Server::actions() const {
    return impl_->actions;
}

Ledger& Server::ledger() {
    return impl_->ledger;
}

const Ledger& Server::ledger() const {
    return impl_->ledger;
}

Ledger Server::ledger_of(BodyId player) const {
    Ledger told;
    for (const LedgerEntry& entry : impl_->ledger.entries()) {
        if (impl_->may_know(player, entry)) {
            told.set(entry.subject, entry.property, entry.value);
        }
    }
    (void)told.take_changes();
    return told;
}

std::vector<PeerReadout> Server::peers() const {
    std::vector<PeerReadout> all;
    for (const auto& [number, peer] : impl_->peers) {
        all.push_back({peer.id, peer.player, peer.player != nobody, peer.round_trip, peer.early, peer.missing,
                       peer.signs, peer.view.value(), peer.faults, peer.up, peer.down, peer.left_out,
                       peer.notices, peer.notice_chain});
    }
    return all;
}

FaultCounts Server::faults() const {
    FaultCounts all = impl_->gone_faults;
    for (const auto& [number, peer] : impl_->peers) {
        all += peer.faults;
    }
    return all;
}

std::span<const ConnectionEvent> Server::connections() const {
    return impl_->connection_events;
}

void Server::remove(BodyId player, const std::string& reason) {
    if (const detail::Peer* peer = impl_->peer_of(player)) {
        impl_->drop(static_cast<std::uint32_t>(peer->id), ConnectionEvent::Kind::removed, reason);
    }
}

void Server::shut_down(const std::string& reason) {
    const detail::Bytes goodbye = detail::encode_goodbye(reason);
    for (auto& [number, peer] : impl_->peers) {
        if (peer.player != nobody) {
            impl_->send(peer, detail::MessageKind::goodbye, Channel::reliable, TrafficKind::session, goodbye);
        }
        impl_->transport.close(peer.id);
    }
    impl_->peers.clear();
    impl_->transport.flush();
}

} // namespace avrek
