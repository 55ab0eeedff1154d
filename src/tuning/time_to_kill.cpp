#include <avrek/ballistics/lead.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/tuning/time_to_kill.h>
#include <avrek/vitals/vitals.h>

#include <cassert>
#include <optional>

namespace avrek {

namespace {

constexpr std::int64_t most_hits = 100'000;
constexpr Duration longest_fight = std::chrono::hours{10'000};

// Hits until death, by the vitals' own rules; 0 when a hundred thousand do not kill.
std::int64_t hits_to_kill(const BodySpec& body, const Damage& hit, const Damage& blast) {
    Vitals vitals = full_vitals(body);
    std::vector<VitalsEvent> events;
    events.reserve(4);
    for (std::int64_t hits = 1; hits <= most_hits; ++hits) {
        events.clear();
        apply_damage(vitals, hit, Time{}, events);
        apply_damage(vitals, blast, Time{}, events);
        if (vitals.life == LifeState::dead) {
            return hits;
        }
    }
    return 0;
}

// What a blast takes from what its projectile, of `radius`, has hit.
Damage blast_of(const BlastSpec& spec, Metres radius, double power) {
    return spec.radius > 0.0
               ? blast_damage(spec.damage * power * value_at(spec.falloff, radius / spec.radius))
               : Damage{};
}

// What each shot of a weapon that is fired as fast as it can be is worth.
double full_power(const WeaponSpec& weapon) {
    return weapon.modes.front() == TriggerMode::charge ? charge_power(weapon.charge, weapon.charge.full)
                                                       : 1.0;
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
    }
    return "unknown";
}

IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const BodySpec& body, Metres distance, RegionId region,
                             const ProjectileSpec* projectile) {
    assert(distance >= 0.0);
    IdealKill kill;
    const Damage hit = hit_damage(weapon, distance, region_of(body.rig, region).name, full_power(weapon));
    const Damage blast = projectile != nullptr
                             ? blast_of(projectile->blast, projectile->radius, full_power(weapon))
                             : Damage{};
    kill.damage_per_hit = hit.amount() + blast.amount();
    const std::optional<Duration> flight =
        projectile != nullptr ? flight_time(*projectile, distance) : std::optional{Duration::zero()};
    if (distance > weapon.range || !flight) {
        kill.verdict = KillVerdict::out_of_range;
        return kill;
    }
    if (kill.damage_per_hit <= 0.0) {
        kill.verdict = KillVerdict::no_damage;
        return kill;
    }
    const std::int64_t hits = hits_to_kill(body, hit, blast);
    const auto shots = static_cast<std::size_t>((hits + weapon.pellets - 1) / weapon.pellets);
    const std::vector<WeaponEvent> events = fire_by_plan(weapon, {}, {}, longest_fight, shots);
    std::vector<Time> shot_times;
    for (const WeaponEvent& event : events) {
        if (event.kind == WeaponEventKind::shot) {
            shot_times.push_back(event.at);
        } else if (event.kind == WeaponEventKind::reload_finished) {
            ++kill.reloads;
        }
    }
    if (hits == 0 || shot_times.size() < shots) {
        kill.verdict = KillVerdict::out_of_ammunition;
        kill.reloads = 0;
        return kill;
    }
    kill.shots = static_cast<std::int32_t>(shots);
    kill.time = shot_times.back() - shot_times.front() + *flight;
    return kill;
}

} // namespace avrek
