#include "../core/words.h"
#include "fastest_plans.h"
#include "kill_in_flight.h"
#include <avrek/ballistics/lead.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/tuning/time_to_kill.h>
#include <avrek/vitals/hits.h>

#include <algorithm>
#include <cassert>
#include <optional>

namespace avrek {

namespace {

constexpr Duration longest_fight = std::chrono::hours{10'000};

std::optional<Duration> flight_of(const ProjectileSpec* projectile, Metres distance) {
    return projectile != nullptr ? flight_time(*projectile, distance) : std::optional{Duration::zero()};
}

} // namespace

std::string_view to_string(KillVerdict verdict) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"kills", "out of range", "no damage", "out of ammunition", "outlasted"});
    return detail::word_of(words, verdict);
}

std::string to_string(const IdealPlan& plan) {
    std::string text = plan.part_charges > 0 ? "part charge" : "hold";
    const auto counted = [](std::int32_t count, const std::string& what) {
        return count > 0 ? ", " + std::to_string(count) + ' ' + what + (count > 1 ? "s" : "") : std::string{};
    };
    text += counted(plan.reloads, "reload");
    text += plan.early_reloads > 0 ? ", " + std::to_string(plan.early_reloads) + " of them early" : "";
    text += plan.cut_reloads > 0 ? ", " + std::to_string(plan.cut_reloads) + " of them cut" : "";
    return text + counted(plan.pauses, "pause");
}

Duration since(const IdealKill& kill, TimeBase base) {
    assert(base != TimeBase::sight);
    switch (base) {
    case TimeBase::shot:
        return kill.time - kill.first_shot;
    case TimeBase::hit:
        return kill.time - kill.first_shot - kill.flight;
    case TimeBase::pull:
    case TimeBase::sight:
        break;
    }
    return kill.time;
}

ShotCourse shot_course(const WeaponSpec& weapon, std::size_t most) {
    ShotCourse course;
    std::int32_t reloads = 0;
    for (const WeaponEvent& event : fire_by_plan(weapon, {}, {}, longest_fight, most)) {
        if (event.kind == WeaponEventKind::shot) {
            course.first = course.shots.empty() ? event.at - Time{} : course.first;
            course.shots.push_back(event.at - Time{} - course.first);
            course.reloads.push_back(reloads);
        } else if (event.kind == WeaponEventKind::reload_finished) {
            ++reloads;
        }
    }
    return course;
}

IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile, ShotCourse& course) {
    return detail::fastest_kill(
               {weapon, target, distance, region, projectile, flight_of(projectile, distance)}, course)
        .kill;
}

FiringPlan ideal_plan(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                      const ProjectileSpec* projectile) {
    ShotCourse course;
    const detail::FastestKill fastest = detail::fastest_kill(
        {weapon, target, distance, region, projectile, flight_of(projectile, distance)}, course);
    FiringPlan plan{.kind = FiringPlanKind::intents, .name = to_string(fastest.kill.plan)};
    if (!fastest.steps.empty()) {
        plan.intents = detail::statements_of(weapon, fastest.steps);
    } else if (fastest.kill.verdict == KillVerdict::kills) {
        plan.intents =
            statements_of(weapon, {}, {}, longest_fight, static_cast<std::size_t>(fastest.kill.shots));
    }
    return plan;
}

IdealKill ideal_time_to_kill(const MeleeSpec& melee, const MeleeAttackSpec& attack, const Target& target,
                             Metres distance, RegionId region) {
    assert(distance >= 0.0);
    IdealKill result;
    const detail::Blow blow{strike_damage(melee, attack, target.body->rig, region), &attack.effect};
    result.damage_per_hit = blow.amount();
    if (distance > attack.reach + attack.thrust) {
        result.verdict = KillVerdict::out_of_range;
    } else if (blow.amount() <= 0.0 && !detail::leaves_condition(target, attack.effect)) {
        result.verdict = KillVerdict::no_damage;
    } else {
        ShotCourse course;
        return detail::kill_by_course(target, blow, course, detail::max_hits, [&](std::size_t most) {
            ShotCourse more{.first = attack.windup + attack.active / 2};
            for (std::size_t strike = 0; strike < most; ++strike) {
                more.shots.push_back(static_cast<Duration::rep>(strike) * length_of(attack));
                more.reloads.push_back(0);
            }
            return more;
        });
    }
    return result;
}

IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile) {
    ShotCourse course;
    return ideal_time_to_kill(weapon, target, distance, region, projectile, course);
}

IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const BodySpec& body, Metres distance, RegionId region,
                             const ProjectileSpec* projectile) {
    return ideal_time_to_kill(weapon, Target{.body = &body}, distance, region, projectile);
}

} // namespace avrek
