#include "range_level.h"

#include "arsenal_options.h"
#include "gnuplot.h"
#include "level_options.h"
#include "level_picture.h"
#include "plan_options.h"
#include "range_compare.h"
#include "table.h"
#include <avrek/scene/scene.h>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <charconv>
#include <cmath>

namespace avrek::cli {

namespace {

constexpr std::size_t max_bodies = 64;

// Armament and its place in the level.
struct LevelRange {
    Arsenal arsenal;
    const WeaponSpec* weapon;
    const MeleeSpec* melee;
    std::size_t attack = 0;
    Level level;
    std::string level_name;
    LevelTrialSetup setup;

    std::string name() const {
        return weapon != nullptr ? weapon->id : melee->id + ' ' + melee->attacks[attack].name;
    }
    std::string delivery() const {
        return weapon != nullptr ? std::string{to_string(delivery_of(*weapon))} : "blade";
    }
};

std::vector<double> numbers_in(const std::string& text) {
    std::vector<double> numbers;
    const char* at = text.data();
    const char* const end = at + text.size();
    while (true) {
        double value = 0.0;
        const auto [next, fault] = std::from_chars(at, end, value);
        if (fault != std::errc{} || !std::isfinite(value)) {
            return {};
        }
        numbers.push_back(value);
        if (next == end) {
            return numbers;
        }
        if (*next != ',') {
            return {};
        }
        at = next + 1;
    }
}

Vector3 point_of(const char* option, const std::vector<double>& numbers, const std::string& said) {
    const bool sound = numbers.size() == 3 && std::all_of(numbers.begin(), numbers.end(),
                                                          [](double n) { return std::abs(n) <= 1e5; });
    if (!sound) {
        throw WrongCall{{fmt::format(
            "error: {}: '{}' is not allowed; allowed: X,Y,Z, each -100000 to 100000 m", option, said)}};
    }
    return {numbers[0], numbers[1], numbers[2]};
}

// The floor under a point, or the point as far down as a muzzle is held.
Vector3 floor_under(const Scene& level, const Vector3& point) {
    const auto floor =
        level.closest_hit({.ray = {point, -world_up(), 50.0}}, {.hits = {CollisionLayer::level}});
    return floor && !floor->inside ? floor->point : point - 1.5 * world_up();
}

// Three bodies that face the muzzle: one ahead, two to the sides of it.
std::vector<Vector3> default_places(const LevelRange& range, double distance, Radians yaw) {
    const Vector3 ahead = direction_of({yaw, 0.0});
    const Vector3 left = across(ahead).left;
    const double scale = std::clamp(distance / 10.0, 0.4, 1.0);
    const auto at = [&](double far, double aside) {
        return Vector3{range.setup.muzzle + far * ahead + aside * left};
    };
    std::vector<Vector3> places;
    if (range.melee != nullptr) {
        places = {at(distance, 0.0), at(0.8 * distance, 0.8), at(0.8 * distance, -0.8)};
    } else {
        places = {at(distance, 0.0), at(distance + 2.2 * scale, 1.3 * scale),
                  at(distance + 4.5 * scale, -1.1 * scale)};
    }
    const Scene level{range.level};
    for (Vector3& place : places) {
        place = floor_under(level, place + 0.2 * world_up());
    }
    return places;
}

double distance_of(const LevelRange& range, const RangeOptions& options) {
    if (options.distance) {
        return *options.distance;
    }
    if (range.melee != nullptr) {
        return 0.7 * range.melee->attacks[range.attack].reach;
    }
    return delivery_of(*range.weapon) == Delivery::spray ? 0.5 * range.weapon->range : 20.0;
}

void place_bodies(LevelRange& range, const RangeOptions& options) {
    const double distance = distance_of(range, options);
    const Radians yaw = options.look.empty() ? 0.0 : from_degrees(options.look.front());
    std::vector<Vector3> places;
    for (const std::string& place : options.body_positions) {
        places.push_back(point_of("--body-at", numbers_in(place), place));
    }
    if (places.size() > max_bodies) {
        throw WrongCall{{fmt::format("error: --body-at: at most {} bodies", max_bodies)}};
    }
    if (places.empty()) {
        places = default_places(range, distance, yaw);
    }
    for (const Vector3& place : places) {
        const Vector3 towards = range.setup.muzzle - place;
        const bool above = std::abs(towards.x()) + std::abs(towards.z()) < 1e-9;
        range.setup.bodies.push_back(
            {place, turned_to({above ? 0.0 : look_of({towards.x(), 0.0, towards.z()}).yaw, 0.0})});
    }
}

// As told, or at the aimed region of the first body.
void set_look(LevelRange& range, const RangeOptions& options) {
    if (!options.look.empty()) {
        if (options.look.size() != 2 || std::abs(options.look[1]) > 90.0) {
            throw WrongCall{{"error: --look takes YAW,PITCH in degrees, the pitch -90 to 90"}};
        }
        range.setup.look = {from_degrees(options.look[0]), from_degrees(options.look[1])};
        return;
    }
    const RegionId region = aimed_region(*range.setup.body, options.region);
    const Vector3 aim = to_world(range.setup.bodies.front(), aim_point(range.setup.body->rig, region));
    std::optional<Look> look = look_at(range.arsenal, range.weapon != nullptr ? *range.weapon : WeaponSpec{},
                                       range.setup.muzzle, aim);
    if (!look) {
        throw WrongCall{
            {fmt::format("error: {} does not reach the first body, {:.1f} m away; allowed: a smaller "
                         "--at, or --look YAW,PITCH",
                         range.name(), (aim - range.setup.muzzle).norm())}};
    }
    range.setup.look = *look;
}

std::string met_by(const LevelRange& range, const std::optional<Hit>& hit) {
    if (!hit) {
        return {};
    }
    if (hit->body) {
        return fmt::format("body {} {}", static_cast<std::size_t>(*hit->body),
                           region_of(range.setup.body->rig, *hit->region).name);
    }
    const auto surface = static_cast<std::size_t>(hit->surface);
    return surface >= 1 && surface <= range.arsenal.surfaces.size() ? range.arsenal.surfaces[surface - 1].id
                                                                    : "plain";
}

std::vector<Cell> damage_cells(const TrialWound& wound) {
    return {wound.absorbed > 0.0 ? Cell{wound.absorbed} : Cell{}, wound.damage.amount(), wound.health_left};
}

Cell unless_one(double share) {
    return share != 1.0 ? Cell{share} : Cell{};
}

double milliseconds_at(Time at) {
    return to_milliseconds(at - Time{});
}

// Every segment, and wounds without one: by explosions, sprays and blades.
Table segment_table(const LevelRange& range, const LevelTrial& trial) {
    struct Row {
        Time at;
        std::vector<Cell> cells;
    };
    const bool pellets =
        range.weapon != nullptr && range.weapon->pellets > 1 && delivery_of(*range.weapon) != Delivery::spray;
    const auto pellet_cell = [pellets](std::int32_t pellet) {
        return pellets ? Cell{std::int64_t{pellet} + 1} : Cell{};
    };
    std::vector<Row> rows;
    std::vector<bool> shown(trial.wounds.size(), false);
    for (const TrialSegment& segment : trial.segments) {
        const Vector3& end = segment.way.back();
        std::vector<Cell> cells{milliseconds_at(segment.ends),
                                std::int64_t{segment.shot} + 1,
                                pellet_cell(segment.pellet),
                                std::string{to_string(segment.end)},
                                met_by(range, segment.hit),
                                end.x(),
                                end.y(),
                                end.z(),
                                segment.flown > 0.0 ? Cell{segment.flown} : Cell{},
                                segment.speed > 0.0 ? Cell{segment.speed} : Cell{},
                                unless_one(segment.power)};
        const std::vector<Cell> damage =
            segment.wound != no_wound ? damage_cells(trial.wounds[segment.wound]) : std::vector<Cell>(3);
        cells.insert(cells.end(), damage.begin(), damage.end());
        rows.push_back({segment.ends, std::move(cells)});
        if (segment.wound != no_wound) {
            shown[segment.wound] = true;
        }
    }
    for (std::size_t index = 0; index < trial.wounds.size(); ++index) {
        const TrialWound& wound = trial.wounds[index];
        if (!shown[index]) {
            const std::string body = fmt::format("body {} {}", static_cast<std::size_t>(wound.body),
                                                 region_of(range.setup.body->rig, wound.region).name);
            const char* what = wound.by_blast ? "blast hurts" : range.melee != nullptr ? "strikes" : "sprays";
            std::vector<Cell> cells{milliseconds_at(wound.at),
                                    std::int64_t{wound.shot} + 1,
                                    pellet_cell(wound.pellet),
                                    std::string{what},
                                    body,
                                    wound.point.x(),
                                    wound.point.y(),
                                    wound.point.z(),
                                    wound.distance,
                                    {},
                                    unless_one(wound.exposure)};
            const std::vector<Cell> damage = damage_cells(wound);
            cells.insert(cells.end(), damage.begin(), damage.end());
            rows.push_back({wound.at, std::move(cells)});
        }
    }
    std::stable_sort(rows.begin(), rows.end(), [](const Row& a, const Row& b) { return a.at < b.at; });
    Table table{{{"time", "ms", "time_ms", 1},
                 {"shot", "", "shot"},
                 {"pellet", "", "pellet"},
                 {"what", "", "what"},
                 {"met", "", "met"},
                 {"x", "m", "x_m", 1},
                 {"y", "m", "y_m", 1},
                 {"z", "m", "z_m", 1},
                 {"flown", "m", "flown_m", 1},
                 {"speed", "m/s", "speed_mps", 1},
                 {"share", "x", "share", 2},
                 {"defence", "", "absorbed", 1},
                 {"damage", "", "damage", 1},
                 {"health", "left", "health_left", 1}},
                {}};
    for (Row& row : rows) {
        table.rows.push_back(std::move(row.cells));
    }
    return table;
}

std::string counted(std::size_t count, const char* one) {
    return fmt::format("{} {}{}", count, one, count == 1 ? "" : "s");
}

std::string place_text(const Vector3& point) {
    const Vector3 rounded = (10.0 * point).array().round() / 10.0 + 0.0; // and no -0
    return fmt::format("{:.1f} {:.1f} {:.1f}", rounded.x(), rounded.y(), rounded.z());
}

std::string where_text(const LevelRange& range) {
    const Vector3& from = range.setup.muzzle;
    return fmt::format("{} ({}) in {}, from {:g} {:g} {:g}, yaw {:.1f}, pitch {:.1f} degrees", range.name(),
                       range.delivery(), range.level_name, from.x(), from.y(), from.z(),
                       to_degrees(range.setup.look.yaw), to_degrees(range.setup.look.pitch));
}

std::string outcome_text(const LevelRange& range, const LevelTrial& trial) {
    const auto bounces = static_cast<std::size_t>(
        std::count_if(trial.segments.begin(), trial.segments.end(),
                      [](const TrialSegment& segment) { return segment.end == SegmentEnd::bounces; }));
    const auto wounds = static_cast<std::size_t>(
        std::count_if(trial.wounds.begin(), trial.wounds.end(),
                      [](const TrialWound& wound) { return wound.damage.amount() > 0.0; }));
    std::string text;
    if (range.weapon != nullptr) {
        text += fmt::format("{}, {}, {:g} s: ", range.setup.plan.name, posture_name(range.setup.posture),
                            to_seconds(range.setup.length));
    }
    text += counted(static_cast<std::size_t>(trial.shots), range.melee != nullptr ? "swing" : "shot");
    if (bounces > 0) {
        text += ", " + counted(bounces, "bounce");
    }
    if (!trial.blasts.empty()) {
        text += ", " + counted(trial.blasts.size(), "explosion");
    }
    if (trial.still_flying > 0) {
        text += fmt::format(", {} still flying", trial.still_flying);
    }
    return text + ", " + counted(wounds, "wound");
}

std::string summary_of(const LevelRange& range, const LevelTrial& trial) {
    std::string text =
        where_text(range) + fmt::format(", seed {}\n", range.setup.seed) + outcome_text(range, trial) + '\n';
    for (std::size_t index = 0; index < trial.bodies.size(); ++index) {
        const Vector3& at = range.setup.bodies[index].position;
        text += fmt::format("body {} at {}: ", index + 1, place_text(at));
        const auto death =
            std::find_if(trial.wounds.begin(), trial.wounds.end(), [index](const TrialWound& wound) {
                return wound.died && static_cast<std::size_t>(wound.body) == index + 1;
            });
        text += death != trial.wounds.end()
                    ? fmt::format("dead at {:.1f} ms\n", milliseconds_at(death->at))
                    : fmt::format("{:.1f} of {:g} health{}\n", trial.bodies[index].health,
                                  trial.bodies[index].maximum,
                                  trial.worn[index] > 0.0
                                      ? fmt::format(", {:.1f} lost to conditions", trial.worn[index])
                                      : "");
    }
    return text;
}

nlohmann::ordered_json json_of(const LevelRange& range, const LevelTrial& trial) {
    const Vector3& from = range.setup.muzzle;
    nlohmann::ordered_json bodies = nlohmann::ordered_json::array();
    for (std::size_t index = 0; index < trial.bodies.size(); ++index) {
        const Vector3& at = range.setup.bodies[index].position;
        bodies.push_back({{"body", index + 1},
                          {"at_m", {at.x(), at.y(), at.z()}},
                          {"health", trial.bodies[index].health},
                          {"worn", trial.worn[index]},
                          {"dead", trial.bodies[index].life == LifeState::dead}});
    }
    return {{"weapon", range.weapon != nullptr ? range.weapon->id : range.melee->id},
            {"attack", range.melee != nullptr
                           ? nlohmann::ordered_json(range.melee->attacks[range.attack].name)
                           : nlohmann::ordered_json(nullptr)},
            {"delivery", range.delivery()},
            {"level", range.level_name},
            {"from_m", {from.x(), from.y(), from.z()}},
            {"yaw_deg", to_degrees(range.setup.look.yaw)},
            {"pitch_deg", to_degrees(range.setup.look.pitch)},
            {"seed", range.setup.seed},
            {"shots", trial.shots},
            {"still_fly", trial.still_flying},
            {"bodies", bodies},
            {"segments", to_json(segment_table(range, trial))}};
}

void show(const LevelRange& range, const LevelTrial& trial, const RangeOptions& options) {
    if (!options.plot.empty()) {
        const bool sprays = range.weapon != nullptr && delivery_of(*range.weapon) == Delivery::spray;
        draw(level_picture({range.level, trial, range.setup, where_text(range), outcome_text(range, trial),
                            sprays ? range.weapon->spray : 0.0}),
             options.plot);
    }
    const OutputOptions& output = options.common.output;
    switch (output.format) {
    case Format::text:
        write_result((trial.segments.empty() && trial.wounds.empty()
                          ? std::string{}
                          : to_text(without_empty(segment_table(range, trial)), has_colour(output)) + '\n') +
                         summary_of(range, trial),
                     output);
        break;
    case Format::csv:
        write_result(to_csv(segment_table(range, trial)), output);
        break;
    case Format::json:
        write_result(json_of(range, trial).dump(2) + '\n', output);
        break;
    }
}

} // namespace

void run_level_range(Arsenal arsenal, const WeaponSpec* weapon, const MeleeSpec* melee,
                     const RangeOptions& options) {
    if (options.plans.size() > 1 || options.speeds.size() > 1) {
        throw WrongCall{
            {"error: one plan at one speed in a level; plans are compared at the board, which is for "
             "hitscan weapons, without --level"}};
    }
    const std::size_t attack = melee != nullptr ? attack_named(*melee, options.attack) : 0;
    const std::string level_name = options.level.empty() ? demo_level : options.level;
    // Specs stay where they are when the arsenal is moved.
    Level level = arena_named(arsenal, level_name).level;
    LevelRange range{std::move(arsenal), weapon, melee, attack, std::move(level), level_name, {}};
    LevelTrialSetup& setup = range.setup;
    setup.muzzle = options.from.empty()
                       ? Vector3{0.0, melee != nullptr ? 1.3 : 1.5, -20.0}
                       : point_of("--from", options.from, fmt::format("{}", fmt::join(options.from, ",")));
    setup.length = from_seconds(options.seconds);
    setup.posture = posture_of(options, options.speeds.front());
    setup.plan = plan_named(options.plans.front(), setup.posture);
    setup.recoil_control = options.recoil_control;
    setup.seed = options.common.seed;
    setup.body = &body_of(range.arsenal, options.body);
    place_bodies(range, options);
    set_look(range, options);
    show(range,
         melee != nullptr ? strike_in_level(*melee, range.attack, range.level, setup)
                          : run_in_level(range.arsenal, *weapon, range.level, setup),
         options);
}

} // namespace avrek::cli
