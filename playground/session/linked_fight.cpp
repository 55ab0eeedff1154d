#include "linked_fight.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Duration step_length = std::chrono::milliseconds{1};
constexpr Duration longest_rewind = std::chrono::seconds{1}; // that a slider goes to
constexpr Duration ghosts_last = std::chrono::seconds{1};
constexpr std::size_t max_figures = 60;
constexpr std::size_t max_ghosts = 64;
constexpr std::int64_t day = 1; // for tickets: the virtual day has one second
constexpr BodyId first_player{1};
constexpr BodyId second_player{2};

ServerSettings settings_of(const LinkSettings& link, std::size_t combatants) {
    ServerSettings set;
    set.skirmish.rate = link.rate;
    set.skirmish.limits.combatants = combatants;
    set.skirmish.snapshot_interval = link.snapshot_interval;
    const auto ticks = static_cast<std::size_t>(to_seconds(longest_rewind) * link.rate.hertz) + 4;
    set.skirmish.history_frames = ticks;
    set.skirmish.snapshot_history = ticks / static_cast<std::size_t>(link.snapshot_interval) + 4;
    return set;
}

Traffic operator-(Traffic one, const Traffic& other) {
    for (std::size_t kind = 0; kind < traffic_kind_count; ++kind) {
        one.bytes[kind] -= other.bytes[kind];
        one.packets[kind] -= other.packets[kind];
    }
    return one;
}

} // namespace

LinkedFight::LinkedFight(std::shared_ptr<const GameData> data, const StageSettings& settings,
                         const LinkSettings& link)
    : data_(std::move(data)), setup_(bots_of(data_->arsenal, settings.crew)),
      members_(members_of(setup_, first_player)), link_(link), network_(settings.seed), issuer_(make_keys()) {
    ServerSettings set = settings_of(link, members_.size());
    set.issuer = issuer_.open;
    for (const BoutMember& member : members_) {
        if (member.id <= second_player) {
            set.slots.push_back(
                {member.id, member.name, member.team, setup_.body, setup_.melee, member.weapons, {}});
        }
    }
    server_ = std::make_unique<Server>(*data_, set, settings.seed, network_.server());
    bots_.emplace(server_->skirmish());
    const Bots none = *bots_;
    for (const BoutMember& member : members_) {
        if (member.id > second_player && server_->skirmish().add(entrant_of(setup_, member))) {
            bots_->add(member.id, member.shooter);
        }
    }
    you_ = connect(members_.front(), link.yours);
    if (members_.size() > 1) {
        second_ = connect(members_[1], link.theirs);
        second_->let_play(none, members_[1].shooter);
    }
}

LinkedFight::LinkedFight(std::shared_ptr<const GameData> data, BodyId who, const ClientSettings& settings,
                         std::unique_ptr<Transport> host)
    : data_(std::move(data)), network_(1), host_(std::move(host)) {
    you_ = std::make_unique<LinkedPlayer>(*data_, settings, *host_, who);
}

LinkedFight::~LinkedFight() {
    if (host_ != nullptr) {
        you_->leave();
        host_->close(server_peer);
        host_->flush();
    }
}

Loaded<Tick> LinkedFight::retune(TuningStep step) {
    assert(server_ != nullptr);
    return server_->retune(std::move(step));
}

std::unique_ptr<LinkedPlayer> LinkedFight::connect(const BoutMember& member, const LinkSpec& link) {
    ClientSettings own;
    own.interpolation = link_.interpolation;
    const TicketClaims claims{.match = 1,
                              .player = member.id,
                              .expires = day + 1'000'000,
                              .server = network_.server_key(),
                              .may_tune = true};
    return std::make_unique<LinkedPlayer>(
        *data_, own, network_.connect(link, issue_credentials(issuer_, claims)), member.id);
}

void LinkedFight::change(const LinkSettings& link) {
    assert(!begins_anew(link_, link) && server_ != nullptr);
    link_ = link;
    network_.change(PeerId{1}, link.yours);
    if (second_ != nullptr) {
        network_.change(PeerId{2}, link.theirs);
    }
}

void LinkedFight::play(Duration real) {
    you_->clear();
    if (second_ != nullptr) {
        second_->clear();
    }
    owed_ += std::clamp(real, Duration{}, max_played_at_once);
    // A server elsewhere sends in real time: all of it has come by now.
    const Duration step = host_ != nullptr ? std::max(owed_, step_length) : step_length;
    for (; owed_ >= step; owed_ -= step) {
        go_on(step);
    }
    std::erase_if(ghosts_, [this](const Ghost& ghost) { return now() - ghost.since > ghosts_last; });
    you_->sort();
    if (second_ != nullptr) {
        second_->sort();
    }
}

void LinkedFight::go_on(Duration length) {
    network_.advance(network_.now() + length);
    for (LinkedPlayer* one : {you_.get(), second_.get()}) {
        if (one != nullptr) {
            for (const PlayerNews& news : one->run(network_.now())) {
                accounts_.take(*one, news);
            }
        }
    }
    if (server_ != nullptr && network_.now() >= server_->skirmish().now()) {
        tick_server();
    }
    if (network_.now() >= next_figures_) {
        note_figures();
        next_figures_ = network_.now() + std::chrono::seconds{1};
    }
}

void LinkedFight::tick_server() {
    const std::span<const Event> events = server_->tick(day, bots_->think(server_->skirmish()));
    accounts_.take(events, server_->skirmish(), now());
    for (const Event& event : events) {
        const auto* shot = std::get_if<ShotEvent>(&event);
        if (shot != nullptr && shot->who <= second_player && shot->view_delay > Duration{}) {
            add_ghosts(*shot);
        }
    }
}

// Where each foe of the shooter stood for this shot.
void LinkedFight::add_ghosts(const ShotEvent& shot) {
    const Skirmish& fight = server_->skirmish();
    const Combatant* shooter = fight.match().find(shot.who);
    std::array<Pose, max_joints + 1> poses;
    for (const Fighter& fighter : fight.fighters()) {
        const Combatant* who = fight.match().find(fighter.id);
        if (shooter == nullptr || who == nullptr || who->team == shooter->team || !fighter.in_scene) {
            continue;
        }
        const RigSpec& rig = fight.arsenal()[who->body].rig;
        const std::size_t count = fight.snapshots()->poses_of(fighter.id, poses, shot.at - shot.view_delay);
        if (count > 0 && count == rig.joints.size() + 1) {
            ghosts_.push_back({fighter.id, now(), posed_shapes(rig, std::span{poses}.first(count))});
        }
    }
    while (ghosts_.size() > max_ghosts) {
        ghosts_.pop_front();
    }
}

void LinkedFight::note_figures() {
    const ClientCounts counts = you_->client().counts();
    const LinkFigures totals{{}, counts.corrections, you_->withdrawn(), counts.down, counts.up, 0};
    LinkFigures second{{},
                       totals.corrections - before_.corrections,
                       totals.withdrawn - before_.withdrawn,
                       totals.down - before_.down,
                       totals.up - before_.up,
                       0};
    for (const PeerReadout& peer : server_ != nullptr ? server_->peers() : std::vector<PeerReadout>{}) {
        if (peer.player == first_player) {
            second.round_trip = peer.round_trip;
            second.early = peer.early;
        }
    }
    if (host_ != nullptr) {
        second.round_trip = host_->link(server_peer).round_trip;
    }
    before_ = totals;
    figures_.push_back(second);
    if (figures_.size() > max_figures) {
        figures_.pop_front();
    }
}

} // namespace avrek::playground
