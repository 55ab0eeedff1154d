#include <avrek/tuning/firing_plan.h>
#include <avrek/tuning/time_to_kill.h>
#include <avrek/vitals/vitals.h>

#include <cassert>

namespace avrek {

namespace {

constexpr std::int64_t most_hits = 100'000;
constexpr Duration longest_fight = std::chrono::hours{10'000};

// Hits until death, by the vitals' own rules; 0 when a hundred thousand do not kill.
std::int64_t hits_to_kill(const BodySpec& body, const Damage& hit) {
    Vitals vitals = full_vitals(body);
    std::vector<VitalsEvent> events;
    events.reserve(2);
    for (std::int64_t hits = 1; hits <= most_hits; ++hits) {
        events.clear();
        apply_damage(vitals, hit, Time{}, events);
        if (vitals.life == LifeState::dead) {
            return hits;
        }
    }
    return 0;
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

IdealKill ideal_time_to_kill(const WeaponSpec& weapon, const BodySpec& body, Metres distance,
                             RegionId region) {
    assert(distance >= 0.0);
    IdealKill kill;
    const Damage hit = hit_damage(weapon, distance, region_of(body.rig, region).name, full_power(weapon));
    kill.damage_per_hit = hit.amount();
    if (distance > weapon.range) {
        kill.verdict = KillVerdict::out_of_range;
        return kill;
    }
    if (kill.damage_per_hit <= 0.0) {
        kill.verdict = KillVerdict::no_damage;
        return kill;
    }
    const std::int64_t hits = hits_to_kill(body, hit);
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
    kill.time = shot_times.back() - shot_times.front();
    return kill;
}

} // namespace avrek
