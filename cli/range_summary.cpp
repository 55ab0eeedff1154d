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

std::string range_summary(const WeaponSpec& weapon, const BodySpec& body, const RangeSetup& setup,
                          const RangeTrial& trial) {
    std::string text = fmt::format("{} at {}, aimed at the {}, {} m, {:g} s, seed {}\n", weapon.id, body.id,
                                   region_of(body.rig, setup.aim).name, setup.distance,
                                   to_seconds(setup.length), setup.seed);
    if (trial.shots.empty()) {
        return text + "no shot left\n";
    }
    text += fmt::format("{} shot{}: {}\n", trial.shots.size(), trial.shots.size() == 1 ? "" : "s",
                        hit_counts(body, trial));
    for (const WeaponEvent& event : trial.weapon_events) {
        if (event.kind == WeaponEventKind::reload_started) {
            text += fmt::format("reload from {:.3f} s to {:.3f} s\n", seconds_at(event.at),
                                seconds_at(event.until));
        }
    }
    return text + (trial.death ? fmt::format("dead at {:.3f} s, by shot {}\n", seconds_at(*trial.death),
                                             trial.shots_to_death)
                               : fmt::format("alive, with {:.1f} of {} health\n",
                                             trial.shots.back().health_left, body.health));
}

nlohmann::ordered_json reload_json(const RangeTrial& trial) {
    nlohmann::ordered_json reloads = nlohmann::ordered_json::array();
    for (const WeaponEvent& event : trial.weapon_events) {
        if (event.kind == WeaponEventKind::reload_started) {
            reloads.push_back({{"from_ms", to_milliseconds(event.at.time_since_epoch())},
                               {"to_ms", to_milliseconds(event.until.time_since_epoch())}});
        }
    }
    return reloads;
}

} // namespace avrek::cli
