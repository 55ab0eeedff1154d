#include "kill_account.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace avrek::playground {

namespace {

constexpr Duration remembered = std::chrono::seconds{3};
constexpr Duration longest_way = std::chrono::seconds{2}; // from a shot to the server
constexpr std::size_t max_kills = 16;

Vector3 feet_of(const Scene& scene, BodyId who, Time at) {
    const auto pose = scene.pose_of(who, at);
    return pose ? pose->position : Vector3{Vector3::Zero()};
}

// Whether the level hides one from the other, chest and head, in a picture.
bool is_hidden(const Skirmish& view, BodyId by, BodyId who) {
    if (view.find(by) == nullptr || view.find(who) == nullptr) {
        return false;
    }
    const Vector3 eye = view.readout(by).eye;
    for (const Vector3& up : {Vector3{0, 1.1, 0}, Vector3{0, 1.6, 0}}) {
        const Vector3 way = view.find(who)->motion.position + up - eye;
        const double length = std::sqrt(way.squaredNorm());
        if (length < 0.01 ||
            !view.scene().any_hit({{eye, way / length, length}},
                                  {.hits = {CollisionLayer::level, CollisionLayer::glass}})) {
            return false;
        }
    }
    return true;
}

} // namespace

bool KillAccounts::is_linked(BodyId who) const {
    return std::find(linked_.begin(), linked_.end(), who) != linked_.end();
}

void KillAccounts::take(const LinkedPlayer& player, const PlayerNews& news) {
    if (!player.is_playing()) {
        return;
    }
    if (!is_linked(player.who())) {
        linked_.push_back(player.who());
    }
    for (const OwnEvent& own : news.events.own) {
        const auto* shot = std::get_if<ShotEvent>(&own.event);
        if (shot == nullptr || own.mark != EventMark::predicted) {
            continue;
        }
        Fired fired{.by = player.who(), .shot = shot->shot, .at = news.at};
        for (const SegmentEvent& segment : own.segments) {
            if (segment.segment.hit && segment.segment.hit->body) {
                fired.hit = segment.segment.hit->body;
                fired.drawn = feet_of(player.client().picture(), *fired.hit, shot->at - shot->view_delay);
            }
        }
        fired_.push_back(fired);
    }
    for (const Notice& notice : news.events.notices) {
        take_felt(player, notice, news.at);
    }
}

void KillAccounts::take_felt(const LinkedPlayer& player, const Notice& notice, Time now) {
    if (notice.who != player.who()) {
        return;
    }
    if (notice.kind == NoticeKind::death) {
        for (KillAccount& kill : kills_) {
            if (kill.who == notice.who && !kill.felt) {
                kill.felt = now;
            }
        }
        return;
    }
    const auto feel = [&](HitAccount& hit) {
        if (notice.kind != NoticeKind::hit || hit.felt || !hit.judged || hit.amount <= 0.0) {
            return false;
        }
        const Fighter* me = player.fight().find(player.who());
        hit.felt = now;
        hit.felt_where = me != nullptr ? me->motion.position : hit.stood;
        hit.in_cover = is_hidden(player.fight(), notice.by, notice.who);
        return true;
    };
    for (KillAccount& kill : kills_) {
        for (HitAccount& hit : kill.hits) {
            if (kill.by == notice.by && kill.who == notice.who && feel(hit)) {
                return;
            }
        }
    }
    for (Open& open : open_) {
        if (open.by == notice.by && open.who == notice.who && feel(open.hit)) {
            return;
        }
    }
}

void KillAccounts::add_hit(const Touch& touch, double amount, const Skirmish& server, Time now) {
    if (!is_linked(touch.by) && !is_linked(touch.who)) {
        return;
    }
    Open open{touch.by, touch.who, {.shot = touch.shot, .amount = amount}};
    HitAccount& hit = open.hit;
    hit.region = touch.region;
    hit.verdict = touch.verdict;
    hit.judged = now;
    hit.view_delay = touch.view_delay;
    const Scene& seen = server.snapshots() != nullptr ? *server.snapshots() : server.scene();
    hit.stood = feet_of(server.scene(), touch.who, touch.at);
    hit.rewound =
        touch.view_delay > Duration{} ? feet_of(seen, touch.who, touch.at - touch.view_delay) : hit.stood;
    open_.push_back(open);
}

void KillAccounts::take(std::span<const Event> events, const Skirmish& server, Time now) {
    const auto delay_of = [this](BodyId who) -> Duration& {
        for (auto& [id, delay] : view_delays_) {
            if (id == who) {
                return delay;
            }
        }
        return view_delays_.emplace_back(who, Duration{}).second;
    };
    std::optional<Touch> last;
    const auto note = [&](const Touch& touch) {
        if (touch.verdict != Verdict::stands) {
            add_hit(touch, 0.0, server, now);
        } else {
            last = touch;
        }
    };
    for (const Event& event : events) {
        if (const auto* shot = std::get_if<ShotEvent>(&event)) {
            delay_of(shot->who) = shot->view_delay;
        } else if (const auto* segment = std::get_if<SegmentEvent>(&event);
                   segment != nullptr && segment->segment.hit && segment->segment.hit->body) {
            note({segment->who, *segment->segment.hit->body, segment->shot, segment->at,
                  delay_of(segment->who), segment->segment.hit->region, segment->verdict});
        } else if (const auto* flight = std::get_if<FlightEvent>(&event);
                   flight != nullptr && flight->event.hit && flight->event.hit->body) {
            note({flight->event.shooter, *flight->event.hit->body, flight->event.shot, flight->event.at,
                  flight->event.at - flight->as_of, flight->event.hit->region, flight->verdict});
        } else if (const auto* hurt = std::get_if<DamageEvent>(&event)) {
            const bool is_last = last && last->by == hurt->source && last->who == hurt->who;
            add_hit(is_last
                        ? *last
                        : Touch{.by = hurt->source, .who = hurt->who, .at = hurt->at, .region = hurt->region},
                    points_of(*hurt), server, now);
        } else if (const auto* kill = std::get_if<KillEvent>(&event)) {
            take_kill(*kill, now);
        }
    }
    forget_before(now - remembered);
}

