#include "shooting_options.h"

#include "arsenal_options.h"
#include "crew_options.h"
#include "plan_options.h"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <charconv>
#include <string_view>

namespace avrek::cli {

void add_shooting(Command& command, ShootingOptions& options) {
    command.texts("--shooter", options.shooters, "SHOOTER",
                  "Shooter profiles; the arsenal's first by default");
    command.text("--plan", options.plan, "PLAN",
                 "hold, taps:SECONDS or bursts:SHOTS,SECONDS; by the profile if not given");
    command.text("--stance", options.stance, "STANCE", "standing or crouching");
    command.number("--target-speed", options.target_speed, {0, 100, "m/s"}, "SPEED",
                   "Speed of the target, around the shooter");
    command.number("--for", options.seconds, {0.01, 120, "s"}, "SECONDS",
                   "Length of an engagement from the first pull of the trigger, 10 s by default; in a sweep "
                   "also of a match, 60 s");
    command.text("--error", options.error, "PERCENT",
                 "Maximum error of chances; sets the number of integration points, up to 4096");
    command.number("--points", options.points, {32, 4096, ""}, "COUNT",
                   "Exact number of integration points, a power of two; overrides --error");
}

std::vector<std::string> shooters_of(const Arsenal& arsenal, const ShootingOptions& options) {
    std::vector<std::string> names;
    for (const std::string& shooter : options.shooters) {
        names.push_back(arsenal[id_named<ShooterId>("shooter", arsenal.shooters, shooter)].id);
    }
    if (names.empty()) {
        names.push_back(arsenal[id_named<ShooterId>("shooter", arsenal.shooters, "")].id);
    }
    return names;
}

std::vector<std::string> armaments_of(const Arsenal& arsenal, const std::vector<std::string>& ids) {
    std::vector<std::string> known = armament_names(arsenal);
    if (known.empty()) {
        throw WrongCall{{"error: the arsenal has no weapon"}};
    }
    if (ids.empty()) {
        return known;
    }
    std::vector<std::string> names;
    for (const std::string& id : ids) {
        const auto add = [&](const auto& matches) {
            std::copy_if(known.begin(), known.end(), std::back_inserter(names), matches);
        };
        const std::size_t before = names.size();
        add([&](const std::string& name) { return name == id || name.rfind(id + ' ', 0) == 0; });
        if (names.size() == before) {
            throw unknown_name("weapon", id, known);
        }
    }
    return names;
}

EngagementOverrides overrides_of(const ShootingOptions& options) {
    if (options.stance != "standing" && options.stance != "crouching") {
        throw unknown_name("stance", options.stance, {"standing", "crouching"});
    }
    EngagementOverrides overrides;
    overrides.crouching = options.stance == "crouching";
    overrides.target_speed = options.target_speed;
    overrides.limit = from_seconds(options.seconds.value_or(10.0));
    if (!options.plan.empty()) {
        overrides.plan = plan_named(options.plan, {.crouching = overrides.crouching});
    }
    return overrides;
}

Engagement engagement_of(const Arsenal& arsenal, const std::string& armament, const std::string& shooter,
                         const Target& target, Metres distance, const ShootingOptions& options) {
    Engagement engagement =
        avrek::engagement_of(arsenal, armament, shooter, target.body->id, distance).value();
    engagement.target = target;
    apply(overrides_of(options), engagement);
    return engagement;
}

DistributionSettings settings_of(const ShootingOptions& options) {
    if (options.points) {
        const auto points = static_cast<std::size_t>(*options.points);
        if (static_cast<double>(points) != *options.points || !std::has_single_bit(points)) {
            throw WrongCall{
                {fmt::format("error: --points: {:g} is not allowed; allowed: a power of two from 32 to 4096",
                             *options.points)}};
        }
        return {points};
    }
    const std::string_view text{options.error};
    const std::string_view digits = text.substr(0, text.size() - (text.ends_with('%') ? 1 : 0));
    double percent = 0.0;
    const auto [end, fault] = std::from_chars(digits.data(), digits.data() + digits.size(), percent);
    if (fault != std::errc{} || end != digits.data() + digits.size() || !(percent > 0.0) ||
        percent >= 100.0) {
        throw WrongCall{
            {fmt::format("error: --error: '{}' is not allowed; allowed: over 0 and under 100 %, such as 1%",
                         options.error)}};
    }
    return {max_distribution_points, percent / 100.0};
}

} // namespace avrek::cli
