#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "range_options.h"
#include "table.h"
#include "target_options.h"
#include "ttk_lines.h"
#include <avrek/tuning/breakpoints.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <cmath>
#include <memory>

namespace avrek::cli {

namespace {

struct ExplainOptions {
    CommonOptions common;
    double distance = 10.0;
    std::string region;
    std::string attack;
    TargetOptions target;
};

// Weapon or melee weapon that is explained.
struct Armed {
    const WeaponSpec* weapon = nullptr;
    const ProjectileSpec* projectile = nullptr;
    const MeleeSpec* melee = nullptr;
    const MeleeAttackSpec* attack = nullptr;
};

// One hit, and what came of it.
struct Explained {
    std::string what;
    const EffectSpec& effect;
    Damage damage{}; // with the steps
    double absorbed = 0.0;
    std::string verdict{}; // if it is not plain damage
    HitResult result = HitResult::nothing;
    std::vector<VitalsEvent> events{};
    Vitals before{};
    Vitals after{};
};

std::string verdict_text(const StoppedHitEvent& stopped) {
    switch (stopped.by) {
    case HitStop::guard:
        return "the guard stops it whole";
    case HitStop::perfect_guard:
        return "the guard stops it whole, and perfectly";
    case HitStop::resistance:
        return stopped.damage.steps[stopped.damage.step_count - 1].kind == DamageStepKind::resistance
                   ? "the body takes nothing of this kind"
                   : "it comes to nothing";
    case HitStop::protection:
        break;
    }
    return {};
}

// Takes over the steps of an event. Returns false if it has none.
bool take_steps(Explained& hit, const VitalsEvent& event) {
    if (const auto* hurt = std::get_if<DamageEvent>(&event)) {
        hit.damage = hurt->damage;
        hit.absorbed = hurt->absorbed;
    } else if (const auto* heal = std::get_if<HealEvent>(&event)) {
        hit.damage = heal->healing;
        hit.absorbed = heal->absorbed;
        hit.verdict = "it heals";
    } else if (const auto* stopped = std::get_if<StoppedHitEvent>(&event)) {
        hit.damage = stopped->damage;
        hit.verdict = verdict_text(*stopped);
    } else {
        return false;
    }
    return true;
}

Explained explain(const Target& target, Vitals& vitals, std::string what, const Damage& damage,
                  const EffectSpec& effect) {
    Explained hit{std::move(what), effect};
    hit.before = vitals;
    const double dealt = dealt_at(target, Time{}, Time{});
    hit.result = take_hit({target.conditions, *target.body, vitals}, hit_on(target, damage, effect, dealt),
                          Time{}, hit.events);
    hit.after = vitals;
    hit.damage = damage;
    for (const VitalsEvent& event : hit.events) {
        if (take_steps(hit, event)) {
            break;
        }
    }
    return hit;
}

std::vector<Explained> explain_all(const Armed& armed, const Target& target, const ExplainOptions& options,
                                   const std::string& region) {
    Vitals vitals = vitals_of(target, Time{});
    std::vector<Explained> hits;
    if (armed.melee != nullptr) {
        hits.push_back(explain(target, vitals, fmt::format("the {} attack", armed.attack->name),
                               strike_damage(*armed.melee, *armed.attack, region), armed.attack->effect));
        return hits;
    }
    const WeaponSpec& weapon = *armed.weapon;
    const double power =
        weapon.modes.front() == TriggerMode::charge ? charge_power(weapon.charge, weapon.charge.full) : 1.0;
    hits.push_back(explain(target, vitals, weapon.pellets > 1 ? "one pellet" : "one hit",
                           hit_damage(weapon, options.distance, region, power), weapon.effect));
    if (armed.projectile != nullptr && armed.projectile->blast.radius > 0.0) {
        const BlastSpec& blast = armed.projectile->blast;
        hits.push_back(explain(target, vitals, "its blast",
                               blast_damage(blast, {.distance = armed.projectile->radius, .power = power}),
                               blast.effect));
    }
    return hits;
}

std::string step_note(const Explained& hit, std::size_t index, const Target& target,
                      const ExplainOptions& options, const std::string& region) {
    const DamageStep& step = hit.damage.steps[index];
    const double before = index == 0 ? 0.0 : hit.damage.amount_after(index - 1);
    const BodySpec& body = *target.body;
    const std::string kind = hit.effect.type.id.empty() ? "damage" : hit.effect.type.id;
    switch (step.kind) {
    case DamageStepKind::base:
        return "health, " + kind;
    case DamageStepKind::charge:
        return "charged to the full";
    case DamageStepKind::falloff:
        return hit.what == "its blast" ? "where it went off" : fmt::format("at {:g} m", options.distance);
    case DamageStepKind::region:
        return region;
    case DamageStepKind::attacker:
        return "conditions of the attacker";
    case DamageStepKind::target:
        return "conditions of the target";
    case DamageStepKind::guard:
        return fmt::format("{:g} degrees off its front", to_degrees(*target.guard));
    case DamageStepKind::resistance:
        return fmt::format("{} to {}", body.id, kind);
    case DamageStepKind::defence: {
        const DefenceLayerSpec& layer = body.defence[step.index];
        return fmt::format("{} takes {:.2f}; {:.4g} of its {:g} points are left", layer.name,
                           before - hit.damage.amount_after(index),
                           defence_points(body, hit.after, step.index), layer.max);
    }
    case DamageStepKind::clamp:
        return "no more health than that";
    default:
        return {};
    }
}

// Effects of the hit besides damage, as sentences.
std::string left_text(const Arsenal& arsenal, const BodySpec& body, const Explained& hit) {
    std::string text;
    const auto lasts = [](Time until, Time at) { return fmt::format(" for {:g} s", to_seconds(until - at)); };
    const EventHandlers says{
        [&](const ConditionEvent& event) {
            const std::string& id = arsenal[event.condition].id;
            if (event.change == ConditionChange::refused) {
                text += fmt::format("  leaves no {}: {}\n", id, to_string(event.why));
            } else if (event.change != ConditionChange::ended) {
                text += fmt::format("  leaves {}{}\n", id,
                                    event.until == Time::max() ? "" : lasts(event.until, event.at));
            }
        },
        [&](const BodyEvent& event) {
            if (event.change == BodyChange::reacted) {
                text +=
                    fmt::format("  the body is {}{}\n", to_string(event.state), lasts(event.until, event.at));
            }
        },
        [&](const DefenceEvent& event) {
            text += event.restored ? "" : fmt::format("  {} is broken\n", body.defence[event.layer].name);
        },
        [&](const GuardEvent& event) {
            if (event.change == GuardChange::broken) {
                text += fmt::format("  the guard is broken{}\n", lasts(event.until, event.at));
            }
        },
        [&](const DeathEvent&) { text += "  it dies\n"; },
        [](const auto&) {}};
    for (const VitalsEvent& event : hit.events) {
        std::visit(says, event);
    }
    return text;
}

std::string sum_text(const Arsenal& arsenal, const Explained& hit, const Target& target,
                     const ExplainOptions& options, const std::string& region, bool colour) {
    std::string text =
        emphasised(fmt::format("{:<18}{:>10}{:>12}", hit.what, "factor", "total"), colour) + '\n';
    const Damage& damage = hit.damage;
    for (std::size_t index = 0; index < damage.step_count; ++index) {
        const DamageStep& step = damage.steps[index];
        const std::string factor = index == 0 ? "" : fmt::format("x {:.4g}", step.factor);
        text += fmt::format("  {:<16}{:>10}{:>12.2f}  {}\n", to_string(step.kind), factor,
                            damage.amount_after(index), step_note(hit, index, target, options, region));
    }
    const std::string verdict = hit.verdict;
    text += fmt::format("  {:<16}{:>22.2f}  left of {:g}{}\n", "health", hit.after.health, hit.after.maximum,
                        verdict.empty() ? "" : "; " + verdict);
    return text + left_text(arsenal, *target.body, hit);
}

struct Kill {
    IdealKill ideal;
    DamageBreakpoints breakpoints;
    double damage = 0.0; // damage of the weapon or attack for the breakpoints
};

Kill kill_of(const Armed& armed, const Target& target, Metres distance, RegionId region) {
    if (armed.melee != nullptr) {
        return {ideal_time_to_kill(*armed.melee, *armed.attack, target, distance, region), {}, 0.0};
    }
    return {ideal_time_to_kill(*armed.weapon, target, distance, region, armed.projectile),
            damage_breakpoints(*armed.weapon, target, distance, region, armed.projectile),
            armed.weapon->damage};
}

} // namespace

std::string breakpoint_text(double breakpoint, double damage) {
    const double off = 100.0 * (breakpoint / damage - 1.0);
    return std::abs(off) < 0.05 ? fmt::format("{:.2f} damage, which it is", breakpoint)
                                : fmt::format("{:.2f} damage ({:+.1f} %)", breakpoint, off);
}

namespace {

std::string kill_text(const Kill& kill, bool strikes) {
    const IdealKill& ideal = kill.ideal;
    const char* unit = strikes ? "strike" : "shot";
    if (ideal.verdict != KillVerdict::kills) {
        return fmt::format("It does not kill: {}.\n", to_string(ideal.verdict));
    }
    std::string text = fmt::format(
        "It kills with {} {}{} in {:.1f} ms from {}{}.\n", ideal.shots, unit, ideal.shots == 1 ? "" : "s",
        to_milliseconds(ideal.time), strikes ? "the first swing" : words_of(TimeBase::pull),
        ideal.plan.reloads > 0 ? fmt::format(", {} of them reloading", ideal.plan.reloads) : "");
    const auto change = [&](double damage) { return breakpoint_text(damage, kill.damage); };
    if (kill.breakpoints.fewer_from) {
        text += fmt::format("One {} fewer from {}.\n", unit, change(*kill.breakpoints.fewer_from));
    }
    if (kill.breakpoints.more_below) {
        text += fmt::format("More {}s below {}.\n", unit, change(*kill.breakpoints.more_below));
    }
    return text;
}

Table table_of(const std::vector<Explained>& hits, const Target& target) {
    Table table{{{"hit", "", "hit"},
                 {"step", "", "step"},
                 {"defence", "", "defence"},
                 {"factor", "", "factor"},
                 {"total", "health", "total"}},
                {}};
    for (const Explained& hit : hits) {
        for (std::size_t index = 0; index < hit.damage.step_count; ++index) {
            const DamageStep& step = hit.damage.steps[index];
            const bool layer = step.kind == DamageStepKind::defence;
            table.rows.push_back({hit.what, std::string{to_string(step.kind)},
                                  layer ? Cell{target.body->defence[step.index].name} : Cell{}, step.factor,
                                  hit.damage.amount_after(index)});
        }
    }
    return table;
}

std::string json_of(const std::vector<Explained>& hits, const Target& target, const Kill& kill) {
    using Json = nlohmann::ordered_json;
    Json all{{"body", target.body->id}, {"hits", Json::array()}};
    for (const Explained& hit : hits) {
        Json events = Json::array();
        for (const VitalsEvent& event : hit.events) {
            events.push_back(words_of(event));
        }
        all["hits"].push_back({{"hit", hit.what},
                               {"kind", hit.effect.type.id},
                               {"steps", to_json(table_of({hit}, target))},
                               {"health_lost", hit.before.health - hit.after.health},
                               {"absorbed", hit.absorbed},
                               {"health_left", hit.after.health},
                               {"events", events}});
    }
    const bool kills = kill.ideal.verdict == KillVerdict::kills;
    const auto or_null = [](const std::optional<double>& value) { return value ? Json(*value) : Json(); };
    all["verdict"] = to_string(kill.ideal.verdict);
    all["shots"] = kills ? Json(kill.ideal.shots) : Json();
    all["time_ms"] = kills ? Json(to_milliseconds(kill.ideal.time)) : Json();
    all["fewer_from_damage"] = or_null(kill.breakpoints.fewer_from);
    all["more_below_damage"] = or_null(kill.breakpoints.more_below);
    return all.dump(2) + '\n';
}

Armed armed_with(const Arsenal& arsenal, const ExplainOptions& options) {
    const Fired fired = fired_of(arsenal, ids_among(options.common.words));
    if (fired.melee != nullptr) {
        return {nullptr, nullptr, fired.melee,
                &fired.melee->attacks[attack_named(*fired.melee, options.attack)]};
    }
    if (!options.attack.empty()) {
        throw WrongCall{{fmt::format("error: --attack is for blades, and {} is none", fired.weapon->id)}};
    }
    return {fired.weapon, find(arsenal.projectiles, fired.weapon->projectile.id), nullptr, nullptr};
}

void run_explain(const ExplainOptions& options) {
    const Arsenal arsenal = arsenal_of(files_among(options.common.words));
    const Armed armed = armed_with(arsenal, options);
    const Target target = target_of(arsenal, options.target);
    const RegionId region = aimed_region(*target.body, options.region);
    const std::string& region_name = region_of(target.body->rig, region).name;
    const std::vector<Explained> hits = explain_all(armed, target, options, region_name);
    const Kill kill = kill_of(armed, target, options.distance, region);
    const OutputOptions& output = options.common.output;
    if (output.format == Format::json) {
        write_result(json_of(hits, target, kill), output);
        return;
    }
    std::string text = wrapped(fmt::format("{} on the {} of {}, at {:g} m",
                                           armed.weapon != nullptr ? armed.weapon->id : armed.melee->id,
                                           region_name, target_text(arsenal, target), options.distance),
                               text_columns, 2) +
                       "\n\n";
    for (const Explained& hit : hits) {
        text += sum_text(arsenal, hit, target, options, region_name, has_colour(output)) + '\n';
    }
    write_table(table_of(hits, target), text + kill_text(kill, armed.melee != nullptr), output);
}

} // namespace

void add_explain(CLI::App& tool, int&) {
    const auto options = std::make_shared<ExplainOptions>();
    Command command{tool, CommandGroup::fire, "explain",
                    "The damage of one hit, step by step, and the hits to kill", options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "A weapon, the arsenal's first by default, and arsenal files");
    command.number("--at", options->distance, {0.0, 10000.0, "m"}, "METRES", "Distance of the target");
    command.text("--region", options->region, "REGION",
                 "Region that is hit; the torso by default, or the body's first");
    command.text("--attack", options->attack, "NAME", "Attack of a blade; its first by default");
    add_target(command, options->target);
    command.example("avrek explain needle-pistol --at 10 --region head --target warden --with barked");
    command.runs([options] { run_explain(*options); });
}

} // namespace avrek::cli
