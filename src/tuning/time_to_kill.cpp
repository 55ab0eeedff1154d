#include "kill_in_flight.h"
#include <avrek/ballistics/lead.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/tuning/time_to_kill.h>
#include <avrek/vitals/vitals.h>

#include <algorithm>
#include <cassert>
#include <optional>

namespace avrek {

namespace {

constexpr std::size_t first_shots = 32;
constexpr std::size_t shots_to_outlast = 1'000;
constexpr Duration longest_fight = std::chrono::hours{10'000};
constexpr Duration longest_agony = std::chrono::minutes{1};

// What each shot of a weapon that is fired as fast as it can be is worth.
double full_power(const WeaponSpec& weapon) {
    return weapon.modes.front() == TriggerMode::charge ? charge_power(weapon.charge, weapon.charge.full)
                                                       : 1.0;
}

// Health and points of layers together.
double substance(const BodySpec& body, const Vitals& vitals) {
    double sum = vitals.health;
    for (std::size_t layer = 0; layer < body.layers.size(); ++layer) {
        sum += layer_points(body, vitals, layer);
    }
    return sum;
}

// What comes to a target each time.
struct Blow {
    Damage hit;
    const EffectSpec& effect;
    std::int32_t pellets = 1;
    Damage blast{};
    const EffectSpec* blast_effect = nullptr;
    Duration flight{};
};

// A target that blows come to.
struct Course {
    const Target& target;
    const Blow& blow;
    Vitals vitals;
    std::vector<VitalsEvent> events{};

    bool is_dead() const { return vitals.life == LifeState::dead; }

    void come(Duration left) {
        const Time at = Time{} + left + blow.flight;
        events.clear();
        advance(target.conditions, *target.body, vitals, at, events);
        const double dealt = dealt_at(target, Time{} + blow.flight, at);
        // It may have died before this one came.
        for (std::int32_t pellet = 0; pellet < blow.pellets && !is_dead(); ++pellet) {
            take(blow.hit, blow.effect, dealt, at);
            if (blow.blast_effect != nullptr) {
                take(blow.blast, *blow.blast_effect, dealt, at);
            }
        }
    }

    void take(const Damage& damage, const EffectSpec& effect, double dealt, Time at) {
        take_hit(target.conditions, *target.body, vitals, hit_on(target, damage, effect, dealt), at, events);
    }

    Duration death() const {
        const auto died = std::find_if(events.begin(), events.end(), [](const VitalsEvent& event) {
            return event.kind == VitalsEventKind::died;
        });
        return died->at - Time{};
    }
};

// The number of shots that have left until `at`, of the first `count`.
std::size_t shots_until(const ShotCourse& course, std::size_t count, Duration at) {
    const auto begin = course.shots.begin();
    return static_cast<std::size_t>(std::upper_bound(begin, begin + static_cast<std::ptrdiff_t>(count), at) -
                                    begin);
}

void kill(IdealKill& result, const ShotCourse& course, std::size_t shots, Duration at) {
    result.verdict = KillVerdict::kills;
    result.shots = static_cast<std::int32_t>(shots);
    result.reloads = course.reloads[shots - 1];
    result.time = at;
}

// `more` gives the first so many blows of the course.
template <class More>
void run(IdealKill& result, const Target& target, const Blow& blow, ShotCourse& course, std::size_t max_shots,
         const More& more) {
    Course fight{target, blow, vitals_of(target, Time{} + blow.flight)};
    double before = substance(*target.body, fight.vitals);
    const auto pellets = static_cast<std::size_t>(blow.pellets);
    for (std::size_t shot = 0; shot < max_shots && shot * pellets < max_hits; ++shot) {
        if (shot == course.shots.size()) {
            course = more(std::max(first_shots, 4 * shot));
        }
        if (shot == course.shots.size()) {
            break; // nothing is left to fire
        }
        fight.come(course.shots[shot]);
        if (fight.is_dead()) {
            const Duration death = fight.death();
            const bool by_this = death >= course.shots[shot] + blow.flight;
            kill(result, course, by_this ? shot + 1 : shots_until(course, shot, death - blow.flight), death);
            return;
        }
        if (shot % shots_to_outlast == shots_to_outlast - 1) {
            const double now = substance(*target.body, fight.vitals);
            if (now >= before) {
                const bool hurts = fight.vitals.last_hurt != Time::min();
                result.verdict = hurts ? KillVerdict::outlasted : KillVerdict::no_damage;
                return;
            }
            before = now;
        }
    }
    fight.events.clear();
    advance(target.conditions, *target.body, fight.vitals, fight.vitals.now + longest_agony, fight.events);
    if (fight.is_dead()) {
        kill(result, course, course.shots.size(), fight.death());
    } else {
        const bool hurts = fight.vitals.last_hurt != Time::min();
        result.verdict = hurts ? KillVerdict::out_of_ammunition : KillVerdict::no_damage;
    }
}

bool leaves_condition(const Target& target, const EffectSpec& effect) {
    return effect.condition.index >= 0 && !target.conditions.empty();
}

} // namespace

std::string_view to_string(KillVerdict verdict) {
    switch (verdict) {
    case KillVerdict::kills:
        return "kills";
    case KillVerdict::out_of_range:
        return "out of range";
    case KillVerdict::no_damage:
        return "no damage";
    case KillVerdict::out_of_ammunition:
        return "out of ammunition";
    case KillVerdict::outlasted:
        return "outlasted";
    }
    return "unknown";
}

ShotCourse shot_course(const WeaponSpec& weapon, std::size_t most) {
    ShotCourse course;
    std::int32_t reloads = 0;
    Time first{};
    for (const WeaponEvent& event : fire_by_plan(weapon, {}, {}, longest_fight, most)) {
        if (event.kind == WeaponEventKind::shot) {
            first = course.shots.empty() ? event.at : first;
            course.shots.push_back(event.at - first);
            course.reloads.push_back(reloads);
        } else if (event.kind == WeaponEventKind::reload_finished) {
            ++reloads;
        }
    }
    return course;
}

IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                             const ProjectileSpec* projectile, ShotCourse& course) {
    const std::optional<Duration> flight =
        projectile != nullptr ? flight_time(*projectile, distance) : std::optional{Duration::zero()};
    return kill_in_flight(weapon, target, distance, region, projectile, flight, course);
}

IdealKill kill_in_flight(const WeaponSpec& weapon, const Target& target, Metres distance, RegionId region,
                         const ProjectileSpec* projectile, std::optional<Duration> flight, ShotCourse& course,
                         std::size_t max_shots) {
    assert(distance >= 0.0);
    IdealKill result;
    const double power = full_power(weapon);
    Blow blow{hit_damage(weapon, distance, region_of(target.body->rig, region).name, power), weapon.effect,
              weapon.pellets};
    blow.flight = flight.value_or(Duration::zero());
    if (projectile != nullptr && projectile->blast.radius > 0.0) {
        blow.blast = blast_damage(projectile->blast, {.distance = projectile->radius, .power = power});
        blow.blast_effect = &projectile->blast.effect;
    }
    result.damage_per_hit = blow.hit.amount() + blow.blast.amount();
    if (distance > weapon.range || !flight) {
        result.verdict = KillVerdict::out_of_range;
    } else if (result.damage_per_hit <= 0.0 && !leaves_condition(target, weapon.effect)) {
        result.verdict = KillVerdict::no_damage;
    } else {
        run(result, target, blow, course, max_shots,
            [&](std::size_t most) { return shot_course(weapon, most); });
    }
    return result;
}

IdealKill ideal_time_to_kill(const MeleeSpec& melee, const MeleeAttackSpec& attack, const Target& target,
                             Metres distance, RegionId region) {
    assert(distance >= 0.0);
    IdealKill result;
    const Blow blow{strike_damage(melee, attack, region_of(target.body->rig, region).name), attack.effect};
    result.damage_per_hit = blow.hit.amount();
    if (distance > attack.reach + attack.thrust) {
        result.verdict = KillVerdict::out_of_range;
    } else if (result.damage_per_hit <= 0.0 && !leaves_condition(target, attack.effect)) {
        result.verdict = KillVerdict::no_damage;
    } else {
        ShotCourse course;
        run(result, target, blow, course, max_hits, [&](std::size_t most) {
            ShotCourse more;
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
