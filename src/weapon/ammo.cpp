#include <avrek/weapon/ammo.h>

#include <algorithm>
#include <cassert>

namespace avrek {

namespace {

Duration delay_of(const WeaponSpec& spec) {
    return spec.feed == AmmoFeed::heat ? spec.heat.delay : spec.cell.delay;
}

} // namespace

std::int32_t add_rounds(AmmoReserve& reserve, std::int32_t rounds, std::int32_t limit) {
    assert(rounds >= 0 && limit >= 0);
    const std::int32_t taken = std::clamp(limit - reserve.rounds, 0, rounds);
    reserve.rounds += taken;
    return rounds - taken;
}

std::int32_t capacity(const WeaponSpec& spec, const WeaponState& state) {
    switch (spec.feed) {
    case AmmoFeed::magazine:
        return spec.magazine + (spec.chamber && state.rounds > 0 ? 1 : 0);
    case AmmoFeed::cell:
        return spec.magazine;
    case AmmoFeed::reserve:
    case AmmoFeed::heat:
        break;
    }
    return 0;
}

std::int32_t rounds_at(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve,
                       Time at) {
    if (spec.supply == AmmoSupply::endless) {
        return endless_rounds;
    }
    switch (spec.feed) {
    case AmmoFeed::magazine:
        return state.rounds;
    case AmmoFeed::reserve:
        return spec.supply == AmmoSupply::counted ? reserve.rounds : endless_rounds;
    case AmmoFeed::cell: {
        const std::int64_t each = spec.cell.refill_time.count() / spec.magazine;
        const std::int64_t left = refill_left_at(spec, state, at).count();
        return spec.magazine - static_cast<std::int32_t>((left + each - 1) / each);
    }
    case AmmoFeed::heat:
        break;
    }
    return endless_rounds;
}

double heat_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    return spec.feed == AmmoFeed::heat
               ? to_seconds(refill_left_at(spec, state, at)) / to_seconds(spec.heat.cooling_time)
               : 0.0;
}

Time unlocked_at(const WeaponSpec& spec, const WeaponState& state) {
    return refilled_at(spec, state, from_seconds(spec.heat.unlocks_at * to_seconds(spec.heat.cooling_time)));
}

Time refilled_at(const WeaponSpec& spec, const WeaponState& state, Duration left) {
    return state.refill_left <= left ? state.last_shot
                                     : state.last_shot + delay_of(spec) + (state.refill_left - left);
}

Duration refill_left_at(const WeaponSpec& spec, const WeaponState& state, Time at) {
    if (state.refill_left == Duration::zero()) {
        return state.refill_left;
    }
    const Duration idle = std::max(at - state.last_shot - delay_of(spec), Duration::zero());
    return std::max(state.refill_left - idle, Duration::zero());
}

} // namespace avrek
