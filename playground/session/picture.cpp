#include "picture.h"

#include <avrek/ballistics/blast.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>

namespace avrek::playground {

namespace {

constexpr std::size_t max_things = 512;
constexpr std::size_t max_directions = 100;
constexpr Duration marks_last = std::chrono::seconds{20};
constexpr Duration numbers_last = std::chrono::milliseconds{900};
constexpr Duration flashes_last = std::chrono::milliseconds{300};
constexpr Duration lines_last = std::chrono::seconds{6};
constexpr Duration soon = std::chrono::seconds{1};
constexpr Duration blast_lines_last = std::chrono::seconds{4};
constexpr Duration run_ends = std::chrono::milliseconds{500};    // after its last shot
constexpr Duration tracers_last = std::chrono::milliseconds{80}; // after their end

template <class Thing>
void add(std::deque<Thing>& things, Thing thing) {
    things.push_back(std::move(thing));
    if (things.size() > max_things) {
        things.pop_front();
    }
}

struct Taking {
    Picture& picture;
    const Skirmish& fight;
    BodyId player;
    const NameOf& name_of;

    Vector3 middle_of(BodyId who, std::optional<RegionId> region) const {
        const auto pose = fight.scene().pose_of(who);
        const RigSpec* rig = fight.scene().rig_of(who);
        if (!pose || rig == nullptr) {
            const Fighter* fighter = fight.find(who);
            return fighter != nullptr ? fighter->motion.position + world_up() : Vector3{Vector3::Zero()};
        }
        return to_world(*pose, aim_point(*rig, region.value_or(RegionId{})));
    }
    void add_direction(const Vector3& way) const {
        const double length = std::sqrt(way.squaredNorm());
        if (length <= 0.0) {
            return;
        }
        const Across side = across(picture.axis);
        picture.directions.push_back({std::asin(std::clamp(way.dot(side.left) / length, -1.0, 1.0)),
                                      std::asin(std::clamp(way.dot(side.up) / length, -1.0, 1.0))});
        if (picture.directions.size() > max_directions) {
            picture.directions.pop_front();
        }
    }
    void remember(Moment::Kind kind, Time at, std::string text) const {
        if (kind == Moment::Kind::values && !picture.moments.empty() && picture.moments.back().kind == kind &&
            at - picture.moments.back().at < soon) {
            return;
        }
        add(picture.moments, {kind, at, std::move(text)});
    }
    std::vector<std::string> explanation_of(const DamageEvent& hurt) const {
        std::vector<std::string> lines;
        const Combatant* victim = fight.match().find(hurt.who);
        const RigSpec* rig = victim != nullptr ? &fight.arsenal()[victim->body].rig : nullptr;
        const std::string region =
            rig != nullptr && hurt.region ? ", " + region_of(*rig, *hurt.region).name : std::string{};
        lines.push_back(name_of(hurt.who) + region);
        char line[64];
        for (std::size_t step = 0; step < hurt.damage.step_count; ++step) {
            const DamageStep& one = hurt.damage.steps[step];
            std::snprintf(line, sizeof line, step == 0 ? "%7.2f  %s" : "x %5.2f  %s", one.factor,
                          std::string{to_string(one.kind)}.c_str());
            lines.emplace_back(line);
        }
        std::snprintf(line, sizeof line, "= %5.2f", hurt.damage.amount());
        lines.emplace_back(line);
        if (!std::isnan(hurt.health_left)) { // a client is not told of foes
            std::snprintf(line, sizeof line, ", %.0f left", hurt.health_left);
            lines.back() += line;
        }
        return lines;
    }
    // The same again soon after is said once: a slider that is dragged would fill the feed.
    void say(Time at, std::string text) const {
        if (!picture.feed.empty() && picture.feed.back().text == text &&
            at - picture.feed.back().since < soon) {
            picture.feed.back().since = at;
        } else {
            add(picture.feed, {std::move(text), at});
        }
    }

