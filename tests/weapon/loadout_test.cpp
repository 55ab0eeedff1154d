#include "weapon_rig.h"
#include <avrek/weapon/loadout.h>
#include <avrek/weapon/readout.h>

namespace avrek {
namespace {

Arsenal three_weapons() {
    Arsenal arsenal;
    arsenal.ammo = {{"thorn", 100}};
    for (const char* id : {"first", "second", "third"}) {
        WeaponSpec& spec =
            arsenal.weapons.emplace_back(weapon_of(TriggerMode::automatic, 600.0, 10, 30, 1.0));
        spec.id = id;
        spec.ammo = {"thorn"};
        spec.handling.raise = from_seconds(0.3);
        spec.handling.stow = from_seconds(0.2);
        spec.spread.moving = {{{0.0, 1.0}, {5.0, 3.0}}};
        spec.spread.hip = 0.01;
        spec.spread.speed_half_life = from_seconds(0.2);
        spec.recoil.pattern = {{0.0, 0.01}};
        spec.recoil.jitter = {0.005, 0.0};
    }
    assign_ammo(arsenal);
    return arsenal;
}

struct LoadoutRig {
    Arsenal arsenal = three_weapons();
    std::vector<WeaponId> indices{WeaponId{0}, WeaponId{1}, WeaponId{2}};
    Loadout loadout = make_loadout(arsenal, indices);
    std::vector<WeaponEvent> events{};

