#include "arsenal_options.h"
#include "card_plot.h"
#include "command_line.h"
#include "commands.h"
#include "gnuplot.h"
#include "table.h"
#include <avrek/ballistics/lead.h>
#include <avrek/tuning/weapon_card.h>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

#include <memory>

namespace avrek::cli {

namespace {

constexpr Metres flight_distance = 20.0;

struct CardOptions {
    CommonOptions common;
    double field_of_view = 60.0;
    double height = 1080.0;
    std::string plot;
};

// One figure of the card. In text a group stands under its own heading.
struct Figure {
    std::string group;
    std::string name;
    Cell value;
    std::string unit;
    int decimals = 0;
};

Cell seconds_of(const std::optional<Duration>& time) {
    return time ? Cell{to_seconds(*time)} : Cell{};
}

std::string words_of(const WeaponSpec& weapon) {
    std::vector<std::string> modes;
    for (const TriggerMode mode : weapon.modes) {
        modes.emplace_back(to_string(mode));
    }
    return fmt::format("{}", fmt::join(modes, ", "));
}

void add_ammo(std::vector<Figure>& figures, const WeaponSpec& weapon, const WeaponCard& card) {
    const bool holds = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::cell;
    const bool reserve = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::reserve;
    figures.push_back({"ammunition", "feed", std::string{to_string(weapon.feed)}, ""});
    if (holds) {
        figures.push_back({"ammunition", "magazine", std::int64_t{weapon.magazine}, "rounds"});
    }
    if (reserve) {
        figures.push_back({"ammunition", "reserve", std::int64_t{full_reserve(weapon).rounds}, "rounds"});
    }
    const bool heats = weapon.feed == AmmoFeed::heat;
    figures.push_back({"ammunition", heats ? "shots to too hot" : "shots to empty",
                       card.shots_to_empty > 0 ? Cell{std::int64_t{card.shots_to_empty}} : Cell{}, ""});
    figures.push_back({"ammunition", heats ? "time to too hot" : "time to empty",
                       card.shots_to_empty > 0 ? Cell{to_seconds(card.time_to_empty)} : Cell{}, "s", 2});
    figures.push_back({"ammunition", "reload, one round missing", seconds_of(card.partial_reload), "s", 2});
    figures.push_back({"ammunition", "reload, from empty", seconds_of(card.empty_reload), "s", 2});
    figures.push_back(
        {"ammunition", heats ? "pause when too hot" : "refill, from empty", seconds_of(card.pause), "s", 2});
}

// How its shots get to what they hit.
void add_delivery(std::vector<Figure>& figures, const WeaponSpec& weapon, const ProjectileSpec* projectile) {
    figures.push_back({"firing", "delivery", std::string{to_string(delivery_of(weapon))}, ""});
    if (delivery_of(weapon) == Delivery::spray) {
        figures.push_back({"firing", "half-angle of the spray", to_degrees(weapon.spray), "deg", 1});
    }
    if (projectile == nullptr) {
        return;
    }
    figures.push_back({"firing", "launches", projectile->id, ""});
    figures.push_back({"firing", "launch speed", projectile->speed, "m/s", 1});
    const std::optional<Duration> flight = flight_time(*projectile, flight_distance);
    figures.push_back({"firing", fmt::format("flight to {:g} m", flight_distance),
                       flight ? Cell{to_milliseconds(*flight)} : Cell{}, "ms", 0});
    if (projectile->blast.radius > 0.0) {
        figures.push_back({"firing", "damage of the blast", projectile->blast.damage, "health", 1});
        figures.push_back({"firing", "radius of the blast", projectile->blast.radius, "m", 1});
    }
}

std::vector<Figure> figures_of(const WeaponSpec& weapon, const WeaponCard& card,
                               const ProjectileSpec* projectile) {
    std::vector<Figure> figures{
        {"firing", "trigger", words_of(weapon), ""},
        {"firing", "rate while firing", card.rounds_per_minute, "shots/min", 1},
        {"firing", "interval", card.rounds_per_minute > 0 ? Cell{60e3 / card.rounds_per_minute} : Cell{},
         "ms", 1},
        {"firing", "damage of a shot", card.damage_per_shot, "health", 1},
        {"firing", "damage while firing", card.burst_damage, "health/s", 1},
        {"firing", "damage over 2 min, all pauses", card.sustained_damage, "health/s", 1},
        {"firing", "range", weapon.range, "m", 0},
    };
    if (weapon.pellets > 1) {
        figures.push_back({"firing", "pellets of a shot", std::int64_t{weapon.pellets}, ""});
    }
    add_delivery(figures, weapon, projectile);
    add_ammo(figures, weapon, card);
    const auto time = [&](const char* name, Duration length) {
        figures.push_back({"handling", name, to_seconds(length), "s", 2});
    };
    time("aim, in", weapon.aim.in);
    time("aim, out", weapon.aim.out);
    time("raise", weapon.handling.raise);
    time("stow", weapon.handling.stow);
    time("swap to its like", weapon.handling.stow + weapon.handling.raise);
    time("sprint-out", weapon.handling.sprint_out);
    std::erase_if(figures,
                  [](const Figure& figure) { return std::holds_alternative<std::monostate>(figure.value); });
    return figures;
}

Table cone_table(const WeaponCard& card) {
    Table table{{{"spread", "", "posture"},
                 {"rest", "deg", "rest_deg", 2},
                 {"worst", "deg", "worst_deg", 2},
                 {"accuracy", "0 to 1", "accuracy", 2},
                 {"crosshair gap", "px", "gap_px", 1}},
                {}};
    for (const CardCone& cone : card.cones) {
        const std::string name = cone.posture.speed > 0.0
                                     ? fmt::format("{} at {:g} m/s", cone.name, cone.posture.speed)
                                     : cone.name;
        table.rows.push_back({name, to_degrees(cone.rest), to_degrees(cone.worst), cone.accuracy, cone.gap});
    }
    return table;
}

Table recoil_table(const WeaponCard& card) {
    Table table{{{"shot", "", "shot"}, {"left", "deg", "yaw_deg", 2}, {"up", "deg", "pitch_deg", 2}}, {}};
    std::int64_t shot = 0;
    for (const Look& view : card.recoil) {
        table.rows.push_back({++shot, to_degrees(view.yaw), to_degrees(view.pitch)});
    }
    return table;
}

std::string value_text(const Figure& figure) {
    if (const auto* number = std::get_if<double>(&figure.value)) {
        return fmt::format("{:.{}f}", *number, figure.decimals);
    }
    if (const auto* whole = std::get_if<std::int64_t>(&figure.value)) {
        return fmt::format("{}", *whole);
    }
    return std::get<std::string>(figure.value);
}

// The figures of a group under each other, groups side by side would not fit narrow terminals.
std::string figures_text(const std::vector<Figure>& figures, bool colour) {
    std::string text;
    std::string group;
    for (const Figure& figure : figures) {
        if (figure.group != group) {
            group = figure.group;
            text += (text.empty() ? "" : "\n") + emphasised(group, colour) + '\n';
        }
        const bool words = std::holds_alternative<std::string>(figure.value);
        text += words ? fmt::format("  {:<32}{}\n", figure.name, value_text(figure))
                      : fmt::format("  {:<32}{:>10}{}{}\n", figure.name, value_text(figure),
                                    figure.unit.empty() ? "" : " ", figure.unit);
    }
    return text;
}

// The last lines: what the player sees of the recoil, by a few of its shots.
std::string recoil_text(const WeaponSpec& weapon, const WeaponCard& card, bool colour) {
    if (card.recoil.empty()) {
        return "no recoil\n";
    }
    Table table = recoil_table(card);
    Table few{table.columns, {}};
    for (const std::size_t shot :
         {std::size_t{1}, std::size_t{3}, std::size_t{6}, std::size_t{12}, std::size_t{24}}) {
        if (shot <= table.rows.size()) {
            few.rows.push_back(table.rows[shot - 1]);
        }
    }
    return fmt::format("the view after each shot from the hip, nothing pulled back; {:.0f} % of a kick "
                       "recovers by itself\n{}",
                       100.0 * weapon.recoil.recovery_share, to_text(few, colour));
}

std::string card_text(const WeaponSpec& weapon, const WeaponCard& card, const ProjectileSpec* projectile,
                      const CardOptions& options, bool colour) {
    std::string text = emphasised(weapon.id, colour) + "\n\n" +
                       figures_text(figures_of(weapon, card, projectile), colour) + '\n';
    text += to_text(cone_table(card), colour);
    text += fmt::format("the gap is for {:g} degrees of view, or the weapon's own when aimed, on {:g} pixels",
                        options.field_of_view, options.height);
    text +=
        card.first_shot_is_exact
            ? fmt::format(
                  "\nthe first shot after {:g} s of a standing shooter goes exactly where it is aimed\n\n",
                  to_seconds(weapon.spread.first_shot_rest))
            : std::string{"\n\n"};
    return text + recoil_text(weapon, card, colour);
}

Table figure_table(const std::vector<Figure>& figures) {
    Table table{{{"group", "", "group"}, {"name", "", "name"}, {"value", "", "value"}, {"unit", "", "unit"}},
                {}};
    for (const Figure& figure : figures) {
        table.rows.push_back({figure.group, figure.name, figure.value, figure.unit});
    }
    return table;
}

void run_card(const CardOptions& options) {
    const Arsenal arsenal = arsenal_of(files_among(options.common.words));
    const WeaponSpec& weapon = one_weapon_of(arsenal, ids_among(options.common.words));
    const ProjectileSpec* projectile = find(arsenal.projectiles, weapon.projectile.id);
    const WeaponCard card = card_of(weapon, {from_degrees(options.field_of_view), options.height});
    if (!options.plot.empty()) {
        draw(card_plot(weapon, card), options.plot);
    }
    const OutputOptions& output = options.common.output;
    switch (output.format) {
    case Format::text:
        write_result(card_text(weapon, card, projectile, options, has_colour(output)), output);
        break;
    case Format::csv:
        write_result(to_csv(figure_table(figures_of(weapon, card, projectile))), output);
        break;
    case Format::json: {
        const nlohmann::ordered_json result{
            {"weapon", weapon.id},
            {"figures", to_json(figure_table(figures_of(weapon, card, projectile)))},
            {"spread", to_json(cone_table(card))},
            {"recoil", to_json(recoil_table(card))}};
        write_result(result.dump(2) + '\n', output);
        break;
    }
    }
}

} // namespace

void add_card(CLI::App& tool, int&) {
    const auto options = std::make_shared<CardOptions>();
    Command command{tool, CommandGroup::look, "card",
                    "Figures of one weapon: rates, damage, reloads, spread, recoil, times", options->common};
    command.words(options->common, "WEAPON|ARSENAL.toml",
                  "A weapon, the arsenal's first by default, and arsenal files");
    command.number("--fov", options->field_of_view, {1.0, 170.0, "degrees"}, "DEGREES",
                   "Vertical field of view for the crosshair gap");
    command.number("--height", options->height, {1.0, 100000.0, "pixels"}, "PIXELS",
                   "Height of the screen for the crosshair gap");
    command.plot(options->plot);
    command.example("avrek card thorn-rifle --plot card.png");
    command.runs([options] { run_card(*options); });
}

} // namespace avrek::cli
