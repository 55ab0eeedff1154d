#include <avrek/weapon/weapon.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>
#include <string>

namespace avrek {
namespace {

constexpr Time at_ms(double milliseconds) {
    return Time{Duration{static_cast<std::int64_t>(milliseconds * 1e6)}};
}

WeaponSpec weapon_of(TriggerMode trigger, double rate, std::int32_t magazine, std::int32_t reserve,
                     double reload) {
    WeaponSpec spec;
    spec.modes = {trigger};
    spec.rounds_per_minute = rate;
    spec.magazine = magazine;
    spec.reserve = reserve;
    spec.reload.time = from_seconds(reload);
    return spec;
}

// A weapon with its whole surroundings, driven by a list of intents cut into ticks of one rate.
struct Rig {
    WeaponSpec spec;
    WeaponState state = full_weapon(spec);
    AmmoReserve reserve = full_reserve(spec);
    std::vector<WeaponEvent> events{};

    void run(const std::vector<WeaponIntent>& intents, TickRate rate, Time end) {
        auto next = intents.begin();
        for (Tick tick = tick_at(state.now, rate); state.now < end; ++tick) {
            const Time until = std::min(tick_span(tick, rate).end, end);
            const auto first = next;
            next = std::find_if(first, intents.end(),
                                [until](const WeaponIntent& each) { return each.at >= until; });
            const std::span<const WeaponIntent> due{first, next};
            const std::size_t before = events.size();
            const std::size_t bound = event_bound(spec, until - state.now, due.size());
            advance(spec, state, reserve, until, due, events);
            ASSERT_LE(events.size() - before, bound);
        }
    }

