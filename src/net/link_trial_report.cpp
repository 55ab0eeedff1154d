#include "link_trial_impl.h"

#include <algorithm>
#include <cmath>
#include <utility>

/// Measurements of a match over simulated links.
namespace avrek {

namespace {

constexpr Duration trade_within = std::chrono::milliseconds{500};
constexpr Metres chest = 1.2;

} // namespace

std::string_view to_string(HitFate fate) {
    static constexpr std::string_view words[] = {"confirmed",    "missed",       "too far back", "gone",
                                                 "behind cover", "shooter dead", "not fired"};
    return words[static_cast<std::size_t>(fate)];
}

detail::TrialClient* LinkTrial::Impl::client_of(BodyId id) {
    const auto found = std::find_if(clients.begin(), clients.end(), [id](const detail::TrialClient& one) {
        return one.report.member.id == id;
    });
    return found != clients.end() ? &*found : nullptr;
}

void LinkTrial::Impl::measure(detail::TrialClient& one, const ClientEvents& events, Time now) {
    for (const OwnEvent& event : events.own) {
        const auto known = one.marks.find(event.id);
        if (event.mark == EventMark::predicted) {
            one.report.doubled += known != one.marks.end() ? 1 : 0;
        } else {
            one.report.doubled += known == one.marks.end() || known->second != EventMark::predicted ? 1 : 0;
            one.report.withdrawn += event.mark == EventMark::withdrawn ? 1 : 0;
        }
        one.marks[event.id] = event.mark;
        if (event.mark != EventMark::predicted || !std::holds_alternative<ShotEvent>(event.event)) {
            continue;
        }
        ++one.report.shots;
        for (const SegmentEvent& segment : event.segments) {
            if (segment.segment.hit && segment.segment.hit->body) {
                one.looked.push_back({segment.shot, segment.pellet, *segment.segment.hit->body, segment.at});
                one.shown[*segment.segment.hit->body].hit(now);
            }
        }
    }
    for (const Notice& notice : events.notices) {
        measure_notice(one, notice, now);
    }
    if (!one.report.was_complete && one.client->state() == ClientState::playing &&
        one.client->ledger().size() >= std::max<std::size_t>(2, one.ledger_size)) {
        one.report.was_complete = true;
        one.report.complete_after = now - one.joined_at;
    }
}

void LinkTrial::Impl::measure_notice(detail::TrialClient& one, const Notice& notice, Time now) {
    const BodyId self = one.report.member.id;
    if (notice.kind == NoticeKind::hit && notice.who == self && notice.by != self) {
        one.felt[notice.by].hit(now);
    }
    if (notice.kind != NoticeKind::death) {
        return;
    }
    if (notice.by == self && notice.who != self) {
        if (const auto shown = one.shown.find(notice.who); shown != one.shown.end()) {
            shown->second.add_kill(now, one.report.as_shooter.seen);
        }
    }
    one.shown.erase(notice.who);
    if (notice.who != self) {
        return;
    }
    ++one.report.deaths;
    if (const auto felt = one.felt.find(notice.by); felt != one.felt.end()) {
        felt->second.add_kill(now, one.report.felt);
    }
    one.felt.clear();
    const Fighter* killer = one.client->view().find(notice.by);
    if (killer != nullptr && notice.by != self) {
        const Vector3 from = killer->motion.position + chest * world_up();
        const Vector3 way = one.client->view().find(self)->motion.position + chest * world_up() - from;
        const double length = std::sqrt(way.squaredNorm());
        const bool hidden = length > 0.0 && one.client->picture().any_hit({{from, way / length, length}},
                                                                          {.hits = {CollisionLayer::level}});
        one.report.deaths_in_cover += hidden ? 1 : 0;
    }
}

void LinkTrial::Impl::measure_server(std::span<const Event> events) {
    covered.clear();
    const EventHandlers measure_one{
        [this](const ShotEvent& shot) {
            shots[{shot.who, shot.shot}] = {shot.at, shot.rewind_exceeded, {}};
        },
        [this](const SegmentEvent& segment) {
            if (segment.segment.hit && segment.segment.hit->body) {
                shots[{segment.who, segment.shot}].met.emplace_back(
                    segment.pellet, *segment.segment.hit->body, segment.verdict);
                covered[*segment.segment.hit->body] =
                    segment.verdict == Verdict::stands ? segment.covered_for : Duration{};
            }
        },
        [this](const DamageEvent& hurt) {
            damage[{hurt.who, hurt.source}].hit(hurt.at);
        },
        [this](const KillEvent& kill) { measure_kill(kill); }, [](const auto&) {}};
    for (const Event& event : events) {
        std::visit(measure_one, event);
    }
}

void LinkTrial::Impl::measure_kill(const KillEvent& kill) {
    if (kill.by != nobody && kill.by != kill.who) {
        ++kill_count;
        killed_in_cover += covered[kill.who] > Duration{} ? 1 : 0;
        const auto first = damage.find({kill.who, kill.by});
        detail::TrialClient* killer = client_of(kill.by);
        if (killer != nullptr && first != damage.end()) {
            first->second.add_kill(kill.at, killer->report.as_shooter.on_server);
        }
        kills[{kill.by, kill.who}] = kill.at;
        const auto back = kills.find({kill.who, kill.by});
        if (back != kills.end() && kill.at - back->second <= trade_within) {
            for (const BodyId id : {kill.by, kill.who}) {
                if (detail::TrialClient* one = client_of(id)) {
                    ++one->report.trades;
                }
            }
        }
    }
    std::erase_if(damage, [&](const auto& one) { return one.first.first == kill.who; });
}

HitFate LinkTrial::Impl::fate_of(BodyId who, const detail::LookedHit& hit) const {
    const auto found = shots.find({who, hit.shot});
    if (found == shots.end() || found->second.at != hit.at) {
        return HitFate::not_fired;
    }
    for (const auto& [pellet, body, verdict] : found->second.met) {
        if (pellet == hit.pellet && body == hit.body) {
            return verdict == Verdict::stands    ? HitFate::confirmed
                   : verdict == Verdict::gone    ? HitFate::gone
                   : verdict == Verdict::covered ? HitFate::covered
                                                 : HitFate::late;
        }
    }
    return found->second.beyond ? HitFate::beyond : HitFate::missed;
}

bool LinkTrial::Impl::has_all(const detail::TrialClient& one) const {
    const std::vector<PeerReadout> peers = std::as_const(*server).peers();
    const auto peer = std::find_if(peers.begin(), peers.end(),
                                   [&one](const PeerReadout& readout) { return readout.peer == one.peer; });
    return peer != peers.end() && peer->notices == one.client->counts().notices &&
           one.client->ledger() == server->ledger_of(one.client->you());
}

void LinkTrial::Impl::finish_player(detail::TrialClient& one) {
    LinkTrialPlayer& report = one.report;
    if (!one.client) {
        return;
    }
    report.state = one.client->state();
    report.reason = one.client->reason();
    report.counts = one.client->counts();
    report.played_seconds = to_seconds(network.now() - one.joined_at);
    const LinkTraffic down = network.down(one.peer);
    const LinkTraffic up = network.up(one.peer);
    const auto share = [](const LinkTraffic& way) {
        return way.packets > 0 ? static_cast<double>(way.lost) / static_cast<double>(way.packets) : 0.0;
    };
    report.lost_down = share(down);
    report.lost_up = share(up);
    for (const PeerReadout& peer : server->peers()) {
        if (peer.peer == one.peer) {
            report.round_trip = peer.round_trip;
            report.missing = peer.missing;
            report.left_out = peer.left_out;
            report.faults = peer.faults;
            report.notices_equal =
                peer.notices == report.counts.notices && peer.notice_chain == report.counts.notice_chain;
        }
    }
    for (const detail::LookedHit& hit : one.looked) {
        if (hit.at >= server->skirmish().now()) {
            continue; // it would have been judged next
        }
        ++report.hits[static_cast<std::size_t>(fate_of(report.member.id, hit))];
    }
    report.ledger_equal = one.client->ledger() == server->ledger_of(one.client->you());
    report.dead_equal = true;
    for (const Combatant& who : std::as_const(*server).skirmish().match().combatants()) {
        const bool dead = who.vitals.life == LifeState::dead;
        report.dead_equal =
            report.dead_equal && (one.client->ledger().whole(who.id, "alive", -1) == (dead ? 0 : 1));
    }
}

} // namespace avrek
