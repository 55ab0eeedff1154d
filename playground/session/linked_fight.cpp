#include "linked_fight.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Duration step_length = std::chrono::milliseconds{1};
constexpr std::size_t max_figures = 60;
constexpr Metres seen_range = 100.0;
constexpr double seen_speed = 600.0; // m/s of a remote player's tracer
constexpr std::int64_t day = 1;      // for tickets: the virtual day has one second

} // namespace

LinkedFight::LinkedFight(std::shared_ptr<const GameData> data, const StageSettings& settings,
                         const LinkSpec& link)
    : data_(std::move(data)), setup_(bots_of(data_->arsenal, settings.crew)),
      members_(members_of(setup_, player())), link_(link), network_(settings.seed) {
    const KeyPair issuer = make_issuer_keys();
    ServerSettings set;
    set.skirmish.rate = settings.rate;
    set.skirmish.limits.combatants = members_.size();
    set.issuer = issuer.open;
    set.keys = make_server_keys();
    const BoutMember& me = members_.front();
    set.slots.push_back({me.id, me.name, me.team, setup_.body, setup_.melee, me.weapons, {}});
    server_ = std::make_unique<Server>(*data_, set, settings.seed, network_.server());
    bots_.emplace(server_->skirmish());
    for (const BoutMember& member : members_) {
        if (member.id != player() && server_->skirmish().add(entrant_of(setup_, member))) {
            bots_->add(member.id, member.shooter);
        }
    }
    ClientSettings own;
    own.ticket = issue_ticket(issuer, {.match = set.match,
                                       .player = player(),
                                       .expires = day + 1'000'000,
                                       .server = set.keys.open,
                                       .may_tune = true});
    client_ = std::make_unique<Client>(*data_, own, network_.connect(link_));
}

bool LinkedFight::is_playing() const {
    return client_->state() == ClientState::playing;
}

void LinkedFight::change(const LinkSpec& link) {
    link_ = link;
    network_.change(PeerId{1}, link);
}

void LinkedFight::play(Duration real) {
    events_.clear();
    owed_ += std::clamp(real, Duration{}, max_played_at_once);
    for (; owed_ >= step_length; owed_ -= step_length) {
        network_.advance(network_.now() + step_length);
        run_client();
        if (network_.now() >= server_->skirmish().now()) {
            tick_server();
        }
        if (network_.now() >= next_figures_) {
            note_figures();
            next_figures_ = network_.now() + std::chrono::seconds{1};
        }
    }
    std::stable_sort(events_.begin(), events_.end(),
                     [](const Event& one, const Event& other) { return time_of(one) < time_of(other); });
}

void LinkedFight::run_client() {
    const Time local = network_.now();
    const bool was_playing = is_playing();
    take(client_->receive(local));
    const Fighter* me = is_playing() && !was_playing ? client_->view().find(player()) : nullptr;
    if (me != nullptr) {
        controls.look = me->look;
    }
    while (is_playing() && client_->is_tick_due(local)) {
        take(client_->tick(intent_of(controls, player())));
        controls.slot = -1;
    }
}

void LinkedFight::tick_server() {
    server_->tick(day, bots_->think(server_->skirmish()));
}

Time LinkedFight::shown() const {
    const Skirmish& view = client_->view();
    const Span last = tick_span(view.tick() - 1, view.settings().rate);
    const double share = std::clamp(client_->tick_share(network_.now()), 0.0, 1.0);
    return last.begin + from_seconds(share * to_seconds(last.end - last.begin));
}

void LinkedFight::take(const ClientEvents& news) {
    for (const OwnEvent& own : news.own) {
        if (own.mark == EventMark::withdrawn) {
            ++withdrawn_;
        } else if (own.mark == EventMark::predicted) {
            std::visit([this](const auto& event) { events_.emplace_back(event); }, own.event);
            events_.insert(events_.end(), own.segments.begin(), own.segments.end());
        }
    }
    if (!is_playing()) {
        return;
    }
    for (const Notice& notice : news.shown) {
        take_notice(notice);
    }
    for (const SeenShots& shots : news.shots) {
        take_shots(shots);
    }
    for (const TuningNews& tuned : news.tuned) {
        if (tuned.tick >= 0) {
            events_.emplace_back(RetunedEvent{.at = client_->view().now()});
        }
    }
}

// A notice as the event that it stands for, in the player's time.
void LinkedFight::take_notice(const Notice& notice) {
    const Time now = client_->view().now();
    if (notice.kind == NoticeKind::hit) {
        DamageEvent hurt{.at = now, .who = notice.who, .source = notice.by};
        hurt.damage.multiply(DamageStepKind::base, notice.amount);
        if (notice.index >= 0) {
            hurt.region = static_cast<RegionId>(notice.index);
        }
        const Combatant* who = client_->view().match().find(notice.who);
        hurt.health_left = who != nullptr ? who->vitals.health : 1.0;
        events_.emplace_back(hurt);
    } else if (notice.kind == NoticeKind::death) {
        events_.emplace_back(KillEvent{.at = now, .who = notice.who, .by = notice.by});
    } else if (notice.kind == NoticeKind::exploded) {
        events_.emplace_back(BlastEvent{.at = now,
                                        .who = notice.by,
                                        .weapon = notice.weapon,
                                        .centre = notice.point,
                                        .radius = notice.amount});
    } else if (notice.kind == NoticeKind::match_over) {
        events_.emplace_back(MatchOverEvent{.at = now, .winner = notice.index});
    }
}

// Remote shots are known by their number and where the shooter looked: one tracer stands for them.
void LinkedFight::take_shots(const SeenShots& shots) {
    const Skirmish& view = client_->view();
    const Time now = view.now();
    const Vector3 muzzle = shots.position + Vector3{0.0, 1.4, 0.0};
    const Vector3 way = direction_of(shots.look);
    const HitscanPath path = fire_hitscan(view.scene(), muzzle, way, seen_range, {.ignores = {shots.who}});
    events_.emplace_back(ShotEvent{
        .at = now, .who = shots.who, .weapon = shots.weapon, .muzzle = muzzle + 0.6 * way, .direction = way});
    const double flown = std::sqrt((path.end - path.start).squaredNorm());
    events_.emplace_back(SegmentEvent{.at = now,
                                      .who = shots.who,
                                      .weapon = shots.weapon,
                                      .begins_at = now,
                                      .ends_at = arrival(now, flown, seen_speed),
                                      .segment = {.start = muzzle, .end = path.end, .hit = path.hit},
                                      .flown = flown});
}

void LinkedFight::note_figures() {
    const ClientCounts counts = client_->counts();
    const LinkFigures totals{{},
                             counts.corrections,
                             withdrawn_,
                             static_cast<double>(counts.down.all_bytes()) / 1000.0,
                             static_cast<double>(counts.up.all_bytes()) / 1000.0,
                             0};
    LinkFigures second{{},
                       totals.corrections - before_.corrections,
                       totals.withdrawn - before_.withdrawn,
                       totals.down - before_.down,
                       totals.up - before_.up,
                       0};
    for (const PeerReadout& peer : server_->peers()) {
        if (peer.player == player()) {
            second.round_trip = peer.round_trip;
            second.early = peer.early;
        }
    }
    before_ = totals;
    figures_.push_back(second);
    if (figures_.size() > max_figures) {
        figures_.pop_front();
    }
}

} // namespace avrek::playground