    std::vector<WeaponEvent> of(WeaponEventKind kind) const {
        std::vector<WeaponEvent> found;
        std::copy_if(events.begin(), events.end(), std::back_inserter(found),
                     [kind](const WeaponEvent& event) { return event.kind == kind; });
        return found;
    }
};

// Held for ten seconds, then random intents: the same events at the same nanoseconds at every tick rate.
TEST(Weapon, FiresTheSameShotsAtTheSameNanosecondsAtAnyTickRate) {
    std::mt19937_64 random{1};
    std::uniform_real_distribution<double> rates{1.0, 6000.0};
    const Time end{std::chrono::seconds{10}};
    for (int trial = 0; trial < 60; ++trial) {
        const auto mode = trial % 4 == 3 ? TriggerMode::single : TriggerMode::automatic;
        const WeaponSpec spec = weapon_of(mode, trial == 0 ? 6000.0 : rates(random), 10000, 10000, 0.7);
        const Time first = Time{Duration{static_cast<std::int64_t>(random() % 1'000'000'000)}};
        std::vector<WeaponIntent> intents{{first, true, false}};
        for (Time at = first; trial % 2 == 1;) {
            at += Duration{static_cast<std::int64_t>(random() % 200'000'000)};
            if (at >= end) {
                break;
            }
            intents.push_back({at, random() % 3 != 0, random() % 8 == 0});
        }
        Rig whole{spec};
        whole.run(intents, {1}, end);
        if (trial % 2 == 0) {
            const std::vector<WeaponEvent> shots = whole.of(WeaponEventKind::shot);
            for (std::size_t shot = 0; shot < shots.size(); ++shot) {
                ASSERT_EQ(shots[shot].at, mode == TriggerMode::single
                                              ? first
                                              : first + shot_offset(static_cast<std::uint32_t>(shot),
                                                                    spec.rounds_per_minute));
            }
            const auto expected = static_cast<double>((end - first).count()) * spec.rounds_per_minute / 60e9;
            ASSERT_EQ(shots.size(),
                      mode == TriggerMode::single ? 1 : static_cast<std::size_t>(std::ceil(expected)));
        }
        const auto any = static_cast<std::int32_t>(1 + random() % 1000);
        for (const std::int32_t hertz : {20, 30, 37, 60, 64, 128, 240, any}) {
            Rig cut{spec};
            cut.run(intents, {hertz}, end);
            ASSERT_EQ(cut.events, whole.events)
                << hertz << " Hz, " << spec.rounds_per_minute << " rounds/min";
            ASSERT_EQ(cut.state, whole.state);
            ASSERT_EQ(cut.reserve, whole.reserve);
        }
    }
}

TEST(Weapon, TappingNeverBeatsTheRateOfFire) {
    std::mt19937_64 random{2};
    for (const TriggerMode mode : {TriggerMode::single, TriggerMode::automatic}) {
        Rig rig{weapon_of(mode, 700.0, 10000, 0, 1.0)};
        std::vector<WeaponIntent> taps;
        for (Time at{}; at < Time{std::chrono::seconds{20}}; at += Duration{random() % 30'000'000}) {
            taps.push_back({at, taps.size() % 2 == 0, false});
        }
        rig.run(taps, {60}, Time{std::chrono::seconds{20}});
        const std::vector<WeaponEvent> shots = rig.of(WeaponEventKind::shot);
        ASSERT_GT(shots.size(), 100U);
        for (std::size_t shot = 1; shot < shots.size(); ++shot) {
            // One nanosecond for the rounding of each end.
            ASSERT_GE(shots[shot].at - shots[shot - 1].at, shot_offset(1, 700.0) - Duration{1});
        }
    }
}

TEST(Weapon, AmmoIsConservedOverAMillionRandomIntents) {
    std::mt19937_64 random{3};
    for (const TriggerMode mode : {TriggerMode::single, TriggerMode::automatic}) {
        for (const double reload : {0.0, 0.35}) {
            Rig rig{weapon_of(mode, 900.0, 17, 400'000, reload)};
            const std::int64_t total = rig.state.rounds + rig.reserve.rounds;
            std::int64_t fired = 0;
            Time at{};
            for (int intent = 0; intent < 250'000; ++intent) {
                at += Duration{random() % 90'000'000};
                const WeaponIntent wish{at, random() % 2 == 0, random() % 4 == 0};
                rig.events.clear();
                advance(rig.spec, rig.state, rig.reserve, at + Duration{1 + random() % 20'000'000},
                        {&wish, 1}, rig.events);
                at = rig.state.now;
                fired += static_cast<std::int64_t>(rig.of(WeaponEventKind::shot).size());
                ASSERT_EQ(rig.state.rounds + rig.reserve.rounds + fired, total);
                ASSERT_GE(rig.state.rounds, 0);
                ASSERT_LE(rig.state.rounds, rig.spec.magazine);
                ASSERT_GE(rig.reserve.rounds, 0);
                ASSERT_LE(rig.reserve.rounds, rig.spec.reserve);
            }
            EXPECT_GT(fired, 10'000);
            EXPECT_EQ(fired, rig.state.shots);
        }
    }
}

struct Expected {
    double at_ms;
    WeaponEventKind kind;
    WeaponRefusal refusal = WeaponRefusal::none;
    std::int32_t rounds = -1; ///< not looked at when negative
};

struct Story {
    const char* name;
    WeaponSpec spec;
    std::int32_t rounds; ///< in the magazine at the start
    std::vector<WeaponIntent> intents;
    std::vector<Expected> events;
};

std::vector<Story> stories() {
    using enum WeaponEventKind;
    using enum WeaponRefusal;
    const auto automatic = [](std::int32_t magazine, std::int32_t reserve) {
        return weapon_of(TriggerMode::automatic, 600.0, magazine, reserve, 1.0);
    };
    const auto single = weapon_of(TriggerMode::single, 600.0, 5, 9, 1.0);
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
        {"a tap within one tick fires",
         single,
         5,
         {{at_ms(7), true, false}, {at_ms(7), false, false}},
         {{7, shot, none, 4}}},
    };
}

TEST(Weapon, TellsTheStoryOfTriggerAndReload) {
    for (const Story& story : stories()) {
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

TEST(Weapon, ShowsTheProgressOfAReload) {
    Rig rig{weapon_of(TriggerMode::automatic, 600.0, 5, 9, 2.0)};
    rig.state.rounds = 0;
    rig.run({{Time{}, false, true}}, {60}, Time{std::chrono::milliseconds{500}});
    EXPECT_DOUBLE_EQ(reload_progress(rig.spec, rig.state, rig.reserve), 0.25);
    rig.run({}, {60}, Time{std::chrono::seconds{2}});
    EXPECT_TRUE(is_reloading(rig.state)) << "what is due at the end of a span belongs to the next";
    EXPECT_DOUBLE_EQ(reload_progress(rig.spec, rig.state, rig.reserve), 1.0);
    rig.run({}, {60}, Time{std::chrono::seconds{2} + Duration{1}});
    EXPECT_FALSE(is_reloading(rig.state));
    EXPECT_EQ(reload_progress(rig.spec, rig.state, rig.reserve), 0.0);
}

TEST(Weapon, FiresAgainWhenTheGamePutsRoundsIntoADryMagazine) {
    Rig rig{weapon_of(TriggerMode::automatic, 600.0, 5, 0, 1.0)};
    rig.state.rounds = 0;
    rig.run({{at_ms(0), true, false}, {at_ms(5), false, false}}, {60}, at_ms(10));
    rig.state.rounds = 5;
    rig.run({{at_ms(20), true, false}}, {60}, at_ms(300));
    EXPECT_EQ(rig.of(WeaponEventKind::shot).size(), 3U);
}

} // namespace
} // namespace avrek