void KillAccounts::take_kill(const KillEvent& kill, Time now) {
    if (!is_linked(kill.by) && !is_linked(kill.who)) {
        return;
    }
    KillAccount account{.by = kill.by, .who = kill.who, .killed = now};
    for (const Open& open : open_) {
        if (open.by == kill.by && open.who == kill.who) {
            account.hits.push_back(open.hit);
        }
    }
    std::erase_if(open_, [&](const Open& open) { return open.who == kill.who; });
    const std::uint32_t deadly = account.hits.empty() ? 0 : account.hits.back().shot;
    for (const Fired& fired : fired_) {
        if (fired.by != kill.by) {
            continue;
        }
        bool is_judged = false;
        for (HitAccount& hit : account.hits) {
            if (hit.shot == fired.shot && hit.judged) { // one for each pellet
                is_judged = true;
                hit.fired = fired.at;
                hit.was_seen = fired.hit == kill.who;
                hit.drawn = hit.was_seen ? std::optional{fired.drawn} : std::nullopt;
            }
        }
        if (!is_judged && fired.hit == kill.who && fired.shot < deadly) {
            account.hits.push_back(
                {.shot = fired.shot, .fired = fired.at, .was_seen = true, .drawn = fired.drawn});
        }
    }
    std::stable_sort(account.hits.begin(), account.hits.end(),
                     [](const HitAccount& one, const HitAccount& other) { return one.shot < other.shot; });
    kills_.push_back(std::move(account));
    if (kills_.size() > max_kills) {
        kills_.pop_front();
    }
}

void KillAccounts::forget_before(Time at) {
    std::erase_if(fired_, [at](const Fired& fired) { return fired.at < at - longest_way; });
    std::erase_if(open_, [at](const Open& open) { return *open.hit.judged < at; });
}

Time begin_of(const KillAccount& kill) {
    Time first = kill.killed;
    for (const HitAccount& hit : kill.hits) {
        first = std::min({first, hit.fired.value_or(first), hit.judged.value_or(first)});
    }
    return first;
}

Time end_of(const KillAccount& kill) {
    Time last = std::max(kill.killed, kill.felt.value_or(kill.killed));
    for (const HitAccount& hit : kill.hits) {
        last = std::max(last, hit.felt.value_or(last));
    }
    return last;
}

ToldKill told(const KillAccount& kill, const Skirmish& server,
              const std::function<std::string(BodyId)>& name_of) {
    ToldKill words;
    const Time begin = begin_of(kill);
    const auto line = [begin](Time at, const std::string& text) {
        char time[24];
        std::snprintf(time, sizeof time, "+%.0f ms  ", to_milliseconds(at - begin));
        return time + text;
    };
    const auto number = [](const char* format, double value) {
        char text[48];
        std::snprintf(text, sizeof text, format, value);
        return std::string{text};
    };
    const auto distance = [&](const Vector3& one, const Vector3& other) {
        return number("%.2f m", std::sqrt((one - other).squaredNorm()));
    };
    const Combatant* victim = server.match().find(kill.who);
    const RigSpec* rig = victim != nullptr ? &server.arsenal()[victim->body].rig : nullptr;
    words.title = name_of(kill.by) + " killed " + name_of(kill.who) + " in " +
                  std::to_string(kill.hits.size()) + (kill.hits.size() == 1 ? " hit" : " hits");
    for (const HitAccount& hit : kill.hits) {
        const std::string region = rig != nullptr && hit.region ? region_of(*rig, *hit.region).name : "body";
        if (hit.fired) {
            words.shooter.push_back(
                line(*hit.fired, hit.was_seen ? "fires, and sees a hit" : "fires, and sees no hit"));
        }
        if (!hit.judged) {
            words.server.push_back("the shot misses");
        } else if (hit.verdict != Verdict::stands) {
            words.server.push_back(
                line(*hit.judged, std::string{"no hit: "} + std::string{to_string(hit.verdict)}));
        } else {
            std::string text = region + number(", %.0f", hit.amount);
            if (hit.view_delay > Duration{}) {
                text += number(", rewound by %.0f ms", to_milliseconds(hit.view_delay)) + " and " +
                        distance(hit.rewound, hit.stood);
            }
            if (hit.drawn && (*hit.drawn - hit.rewound).squaredNorm() > 1e-4) {
                text += ", " + distance(*hit.drawn, hit.rewound) + " off its picture";
            }
            words.server.push_back(line(*hit.judged, text));
        }
        if (hit.felt) {
            words.victim.push_back(line(
                *hit.felt, number("feels %.0f", hit.amount) + ", " + distance(hit.felt_where, hit.rewound) +
                               " from where it was hit" + (hit.in_cover ? ", in cover" : "")));
        }
    }
    if (words.shooter.empty()) {
        words.shooter.push_back("has no link: it sees what the server has");
    }
    if (words.victim.empty()) {
        words.victim.push_back("has no link: it feels what the server has");
    }
    if (kill.felt) {
        words.victim.push_back(line(*kill.felt, "is dead"));
    }
    return words;
}

} // namespace avrek::playground
