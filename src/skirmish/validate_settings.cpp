#include "../core/setting_faults.h"
#include <avrek/skirmish/skirmish.h>

#include <algorithm>
#include <span>
#include <string>
#include <utility>

namespace avrek {

namespace {

// Bodies may name any locomotion where all walk: tools do not have a game's own.
void check_locomotions(detail::SettingFaults& faults, const Arsenal& arsenal,
                       const Locomotions& locomotions) {
    std::string names;
    for (std::size_t index = 0; index < locomotions.size(); ++index) {
        const std::string where = "locomotions[" + std::to_string(index) + ']';
        if (locomotions[index] == nullptr) {
            faults.unless(false, where, "null", "a locomotion");
            return;
        }
        const std::string name{locomotions[index]->name()};
        const auto before = std::span{locomotions}.first(index);
        const bool is_new = std::none_of(before.begin(), before.end(),
                                         [&name](const Locomotion* one) { return one->name() == name; });
        faults.unless(!name.empty() && is_new, where, "named '" + name + '\'', "a name that no other has");
        names += (index > 0 ? ", '" : "'") + name + '\'';
    }
    for (const BodySpec& body : arsenal.bodies) {
        const std::string& wanted = body.movement.locomotion;
        const bool is_there = wanted.empty() || locomotions.empty() ||
                              std::any_of(locomotions.begin(), locomotions.end(),
                                          [&wanted](const Locomotion* one) { return one->name() == wanted; });
        faults.unless(is_there, "locomotions", "without '" + wanted + "' of body." + body.id,
                      "the locomotions that bodies name; there are " + names);
    }
}

} // namespace

std::vector<Diagnostic> validate(const Arsenal& arsenal, const SkirmishSettings& settings,
                                 const LevelPlan& plan) {
    detail::SettingFaults faults;
    faults.range("rate.hertz", settings.rate.hertz, 1, 1000);
    faults.id("rules", settings.rules, arsenal.matches);
    faults.range<std::size_t>("limits.combatants", settings.limits.combatants, 1, 65535);
    faults.range<std::size_t>("projectiles", settings.projectiles, 1, 1U << 20U);
    faults.range<std::size_t>("history_frames", settings.history_frames, 2, 1U << 16U);
    faults.range("snapshot_interval", settings.snapshot_interval, 0, 1000);
    faults.unless(settings.snapshot_interval == 0 || settings.snapshot_history >= 2, "snapshot_history",
                  std::to_string(settings.snapshot_history), "at least 2 with a snapshot_interval");
    faults.unless(settings.first_tick >= 0, "first_tick", std::to_string(settings.first_tick), "at least 0");
    for (const PlannedHazard& hazard : plan.hazards) {
        faults.id("plan.hazards", hazard.spec, arsenal.hazards);
    }
    for (const PlannedPickup& pickup : plan.pickups) {
        faults.id("plan.pickups", pickup.spec, arsenal.pickups);
    }
    faults.unless(plan.hazards.size() <= settings.limits.hazards, "limits.hazards",
                  std::to_string(settings.limits.hazards),
                  "at least the " + std::to_string(plan.hazards.size()) + " hazards of the plan");
    faults.unless(plan.pickups.size() <= settings.limits.pickups, "limits.pickups",
                  std::to_string(settings.limits.pickups),
                  "at least the " + std::to_string(plan.pickups.size()) + " pickups of the plan");
    check_locomotions(faults, arsenal, settings.locomotions);
    return std::move(faults.all);
}

} // namespace avrek
