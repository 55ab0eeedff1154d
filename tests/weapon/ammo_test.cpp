#include "../rounds.h"
#include "weapon_rig.h"
#include <avrek/weapon/loadout.h>

namespace avrek {
namespace {

// A reload that is cancelled at any nanosecond around its commit either changed nothing or kept its rounds.
TEST(Ammo, ACancelledReloadIsAllOrNothingAtEveryNanosecondAroundItsCommit) {
    for (const ReloadStyle style : {ReloadStyle::magazine, ReloadStyle::rounds}) {
        WeaponSpec spec = weapon_of(TriggerMode::automatic, 600.0, 9, 20, 0.5);
        spec.reload.style = style;
        spec.reload.commit = from_seconds(0.3);
        spec.reload.cancelled_by.sprint = true;
        const Duration commit = *spec.reload.commit;
        for (std::int64_t off = -1000; off <= 1000; ++off) {
            for (const Duration cut : {Duration{1}, Duration{997}, commit, Duration{1 << 30}}) {
                Rig rig{spec};
                rig.state.rounds = 2;
                const Time at{commit + Duration{off}};
                const WeaponIntent all[] = {{.at = Time{}, .reload = true}, {.at = at, .sprint = true}};
                advance(spec, rig.state, rig.reserve, Time{Duration{1}}, {all, 1}, rig.events);
                // Comes to the commit in one step or in several, then sprints.
                while (cut < commit && rig.state.now + cut < at && at - rig.state.now < Duration{5000}) {
                    advance(spec, rig.state, rig.reserve, rig.state.now + cut, {}, rig.events);
                }
                advance(spec, rig.state, rig.reserve, std::max(rig.state.now, at - Duration{3000}), {},
                        rig.events);
                advance(spec, rig.state, rig.reserve, at + Duration{1}, {all + 1, 1}, rig.events);
                const std::int32_t loaded = style == ReloadStyle::rounds ? 1 : 7;
                ASSERT_EQ(rig.state.rounds, off < 0 ? 2 : 2 + loaded) << off;
                ASSERT_EQ(rig.reserve.rounds, off < 0 ? 20 : 20 - loaded) << off;
                ASSERT_EQ(rig.events.back().kind, WeaponEventKind::reload_cancelled);
            }
        }
    }
}

// Where every round of one kind is.
struct Books {
    std::int64_t carried = 0; ///< in reserves, magazines and dropped weapons
    std::int64_t fired = 0;
    std::int64_t discarded = 0;
    std::int64_t found = 0; ///< came in by pickups
    bool operator==(const Books&) const = default;
};

// Three weapons share two kinds of ammunition through ten million random intents, with pickups, drops and
// cancelled reloads; at every step every round is somewhere.
TEST(Ammo, IsConservedOverTenMillionIntents) {
    Chance chance{std::mt19937_64{5}};
    constexpr int kinds = 2;
    std::int64_t cancelled = 0;
    std::int64_t left_over = 0;
    std::int64_t dropped_weapons = 0;
    for (int trial = 0; trial < rounds(100); ++trial) {
        Arsenal arsenal;
        arsenal.ammo = {{"thorn", 300}, {"burr", chance.whole(20, 200)}};
        for (int index = 0; index < 4; ++index) {
            WeaponSpec& spec = arsenal.weapons.emplace_back(chance.weapon());
            spec.id = "w" + std::to_string(index);
            spec.ammo.id = index % 2 == 0 ? "thorn" : "burr";
            spec.feed = index == 3 ? AmmoFeed::reserve : AmmoFeed::magazine;
            spec.supply = AmmoSupply::counted;
        }
        ASSERT_TRUE(assign_ammo(arsenal));
        const WeaponId held[] = {WeaponId{0}, WeaponId{1}, WeaponId{2}, WeaponId{3}};
        Loadout loadout = make_loadout(arsenal, held);
        std::vector<DroppedWeapon> ground;
        std::array<Books, kinds> books{};
        const auto count = [&] {
            std::array<std::int64_t, kinds> rounds{};
            for (int kind = 0; kind < kinds; ++kind) {
                rounds[static_cast<std::size_t>(kind)] = loadout.ammo[static_cast<std::size_t>(kind)].rounds;
            }
            const auto add = [&](WeaponId weapon, const WeaponState& state) {
                const WeaponSpec& spec = arsenal[weapon];
                rounds[to_index(*spec.ammo.spec)] += state.rounds;
                EXPECT_TRUE(state.rounds >= 0 && state.rounds <= spec.magazine + (spec.chamber ? 1 : 0));
            };
            for (const LoadoutSlot& slot : loadout.slots) {
                if (slot.weapon) {
                    add(*slot.weapon, slot.state);
                }
            }
            for (const DroppedWeapon& weapon : ground) {
                add(weapon.weapon, weapon.state);
            }
            return rounds;
        };
        const auto start = count();
        LoadoutIntent intent;
        std::vector<LoadoutIntent> intents;
        std::vector<WeaponEvent> events;
        for (int batch = 0; batch < 1000; ++batch) {
            intents.clear();
            for (int each = 0; each < 100; ++each) {
                intent.weapon = chance.after(intent.weapon);
                intent.weapon.in_hand = true;
                intent.weapon.at += Duration{static_cast<std::int64_t>(chance.random() % 60'000'000)};
                intent.slot = chance.one_in(30) ? chance.whole(-1, 6) : -1;
                intent.next = chance.one_in(40);
                intent.last = chance.one_in(40);
                intents.push_back(intent);
            }
            events.clear();
            const Time until = intent.weapon.at + Duration{1};
            const std::size_t bound = event_bound(arsenal, loadout, until - loadout.now, intents.size());
            advance(arsenal, loadout, until, intents, events);
            ASSERT_LE(events.size(), bound);
            for (const WeaponEvent& event : events) {
                const auto weapon =
                    loadout.slots[static_cast<std::size_t>(std::max<int>(event.slot, 0))].weapon;
                if (weapon) {
                    const WeaponSpec& spec = arsenal[*weapon];
                    Books& book = books[to_index(*spec.ammo.spec)];
                    book.fired += event.kind == WeaponEventKind::shot ? spec.rounds_per_shot : 0;
                    book.discarded += event.discarded;
                    cancelled += event.kind == WeaponEventKind::reload_cancelled ? 1 : 0;
                }
            }
            if (chance.one_in(3)) {
                const int kind = chance.whole(0, kinds - 1);
                const std::int32_t offered = chance.whole(0, 60);
                const std::int32_t rest = add_ammo(arsenal, loadout, AmmoId{kind}, offered);
                books[static_cast<std::size_t>(kind)].found += offered - rest;
                left_over += rest;
            }
            if (chance.one_in(10)) {
                if (auto weapon =
                        drop_weapon(arsenal, loadout, chance.whole(-1, 6), Vector3::Zero(), events)) {
                    ground.push_back(*weapon);
                    ++dropped_weapons;
                }
            } else if (!ground.empty() && pick_up_weapon(arsenal, loadout, ground.back(), events)) {
                ground.pop_back();
            }
            const auto now = count();
            for (std::size_t kind = 0; kind < kinds; ++kind) {
                ASSERT_EQ(now[kind] + books[kind].fired + books[kind].discarded,
                          start[kind] + books[kind].found);
                ASSERT_GE(loadout.ammo[kind].rounds, 0);
                ASSERT_LE(loadout.ammo[kind].rounds, arsenal.ammo[kind].carry_limit);
            }
        }
    }
    EXPECT_GT(cancelled, 1000);
    EXPECT_GT(left_over, 1000);
    EXPECT_GT(dropped_weapons, enough(1000));
}

TEST(Ammo, APickupFillsToTheLimitAndGivesBackTheRest) {
    AmmoReserve reserve{7};
    EXPECT_EQ(add_rounds(reserve, 5, 10), 2);
    EXPECT_EQ(reserve.rounds, 10);
    EXPECT_EQ(add_rounds(reserve, 5, 8), 5) << "what is over the limit already stays";
    EXPECT_EQ(reserve.rounds, 10);
    EXPECT_EQ(add_rounds(reserve, 0, 100), 0);
}

} // namespace
} // namespace avrek
