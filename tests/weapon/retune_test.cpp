#include "../rounds.h"
#include "weapon_rig.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/weapon/aim.h>
#include <avrek/weapon/readout.h>
#include <avrek/weapon/retune.h>

namespace avrek {
namespace {

// A weapon that is used for a while by chance.
Rig used(Chance& chance, const WeaponSpec& spec) {
    Rig rig{spec};
    rig.reserve.rounds = std::min(rig.reserve.rounds, spec.carry_limit);
    const Time end{from_seconds(chance.between(0.05, 2.5))};
    rig.run(chance.intents(end, 250'000'000), {64}, end);
    return rig;
}

// Another weapon, or the same with some values of another.
WeaponSpec changed(Chance& chance, const WeaponSpec& spec) {
    const WeaponSpec other = chance.weapon();
    if (chance.one_in(4)) {
        return other;
    }
    WeaponSpec made = spec;
    made.rounds_per_minute = chance.one_in(2) ? other.rounds_per_minute : made.rounds_per_minute;
    made.burst = chance.one_in(4) ? other.burst : made.burst;
    made.charge = chance.one_in(3) ? other.charge : made.charge;
    made.spin = chance.one_in(3) ? other.spin : made.spin;
    made.magazine = chance.one_in(2) ? other.magazine : made.magazine;
    made.chamber = chance.one_in(4) ? other.chamber : made.chamber;
    made.heat = chance.one_in(3) ? other.heat : made.heat;
    made.cell = chance.one_in(3) ? other.cell : made.cell;
    made.reload = chance.one_in(3) ? other.reload : made.reload;
    made.spread = chance.one_in(3) ? other.spread : made.spread;
    made.recoil = chance.one_in(3) ? other.recoil : made.recoil;
    made.aim = chance.one_in(3) ? other.aim : made.aim;
    made.handling = chance.one_in(3) ? other.handling : made.handling;
    made.carry_limit = chance.one_in(3) ? chance.whole(0, 500) : made.carry_limit;
    return made;
}

bool counts(const WeaponSpec& spec) {
    return spec.supply == AmmoSupply::counted &&
           (spec.feed == AmmoFeed::magazine || spec.feed == AmmoFeed::reserve);
}

void expect_allowed(const WeaponSpec& spec, const WeaponState& state, const AmmoReserve& reserve) {
    ASSERT_LT(state.mode, spec.modes.size());
    ASSERT_LE(state.burst_left, spec.burst.shots);
    ASSERT_GE(reserve.rounds, 0);
    ASSERT_GE(state.rounds, 0);
    if (spec.feed == AmmoFeed::magazine) {
        ASSERT_LE(state.rounds, capacity(spec, state));
    }
    const WeaponReadout shown = readout(spec, state, reserve);
    ASSERT_GE(shown.rounds, 0);
    for (const double share :
         {shown.reload_progress, shown.heat, shown.charge, shown.spin, shown.aim_blend, shown.accuracy}) {
        ASSERT_GE(share, 0.0);
        ASSERT_LE(share, 1.0);
    }
    ASSERT_TRUE(state.recoil_step == 0 || state.recoil_step < spec.recoil.pattern.size());
    ASSERT_TRUE(!is_reloading(state) || spec.feed == AmmoFeed::magazine);
}

// The shares that a state keeps, where both specs have them.
void expect_same_shares(const Rig& before, const WeaponSpec& is, const WeaponState& state) {
    const WeaponSpec& was = before.spec;
    const Time now = state.now;
    if (was.aim.in > Duration{} && was.aim.out > Duration{} && is.aim.in > Duration{} &&
        is.aim.out > Duration{}) {
        const double step = 2e-9 / to_seconds(std::min(is.aim.in, is.aim.out)); // times are whole ns
        ASSERT_NEAR(aim_blend_at(is, state, now), aim_blend_at(was, before.state, now), step);
    }
    if (was.feed == AmmoFeed::heat && is.feed == AmmoFeed::heat) {
        ASSERT_NEAR(heat_at(is, state, now), heat_at(was, before.state, now), 1e-6);
    }
    if (mode_of(was, before.state) == TriggerMode::spin_up && mode_of(is, state) == TriggerMode::spin_up) {
        ASSERT_NEAR(spin_at(is, state, now), spin_at(was, before.state, now), 1e-6);
    }
    if (was.feed == AmmoFeed::cell && is.feed == AmmoFeed::cell && was.magazine == is.magazine &&
        was.supply == is.supply) {
        ASSERT_EQ(rounds_at(is, state, {}, now), rounds_at(was, before.state, {}, now));
    }
    if (before.state.cadence_shots > 0 && now < before.state.next_shot) {
        const double left = to_seconds(before.state.next_shot - now) /
                            to_seconds(shot_offset(1, was.rounds_per_minute * before.state.rate_share));
        const Duration interval = shot_offset(1, is.rounds_per_minute * state.rate_share);
        ASSERT_NEAR(to_seconds(state.next_shot - now), left * to_seconds(interval), 4e-9);
    }
}

TEST(Retune, ConservesRoundsAndSharesAndAllowsWhatTheNewValuesAllow) {
    Chance chance{std::mt19937_64{41}};
    int moved = 0;
    int lost = 0;
    int reloading = 0;
    int cancelled = 0;
    int fallen_back = 0;
    const int trials = rounds(4000, "AVREK_RETUNE_TRIALS");
    for (int trial = 0; trial < trials; ++trial) {
        const Rig before = used(chance, chance.weapon());
        const WeaponSpec is = changed(chance, before.spec);
        WeaponState state = before.state;
        AmmoReserve reserve = before.reserve;
        std::vector<WeaponEvent> events;
        retune(before.spec, is, state, reserve, events);
        ASSERT_NO_FATAL_FAILURE(expect_allowed(is, state, reserve)) << "trial " << trial;
        ASSERT_NO_FATAL_FAILURE(expect_same_shares(before, is, state)) << "trial " << trial;
        std::int32_t gone = 0;
        for (const WeaponEvent& event : events) {
            ASSERT_EQ(event.at, state.now);
            gone += event.kind == WeaponEventKind::retuned ? event.discarded : 0;
            moved += event.kind == WeaponEventKind::retuned && event.moved != 0 ? 1 : 0;
            cancelled += event.kind == WeaponEventKind::reload_cancelled ? 1 : 0;
            fallen_back += event.kind == WeaponEventKind::mode_changed ? 1 : 0;
        }
        if (counts(before.spec) && counts(is)) {
            ASSERT_EQ(before.state.rounds + before.reserve.rounds, state.rounds + reserve.rounds + gone);
        }
        lost += gone > 0 ? 1 : 0;
        reloading += is_reloading(before.state) ? 1 : 0;
        ASSERT_EQ(events.empty(), state == before.state && reserve == before.reserve);
        // It goes on, at any tick rate the same, and fires no faster than the faster of both.
        Rig next{is, state, reserve};
        Rig cut{is, state, reserve};
        const Time end = state.now + std::chrono::seconds{1};
        std::vector<WeaponIntent> intents = chance.intents(end, 150'000'000);
        std::erase_if(intents, [&](const WeaponIntent& one) { return one.at < state.now; });
        next.run(intents, {1}, end);
        cut.run(intents, {77}, end);
        ASSERT_EQ(cut.events, next.events) << "trial " << trial;
        const std::vector<WeaponEvent> shots = next.of(WeaponEventKind::shot);
        if (!shots.empty() && before.state.shots > 0) {
            const auto fastest = [](const WeaponSpec& spec) {
                return std::min(shot_offset(1, spec.rounds_per_minute), spec.burst.gap);
            };
            ASSERT_GE(shots.front().at - before.state.last_shot + Duration{2},
                      std::min(fastest(before.spec), fastest(is)));
        }
    }
    for (const int seen : {moved, lost, reloading, cancelled, fallen_back}) {
        EXPECT_GT(seen, trials / 400);
    }
}

TEST(Retune, ToTheSameValuesChangesNothingAndThereAndBackLittle) {
    Chance chance{std::mt19937_64{42}};
    for (int trial = 0; trial < rounds(2000); ++trial) {
        const Rig before = used(chance, chance.weapon());
        WeaponState state = before.state;
        AmmoReserve reserve = before.reserve;
        std::vector<WeaponEvent> events;
        retune(before.spec, before.spec, state, reserve, events);
        ASSERT_EQ(state, before.state);
        ASSERT_EQ(reserve, before.reserve);
        ASSERT_TRUE(events.empty());
        WeaponSpec slower = before.spec;
        slower.rounds_per_minute *= chance.between(0.3, 3.0);
        slower.aim.in += std::chrono::milliseconds{130};
        slower.reload.time = 2 * slower.reload.time;
        slower.reload.empty_time = 2 * *slower.reload.empty_time;
        if (slower.reload.commit) {
            slower.reload.commit = 2 * *slower.reload.commit;
        }
        retune(before.spec, slower, state, reserve, events);
        retune(slower, before.spec, state, reserve, events);
        ASSERT_EQ(reserve, before.reserve);
        ASSERT_EQ(state.rounds, before.state.rounds);
        ASSERT_EQ(state.activity, before.state.activity);
        ASSERT_LE(std::abs((state.activity_end - before.state.activity_end).count()), 4);
        if (state.cadence_shots > 0) {
            ASSERT_LE(std::abs((state.next_shot - before.state.next_shot).count()), 4);
        }
    }
}

// Loadouts of some of four weapons with two types of ammunition, before and after.
Arsenal some_arsenal(Chance& chance) {
    Arsenal arsenal;
    for (const char* type : {"thorn", "burr"}) {
        if (!chance.one_in(5)) {
            arsenal.ammo.push_back({type, chance.whole(0, 300)});
        }
    }
    for (const char* id : {"a", "b", "c", "d"}) {
        if (chance.one_in(4)) {
            continue;
        }
        WeaponSpec weapon = chance.weapon();
        weapon.id = id;
        weapon.feed = AmmoFeed::magazine;
        weapon.supply = AmmoSupply::counted;
        weapon.ammo.id = chance.one_in(2) ? "thorn" : chance.one_in(2) ? "burr" : "";
        arsenal.weapons.insert(chance.one_in(2) ? arsenal.weapons.begin() : arsenal.weapons.end(), weapon);
    }
    assign_ammo(arsenal);
    resolve_references(arsenal);
    return arsenal;
}

std::int64_t rounds_in(const Loadout& loadout) {
    std::int64_t sum = 0;
    for (const LoadoutSlot& slot : loadout.slots) {
        sum += slot.weapon ? slot.state.rounds : 0;
    }
    for (const AmmoReserve& reserve : loadout.ammo) {
        sum += reserve.rounds;
    }
    return sum;
}

TEST(Retune, TakesALoadoutByNamesAndConservesItsRounds) {
    Chance chance{std::mt19937_64{43}};
    int gone = 0;
    for (int trial = 0; trial < rounds(1500); ++trial) {
        const Arsenal was = some_arsenal(chance);
        const Arsenal is = chance.one_in(5) ? was : some_arsenal(chance);
        std::vector<WeaponId> carried;
        for (std::size_t weapon = 0; weapon < was.weapons.size(); ++weapon) {
            carried.push_back(static_cast<WeaponId>(weapon));
        }
        Loadout loadout = make_loadout(was, carried, Time{}, 7);
        std::vector<WeaponEvent> events;
        std::vector<LoadoutIntent> intents;
        for (const WeaponIntent& intent : chance.intents(Time{from_seconds(2)}, 250'000'000)) {
            intents.push_back({intent, chance.one_in(4) ? chance.whole(0, 3) : -1});
        }
        advance(was, loadout, Time{from_seconds(3)}, intents, events);
        events.clear();
        const Loadout before = loadout;
        retune(was, is, loadout, events);
        std::int64_t lost = 0;
        for (const WeaponEvent& event : events) {
            lost += event.kind == WeaponEventKind::retuned ? event.discarded : 0;
            ASSERT_EQ(event.at, before.now);
        }
        ASSERT_EQ(rounds_in(before), rounds_in(loadout) + lost) << "trial " << trial;
        for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
            const WeaponSpec* then = weapon_in(was, before, slot);
            const WeaponSpec* now = weapon_in(is, loadout, slot);
            const bool stays = then != nullptr && is.weapon(then->id).has_value();
            ASSERT_EQ(now != nullptr, stays);
            ASSERT_TRUE(!stays || now->id == then->id);
            gone += then != nullptr && !stays ? 1 : 0;
        }
        ASSERT_TRUE(loadout.in_hand < 0 || weapon_in(is, loadout, loadout.in_hand) != nullptr);
        if (hash_of(was) == hash_of(is)) {
            ASSERT_TRUE(events.empty());
            ASSERT_EQ(loadout.slots, before.slots);
        }
        advance(is, loadout, Time{from_seconds(4)}, {}, events);
        ASSERT_EQ(
            rounds_in(before) - lost, rounds_in(loadout) + [&] {
                std::int64_t fired = 0;
                for (const WeaponEvent& event : events) {
                    const WeaponSpec* weapon = event.slot >= 0 ? weapon_in(is, loadout, event.slot) : nullptr;
                    fired += event.kind == WeaponEventKind::shot ? weapon->rounds_per_shot : 0;
                    fired += event.kind == WeaponEventKind::rounds_loaded ? event.discarded : 0;
                }
                return fired;
            }());
    }
    EXPECT_GT(gone, 50);
}

// Values exchanged by force silenced a held rifle, or let it fire twice.
TEST(Retune, NeitherSilencesNorDoublesAHeldRifle) {
    for (const double factor : {0.5, 2.0}) {
        Rig rig{weapon_of(TriggerMode::automatic, 600, 30, 60, 2)};
        rig.run({{at_ms(0), true}}, {64}, at_ms(430)); // shots at 0, 100 ... 400
        WeaponSpec other = rig.spec;
        other.rounds_per_minute *= factor;
        retune(rig.spec, other, rig.state, rig.reserve, rig.events);
        rig.spec = other;
        rig.run({}, {64}, at_ms(1000));
        const std::vector<WeaponEvent> shots = rig.of(WeaponEventKind::shot);
        EXPECT_EQ(shots[5].at, at_ms(430 + 70 / factor)) << "seven tenths of the interval were left";
        EXPECT_EQ(shots[6].at - shots[5].at, from_seconds(0.1 / factor));
    }
    Rig rig{weapon_of(TriggerMode::automatic, 600, 30, 10, 2)};
    rig.run({{at_ms(0), true}, {at_ms(350), false}}, {64}, at_ms(500)); // 26 are left
    WeaponSpec smaller = rig.spec;
    smaller.magazine = 10;
    smaller.carry_limit = 20;
    retune(rig.spec, smaller, rig.state, rig.reserve, rig.events);
    EXPECT_EQ(rig.state.rounds, 10);
    EXPECT_EQ(rig.reserve.rounds, 20);
    EXPECT_EQ(rig.events.back().moved, 10);
    EXPECT_EQ(rig.events.back().discarded, 6);
}

TEST(Retune, KeepsTheShareOfAReload) {
    Rig rig{weapon_of(TriggerMode::automatic, 600, 30, 60, 2)};
    rig.state.rounds = 5;
    rig.run({{at_ms(0), false, true}}, {64}, at_ms(1500));
    ASSERT_DOUBLE_EQ(reload_progress(rig.spec, rig.state, rig.reserve), 0.75);
    WeaponSpec quick = rig.spec;
    quick.reload.time = std::chrono::seconds{1};
    retune(rig.spec, quick, rig.state, rig.reserve, rig.events);
    EXPECT_DOUBLE_EQ(reload_progress(quick, rig.state, rig.reserve), 0.75);
    rig.spec = quick;
    rig.run({}, {64}, at_ms(2000));
    EXPECT_EQ(rig.of(WeaponEventKind::rounds_loaded).front().at, at_ms(1750));
}

} // namespace
} // namespace avrek
