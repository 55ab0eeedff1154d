#include "weapon_rig.h"

namespace avrek {
namespace {

struct Expected {
    double at_ms;
    WeaponEventKind kind;
    WeaponRefusal refusal = WeaponRefusal::none;
    std::int32_t rounds = -1; ///< not looked at when negative
};

struct WeaponStory {
    const char* name;
    WeaponSpec spec;
    std::int32_t rounds; ///< in the magazine at the start
    std::vector<WeaponIntent> intents;
    std::vector<Expected> events;
};

std::vector<WeaponStory> stories() {
    using enum WeaponEventKind;
    using enum WeaponRefusal;
    const auto automatic = [](std::int32_t magazine, std::int32_t reserve) {
        return weapon_of(TriggerMode::automatic, 600.0, magazine, reserve, 1.0);
    };
    const auto single = weapon_of(TriggerMode::single, 600.0, 5, 9, 1.0);
    using I = WeaponIntent;
    const auto press = [](double at) { return I{.at = at_ms(at), .trigger = true}; };
    const auto release = [](double at) { return I{.at = at_ms(at)}; };
    auto buffered = single;
    buffered.press_buffer = from_seconds(0.03);
    auto burst = weapon_of(TriggerMode::burst, 300.0, 8, 9, 1.0);
    burst.burst = {3, from_seconds(0.05), false};
    auto again = burst;
    again.burst.repeats = true;
    auto cut = burst;
    cut.burst.cut_on_release = true;
    cut.press_buffer = from_seconds(0.05);
    auto charge = weapon_of(TriggerMode::charge, 600.0, 5, 9, 1.0);
    charge.charge = {from_seconds(0.2), from_seconds(0.5), {}, false};
    auto own_release = charge;
    own_release.charge.fires_when_full = true;
    auto spin = weapon_of(TriggerMode::spin_up, 600.0, 9, 9, 1.0);
    spin.spin = {from_seconds(0.4), from_seconds(0.2), {{{0.0, 0.25}, {1.0, 1.0}}}, 0.5};
    auto two_modes = single;
    two_modes.modes.push_back(TriggerMode::automatic);
    auto shells = weapon_of(TriggerMode::single, 600.0, 4, 9, 0.3);
    shells.reload.style = ReloadStyle::rounds;
    shells.reload.start = from_seconds(0.2);
    shells.reload.empty_start = from_seconds(0.4);
    shells.reload.end = from_seconds(0.1);
    shells.reload.commit = from_seconds(0.2);
    shells.reload.cancelled_by.trigger = true;
    auto early = automatic(5, 9);
    early.reload.commit = from_seconds(0.6);
    early.reload.cancelled_by = {.swap = true, .sprint = true};
    auto from_empty = early;
    from_empty.reload.empty_time = from_seconds(1.4);
    auto thrown = automatic(5, 9);
    thrown.reload.keeps_rounds = false;
    thrown.chamber = true;
    auto by_itself = automatic(1, 9);
    by_itself.reload.automatic = true;
    auto hot = automatic(1, 0);
    hot.feed = AmmoFeed::heat;
    hot.heat = {0.4, from_seconds(1.0), from_seconds(0.1), 0.2};
    auto cell = automatic(2, 0);
    cell.feed = AmmoFeed::cell;
    cell.cell = {from_seconds(1.0), from_seconds(0.1)};
    auto pouch = automatic(1, 2);
    pouch.feed = AmmoFeed::reserve;
    auto free = automatic(2, 0);
    free.supply = AmmoSupply::endless;
    auto endless = automatic(2, 0);
    endless.supply = AmmoSupply::endless_reserve;
    auto greedy = automatic(5, 0);
    greedy.rounds_per_shot = 2;
    auto heavy = automatic(5, 9);
    heavy.handling = {from_seconds(0.3), from_seconds(0.2), from_seconds(0.25), false, false};
    auto stubborn = heavy;
    stubborn.reload.cancelled_by = {};
    return {
        {"a full magazine refuses",
         automatic(5, 9),
         5,
         {{at_ms(3), false, true}},
         {{3, reload_refused, magazine_full, 5}}},
        {"an empty reserve refuses",
         automatic(5, 0),
         2,
         {{at_ms(3), false, true}},
         {{3, reload_refused, reserve_empty, 2}}},
        {"a reload takes only what is missing",
         automatic(5, 9),
         2,
         {{at_ms(3), false, true}},
         {{3, reload_started}, {1003, rounds_loaded, none, 5}, {1003, reload_finished}}},
        {"a reload takes only what the reserve has",
         automatic(5, 2),
         1,
         {{at_ms(3), false, true}},
         {{3, reload_started}, {1003, rounds_loaded, none, 3}, {1003, reload_finished}}},
        {"a second reload is refused, a held button is not a second",
         automatic(5, 9),
         2,
         {{at_ms(3), false, true},
          {at_ms(4), false, true},
          {at_ms(5), false, false},
          {at_ms(6), false, true}},
         {{3, reload_started},
          {6, reload_refused, reloading},
          {1003, rounds_loaded},
          {1003, reload_finished, none, 5}}},
        {"a reload waits for the last shot's interval",
         automatic(5, 9),
         5,
         {{at_ms(0), true, false}, {at_ms(10), false, true}},
         {{0, shot, none, 4},
          {100, reload_started},
          {1100, rounds_loaded},
          {1100, reload_finished, none, 5}}},
        {"a held weapon clicks once when it runs dry",
         automatic(2, 0),
         2,
         {{at_ms(0), true, false}},
         {{0, shot}, {100, shot, none, 0}, {200, dry_fire}}},
        {"every press of an empty weapon clicks",
         automatic(2, 0),
         0,
         {{at_ms(1), true, false},
          {at_ms(2), true, false},
          {at_ms(3), false, false},
          {at_ms(4), true, false}},
         {{1, dry_fire}, {4, dry_fire}}},
        {"a press during a reload is refused, and a held weapon fires after it",
         automatic(2, 2),
         0,
         {{at_ms(0), false, true}, {at_ms(500), true, false}, {at_ms(1050), false, false}},
         {{0, reload_started},
          {500, trigger_refused, reloading},
          {1000, rounds_loaded, none, 2},
          {1000, reload_finished, none, 2},
          {1000, shot, none, 1}}},
        {"a single weapon fires once for a held press",
         single,
         5,
         {{at_ms(0), true, false}, {at_ms(400), true, false}},
         {{0, shot, none, 4}}},
        {"a single weapon refuses a press made too early",
         single,
         5,
         {{at_ms(0), true, false},
          {at_ms(10), false, false},
          {at_ms(99), true, false},
          {at_ms(99.5), false, false},
          {at_ms(100), true, false}},
         {{0, shot}, {99, trigger_refused, cycling}, {100, shot, none, 3}}},
        {"letting go at the very moment of a shot stops it",
         automatic(5, 0),
         5,
         {{at_ms(0), true, false}, {at_ms(100), false, false}},
         {{0, shot, none, 4}}},
        {"a press a little too early is kept",
         buffered,
         5,
         {press(0), release(10), press(75), release(76)},
         {{0, shot}, {100, shot, none, 3}}},
        {"a press much too early is not",
         buffered,
         5,
         {press(0), release(10), press(65), release(66)},
         {{0, shot}, {65, trigger_refused, cycling}}},
        {"a burst runs to its end, and the next comes an interval after it",
         burst,
         8,
         {press(0), release(10), press(250), release(251), press(300)},
         {{0, shot},
          {50, shot},
          {100, shot, none, 5},
          {250, trigger_refused, cycling},
          {300, shot},
          {350, shot},
          {400, shot, none, 2}}},
        {"a burst that repeats begins again while it is held",
         again,
         8,
         {press(0), release(320)},
         {{0, shot}, {50, shot}, {100, shot, none, 5}, {300, shot}, {350, shot}, {400, shot, none, 2}}},
        {"or is cut by letting go", cut, 8, {press(0), release(60)}, {{0, shot}, {50, shot, none, 6}}},
        {"also when its press waited and was let go meanwhile",
         cut,
         8,
         {press(0), release(10), press(170), release(171)},
         {{0, shot}, {200, shot, none, 6}}},
        {"a burst that runs dry clicks", burst, 2, {press(0)}, {{0, shot}, {50, shot}, {100, dry_fire}}},
        {"a reload waits for the burst",
         burst,
         4,
         {press(0), I{.at = at_ms(20), .reload = true}},
         {{0, shot},
          {50, shot},
          {100, shot, none, 1},
          {300, reload_started},
          {1300, rounds_loaded, none, 8},
          {1300, reload_finished}}},
        {"a charge is released by letting go",
         charge,
         5,
         {press(0), release(300), press(500), release(1500)},
         {{0, charge_started}, {300, shot}, {500, charge_started}, {1500, shot, none, 3}}},
        {"not before its least time",
         charge,
         5,
         {press(0), release(199)},
         {{0, charge_started}, {199, charge_dropped, let_go, 5}}},
        {"or releases by itself", own_release, 5, {press(0)}, {{0, charge_started}, {500, shot, none, 4}}},
        {"a blow drops it",
         charge,
         5,
         {press(0), I{.at = at_ms(100), .trigger = true, .strike = true}},
         {{0, charge_started}, {100, charge_dropped, striking, 5}}},
        {"a charge begins when the weapon is ready",
         charge,
         5,
         {press(0), release(300), press(350), release(700)},
         {{0, charge_started}, {300, shot}, {400, charge_started}, {700, shot}}},
        {"a spin gets going, fires faster and faster, and slows down",
         spin,
         9,
         {press(0), release(750)},
         {{200, shot}, {360, shot}, {468.108108, shot}, {568.108108, shot}, {668.108108, shot, none, 4}}},
        {"letting go before it fires says why",
         spin,
         9,
         {press(0), release(150)},
         {{150, trigger_refused, winding_up}}},
        {"another mode needs another press",
         two_modes,
         5,
         {press(0), I{.at = at_ms(50), .trigger = true, .next_mode = true}, release(150), press(200),
          release(350)},
         {{0, shot}, {50, mode_changed}, {200, shot}, {300, shot, none, 2}}},
        {"one mode alone stays",
         single,
         5,
         {I{.at = at_ms(1), .next_mode = true}},
         {{1, mode_refused, one_mode}}},
        {"shells go in one by one",
         shells,
         2,
         {I{.at = at_ms(0), .reload = true}},
         {{0, reload_started},
          {400, rounds_loaded, none, 3},
          {700, rounds_loaded, none, 4},
          {900, reload_finished}}},
        {"from empty it takes longer",
         shells,
         0,
         {I{.at = at_ms(0), .reload = true}, press(650)},
         {{0, reload_started},
          {600, rounds_loaded, none, 1},
          {650, reload_cancelled, triggered},
          {650, shot, none, 0}}},
        {"a sprint after the commit keeps the rounds",
         early,
         2,
         {I{.at = at_ms(0), .reload = true}, I{.at = at_ms(700), .sprint = true}},
         {{0, reload_started}, {600, rounds_loaded, none, 5}, {700, reload_cancelled, sprinting, 5}}},
        {"a sprint before it changes nothing, and a blow is none of the keys",
         early,
         2,
         {I{.at = at_ms(0), .reload = true}, I{.at = at_ms(100), .strike = true},
          I{.at = at_ms(599), .sprint = true}},
         {{0, reload_started}, {599, reload_cancelled, sprinting, 2}}},
        {"from empty, the time after the commit is longer",
         from_empty,
         0,
         {I{.at = at_ms(0), .reload = true}},
         {{0, reload_started}, {600, rounds_loaded, none, 5}, {1400, reload_finished}}},
        {"rounds are thrown away but for the chambered one, and all comes on top of it",
         thrown,
         3,
         {I{.at = at_ms(0), .reload = true}},
         {{0, reload_started}, {1000, rounds_loaded, none, 6}, {1000, reload_finished}}},
        {"an empty weapon reloads by itself",
         by_itself,
         1,
         {press(0), release(5)},
         {{0, shot}, {100, reload_started}, {1100, rounds_loaded, none, 1}, {1100, reload_finished}}},
        {"heat locks, and what is held fires on when it has cooled",
         hot,
         0,
         {press(0), release(1150)},
         {{0, shot}, {100, shot}, {200, shot}, {200, overheated}, {1100, cooled}, {1100, shot}}},
        {"a hot weapon says so",
         hot,
         0,
         {press(0), release(250), press(300), release(310)},
         {{0, shot},
          {100, shot},
          {200, shot},
          {200, overheated},
          {300, trigger_refused, too_hot},
          {1100, cooled}}},
        {"what does not reload says so",
         hot,
         0,
         {I{.at = at_ms(1), .reload = true}},
         {{1, reload_refused, no_magazine}}},
        {"a cell refills itself",
         cell,
         0,
         {press(0), release(250), press(699), release(700), press(701), release(702)},
         {{0, shot, none, 1}, {100, shot, none, 0}, {200, dry_fire}, {699, dry_fire}, {701, shot, none, 0}}},
        {"out of the pouch",
         pouch,
         0,
         {press(0)},
         {{0, shot, none, 1}, {100, shot, none, 0}, {200, dry_fire}}},
        {"endless is endless",
         free,
         2,
         {press(0), release(350), I{.at = at_ms(400), .reload = true}},
         {{0, shot}, {100, shot}, {200, shot}, {300, shot, none, 2}, {400, reload_refused, magazine_full}}},
        {"an endless reserve fills for nothing",
         endless,
         0,
         {I{.at = at_ms(0), .reload = true}},
         {{0, reload_started}, {1000, rounds_loaded, none, 2}, {1000, reload_finished}}},
        {"two rounds a shot leave one over",
         greedy,
         5,
         {press(0)},
         {{0, shot, none, 3}, {100, shot, none, 1}, {200, dry_fire}}},
        {"it is put away and raised",
         heavy,
         5,
         {I{.at = at_ms(0), .in_hand = false}, I{.at = at_ms(100), .trigger = true, .in_hand = false},
          release(400), press(500)},
         {{0, stow_started},
          {100, trigger_refused, put_away},
          {200, stowed},
          {400, raise_started},
          {500, trigger_refused, raising},
          {700, raised},
          {700, shot},
          {800, shot},
          {900, shot},
          {1000, shot},
          {1100, shot},
          {1200, dry_fire}}},
        {"a sprint needs its time to end",
         heavy,
         5,
         {I{.at = at_ms(0), .sprint = true}, I{.at = at_ms(50), .trigger = true, .sprint = true}, press(100),
          release(360)},
         {{50, trigger_refused, sprinting}, {350, shot}}},
        {"it may not fire in the air",
         heavy,
         5,
         {I{.at = at_ms(0), .trigger = true, .airborne = true}, release(50)},
         {{0, trigger_refused, airborne}}},
        {"a stunned hand does nothing",
         heavy,
         5,
         {I{.at = at_ms(0), .trigger = true, .stunned = true}, press(50), release(60)},
         {{0, trigger_refused, stunned}, {50, shot}}},
        {"swapping away ends a reload",
         heavy,
         2,
         {I{.at = at_ms(0), .reload = true}, I{.at = at_ms(500), .in_hand = false}},
         {{0, reload_started}, {500, reload_cancelled, put_away, 2}, {500, stow_started}, {700, stowed}}},
        {"or waits for it",
         stubborn,
         2,
         {I{.at = at_ms(0), .reload = true}, I{.at = at_ms(500), .in_hand = false}},
         {{0, reload_started},
          {1000, rounds_loaded, none, 5},
          {1000, reload_finished},
          {1000, stow_started},
          {1200, stowed}}},
        {"a tap within one tick fires",
         single,
         5,
         {{at_ms(7), true, false}, {at_ms(7), false, false}},
         {{7, shot, none, 4}}},
    };
}

TEST(Weapon, TellsTheStoryOfTriggerAndReload) {
    for (const WeaponStory& story : stories()) {
        SCOPED_TRACE(story.name);
        Rig rig{story.spec};
        rig.state.rounds = story.rounds;
        rig.run(story.intents, {30}, Time{std::chrono::seconds{2}});
        ASSERT_EQ(rig.events.size(), story.events.size());
        for (std::size_t index = 0; index < story.events.size(); ++index) {
            const Expected& expected = story.events[index];
            const WeaponEvent& event = rig.events[index];
            EXPECT_EQ(event.at, at_ms(expected.at_ms)) << index;
            EXPECT_EQ(event.kind, expected.kind) << index;
            EXPECT_EQ(event.refusal, expected.refusal) << index;
            EXPECT_TRUE(expected.rounds < 0 || event.rounds == expected.rounds) << index;
        }
    }
}

} // namespace
} // namespace avrek
