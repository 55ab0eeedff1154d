#include "client_impl.h"
#include "packed_intents.h"
#include <avrek/scene/level_digest.h>

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

namespace {

constexpr std::size_t picture_frames = 64;
constexpr std::int32_t min_early = 1; // ticks, besides those between two packets

} // namespace

SeenPlayer detail::seen_player(const SeenBody& body) {
    return {position_of(body.pose),
            {yaw_of(body.pose), pitch_of(body.pitch)},
            optional_id<WeaponId>(body.weapon - 1),
            body.state,
            has(body, SeenFlag::on_back),
            has(body, SeenFlag::dead),
            has(body, SeenFlag::airborne),
            has(body, SeenFlag::crouching),
            has(body, SeenFlag::aiming),
            has(body, SeenFlag::reloading),
            has(body, SeenFlag::guarding),
            body.posed};
}

Client::Client(const GameData& data, const ClientSettings& settings, Transport& transport)
    : impl_(std::make_unique<Impl>(data, settings, transport)) {
    impl_->know_plan();
    assert(validate(settings).empty());
}

Client::~Client() = default;

ClientEvents Client::receive(Time local) {
    Impl& run = *impl_;
    run.local = local;
    TransportEvent event;
    while (run.transport.receive(event)) {
        switch (event.kind) {
        case TransportEventKind::connected:
            run.knock();
            break;
        case TransportEventKind::packet:
            run.take_packet(event);
            break;
        case TransportEventKind::disconnected:
            run.end(run.state == ClientState::connecting && !event.reason.empty() ? ClientState::refused
                                                                                  : ClientState::ended,
                    event.reason.empty() ? "the connection is gone" : event.reason);
            break;
        }
    }
    return std::exchange(run.events, {});
}

void Client::Impl::end(ClientState how, const std::string& why) {
    if (state == ClientState::connecting || state == ClientState::playing) {
        state = how;
        reason = why;
    }
}

// Asks to be let in.
void Client::Impl::knock() {
    detail::JoinMessage join;
    join.arsenal = data.digest;
    join.level = digest_of(data.arena.level);
    join.locomotions = names_of(settings.locomotions);
    join.poses = name_of(poses());
    join.interpolation = settings.interpolation;
    join.send_every = settings.send_every;
    send(detail::MessageKind::join, Channel::reliable, TrafficKind::session, detail::encode(join));
    transport.flush();
}

void Client::Impl::send(detail::MessageKind kind, Channel channel, TrafficKind traffic,
                        std::span<const std::byte> body) {
    packet.assign(1, std::byte{static_cast<std::uint8_t>(kind)});
    packet.insert(packet.end(), body.begin(), body.end());
    transport.send(server_peer, channel, packet);
    counts.up.add(traffic, packet.size());
}

void Client::Impl::take_refusal(const TransportEvent& event) {
    const auto refusal = detail::decode_refusal(std::span{event.bytes}.subspan(1));
    if (refusal && state == ClientState::connecting) {
        differing = refusal->differing;
        end(ClientState::refused, refusal->reason);
    }
}

void Client::Impl::take_packet(const TransportEvent& event) {
    if (event.bytes.empty() || event.bytes.size() > detail::max_packet) {
        ++counts.not_understood;
        return;
    }
    const auto kind = static_cast<detail::MessageKind>(event.bytes[0]);
    if (kind == detail::MessageKind::refusal) {
        take_refusal(event);
        return;
    }
    const std::span<const std::byte> body = std::span{event.bytes}.subspan(1);
    const auto count = [&](TrafficKind traffic) { counts.down.add(traffic, event.bytes.size()); };
    switch (kind) {
    case detail::MessageKind::welcome:
        count(TrafficKind::session);
        take_welcome(body);
        break;
    case detail::MessageKind::snapshot:
        count(TrafficKind::stream);
        take_snapshot(body);
        break;
    case detail::MessageKind::notices:
        count(TrafficKind::notices);
        take_notices(body);
        break;
    case detail::MessageKind::tuning:
        count(TrafficKind::session);
        take_tuning(body);
        break;
    case detail::MessageKind::answer:
        count(TrafficKind::session);
        take_answer(body);
        break;
    case detail::MessageKind::ledger:
        count(TrafficKind::ledger);
        take_ledger(body);
        break;
    case detail::MessageKind::goodbye:
        count(TrafficKind::session);
        end(ClientState::ended, detail::decode_goodbye(body).value_or("no reason was given"));
        break;
    default:
        ++counts.not_understood;
        break;
    }
}

