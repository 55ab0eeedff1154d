#include "noises.h"

#include "../core/by_id.h"
#include <avrek/core/elementary.h>

#include <algorithm>
#include <cmath>
#include <utility>

namespace avrek::detail {

namespace {

constexpr unsigned kind_bits = 2;
constexpr unsigned yaw_bits = 6;
constexpr unsigned pitch_bits = 4;
constexpr double yaw_steps = 1U << yaw_bits;
constexpr double pitch_steps = 1U << pitch_bits;
constexpr Metres stride = 1.5;
constexpr Metres leap = 2.0; // between two snapshots: no walking
constexpr Metres above_feet = 1.0;

} // namespace

void write_noises(BitWriter& to, const std::vector<ToldNoise>& noises) {
    to.small(noises.size(), 1);
    for (const ToldNoise& noise : noises) {
        to.flag(noise.again);
        to.bits(static_cast<std::uint64_t>(noise.kind), kind_bits);
        if (noise.kind != NoiseKind::step) {
            to.bits(noise.weapon, 8);
        }
        to.bits(noise.yaw, yaw_bits);
        to.bits(noise.pitch, pitch_bits);
        to.bits(noise.loudness, 4);
    }
}

std::vector<ToldNoise> read_noises(BitReader& from) {
    std::vector<ToldNoise> noises;
    const std::uint64_t count = from.small(1);
    if (count > max_noises) {
        from.fail();
        return noises;
    }
    for (std::uint64_t index = 0; index < count && from.is_sound(); ++index) {
        ToldNoise noise;
        noise.again = from.flag();
        const std::uint64_t kind = from.bits(kind_bits);
        if (kind >= noise_kind_count) {
            from.fail();
            break;
        }
        noise.kind = static_cast<NoiseKind>(kind);
        if (noise.kind != NoiseKind::step) {
            noise.weapon = static_cast<std::uint8_t>(from.bits(8));
        }
        noise.yaw = static_cast<std::uint8_t>(from.bits(yaw_bits));
        noise.pitch = static_cast<std::uint8_t>(from.bits(pitch_bits));
        noise.loudness = static_cast<std::uint8_t>(from.bits(4));
        noises.push_back(noise);
    }
    return noises;
}

Noise noise_of(const ToldNoise& told, Time at) {
    const double yaw = (told.yaw + 0.5) * 2.0 * pi / yaw_steps;
    return {told.kind,
            optional_id<WeaponId>(told.weapon - 1),
            {yaw <= pi ? yaw : yaw - 2.0 * pi, (told.pitch + 0.5) * pi / pitch_steps - pi / 2.0},
            static_cast<double>(told.loudness) / max_loudness,
            at};
}

void NoiseFinder::explode(const Vector3& centre, std::optional<WeaponId> weapon, std::vector<BodyId> told) {
    std::sort(told.begin(), told.end());
    exploded_.push_back({nobody, NoiseKind::explosion, weapon, centre, std::move(told)});
}

void NoiseFinder::look(const Skirmish& fight) {
    std::swap(made_[0], made_[1]);
    made_[0].clear();
    std::swap(made_[0], exploded_);
    std::swap(known_, before_);
    known_.clear();
    for (const Fighter& fighter : fight.fighters()) {
        const Combatant& who = *fight.match().find(fighter.id);
        Heard now{fighter.id, fighter.shots, fighter.motion.position, 0.0};
        const Heard* before = find_by_id(before_, fighter.id);
        if (before != nullptr && who.vitals.life == LifeState::alive) {
            const Vector3 from = now.feet + Vector3{0.0, above_feet, 0.0};
            if (now.shots != before->shots) {
                const std::int32_t slot = who.loadout.in_hand;
                made_[0].push_back(
                    {now.id, NoiseKind::shot,
                     slot >= 0 ? who.loadout.slots[static_cast<std::size_t>(slot)].weapon : std::nullopt,
                     from});
            }
            const Vector3 way = now.feet - before->feet;
            const Metres far = std::sqrt(way.x() * way.x() + way.z() * way.z());
            const bool walks = !fighter.motion.airborne && !fighter.intent.buttons.has(Button::crouch);
            now.walked = before->walked + (walks && far < leap ? far : 0.0);
            if (now.walked >= stride) {
                now.walked -= stride;
                made_[0].push_back({now.id, NoiseKind::step, std::nullopt, from});
            }
        }
        known_.push_back(now);
    }
}

void NoiseFinder::tell(const Skirmish& fight, BodyId player, const InterestSettings& settings,
                       std::span<const BodyId> hidden, std::vector<ToldNoise>& told) const {
    for (const bool again : {false, true}) {
        for (const MadeNoise& noise : made_[again ? 1 : 0]) {
            const bool is_heard = noise.kind == NoiseKind::explosion
                                      ? !std::binary_search(noise.told.begin(), noise.told.end(), player)
                                      : std::binary_search(hidden.begin(), hidden.end(), noise.who);
            if (told.size() < max_noises && is_heard) {
                hear(fight, player, settings, noise, again, told);
            }
        }
    }
}

void NoiseFinder::hear(const Skirmish& fight, BodyId player, const InterestSettings& settings,
                       const MadeNoise& noise, bool again, std::vector<ToldNoise>& told) {
    const Metres reach = noise.kind == NoiseKind::shot   ? settings.hears_shots
                         : noise.kind == NoiseKind::step ? settings.hears_steps
                                                         : settings.hears_explosions;
    const Vector3 way = noise.from - fight.eye_of(player);
    const Metres far = std::sqrt(way.squaredNorm());
    if (far >= reach || far < 1e-3) {
        return;
    }
    const auto step = [](double share, double steps) {
        return static_cast<std::uint8_t>(std::clamp(std::floor(share * steps), 0.0, steps - 1.0));
    };
    const Look look = look_of(way);
    const double yaw = look.yaw < 0.0 ? look.yaw + 2.0 * pi : look.yaw;
    told.push_back({noise.kind,
                    static_cast<std::uint8_t>(
                        noise.weapon && to_index(*noise.weapon) < 255 ? to_index(*noise.weapon) + 1 : 0),
                    step(yaw / (2.0 * pi), yaw_steps), step(look.pitch / pi + 0.5, pitch_steps),
                    static_cast<std::uint8_t>(std::ceil(max_loudness * (1.0 - far / reach))), again});
}

} // namespace avrek::detail
