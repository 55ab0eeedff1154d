#include "event_text.h"

#include <fmt/format.h>

#include <cmath>

namespace avrek::cli {

namespace {

std::string name(BodyId id) {
    return id == nobody ? "nobody" : fmt::format("#{}", static_cast<std::uint32_t>(id));
}

std::string place(const Vector3& at) {
    return fmt::format("{:.2f},{:.2f},{:.2f}", at.x(), at.y(), at.z());
}

struct Words {
    const Skirmish& skirmish;
    std::string text{};

    const Arsenal& arsenal() const { return skirmish.arsenal(); }
    std::string weapon(std::optional<WeaponId> id) const { return id ? arsenal()[*id].id : "no weapon"; }
    std::string region(BodyId body, std::optional<RegionId> region) const {
        const Combatant* who = skirmish.match().find(body);
        return who != nullptr && region ? region_of(arsenal()[who->body].rig, *region).name : "body";
    }
    std::string met(const std::optional<Hit>& hit) const {
        if (!hit) {
            return "nothing";
        }
        return hit->body ? fmt::format("{} ({})", name(*hit->body), region(*hit->body, hit->region))
                         : std::string{to_string(hit->layer)};
    }
    void line(Time at, BodyId who, const std::string& what) {
        const std::string subject = who == nobody ? "" : name(who);
        text += fmt::format("{:>11.6f}  {:>5}  {}\n", to_seconds(at - Time{}), subject, what);
    }

    void operator()(const ShotEvent& shot) {
        std::string what = fmt::format("fires {}, shot {}", weapon(shot.weapon), shot.shot);
        if (shot.state != MuzzleState::clear) {
            what += fmt::format(", muzzle {}", to_string(shot.state));
        }
        line(shot.at, shot.who, what + (shot.held_back ? ", held back" : ""));
    }
    void operator()(const SegmentEvent& segment) {
        line(segment.at, segment.who,
             fmt::format("  shot {} meets {} after {:.2f} m", segment.shot, met(segment.segment.hit),
                         segment.flown));
    }
    void operator()(const FlightEvent& flight) {
        static constexpr const char* words[] = {"leaves",   "finds no room", "bounces off", "goes through",
                                                "stops at", "sticks to",     "explodes",    "is gone"};
        const ProjectileEvent& event = flight.event;
        const auto kind = static_cast<std::size_t>(event.kind);
        const bool meets = event.hit && kind >= 2 && kind <= 5;
        line(event.at, event.shooter,
             fmt::format("  its {} {}{} at {}", weapon(flight.weapon), words[kind],
                         meets ? ' ' + met(event.hit) : "", place(event.point)));
    }
    void operator()(const BlastEvent& blast) {
        line(blast.at, blast.who, fmt::format("  explosion of {:g} m, hits {}", blast.radius, blast.hits));
    }
    void operator()(const HandlingEvent& hands) {
        std::string what = fmt::format("{}: {}", weapon(hands.weapon), to_string(hands.event.kind));
        if (hands.event.refusal != WeaponRefusal::none) {
            what += fmt::format(" ({})", to_string(hands.event.refusal));
        }
        if (hands.event.moved > 0) {
            what += fmt::format(", {} rounds", hands.event.moved);
        }
        line(hands.event.at, hands.who, what);
    }
    void operator()(const SwingEvent& swing) {
        const bool strikes = swing.event.kind == MeleeEventKind::struck;
        line(swing.event.at, swing.who,
             fmt::format("swing {}{}", to_string(swing.event.kind),
                         strikes ? ' ' + met(swing.event.hit) : ""));
    }
    void operator()(const SpawnEvent& spawn) {
        line(spawn.at, spawn.who, fmt::format("spawns at {}", place(spawn.position)));
    }
    void operator()(const MatchEvent& event) { line(event.at, event.who, match_text(event)); }

    std::string match_text(const MatchEvent& event) const {
        switch (event.kind) {
        case MatchEventKind::vitals:
            return felt(event);
        case MatchEventKind::weapon:
            return std::string{to_string(event.weapon.kind)};
        case MatchEventKind::killed:
            return fmt::format("killed by {}", name(event.by));
        case MatchEventKind::assisted:
            return fmt::format("assists in the death of {} with {:.1f} damage", name(event.by), event.amount);
        case MatchEventKind::score_changed:
        case MatchEventKind::lives_changed:
            return fmt::format("{}: {}", to_string(event.kind), event.count);
        case MatchEventKind::alert_raised:
            return fmt::format("noticed by {}", name(event.by));
        case MatchEventKind::weapon_dropped:
        case MatchEventKind::drop_lost:
            return fmt::format("{}: {}", to_string(event.kind), weapon(event.dropped.weapon));
        case MatchEventKind::match_over:
            return event.count < 0 ? "match over: a draw" : fmt::format("match over: {} wins", event.count);
        default:
            return std::string{to_string(event.kind)};
        }
    }

    std::string felt(const MatchEvent& event) const {
        const VitalsEvent& felt = event.vitals;
        std::string what{to_string(felt.kind)};
        if (felt.condition) {
            what += " (" + arsenal()[*felt.condition].id + ')';
        }
        if (felt.refusal != VitalsRefusal::none) {
            what += fmt::format(" ({})", to_string(felt.refusal));
        }
        if (felt.kind == VitalsEventKind::damaged || felt.kind == VitalsEventKind::healed) {
            what += fmt::format(" by {}, {:.2f}", name(event.by), felt.damage.amount() + felt.absorbed);
            for (std::size_t step = 0; step < felt.damage.step_count; ++step) {
                what += fmt::format("{}{} {:g}", step == 0 ? " = " : " x ",
                                    to_string(felt.damage.steps[step].kind), felt.damage.steps[step].factor);
            }
            what += fmt::format("; {:.2f} left", felt.health_left);
        }
        if (felt.kind == VitalsEventKind::pushed) {
            what += fmt::format(" by {}, {:.2f} m/s", name(event.by), std::sqrt(felt.push.squaredNorm()));
        }
        if (felt.kind == VitalsEventKind::reacted) {
            what += fmt::format(": {}", to_string(felt.state));
        }
        return what;
    }
};

} // namespace

std::string events_text(const Skirmish& skirmish) {
    Words words{skirmish};
    for_each_event(skirmish.events(), words);
    return words.text;
}

} // namespace avrek::cli
