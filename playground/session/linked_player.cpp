#include "linked_player.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Metres seen_range = 100.0;
constexpr double seen_speed = 600.0; // m/s of a remote player's tracer

} // namespace

LinkedPlayer::LinkedPlayer(const GameData& data, const ClientSettings& settings, Transport& transport,
                           BodyId who)
    : who_(who), client_(std::make_unique<Client>(data, settings, transport)) {}

void LinkedPlayer::let_play(const Bots& bots, ShooterId shooter) {
    bots_ = bots;
    bots_->add(who_, shooter);
}

bool LinkedPlayer::is_playing() const {
    return client_->state() == ClientState::playing;
}

std::vector<PlayerNews> LinkedPlayer::run(Time now) {
    std::vector<PlayerNews> all;
    const bool was_playing = is_playing();
    const auto note = [&](ClientEvents news) {
        take(news);
        all.push_back({now, std::move(news)});
    };
    note(client_->receive(now));
    const Fighter* me = is_playing() && !was_playing ? client_->view().find(who_) : nullptr;
    if (me != nullptr) {
        controls.look = me->look;
    }
    while (is_playing() && client_->is_tick_due(now)) {
        Intent intent = intent_of(controls, who_);
        if (bots_) {
            const std::span<const Intent> wanted = bots_->think(client_->view());
            intent = wanted.empty() ? Intent{.who = who_} : wanted.front();
            controls.look = {intent.yaw, intent.pitch};
        }
        note(client_->tick(intent));
        controls.slot = -1;
    }
    return all;
}

void LinkedPlayer::sort() {
    std::vector<std::pair<Time, std::size_t>> order;
    for (std::size_t index = 0; index < events_.size(); ++index) {
        order.emplace_back(time_of(events_[index]), index);
    }
    std::sort(order.begin(), order.end());
    std::vector<Event> sorted;
    for (const auto& [at, index] : order) {
        sorted.push_back(events_[index]);
    }
    events_ = std::move(sorted);
}

Time LinkedPlayer::shown(Time now) const {
    const Skirmish& view = client_->view();
    const Span last = tick_span(view.tick() - 1, view.settings().rate);
    const double share = std::clamp(client_->tick_share(now), 0.0, 1.0);
    return last.begin + from_seconds(share * to_seconds(last.end - last.begin));
}

void LinkedPlayer::take(const ClientEvents& news) {
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
    // A hit on the player itself is felt as it comes, all else when the picture comes to its time.
    const auto is_own = [this](const Notice& notice) {
        return notice.kind == NoticeKind::hit && notice.who == who_;
    };
    for (const Notice& notice : news.notices) {
        if (is_own(notice)) {
            take_notice(notice);
        }
    }
    for (const Notice& notice : news.shown) {
        if (!is_own(notice)) {
            take_notice(notice);
        }
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
void LinkedPlayer::take_notice(const Notice& notice) {
    const Time now = client_->view().now();
    if (notice.kind == NoticeKind::hit) {
        DamageEvent hurt{.at = now, .who = notice.who, .source = notice.by};
        hurt.damage.multiply(DamageStepKind::base, notice.amount);
        if (notice.index >= 0) {
            hurt.region = static_cast<RegionId>(notice.index);
        }
        const double unknown = std::numeric_limits<double>::quiet_NaN();
        hurt.health_left = notice.who == who_ ? client_->view().match().find(who_)->vitals.health
                                              : client_->ledger().number(notice.who, "health", unknown);
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
void LinkedPlayer::take_shots(const SeenShots& shots) {
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

} // namespace avrek::playground
