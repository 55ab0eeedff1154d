#include "arsenal_options.h"
#include "command_line.h"
#include "commands.h"
#include "session_options.h"
#include "shooting_options.h"
#include "table.h"
#include <avrek/data/arsenal_values.h>
#include <avrek/tuning/duel.h>
#include <avrek/tuning/time_to_kill.h>

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <set>

namespace avrek::cli {

namespace {

struct DiffOptions {
    CommonOptions common;
    std::vector<double> distances{5, 10, 20, 35};
    ShootingOptions shooting;
    std::string body;
};

std::string values_text(const std::vector<ArsenalDifference>& found) {
    std::string text;
    for (const ArsenalDifference& one : found) {
        text += wrapped(difference_text(one), text_columns, 4) + '\n';
    }
    return text;
}

// Everything about one armament at one distance that a player would feel.
struct Felt {
    IdealKill ideal{};
    KillDistribution kills{};
    double win_rate = 0.5; // against all others
};

struct Field {
    std::vector<std::string> names;
    std::vector<std::vector<Felt>> felt; // [name][distance]
    double error = 0.0;
};

Field field_of(const Arsenal& arsenal, const std::vector<std::string>& names, const std::string& shooter,
               const std::string& body, const DiffOptions& options) {
    Field field{names, {}, 0.0};
    const DuelMatrix matrix = duel_matrix(
        arsenal, names, options.distances,
        {{shooter, shooter}, body, {}, true, settings_of(options.shooting), overrides_of(options.shooting)});
    const std::vector<DuelStanding> all = standings(matrix);
    for (std::size_t row = 0; row < names.size(); ++row) {
        std::vector<Felt>& felt = field.felt.emplace_back();
        for (std::size_t distance = 0; distance < options.distances.size(); ++distance) {
            Felt& one = felt.emplace_back();
            one.kills = matrix.kills[distance * names.size() + row];
            one.win_rate = all[row].win_rates[distance];
            field.error = std::max(field.error, one.kills.error);
            const Target target{.body = find(arsenal.bodies, body), .conditions = arsenal.conditions};
            const Engagement engagement = engagement_of(arsenal, names[row], shooter, target,
                                                        options.distances[distance], options.shooting);
            one.ideal =
                engagement.weapon != nullptr
                    ? ideal_time_to_kill(*engagement.weapon, target, engagement.distance, engagement.aim,
                                         find(arsenal.projectiles, engagement.weapon->projectile.id))
                    : ideal_time_to_kill(*engagement.melee, engagement.melee->attacks[engagement.attack],
                                         target, engagement.distance, engagement.aim);
        }
    }
    return field;
}

Cell median(const Felt& felt) {
    const auto half = time_of_share(felt.kills, 0.5);
    return half ? Cell{to_milliseconds(*half)} : Cell{};
}

bool differs(const Felt& before, const Felt& after) {
    return before.ideal.shots != after.ideal.shots || before.ideal.time != after.ideal.time ||
           median(before) != median(after) || std::abs(before.win_rate - after.win_rate) > 0.005 ||
           std::abs(before.kills.killed() - after.kills.killed()) > 0.005;
}

std::string ms(const Cell& cell) {
    const auto* value = std::get_if<double>(&cell);
    return value != nullptr ? fmt::format("{:.0f} ms", *value) : std::string{"never"};
}

// Says the difference as a player of this armament, or against it, would.
std::string sentence(const std::string& name, const std::vector<Felt>& before, const std::vector<Felt>& after,
                     const std::vector<double>& distances) {
    std::vector<std::string> parts;
    double most = 0.0;
    std::size_t where = 0;
    for (std::size_t index = 0; index < distances.size(); ++index) {
        if (before[index].ideal.shots != after[index].ideal.shots) {
            const auto shots = [](std::int32_t count) {
                return count == 0 ? std::string{"does not kill"} : fmt::format("{} shots", count);
            };
            parts.push_back(fmt::format("{} instead of {} at {:g} m", shots(after[index].ideal.shots),
                                        shots(before[index].ideal.shots), distances[index]));
        }
        const double moved = std::abs(after[index].win_rate - before[index].win_rate);
        if (moved > most) {
            most = moved;
            where = index;
        }
    }
    if (median(before[where]) != median(after[where])) {
        parts.push_back(fmt::format("half are dead in {} instead of {} at {:g} m", ms(median(after[where])),
                                    ms(median(before[where])), distances[where]));
    }
    if (most > 0.005) {
        parts.push_back(
            fmt::format("wins {:.0f} % of its duels against the others at {:g} m, {:.0f} % before",
                        100.0 * after[where].win_rate, distances[where], 100.0 * before[where].win_rate));
    }
    std::string text = name + ": ";
    for (std::size_t part = 0; part < parts.size(); ++part) {
        text += (part == 0 ? "" : "; ") + parts[part];
    }
    return parts.empty() ? std::string{} : text;
}

void run_diff(const DiffOptions& options) {
    const std::vector<std::string> files = files_among(options.common.words);
    if (files.empty() || !ids_among(options.common.words).empty()) {
        throw WrongCall{
            {"error: what differs? allowed: OVERLAY.toml over the shipped arsenal, BASE.toml and the "
             "overlays that it gets, or changes of sessions: FILE.session@NUMBER"}};
    }
    std::vector<ArsenalText> before;
    if (files.size() > 1) {
        before = arsenal_texts({files.front()});
    } else {
        before = is_session(files.front()) ? session_texts(session_parts(files.front()).first + "@0")
                                           : arsenal_texts({});
    }
    std::vector<ArsenalText> after = before;
    add_texts(after, {files.begin() + (files.size() > 1 ? 1 : 0), files.end()});
    const Loaded<Arsenal> old_arsenal = parse_arsenal(before);
    stop_at(old_arsenal.value ? std::vector<Diagnostic>{} : old_arsenal.diagnostics);
    const Loaded<Arsenal> new_arsenal = parse_arsenal(after);
    stop_at(new_arsenal.value ? std::vector<Diagnostic>{} : new_arsenal.diagnostics);
    const std::vector<ArsenalDifference> found = differences(before, after);
    std::vector<std::string> names;
    const std::vector<std::string> still = armament_names(*new_arsenal.value);
    for (const std::string& name : armament_names(*old_arsenal.value)) {
        if (std::find(still.begin(), still.end(), name) != still.end()) {
            names.push_back(name);
        }
    }
    const std::string shooter = shooters_of(*old_arsenal.value, options.shooting).front();
    const std::string body = body_of(*old_arsenal.value, options.body).id;
    const Field one = field_of(*old_arsenal.value, names, shooter, body, options);
    const Field other = field_of(*new_arsenal.value, names, shooter, body, options);
    Table table{{{"weapon", "", "weapon"},
                 {"at", "m", "distance_m", 1},
                 {"shots", "", "ideal_shots_before"},
                 {"->", "", "ideal_shots_after"},
                 {"half", "ms", "median_ms_before"},
                 {"->", "ms", "median_ms_after"},
                 {"killed", "%", "killed_percent_before", 1},
                 {"->", "%", "killed_percent_after", 1},
                 {"wins", "%", "win_rate_percent_before", 1},
                 {"->", "%", "win_rate_percent_after", 1}},
                {}};
    std::string words;
    for (std::size_t row = 0; row < names.size(); ++row) {
        for (std::size_t index = 0; index < options.distances.size(); ++index) {
            const Felt& was = one.felt[row][index];
            const Felt& is = other.felt[row][index];
            if (differs(was, is)) {
                const auto shots = [](const Felt& felt) {
                    return felt.ideal.shots > 0 ? Cell{std::int64_t{felt.ideal.shots}} : Cell{};
                };
                table.rows.push_back({names[row], options.distances[index], shots(was), shots(is),
                                      median(was), median(is), 100.0 * was.kills.killed(),
                                      100.0 * is.kills.killed(), 100.0 * was.win_rate, 100.0 * is.win_rate});
            }
        }
        const std::string said = sentence(names[row], one.felt[row], other.felt[row], options.distances);
        words += said.empty() ? "" : wrapped(said, text_columns, 4) + '\n';
    }
    const bool colour = has_colour(options.common.output);
    std::string text;
    if (found.empty()) {
        text = "Nothing differs.\n";
    } else {
        text = emphasised("What differs", colour) + '\n' + values_text(found) + '\n' +
               emphasised("What a player notices", colour) + ", " + shooter + " against " + body + '\n' +
               (words.empty() ? "nothing at these distances\n" : words);
        const std::string legend = fmt::format("shots: when all hit; half, killed, wins: of a {}, half from "
                                               "the pull of the trigger, error up to "
                                               "{:.1f} %; wins: against all others",
                                               shooter, 200.0 * std::max(one.error, other.error));
        text += table.rows.empty()
                    ? ""
                    : '\n' + to_text(table, colour) + '\n' + wrapped(legend, text_columns, 2) + '\n';
    }
    write_table(table, text, options.common.output);
}

} // namespace

void add_diff(CLI::App& tool, int&) {
    const auto options = std::make_shared<DiffOptions>();
    options->shooting.error = "2%";
    Command command{tool, CommandGroup::tune, "diff", "What an overlay changes, and what a player notices",
                    options->common};
    command.words(options->common, "BASE.toml OVERLAY.toml",
                  "The base arsenal and its overlays, or two changes of sessions; with one, the base is the "
                  "shipped arsenal or the session's beginning");
    command.numbers("--at", options->distances, {0.01, 10000.0, "m"}, "METRES", "Distances");
    add_shooting(command, options->shooting);
    command.text("--target", options->body, "BODY", "Body of the target; the arsenal's first by default");
    command.example("avrek diff data/halm-ring.toml data/overlays/calmer-burr-gun.toml");
    command.runs([options] { run_diff(*options); });
}

} // namespace avrek::cli