    void operator()(const ShotEvent& shot) const {
        if (!shot.held_back) {
            add(picture.flashes, {shot.muzzle, 0.0, shot.at, shot.who});
        }
        if (shot.who == player) {
            picture.shot_at = shot.at;
            picture.axis = shot.direction;
            picture.axis_of = shot.shot;
        }
    }
    void operator()(const SegmentEvent& segment) const {
        const PathSegment& path = segment.segment;
        add(picture.tracers, {path.start, path.end, segment.begins_at, segment.ends_at, segment.who,
                              segment.flown, path.hit && path.hit->body});
        if (segment.who == player && segment.shot == picture.axis_of && path.flown_before <= 0.0) {
            add_direction(path.end - path.start);
        }
        if (path.hit) {
            add(picture.marks, {path.hit->point, path.hit->normal, segment.ends_at,
                                path.hit->body.has_value(), path.hit->surface});
        }
    }
    void operator()(const FlightEvent& flight) const {
        const ProjectileEvent& event = flight.event;
        if (event.kind != ProjectileEventKind::launched && event.at > event.since) {
            add(picture.tracers, {event.from, event.point, event.since, event.at, event.shooter, event.flown,
                                  event.hit && event.hit->body});
        }
        if (flight.event.kind == ProjectileEventKind::bounced && flight.event.hit) {
            add(picture.marks, {flight.event.hit->point, flight.event.hit->normal, flight.event.at, false,
                                flight.event.hit->surface});
        }
    }
    void add_sight_lines(const BlastEvent& blast) const {
        std::array<SightLine, blast_sight_lines> lines;
        for (const Fighter& fighter : fight.fighters()) {
            const std::size_t count = sight_lines_to(
                fight.scene(), blast.radius, {.centre = blast.centre, .at = blast.at}, fighter.id, lines);
            for (std::size_t index = 0; index < count; ++index) {
                add(picture.blast_lines, {blast.centre, lines[index].to, lines[index].reaches, blast.at});
            }
        }
    }
    void operator()(const BlastEvent& blast) const {
        if (blast.radius > 0.0) {
            add_sight_lines(blast);
        }
        add(picture.flashes, {blast.centre, blast.radius, blast.at, blast.who});
    }
    void operator()(const DamageEvent& hurt) const {
        const bool by_player = hurt.source == player && hurt.who != player;
        const double points = points_of(hurt);
        if (points > 0.0) {
            add(picture.damage, {middle_of(hurt.who, hurt.region), points, hurt.at, by_player,
                                 hurt.health_left <= 0.0, explanation_of(hurt)});
        }
        char text[64];
        std::snprintf(text, sizeof text, "%.0f damage", points);
        if (by_player) {
            picture.hit_at = hurt.at;
            picture.explanation = explanation_of(hurt);
            remember(Moment::Kind::hit, hurt.at, name_of(hurt.who) + ": " + text);
        }
        if (hurt.who == player) {
            picture.hurt_at = hurt.at;
            remember(Moment::Kind::hurt, hurt.at, std::string{"you: "} + text);
        }
    }
    void operator()(const KillEvent& kill) const {
        if (kill.by == player) {
            picture.kill_at = kill.at;
            remember(Moment::Kind::kill, kill.at, "you killed " + name_of(kill.who));
        }
        if (kill.who == player) {
            remember(Moment::Kind::death, kill.at, name_of(kill.by) + " killed you");
        }
        say(kill.at, kill.by == nobody || kill.by == kill.who
                         ? name_of(kill.who) + " is dead"
                         : name_of(kill.by) + " killed " + name_of(kill.who));
    }
    void operator()(const AlertEvent& alert) const {
        if (alert.who == player) {
            picture.noticed_by = alert.raised ? 1 : 0;
        }
    }
    void operator()(const RetunedEvent& retuned) const {
        if (retuned.who == nobody) {
            say(retuned.at, "other values count");
            remember(Moment::Kind::values, retuned.at, "other values count");
        }
    }
    void operator()(const MatchOverEvent& over) const {
        say(over.at, over.winner >= 0 ? "the match is over: side " + std::to_string(over.winner) + " wins"
                                      : "the match is over: a draw");
    }
    template <class Other>
    void operator()(const Other&) const {}
};

template <class Thing>
void keep_until(std::deque<Thing>& things, Time now, Duration lasts) {
    std::erase_if(things, [&](const Thing& thing) { return now - thing.since > lasts; });
}

template <class Thing>
void keep_before(std::deque<Thing>& things, Time now) {
    std::erase_if(things, [&](const Thing& thing) { return thing.since > now; });
}

} // namespace

void take(Picture& picture, std::span<const Event> events, const Skirmish& fight, BodyId player,
          const NameOf& name_of) {
    for (const Event& event : events) {
        std::visit(Taking{picture, fight, player, name_of}, event);
    }
}

void note_recoil(Picture& picture, const Skirmish& fight, BodyId player) {
    const Fighter* fighter = fight.find(player);
    const CombatantReadout readout = fight.readout(player);
    if (fighter == nullptr || !readout.alive || !readout.weapon || !picture.shot_at) {
        return;
    }
    const Time now = fight.now();
    if (now - *picture.shot_at > run_ends) {
        return; // the last run stays to be looked at
    }
    if (!picture.recoil.empty() &&
        (now - picture.recoil.back().at > run_ends || now < picture.recoil.back().at)) {
        picture.recoil.clear();
    }
    if (picture.recoil.empty()) {
        picture.run_began = fighter->look;
        picture.kick_began = {readout.view.yaw - fighter->look.yaw, readout.view.pitch - fighter->look.pitch};
    }
    add(picture.recoil, {{shortest_turn(readout.view.yaw - fighter->look.yaw - picture.kick_began.yaw),
                          readout.view.pitch - fighter->look.pitch - picture.kick_began.pitch},
                         {shortest_turn(picture.run_began.yaw - fighter->look.yaw),
                          picture.run_began.pitch - fighter->look.pitch},
                         now});
}

void drop_over(Picture& picture, Time now) {
    keep_until(picture.marks, now, marks_last);
    keep_until(picture.damage, now, numbers_last);
    keep_until(picture.flashes, now, flashes_last);
    keep_until(picture.feed, now, lines_last);
    keep_until(picture.blast_lines, now, blast_lines_last);
    std::erase_if(picture.tracers, [now](const Tracer& tracer) { return now - tracer.ends > tracers_last; });
}

void drop_after(Picture& picture, Time now) {
    keep_before(picture.marks, now);
    keep_before(picture.damage, now);
    keep_before(picture.flashes, now);
    keep_before(picture.feed, now);
    keep_before(picture.blast_lines, now);
    std::erase_if(picture.tracers, [now](const Tracer& tracer) { return tracer.begins > now; });
    picture.explanation.clear();
    for (std::optional<Time>* at : {&picture.hit_at, &picture.kill_at, &picture.hurt_at, &picture.shot_at}) {
        if (*at && **at > now) {
            at->reset();
        }
    }
}

} // namespace avrek::playground
