#include <avrek/core/random.h>
#include <avrek/weapon/aim.h>
#include <avrek/weapon/recoil.h>

namespace avrek {

Look kick_of_step(const RecoilSpec& recoil, std::uint32_t step) {
    const auto size = static_cast<std::uint32_t>(recoil.pattern.size());
    if (size == 0) {
        return {};
    }
    const auto loop = static_cast<std::uint32_t>(recoil.loop_from);
    return recoil.pattern[step < size ? step : loop + (step - loop) % (size - loop)];
}

Look kick_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    const RecoilSpec& recoil = spec.recoil;
    const bool rested = state.shots == 0 || at - state.last_shot >= recoil.reset_delay;
    Look kick = kick_of_step(recoil, rested ? 0 : state.recoil_step);
    if (recoil.jitter != Look{}) {
        const auto [u, v] = random_pair({state.kick_seed, 0, RandomPurpose::recoil, state.shots, 0});
        kick.yaw += (2.0 * u - 1.0) * recoil.jitter.yaw;
        kick.pitch += (2.0 * v - 1.0) * recoil.jitter.pitch;
    }
    const double factor = blended(1.0, recoil.aimed, aim_blend_at(spec, state, at)) *
                          (state.crouching ? recoil.crouching : 1.0);
    return {kick.yaw * factor, kick.pitch * factor};
}

Look kept_kick(const WeaponSpec& spec, const WeaponEvent& shot) {
    const double kept = 1.0 - spec.recoil.recovery_share;
    return {shot.kick.yaw * kept, shot.kick.pitch * kept};
}

Look view_kick_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    if (state.return_yaw == 0.0F && state.return_pitch == 0.0F) {
        return {};
    }
    const double left = share_left(spec.recoil.recovery, at - state.last_shot);
    return {state.return_yaw * left, state.return_pitch * left};
}

double gun_kick_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    const Duration since = at - state.last_shot;
    if (state.shots == 0 || since >= spec.recoil.gun_kick) {
        return 0.0;
    }
    const double left = 1.0 - to_seconds(since) / to_seconds(spec.recoil.gun_kick);
    return left * left;
}

} // namespace avrek
