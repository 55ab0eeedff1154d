#include "crew_options.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace avrek::cli {

void add_crew_options(Command& command, CrewOptions& options, double most) {
    command.words(options.common, "WEAPON|ARSENAL.toml",
                  "Weapons that the bots take in turn, all if none is named, and arsenal files");
    command.number("--crew", options.crew, {1, most, "bots"}, "COUNT", "Bots, both crews together");
    command.number("--ticks", options.ticks, {1, 1e8, "ticks"}, "COUNT",
                   "How long it lasts, unless the match is over before");
    command.number("--rate", options.rate, {1, 1000, "Hz"}, "HERTZ", "Ticks in a second");
    command.text("--level", options.level, "LEVEL", "The level: atrium, or a file");
    command.text("--rules", options.rules, "MATCH", "The rules; the arsenal's first if none are named");
    command.text("--body", options.body, "BODY", "What body they have; the arsenal's first if none is named");
    command.text("--blade", options.blade, "BLADE",
                 "What they strike with, or none; the arsenal's first if none is named");
    command.texts("--shooter", options.shooters, "SHOOTER",
                  "Profiles that the bots take in turn; the arsenal's first if none is named");
    command.text("--record", options.record, "FILE", "Record a replay into this file");
    command.text("--telemetry", options.telemetry, "FILE.db|FOLDER",
                 "Write what happened into a database, or a folder of CSV");
}

std::int64_t whole(const char* option, double value) {
    if (value != std::floor(value)) {
        throw WrongCall{
            {fmt::format("error: {}: {:g} is not allowed; allowed: a whole number", option, value)}};
    }
    return static_cast<std::int64_t>(value);
}

BoutSetup setup_of(const Arsenal& arsenal, const CrewOptions& options) {
    BoutSetup setup;
    setup.crew = static_cast<std::size_t>(whole("--crew", options.crew));
    setup.body = index_named("body", arsenal.bodies, options.body);
    if (options.blade != "none" && (!arsenal.melee.empty() || !options.blade.empty())) {
        setup.melee = index_named("blade", arsenal.melee, options.blade);
    }
    for (const WeaponSpec* weapon : weapons_of(arsenal, ids_among(options.common.words))) {
        setup.weapons.push_back(static_cast<std::int32_t>(weapon - arsenal.weapons.data()));
    }
    for (const std::string& shooter : options.shooters) {
        setup.shooters.push_back(index_named("shooter", arsenal.shooters, shooter));
    }
    if (setup.shooters.empty()) {
        setup.shooters.push_back(index_named("shooter", arsenal.shooters, ""));
    }
    return setup;
}

SkirmishSettings settings_of(const Arsenal& arsenal, const LevelPlan& plan, const CrewOptions& options) {
    SkirmishSettings set;
    set.rate.hertz = static_cast<std::int32_t>(whole("--rate", options.rate));
    set.rules = index_named("rules", arsenal.matches, options.rules);
    set.limits.combatants = static_cast<std::size_t>(options.crew);
    set.limits.hazards = std::max<std::size_t>(32, plan.hazards.size());
    set.limits.pickups = std::max<std::size_t>(64, plan.pickups.size());
    return set;
}

void Recording::open(const CrewOptions& options, const std::vector<ArsenalText>& texts,
                     const Skirmish& skirmish, std::span<const BoutMember> members) {
    records_ = !options.record.empty();
    has_telemetry_ = !options.telemetry.empty();
    if (records_) {
        stop_at(replay_.open(options.record,
                             head_of(skirmish, digest_of(texts), options.level, "avrek " AVREK_VERSION)));
    }
    if (has_telemetry_) {
        stop_at(telemetry_.open(options.telemetry));
        telemetry_.begin(skirmish, options.level);
        for (const BoutMember& member : members) {
            telemetry_.name(member.id, member.name,
                            skirmish.arsenal().shooters[static_cast<std::size_t>(member.shooter)].id);
        }
    }
}

void Recording::add(const Arsenal& arsenal, const Entrant& entrant) {
    replay_.add(arsenal, entrant);
}

void Recording::remove(BodyId id) {
    replay_.remove(id);
}

bool Recording::tick(const Skirmish& skirmish, std::span<const Intent> intents) {
    if (has_telemetry_) {
        telemetry_.take(skirmish);
    }
    return !records_ || replay_.tick(skirmish, intents);
}

bool Recording::take(const Server& server) {
    for (const BodyId player : server.departed()) {
        remove(player);
    }
    for (const BodyId player : server.entered()) {
        add(server.skirmish().arsenal(), server.entrant_of(player));
    }
    return tick(server.skirmish(), server.intents());
}

void Recording::close(const Skirmish& skirmish) {
    stop_at(replay_.close());
    stop_at(telemetry_.end(skirmish));
}

} // namespace avrek::cli