void Client::Impl::take_welcome(std::span<const std::byte> body) {
    const auto message = detail::decode_welcome(body);
    const Arsenal& base = data.arsenal;
    auto rules = message ? base.match(message->rules) : std::nullopt;
    if (!rules && message && !tunings.empty() && !base.matches.empty()) {
        rules = MatchId{}; // a step has brought those that count: the server goes by them
    }
    if (!rules || message->body >= static_cast<std::int32_t>(base.bodies.size()) ||
        message->melee >= static_cast<std::int32_t>(base.melee.size()) || message->you == nobody ||
        state != ClientState::connecting) {
        ++counts.not_understood;
        return;
    }
    welcome = *message;
    if (message->return_ticket.size() == ticket_size) {
        std::copy(message->return_ticket.begin(), message->return_ticket.end(),
                  return_ticket.emplace().begin());
    }
    joined = tick_span(welcome.tick, welcome.settings.rate).begin;
    SkirmishSettings set = welcome.settings;
    set.rules = *rules;
    set.applies_damage = false;
    set.locomotions = settings.locomotions;
    set.poses = settings.poses;
    set.snapshot_interval = 0;
    set.history_frames = 2;
    // Ahead of the server by what a link typically takes; the server will say how much it must be.
    set.first_tick = welcome.tick + set.rate.hertz / 8;
    set.limits = {.combatants = welcome.settings.limits.combatants, .hazards = 0, .pickups = 0, .dropped = 1};
    const Entrant entrant{.id = welcome.you,
                          .team = welcome.team,
                          .body = static_cast<BodySpecId>(welcome.body),
                          .melee = optional_id<MeleeId>(welcome.melee),
                          .at = Vector3(Vector3::Zero())};
    picture.emplace(data.arena.level,
                    SceneLimits{.bodies = set.limits.combatants, .joints = 64, .frames = picture_frames});
    update_poses.resize(set.limits.combatants);
    const std::size_t projectiles = std::min<std::size_t>(set.projectiles, 64);
    flights.emplace(base, set.projectiles);
    view.emplace(base, data.arena.level, set, welcome.seed, plan);
    set.limits.combatants = 1;
    set.projectiles = projectiles;
    own.emplace(base, data.arena.level, set, welcome.seed, LevelPlan{});
    own->set_companion(companion);
    count_tunings(welcome.tick);
    show_tunings(welcome.tick);
    (void)own->add(entrant);
    (void)view->add(entrant);
    own->set_rewind_world(&*picture);
    own_kinds = detail::kinds_of_own_state();
    own_clock.start(local, set.first_tick, set.rate, settings.send_every + min_early);
    state = ClientState::playing;
    see();
}

void Client::Impl::take_notices(std::span<const std::byte> body) {
    auto notices = detail::decode_notices(body);
    if (!notices) {
        ++counts.not_understood;
        return;
    }
    for (Notice& notice : *notices) {
        ++counts.notices;
        counts.notice_chain = (counts.notice_chain ^ notice.id) * 0x9e3779b97f4a7c15U;
        take_thing(notice);
        unshown.push_back(notice);
        events.notices.push_back(std::move(notice));
    }
}

void Client::Impl::take_ledger(std::span<const std::byte> body) {
    const auto message = detail::decode_ledger(body);
    if (!message) {
        ++counts.not_understood;
        return;
    }
    if (message->whole) {
        ledger = {};
    }
    has_new_members = true;
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
    return impl_->state == ClientState::playing && impl_->own_clock.begin_of(impl_->own->tick()) <= local;
}

void Client::leave() {
    if (impl_->state == ClientState::playing) {
        impl_->send(detail::MessageKind::leave, Channel::reliable, TrafficKind::session, {});
        impl_->transport.flush();
    }
    impl_->end(ClientState::ended, "left");
}

bool Client::command(std::uint16_t kind, std::span<const std::byte> bytes) {
    assert(bytes.size() <= max_command_bytes);
    Impl& run = *impl_;
    if (run.state != ClientState::playing) {
        return false;
    }
    const GameCommand& made = run.commands.emplace_back(
        GameCommand{run.welcome.you, run.own->tick(), kind, {bytes.begin(), bytes.end()}});
    run.send(detail::MessageKind::command, Channel::reliable, TrafficKind::session, detail::encode(made));
    run.transport.flush();
    return true;
}

void Client::on_tick(GameTickHook hook) {
    impl_->hook = std::move(hook);
}

void Client::set_companion(CompanionState* companion) {
    impl_->companion = companion;
    if (impl_->own) {
        impl_->own->set_companion(companion);
    }
}

const std::optional<Ticket>& Client::return_ticket() const {
    return impl_->return_ticket;
}

ClientState Client::state() const {
    return impl_->state;
}

const std::string& Client::reason() const {
    return impl_->reason;
}

std::span<const std::string> Client::differing() const {
    return impl_->differing;
}

BodyId Client::you() const {
    return impl_->welcome.you;
}

const Skirmish& Client::view() const {
    assert(impl_->view);
    return *impl_->view;
}

const Skirmish& Client::predicted() const {
    assert(impl_->own);
    return *impl_->own;
}

Vector3 Client::drawn_position() const {
    return impl_->own->find(impl_->welcome.you)->motion.position + impl_->offset;
}

const Scene& Client::picture() const {
    assert(impl_->picture);
    return *impl_->picture;
}

std::optional<SeenPlayer> Client::seen(BodyId id) const {
    return impl_->seen_at(id, shown_at());
}

double Client::tick_share(Time local) const {
    const Impl& run = *impl_;
    if (!run.own || run.own->tick() <= 0) {
        return 0.0;
    }
    const Time begin = run.own_clock.begin_of(run.own->tick() - 1);
    const Time end = run.own_clock.begin_of(run.own->tick());
    return std::clamp(
        static_cast<double>((local - begin).count()) / static_cast<double>((end - begin).count()), 0.0, 1.0);
}

Time Client::shown_at() const {
    return impl_->own ? impl_->drawn_server_time(impl_->own->now()) : Time{};
}

bool Client::has_private_seed() const {
    return impl_->welcome.has_private_seed;
}

const Ledger& Client::ledger() const {
    return impl_->ledger;
}

void Client::on_ledger(std::function<void(const LedgerEntry&)> changed) {
    impl_->changed = std::move(changed);
}

ClientCounts Client::counts() const {
    return impl_->counts;
}

} // namespace avrek
