#include "range_summary.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <map>

namespace avrek::cli {

namespace {

double seconds_at(Time at) {
    return to_seconds(at.time_since_epoch());
}

// From the start of each reload to its end, or to when it would have ended after the trial.
std::vector<Span> reloads_of(const RangeTrial& trial) {
    std::vector<Span> reloads;
    for (const WeaponEvent& event : trial.weapon_events) {
        if (event.kind == WeaponEventKind::reload_started) {
            reloads.push_back({event.at, event.until});
        } else if (event.kind == WeaponEventKind::reload_finished ||
                   event.kind == WeaponEventKind::reload_cancelled) {
            reloads.back().end = event.at;
        }
    }
    return reloads;
}

} // namespace

std::string hit_counts(const BodySpec& body, const RangeTrial& trial) {
    std::map<std::string, int> counts;
    for (const RangeShot& shot : trial.shots) {
        ++counts[std::string{hit_name(body, shot)}];
    }
    std::vector<std::pair<std::string, int>> ordered{counts.begin(), counts.end()};
    std::stable_sort(ordered.begin(), ordered.end(),
                     [](const auto& a, const auto& b) { return a.second > b.second; });
    std::string text;
    for (const auto& [name, count] : ordered) {
        text += fmt::format("{}{} {}", text.empty() ? "" : ", ", count, name);
    }
    return text;
}

std::string range_summary(const WeaponSpec& weapon, const BodySpec& body, const RangeSeries& one) {
    const RangeTrial& trial = one.trial;
    const RangeSetup& setup = one.setup;
    std::string text = fmt::format("{} at {}, aimed at the {}, {} m, {:g} s, seed {}\n", weapon.id, body.id,
                                   region_of(body.rig, setup.aim).name, setup.distance,
                                   to_seconds(setup.length), setup.seed);
    if (trial.shots.empty()) {
        for (const WeaponEvent& event : trial.weapon_events) {
            if (event.refusal != WeaponRefusal::none) {
                return text + fmt::format("no shot left: {}\n", to_string(event.refusal));
            }
        }
        return text + "no shot left\n";
    }
    text += fmt::format("{}, {}\n", one.plan, one.posture);
    const std::string pellets =
        weapon.pellets > 1 ? fmt::format(" of {} pellets", weapon.pellets) : std::string{};
    text += fmt::format("{} shot{}{}: {}\n", trial.shots_fired, trial.shots_fired == 1 ? "" : "s", pellets,
                        hit_counts(body, trial));
    text += fmt::format(
        "half within {:.2f} m of the group's middle, 90 % within {:.2f} m; {:.1f} hits a second\n",
        trial.group.radius_50, trial.group.radius_90, trial.hits / to_seconds(setup.length));
    for (const Span& reload : reloads_of(trial)) {
        text += fmt::format("reload from {:.3f} s to {:.3f} s\n", seconds_at(reload.begin),
                            seconds_at(reload.end));
    }
    return text + (trial.death ? fmt::format("dead at {:.3f} s, by shot {}\n", seconds_at(*trial.death),
                                             trial.shots_to_death)
                               : fmt::format("alive, with {:.1f} of {} health\n",
                                             trial.shots.back().health_left, body.health));
}

nlohmann::ordered_json reload_json(const RangeTrial& trial) {
    nlohmann::ordered_json reloads = nlohmann::ordered_json::array();
    for (const Span& reload : reloads_of(trial)) {
        reloads.push_back({{"from_ms", to_milliseconds(reload.begin.time_since_epoch())},
                           {"to_ms", to_milliseconds(reload.end.time_since_epoch())}});
    }
    return reloads;
}

} // namespace avrek::cli
