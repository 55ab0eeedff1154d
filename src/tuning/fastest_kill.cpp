#include "fastest_plans.h"
#include "kill_in_flight.h"

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr std::size_t max_shots_tried = 256; // against targets that change by themselves

// Whether plans with so many shots can differ from holding by more than nothing.
bool can_be_faster(const WeaponSpec& weapon, const IdealKill& held) {
    if (held.verdict != KillVerdict::kills) {
        return held.verdict == KillVerdict::outlasted || held.verdict == KillVerdict::out_of_ammunition;
    }
    if (weapon.supply == AmmoSupply::endless) {
        return false;
    }
    switch (weapon.feed) {
    case AmmoFeed::magazine:
        return held.plan.reloads > 0;
    case AmmoFeed::heat:
        return held.shots * weapon.heat.per_shot > 1.0 - 1e-6;
    case AmmoFeed::cell:
        return std::int64_t{held.shots} * weapon.rounds_per_shot > weapon.magazine;
    case AmmoFeed::reserve:
        break;
    }
    return false;
}

// Whether the number of hits is not all that matters.
bool changes_by_itself(const KillTrial& trial) {
    const Target& target = trial.target;
    const bool layers =
        std::any_of(target.body->defence.begin(), target.body->defence.end(),
                    [](const DefenceLayerSpec& layer) { return layer.refill > 0.0 || layer.decay > 0.0; });
    return layers || target.guard || !target.with.empty() || !target.attacker_with.empty() ||
           leaves_condition(target, trial.weapon.effect) ||
           (trial.projectile != nullptr && leaves_condition(target, trial.projectile->blast.effect));
}

} // namespace

FastestKill fastest_kill(const KillTrial& trial, ShotCourse& course) {
    FastestKill fastest{kill_by_holding(trial, course), {}};
    const IdealKill held = fastest.kill;
    if (trial.weapon.modes.front() == TriggerMode::charge) {
        return fastest_charged_kill(trial, held);
    }
    if (!can_be_faster(trial.weapon, held)) {
        return fastest;
    }
    if (course.faster == nullptr) {
        course.faster = std::make_shared<FastestPlans>(trial.weapon);
    }
    FastestPlans& plans = *course.faster;
    const bool kills = held.verdict == KillVerdict::kills;
    const bool changes = changes_by_itself(trial);
    if (!kills && !changes) {
        return fastest;
    }
    const std::size_t least = changes ? 1 : static_cast<std::size_t>(held.shots);
    const std::size_t most = changes ? max_shots_tried : least;
    const Blow blow = trial.blow(1.0);
    for (std::size_t shots = least; shots <= most && plans.reaches(shots); ++shots) {
        const bool is_late = fastest.kill.verdict == KillVerdict::kills &&
                             plans.time_of(shots) + blow.flight >= fastest.kill.time;
        if (is_late) {
            break;
        }
        FastestPlan plan = plans.plan(shots);
        const IdealKill kill =
            kill_by_course(trial.target, blow, plan.course, shots, [&](std::size_t) { return plan.course; });
        const bool first = fastest.kill.verdict != KillVerdict::kills;
        if (kill.verdict == KillVerdict::kills && (first || kill.time < fastest.kill.time)) {
            fastest.kill = kill;
            fastest.kill.plan = plan.summary;
            fastest.steps = std::move(plan.steps);
        }
    }
    return fastest;
}

} // namespace avrek::detail
