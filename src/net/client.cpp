#include "client_running.h"
#include "packed_intents.h"
#include <avrek/scene/level_digest.h>

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

namespace {

constexpr std::size_t picture_frames = 64;
constexpr std::int32_t least_early = 1; // ticks, besides those between two packets

} // namespace

Client::Client(const Arsenal& arsenal, const ArsenalDigest& digest, Level level, LevelPlan plan,
               const ClientSettings& settings, Transport& transport)
    : running_(std::make_unique<Running>(arsenal, digest, std::move(level), std::move(plan), settings,
                                         transport)) {
    running_->plan.hazards.clear(); // the server's
    running_->plan.pickups.clear();
    assert(settings.send_every >= 1 && settings.send_every <= 8 && settings.repeats >= 0 &&
           settings.repeats <= 8);
    running_->keys = make_server_keys();
    running_->picture_clock = net::PictureClock{settings.interpolation};
}

Client::~Client() = default;

ClientEvents Client::receive(Time local) {
    Running& run = *running_;
    run.local = local;
    TransportEvent event;
    while (run.transport.receive(event)) {
        switch (event.kind) {
        case TransportEventKind::came:
            run.knock();
            break;
        case TransportEventKind::packet:
            run.take_packet(event);
            break;
        case TransportEventKind::went:
            run.end(ClientState::ended, "the connection is gone");
            break;
        }
    }
    return std::exchange(run.events, {});
}

void Client::Running::end(ClientState how, const std::string& why) {
    if (state == ClientState::knocking || state == ClientState::playing) {
        state = how;
        reason = why;
    }
}

// Asks to be let in.
void Client::Running::knock() {
    const auto claims = read_ticket(settings.ticket);
    if (!claims) {
        end(ClientState::refused, "the ticket is no ticket of this version");
        return;
    }
    net::JoinMessage join;
    join.ticket.assign(settings.ticket.begin(), settings.ticket.end());
    join.key = keys.open;
    join.arsenal = digest;
    join.level = digest_of(level);
    const net::Bytes closed = net::closed_for(claims->server, net::encode(join));
    const auto session = net::keys_of_client(keys, claims->server);
    if (closed.empty() || !session) {
        end(ClientState::refused, "the ticket names a server key that is none");
        return;
    }
    seal = net::Seal{*session};
    net::Bytes packet{std::byte{static_cast<std::uint8_t>(net::MessageKind::join)}};
    packet.insert(packet.end(), closed.begin(), closed.end());
    transport.send(server_peer, Carriage::certain, packet);
    transport.flush();
    counts.up.add(TrafficKind::door, packet.size());
}

void Client::Running::send(net::MessageKind kind, Carriage carriage, TrafficKind traffic,
                           std::span<const std::byte> body) {
    const auto packet = seal.close(static_cast<std::uint8_t>(kind), carriage == Carriage::certain, body);
    transport.send(server_peer, carriage, packet);
    counts.up.add(traffic, packet.size());
}

void Client::Running::take_refusal(const TransportEvent& event) {
    const auto refusal = net::decode_refusal(std::span{event.bytes}.subspan(1));
    if (refusal && state == ClientState::knocking) {
        differing = refusal->differing;
        end(ClientState::refused, refusal->reason);
    }
}

void Client::Running::take_packet(const TransportEvent& event) {
    if (event.bytes.empty() || event.bytes.size() > net::most_packet) {
        ++counts.not_understood;
        return;
    }
    const auto kind = static_cast<net::MessageKind>(event.bytes[0]);
    if (kind == net::MessageKind::refusal) {
        take_refusal(event);
        return;
    }
    net::SealFault fault = net::SealFault::none;
    const auto body = seal.open(event.bytes, event.carriage == Carriage::certain, fault);
    if (fault != net::SealFault::none) {
        counts.not_understood += fault == net::SealFault::replayed ? 0 : 1;
        return;
    }
    const auto count = [&](TrafficKind traffic) { counts.down.add(traffic, event.bytes.size()); };
    switch (kind) {
    case net::MessageKind::welcome:
        count(TrafficKind::door);
        take_welcome(body);
        break;
    case net::MessageKind::shown:
        count(TrafficKind::stream);
        take_shown(body);
        break;
    case net::MessageKind::notices:
        count(TrafficKind::notices);
        take_notices(body);
        break;
    case net::MessageKind::ledger:
        count(TrafficKind::ledger);
        take_ledger(body);
        break;
    case net::MessageKind::goodbye:
        count(TrafficKind::door);
        end(ClientState::ended, net::decode_goodbye(body).value_or("no reason was given"));
        break;
    default:
        ++counts.not_understood;
        break;
    }
}

