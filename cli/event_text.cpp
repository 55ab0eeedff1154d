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
    void operator()(const DamageEvent& hurt) {
        const std::string ticked = hurt.condition ? " (" + arsenal()[*hurt.condition].id + ')' : "";
        line(hurt.at, hurt.who,
             fmt::format("damaged{} by {}, {:.2f}{}; {:.2f} left", ticked, name(hurt.source), points_of(hurt),
                         steps(hurt.damage), hurt.health_left));
    }
    void operator()(const HealEvent& heal) {
        const std::string ticked = heal.condition ? " (" + arsenal()[*heal.condition].id + ')' : "";
        line(heal.at, heal.who,
             fmt::format("healed{} by {}, {:.2f}{}; {:.2f} left", ticked, name(heal.source), points_of(heal),
                         steps(heal.healing), heal.health_left));
    }
    void operator()(const ConditionEvent& event) {
        const std::string why =
            event.why == ConditionReason::none ? "" : fmt::format(" ({})", to_string(event.why));
        line(event.at, event.who,
             fmt::format("{} ({}){}", to_string(event.change), arsenal()[event.condition].id, why));
    }
    void operator()(const PushEvent& event) {
        line(
            event.at, event.who,
            fmt::format("pushed by {}, {:.2f} m/s", name(event.source), std::sqrt(event.push.squaredNorm())));
    }
    void operator()(const BodyEvent& event) {
        const bool reacted = event.change == BodyChange::reacted;
        line(event.at, event.who,
             fmt::format("{}{}", to_string(event.change),
                         reacted ? fmt::format(": {}", to_string(event.state)) : ""));
    }
    void operator()(const KillEvent& kill) {
        line(kill.at, kill.who, fmt::format("killed by {}", name(kill.by)));
    }
    void operator()(const AssistEvent& assist) {
        line(
            assist.at, assist.who,
            fmt::format("assists in the death of {} with {:.1f} damage", name(assist.victim), assist.damage));
    }
    void operator()(const ScoreEvent& event) {
        line(event.at, event.who, fmt::format("score changed: {}", event.score));
    }
    void operator()(const LivesEvent& event) {
        line(event.at, event.who, fmt::format("lives changed: {}", event.lives));
    }
    void operator()(const RespawnsEvent& event) {
        line(event.at, event.who, fmt::format("respawns left of its side: {}", event.left));
    }
    void operator()(const AlertEvent& alert) {
        line(alert.at, alert.who,
             alert.raised ? fmt::format("noticed by {}", name(alert.by)) : "alert cleared");
    }
    void operator()(const DropEvent& drop) {
        line(drop.at, drop.who,
             fmt::format("{}: {}", drop.lost ? "drop lost" : "weapon dropped", weapon(drop.weapon)));
    }
    void operator()(const MatchOverEvent& over) {
        line(over.at, over.who,
             over.winner < 0 ? "match over: a draw" : fmt::format("match over: {} wins", over.winner));
    }
    template <class Other> // its words are enough
    void operator()(const Other& event) {
        line(event.at, event.who, std::string{words_of(Event{event})});
    }

    static std::string steps(const Damage& damage) {
        std::string text;
        for (std::size_t step = 0; step < damage.step_count; ++step) {
            text += fmt::format("{}{} {:g}", step == 0 ? " = " : " x ", to_string(damage.steps[step].kind),
                                damage.steps[step].factor);
        }
        return text;
    }
};

} // namespace

std::string events_text(const Skirmish& skirmish) {
    Words words{skirmish};
    for (const Event& event : skirmish.events()) {
        std::visit(words, event);
    }
    return words.text;
}

} // namespace avrek::cli
