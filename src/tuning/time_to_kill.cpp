#include <avrek/tuning/time_to_kill.h>
#include <avrek/vitals/vitals.h>

#include <cassert>

namespace avrek {

namespace {

// Hits until death, by the vitals' own rules; 0 when `most` hits do not kill.
std::int64_t hits_to_kill(const BodySpec& body, const Damage& hit, std::int64_t most) {
    Vitals vitals = full_vitals(body);
    std::vector<VitalsEvent> events;
    events.reserve(2);
    for (std::int64_t hits = 1; hits <= most; ++hits) {
        events.clear();
        apply_damage(vitals, hit, Time{}, events);
        if (vitals.life == LifeState::dead) {
            return hits;
        }
    }
    return 0;
}

Duration time_of_last_shot(const WeaponSpec& weapon, std::int64_t shots) {
    const std::int64_t reloads = (shots - 1) / weapon.magazine;
    const auto rest = static_cast<std::uint32_t>((shots - 1) % weapon.magazine);
    const Duration magazine =
        shot_offset(static_cast<std::uint32_t>(weapon.magazine), weapon.rounds_per_minute);
    return reloads * (magazine + weapon.reload_time) + shot_offset(rest, weapon.rounds_per_minute);
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
    assert(distance >= 0.0 && weapon.magazine >= 1);
    IdealKill kill;
    const Damage hit = hit_damage(weapon, distance, region_of(body.rig, region).name);
    kill.damage_per_hit = hit.amount();
    if (distance > weapon.range) {
        kill.verdict = KillVerdict::out_of_range;
        return kill;
    }
    if (kill.damage_per_hit <= 0.0) {
        kill.verdict = KillVerdict::no_damage;
        return kill;
    }
    const std::int64_t rounds = std::int64_t{weapon.magazine} + weapon.reserve;
    const std::int64_t shots = hits_to_kill(body, hit, rounds);
    if (shots == 0) {
        kill.verdict = KillVerdict::out_of_ammunition;
        return kill;
    }
    kill.shots = static_cast<std::int32_t>(shots);
    kill.reloads = static_cast<std::int32_t>((shots - 1) / weapon.magazine);
    kill.time = time_of_last_shot(weapon, shots);
    return kill;
}

} // namespace avrek