    void say(double at, LoadoutIntent intent) {
        intent.weapon.at = at_ms(at);
        advance(arsenal, loadout, at_ms(at) + Duration{1}, {&intent, 1}, events);
    }
    void wait(double until) { advance(arsenal, loadout, at_ms(until), {}, events); }
};

struct Step {
    double at;
    LoadoutIntent intent;
    int in_hand; ///< a second later
};

TEST(Loadout, SwapsToASlotTheNextAndTheLastUsed) {
    LoadoutRig rig;
    const LoadoutIntent nothing;
    const Step steps[] = {
        {0, {.slot = 2}, 2},       {1000, {.slot = 2, .last = true}, 0},
        {2000, nothing, 0},        {3000, {.next = true}, 1},
        {4000, {.next = true}, 1}, {5000, nothing, 1},
        {6000, {.next = true}, 2}, {7000, nothing, 2},
        {8000, {.next = true}, 0}, {9000, {.last = true}, 2},
        {10000, {.slot = 2}, 2},   {11000, {.slot = 5}, 2},
        {12000, {.slot = 1}, 1},
    };
    for (const Step& step : steps) {
        rig.say(step.at, step.intent);
        rig.wait(step.at + 1000);
        EXPECT_EQ(rig.loadout.in_hand, step.in_hand) << step.at;
        EXPECT_EQ(rig.loadout.wanted, -1);
    }
    const auto refused = std::count_if(rig.events.begin(), rig.events.end(), [](const WeaponEvent& event) {
        return event.kind == WeaponEventKind::swap_refused && event.refusal == WeaponRefusal::no_weapon;
    });
    EXPECT_EQ(refused, 1) << "there is nothing in slot 5";
}

TEST(Loadout, StowsThenRaisesAndAHeldTriggerMustBePressedAgain) {
    LoadoutRig rig;
    rig.say(0, {.weapon = {.trigger = true, .speed = 5.0}, .slot = 1});
    rig.wait(510);
    rig.say(510, {.weapon = {.speed = 5.0}});
    rig.say(520, {.weapon = {.trigger = true, .speed = 5.0}});
    rig.wait(560);
    using enum WeaponEventKind;
    const std::vector<std::tuple<double, WeaponEventKind, int>> expected{
        {0, stow_started, 0},    {0, trigger_refused, 0}, {200, stowed, 0},
        {200, raise_started, 1}, {500, raised, 1},        {520, shot, 1}};
    ASSERT_EQ(rig.events.size(), expected.size());
    for (std::size_t index = 0; index < expected.size(); ++index) {
        EXPECT_EQ(rig.events[index].at, at_ms(std::get<0>(expected[index]))) << index;
        EXPECT_EQ(rig.events[index].kind, std::get<1>(expected[index])) << index;
        EXPECT_EQ(rig.events[index].slot, std::get<2>(expected[index])) << index;
    }
    EXPECT_GT(rig.events.back().spread, 0.025)
        << "the same legs carry both weapons: it is not steady after a swap";
    EXPECT_EQ(rig.loadout.ammo[0].rounds, 90);
}

TEST(Loadout, ASwapCanBeTakenBack) {
    LoadoutRig rig;
    rig.say(0, {.slot = 1});
    rig.say(100, {.slot = 0});
    rig.wait(1000);
    EXPECT_EQ(rig.loadout.in_hand, 0);
    EXPECT_EQ(rig.events.back().kind, WeaponEventKind::raised);
    EXPECT_EQ(rig.events.back().at, at_ms(400));
}

TEST(Loadout, DropsAWeaponWithItsRoundsAndPicksUpTheNearestInReach) {
    LoadoutRig rig;
    rig.say(0, {.weapon = {.trigger = true}});
    rig.say(350, {});
    std::vector<DroppedWeapon> ground{
        {WeaponId{2}, stowed_weapon(rig.arsenal.weapons[2]), {3, 0, 0}},
        *drop_weapon(rig.arsenal, rig.loadout, 0, {1, 0, 0}, rig.events),
        {WeaponId{1}, stowed_weapon(rig.arsenal.weapons[1]), {1, 0, 0}},
    };
    EXPECT_EQ(ground[1].state.rounds, 6);
    EXPECT_EQ(rig.loadout.in_hand, 1) << "the next is raised";
    EXPECT_FALSE(drop_weapon(rig.arsenal, rig.loadout, 0, Vector3::Zero(), rig.events));
    EXPECT_FALSE(weapon_in_reach(ground, Vector3::Zero(), 0.9));
    EXPECT_FALSE(weapon_in_reach({}, Vector3::Zero(), 0.9));
    ASSERT_EQ(weapon_in_reach(ground, Vector3::Zero(), 5.0), 1U) << "the first of the nearest";
    EXPECT_EQ(pick_up_weapon(rig.arsenal, rig.loadout, ground[1], rig.events), 0);
    EXPECT_EQ(rig.loadout.slots[0].state.rounds, 6);
    EXPECT_EQ(rig.loadout.slots[0].state.activity, WeaponActivity::stowed);
    for (int more = 0; more < 3; ++more) {
        EXPECT_TRUE(pick_up_weapon(rig.arsenal, rig.loadout, ground[2], rig.events));
    }
    EXPECT_FALSE(pick_up_weapon(rig.arsenal, rig.loadout, ground[0], rig.events)) << "every slot is taken";
    for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
        EXPECT_TRUE(drop_weapon(rig.arsenal, rig.loadout, slot, Vector3::Zero(), rig.events));
    }
    EXPECT_EQ(rig.loadout.in_hand, -1);
    rig.say(400, {.weapon = {.trigger = true}, .next = true});
    rig.wait(900);
    EXPECT_EQ(rig.loadout.in_hand, -1) << "with empty hands nothing happens";
    EXPECT_TRUE(pick_up_weapon(rig.arsenal, rig.loadout, ground[1], rig.events));
    EXPECT_EQ(rig.loadout.in_hand, 0) << "empty hands take it at once";
}

TEST(Loadout, DroppingAWeaponDoesNotBeatItsRateOfFire) {
    LoadoutRig rig;
    rig.arsenal.weapons[0].rounds_per_minute = 60.0;
    rig.say(0, {.weapon = {.trigger = true}});
    const auto dropped = drop_weapon(rig.arsenal, rig.loadout, 0, Vector3::Zero(), rig.events);
    pick_up_weapon(rig.arsenal, rig.loadout, *dropped, rig.events);
    rig.say(10, {.slot = 0});
    rig.say(800, {.weapon = {.trigger = true}, .slot = 0});
    rig.wait(1500);
    EXPECT_EQ(rig.events.back().kind, WeaponEventKind::shot);
    EXPECT_EQ(rig.events.back().at, at_ms(1000));
}

// The same swaps, shots and states at every tick rate, with the events in order of time.
TEST(Loadout, DoesTheSameAtAnyTickRate) {
    Chance chance{std::mt19937_64{17}};
    for (int trial = 0; trial < 120; ++trial) {
        chance.round = trial % 2 == 0;
        Arsenal arsenal;
        arsenal.ammo = {{"thorn", 500}};
        for (int index = 0; index < 3; ++index) {
            WeaponSpec& spec = arsenal.weapons.emplace_back(chance.weapon());
            spec.id = "w" + std::to_string(index);
            spec.ammo = {"thorn"};
        }
        assign_ammo(arsenal);
        const WeaponId held[] = {WeaponId{0}, WeaponId{1}, WeaponId{2}};
        std::vector<LoadoutIntent> intents;
        for (const WeaponIntent& weapon : chance.intents(Time{std::chrono::seconds{8}}, 200'000'000)) {
            intents.push_back(
                {weapon, chance.one_in(8) ? chance.whole(0, 3) : -1, chance.one_in(9), chance.one_in(9)});
        }
        const Time end{std::chrono::seconds{8}};
        std::vector<WeaponEvent> whole;
        Loadout reference = make_loadout(arsenal, held, Time{}, 3);
        advance(arsenal, reference, end, intents, whole);
        EXPECT_TRUE(std::is_sorted(whole.begin(), whole.end(),
                                   [](const WeaponEvent& a, const WeaponEvent& b) { return a.at < b.at; }));
        for (const std::int32_t hertz : {20, 60, 128, 240, chance.whole(20, 240)}) {
            Loadout cut = make_loadout(arsenal, held, Time{}, 3);
            std::vector<WeaponEvent> events;
            auto next = intents.begin();
            for (Tick tick = 0; cut.now < end; ++tick) {
                const Time until = std::min(tick_span(tick, {hertz}).end, end);
                const auto first = next;
                next = std::find_if(first, intents.end(),
                                    [until](const LoadoutIntent& each) { return each.weapon.at >= until; });
                advance(arsenal, cut, until, {first, next}, events);
            }
            ASSERT_EQ(events, whole) << hertz << " Hz";
            ASSERT_EQ(cut.slots, reference.slots);
            ASSERT_EQ(cut.ammo, reference.ammo);
        }
    }
}

} // namespace
} // namespace avrek