void Client::Running::take_welcome(std::span<const std::byte> body) {
    const auto message = net::decode_welcome(body);
    const auto rules = message
                           ? std::find_if(arsenal.matches.begin(), arsenal.matches.end(),
                                          [&](const MatchSpec& match) { return match.id == message->rules; })
                           : arsenal.matches.end();
    if (rules == arsenal.matches.end() || message->body >= static_cast<std::int32_t>(arsenal.bodies.size()) ||
        message->melee >= static_cast<std::int32_t>(arsenal.melee.size()) || message->you == nobody ||
        state != ClientState::knocking) {
        ++counts.not_understood;
        return;
    }
    welcome = *message;
    SkirmishSettings set = welcome.settings;
    set.rules = static_cast<std::int32_t>(rules - arsenal.matches.begin());
    set.judges = false;
    set.shown_every = 0;
    set.frames = 2;
    // Ahead of the server by what a link typically takes; the server will say how much it must be.
    set.first_tick = welcome.tick + set.rate.hertz / 8;
    set.limits = {.combatants = welcome.settings.limits.combatants, .hazards = 0, .pickups = 0, .dropped = 1};
    const Entrant entrant{.id = welcome.you,
                          .team = welcome.team,
                          .body = welcome.body,
                          .melee = std::max(-1, welcome.melee),
                          .at = Vector3(Vector3::Zero())};
    picture.emplace(level,
                    SceneLimits{.bodies = set.limits.combatants, .joints = 64, .frames = picture_frames});
    const std::size_t projectiles = std::min<std::size_t>(set.projectiles, 64);
    set.projectiles = 1; // nothing flies in the view
    view.emplace(arsenal, level, set, welcome.seed, plan);
    set.limits.combatants = 1;
    set.projectiles = projectiles;
    own.emplace(arsenal, level, set, welcome.seed, LevelPlan{});
    own->add(entrant);
    view->add(entrant);
    own->see_through(&*picture);
    own_kinds = net::kinds_of_own_state(*own, welcome.you);
    own_clock.start(local, set.first_tick, set.rate, settings.send_every + least_early);
    state = ClientState::playing;
    see();
}

void Client::Running::take_notices(std::span<const std::byte> body) {
    auto notices = net::decode_notices(body);
    if (!notices) {
        ++counts.not_understood;
        return;
    }
    for (Notice& notice : *notices) {
        ++counts.notices;
        counts.notice_chain = (counts.notice_chain ^ notice.id) * 0x9e3779b97f4a7c15U;
        events.notices.push_back(std::move(notice));
    }
}

void Client::Running::take_ledger(std::span<const std::byte> body) {
    const auto message = net::decode_ledger(body);
    if (!message) {
        ++counts.not_understood;
        return;
    }
    if (message->whole) {
        ledger = {};
    }
    for (const LedgerEntry& entry : message->entries) {
        if (entry.gone) {
            ledger.forget(entry.subject, entry.property);
        } else {
            ledger.set(entry.subject, entry.property, entry.value);
        }
        events.ledger.push_back(entry);
        if (changed) {
            changed(entry);
        }
    }
    (void)ledger.take_changes(); // nobody asks for them here
}

bool Client::is_tick_due(Time local) const {
    return running_->state == ClientState::playing &&
           running_->own_clock.begin_of(running_->own->tick()) <= local;
}

void Client::leave() {
    if (running_->state == ClientState::playing) {
        running_->send(net::MessageKind::leave, Carriage::certain, TrafficKind::door, {});
        running_->transport.flush();
    }
    running_->end(ClientState::ended, "left");
}

ClientState Client::state() const {
    return running_->state;
}

const std::string& Client::reason() const {
    return running_->reason;
}

std::span<const std::string> Client::differing() const {
    return running_->differing;
}

BodyId Client::you() const {
    return running_->welcome.you;
}

const Skirmish& Client::view() const {
    assert(running_->view);
    return *running_->view;
}

const Skirmish& Client::predicted() const {
    assert(running_->own);
    return *running_->own;
}

Vector3 Client::drawn_position() const {
    return running_->own->find(running_->welcome.you)->position + running_->offset;
}

const Scene& Client::picture() const {
    assert(running_->picture);
    return *running_->picture;
}

std::optional<SeenPlayer> Client::seen(BodyId id) const {
    const Running& run = *running_;
    if (run.newest < 0) {
        return std::nullopt;
    }
    for (const net::SeenBody& body : run.moments[run.place_of(run.newest)].bodies) {
        if (body.id == id) {
            return SeenPlayer{position_of(body.place),
                              {yaw_of(body.place), body.pitch * pi / 2048.0},
                              body.weapon - 1,
                              body.state,
                              has(body, net::SeenFlag::on_back),
                              has(body, net::SeenFlag::dead),
                              has(body, net::SeenFlag::airborne),
                              has(body, net::SeenFlag::crouching),
                              has(body, net::SeenFlag::aiming),
                              has(body, net::SeenFlag::reloading),
                              has(body, net::SeenFlag::guarding)};
        }
    }
    return std::nullopt;
}

Time Client::shown_at() const {
    return running_->own ? running_->server_time_shown(running_->own->now()) : Time{};
}

bool Client::seed_is_kept() const {
    return running_->welcome.seed_is_kept;
}

const Ledger& Client::ledger() const {
    return running_->ledger;
}

void Client::on_ledger(std::function<void(const LedgerEntry&)> changed) {
    running_->changed = std::move(changed);
}

ClientCounts Client::counts() const {
    return running_->counts;
}

} // namespace avrek
