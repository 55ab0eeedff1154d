#include "crew_options.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek::cli {

namespace {

constexpr double min_length = 0.001;
constexpr double max_length = 1e6;

} // namespace

void add_crew_options(Command& command, CrewOptions& options, double most, CrewOf who) {
    const std::string they = who == CrewOf::bots ? "bots" : "players";
    command.words(options.common, "WEAPON|ARSENAL.toml",
                  "Weapons that the " + they + " take in turn, all by default, and arsenal files");
    command.number("--crew", options.crew, {1, most, they}, "COUNT",
                   "Number of " + they + ", both crews together");
    const OptionRange lengths{min_length, max_length, "s"};
    if (options.seconds) {
        command.number("--for", *options.seconds, lengths, "SECONDS", "Length; the match may end sooner");
    } else {
        command.number("--for", options.seconds, lengths, "SECONDS",
                       "Length; until the match ends if not given");
    }
    command.number("--rate", options.rate, {1, 1000, "Hz"}, "HERTZ", "Ticks per second");
    command.text("--level", options.level, "LEVEL", "atrium, or a level file");
    command.text("--rules", options.rules, "MATCH", "Rules of the match; the arsenal's first by default");
    command.text("--body", options.body, "BODY", "Body of the " + they + "; the arsenal's first by default");
    command.text("--blade", options.blade, "BLADE",
                 "Blade of the " + they + ", or none; the arsenal's first by default");
    if (who == CrewOf::bots) {
        command.texts("--shooter", options.shooters, "SHOOTER",
                      "Shooter profiles that the bots take in turn; the arsenal's first by default");
    }
    command.text("--record", options.record, "FILE", "Record a replay to this file");
    command.text("--telemetry", options.telemetry, "FILE.db|FOLDER",
                 "Write telemetry to a database, or to a folder of CSV files");
    command.seed(options.common);
}

std::int64_t ticks_of(const CrewOptions& options) {
    return options.seconds ? std::max<std::int64_t>(1, std::llround(*options.seconds * options.rate))
                           : std::numeric_limits<std::int64_t>::max();
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
    setup.body = id_named<BodySpecId>("body", arsenal.bodies, options.body);
    if (options.blade != "none" && (!arsenal.melee.empty() || !options.blade.empty())) {
        setup.melee = id_named<MeleeId>("blade", arsenal.melee, options.blade);
    }
    for (const WeaponSpec* weapon : weapons_of(arsenal, ids_among(options.common.words))) {
        setup.weapons.push_back(*arsenal.weapon(weapon->id));
    }
    for (const std::string& shooter : options.shooters) {
        setup.shooters.push_back(id_named<ShooterId>("shooter", arsenal.shooters, shooter));
    }
    if (setup.shooters.empty()) {
        setup.shooters.push_back(id_named<ShooterId>("shooter", arsenal.shooters, ""));
    }
    return setup;
}

SkirmishSettings settings_of(const Arsenal& arsenal, const LevelPlan& plan, const CrewOptions& options) {
    SkirmishSettings set;
    set.rate.hertz = static_cast<std::int32_t>(whole("--rate", options.rate));
    set.rules = id_named<MatchId>("rules", arsenal.matches, options.rules);
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
            telemetry_.name(member.id, member.name, skirmish.arsenal()[member.shooter].id);
        }
    }
}

void Recording::add(const Arsenal& arsenal, const Entrant& entrant) {
    replay_.add(arsenal, entrant);
}

void Recording::remove(BodyId id) {
    replay_.remove(id);
}

void Recording::retune(const TuningStep& step) {
    replay_.retune(step);
}

bool Recording::tick(const Skirmish& skirmish, std::span<const Intent> intents,
                     std::span<const GameAction> actions) {
    if (has_telemetry_) {
        telemetry_.take(skirmish);
    }
    return !records_ || replay_.tick(skirmish, intents, {}, actions);
}

bool Recording::take(const Server& server) {
    for (const BodyId player : server.departed()) {
        remove(player);
    }
    for (const BodyId player : server.entered()) {
        add(server.skirmish().arsenal(), server.entrant_of(player));
    }
    for (const TuningStep& step : server.retuned()) {
        retune(step);
    }
    return tick(server.skirmish(), server.intents());
}

std::vector<Diagnostic> Recording::close(const Skirmish& skirmish) {
    std::vector<Diagnostic> faults = telemetry_.end(skirmish);
    const std::vector<Diagnostic> of_replay = replay_.close();
    faults.insert(faults.end(), of_replay.begin(), of_replay.end());
    return faults;
}

} // namespace avrek::cli
