#include "kill_in_flight.h"

#include <avrek/vitals/vitals.h>

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek::detail {

namespace {

constexpr std::size_t first_shots = 32;
constexpr std::size_t shots_to_outlast = 1'000;
constexpr Duration longest_agony = std::chrono::minutes{1};

// Power of each shot of a weapon that is fired by holding.
double full_power(const WeaponSpec& weapon) {
    return weapon.modes.front() == TriggerMode::charge ? charge_power(weapon.charge, weapon.charge.full)
                                                       : 1.0;
}

// The number of shots that have left until `at`, of the first `count`.
std::size_t shots_until(const ShotCourse& course, std::size_t count, Duration at) {
    const auto begin = course.shots.begin();
    return static_cast<std::size_t>(std::upper_bound(begin, begin + static_cast<std::ptrdiff_t>(count), at) -
                                    begin);
}

KillVerdict verdict_on(const Victimised& target, KillVerdict if_hurt) {
    return target.vitals().last_hurt != Time::min() ? if_hurt : KillVerdict::no_damage;
}

} // namespace

bool leaves_condition(const Target& target, const EffectSpec& effect) {
    return effect.condition.spec && !target.conditions.empty();
}

Blow KillTrial::blow(double power) const {
    Blow blow{hit_damage(weapon, distance, target.body->rig, region, power), &weapon.effect, weapon.pellets};
    blow.flight = flight.value_or(Duration::zero());
    if (projectile != nullptr && projectile->blast.radius > 0.0) {
        blow.blast = blast_damage(projectile->blast, {.distance = projectile->radius, .power = power});
        blow.blast_effect = &projectile->blast.effect;
    }
    return blow;
}

Victimised::Victimised(const Target& target, Time first, Duration flight)
    : target_(&target), began_(first + flight), vitals_(vitals_of(target, first + flight)) {}

void Victimised::come(const Blow& blow, Time left) {
    const Time at = left + blow.flight;
    wait(at);
    const double dealt = dealt_at(*target_, began_, at);
    const auto take = [&](const Damage& damage, const EffectSpec& effect) {
        take_hit({target_->conditions, *target_->body, vitals_}, hit_on(*target_, damage, effect, dealt), at,
                 events_);
    };
    // It may have died before this one came.
    for (std::int32_t pellet = 0; pellet < blow.pellets && !is_dead(); ++pellet) {
        take(blow.hit, *blow.effect);
        if (blow.blast_effect != nullptr) {
            take(blow.blast, *blow.blast_effect);
        }
    }
    find_death();
}

void Victimised::wait(Time until) {
    events_.clear();
    advance({target_->conditions, *target_->body, vitals_}, std::max(until, vitals_.now), events_);
    find_death();
}

void Victimised::find_death() {
    for (const VitalsEvent& event : events_) {
        const auto* death = std::get_if<DeathEvent>(&event);
        death_ = death != nullptr ? death->at : death_;
    }
}

double Victimised::substance() const {
    double sum = vitals_.health;
    for (std::size_t layer = 0; layer < target_->body->defence.size(); ++layer) {
        sum += defence_points(*target_->body, vitals_, layer);
    }
    return sum;
}

IdealKill kill_by_course(const Target& target, const Blow& blow, ShotCourse& course, std::size_t max_shots,
                         const std::function<ShotCourse(std::size_t)>& more) {
    IdealKill result;
    result.damage_per_hit = blow.amount();
    result.flight = blow.flight;
    if (course.shots.empty()) {
        course = more(first_shots);
    }
    const Time first = Time{} + course.first;
    Victimised fight{target, first, blow.flight};
    const auto kill = [&](std::size_t shots) {
        result.verdict = KillVerdict::kills;
        result.shots = static_cast<std::int32_t>(shots);
        result.plan.reloads = course.reloads[shots - 1];
        result.first_shot = course.first;
        result.time = fight.death() - Time{};
    };
    double before = fight.substance();
    const auto pellets = static_cast<std::size_t>(blow.pellets);
    for (std::size_t shot = 0; shot < max_shots && shot * pellets < max_hits; ++shot) {
        if (shot == course.shots.size()) {
            course = more(4 * shot);
        }
        if (shot == course.shots.size()) {
            break; // nothing is left to fire
        }
        fight.come(blow, first + course.shots[shot]);
        if (fight.is_dead()) {
            const Duration death = fight.death() - first - blow.flight;
            kill(death >= course.shots[shot] ? shot + 1 : shots_until(course, shot, death));
            return result;
        }
        if (shot % shots_to_outlast == shots_to_outlast - 1) {
            const double now = fight.substance();
            if (now >= before) {
                result.verdict = verdict_on(fight, KillVerdict::outlasted);
                return result;
            }
            before = now;
        }
    }
    fight.wait(fight.vitals().now + longest_agony);
    if (fight.is_dead() && !course.shots.empty()) {
        kill(std::min(course.shots.size(), max_shots));
    } else {
        result.verdict = verdict_on(fight, KillVerdict::out_of_ammunition);
    }
    return result;
}

IdealKill kill_by_holding(const KillTrial& trial, ShotCourse& course, std::size_t max_shots) {
    assert(trial.distance >= 0.0);
    const Blow blow = trial.blow(full_power(trial.weapon));
    IdealKill result;
    result.damage_per_hit = blow.amount();
    if (trial.distance > trial.weapon.range || !trial.flight) {
        result.verdict = KillVerdict::out_of_range;
    } else if (blow.amount() <= 0.0 && !leaves_condition(trial.target, trial.weapon.effect)) {
        result.verdict = KillVerdict::no_damage;
    } else {
        return kill_by_course(trial.target, blow, course, max_shots, [&](std::size_t most) {
            ShotCourse longer = shot_course(trial.weapon, most);
            longer.faster = course.faster;
            return longer;
        });
    }
    return result;
}

} // namespace avrek::detail
