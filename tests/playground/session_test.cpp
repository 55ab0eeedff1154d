#include "playground_rig.h"

#include <gtest/gtest.h>
#include <unistd.h>

#include <algorithm>
#include <fstream>

// The session of the playground: its script, its values in the fight, its past.
namespace avrek::playground {
namespace {

TEST(PlaygroundSession, AScriptDrivesEverything) {
    const auto script = parse_script("[[do]]\nat = 0.5\nhold = ['trigger', 'aim']\nshot = 'a.png'\n"
                                     "[[do]]\nat = 1\nrelease = ['trigger']\nlook = [90, 5]\n"
                                     "set = { 'weapon.thorn-rifle.rate_of_fire' = 900 }\n"
                                     "entry = 'weapon.burr-gun'\npress = ['next-view', 'show-regions']\n"
                                     "[[do]]\nat = 1.2\nslot = 1\n"
                                     "[[do]]\nat = 1.5\npress = ['pause', 'step-back', 'step-back']\n",
                                     "s.toml");
    ASSERT_TRUE(script) << to_string(script.diagnostics[0]);
    Session session{demo(), {.crew = 3}};
    session.run(*script);
    std::vector<std::string> shots;
    for (int frame = 0; frame < 128; ++frame) {
        const auto wanted = session.advance(tick);
        shots.insert(shots.end(), wanted.begin(), wanted.end());
    }
    EXPECT_EQ(shots, std::vector<std::string>{"a.png"});
    const json report = report_of(session);
    EXPECT_EQ(report["paused"], true);
    EXPECT_EQ(report["entry"], "weapon.burr-gun");
    EXPECT_EQ(report["changes"], 1);
    EXPECT_EQ(report["values"]["weapon.thorn-rifle.rate_of_fire"], "900");
    EXPECT_EQ(report["tick"], session.stage().newest() - 2);
    EXPECT_GT(report["shots"], 4);
    EXPECT_EQ(session.view(), View::behind);
    EXPECT_TRUE(session.shows(Command::show_regions));
    EXPECT_FALSE(session.picture().tracers.empty() && session.picture().marks.empty());
    EXPECT_GT(session.picture().directions.size(), 4U);
    for (const Direction& direction : session.picture().directions) {
        EXPECT_LT(std::hypot(direction.left, direction.up), from_degrees(8))
            << "within any cone of the rifle";
    }
    Session again{demo(), {.crew = 3}};
    again.run(*script);
    play(again, 128);
    EXPECT_EQ(again.report(), session.report()) << "the same script, the same state";
    again.command(Command::undo);
    EXPECT_EQ(report_of(again)["changes"], 0);
    again.command(Command::undo);
    EXPECT_EQ(report_of(again)["notice"], "there is no change to take back");
}

// The last picture of the tour shows a kill by the second player, who has a link as its victim has.
TEST(PlaygroundSession, TheTourEndsWithAKillToldThreeWays) {
    const auto script = parse_script(contents(AVREK_SOURCE_DIR "/data/playground/tour.toml"), "tour.toml");
    ASSERT_TRUE(script) << to_string(script.diagnostics[0]);
    Session session{demo(), {.targets = 3}};
    session.run(*script);
    std::vector<std::string> shots;
    while (shots.empty() || !shots.back().ends_with("playground-link.png")) {
        ASSERT_LT(session.clock() - Time{}, std::chrono::seconds{10});
        const auto wanted = session.advance(tick);
        shots.insert(shots.end(), wanted.begin(), wanted.end());
    }
    const auto& kills = session.linked()->accounts().kills();
    ASSERT_FALSE(kills.empty());
    EXPECT_TRUE(kills.back().who == session.player() && kills.back().felt);
    EXPECT_GE(kills.back().hits.size(), 2U);
    EXPECT_EQ(shots.size(), 3U);
}

// An explosion shows the lines by which bodies were looked for, from its centre, and which of them got there.
TEST(PlaygroundSession, ExplosionsShowTheirLinesOfSight) {
    Session session{demo(), {.crew = 1, .targets = 3}};
    play(session, 5);
    const Loadout& carried = session.fight().match().find(session.player())->loadout;
    for (std::int8_t slot = 0; slot < 6; ++slot) {
        const WeaponSpec* weapon = weapon_in(session.fight().arsenal(), carried, slot);
        session.controls().slot =
            weapon != nullptr && weapon->id == "seed-lobber" ? slot : session.controls().slot;
    }
    play(session, 80);
    std::size_t reached = 0;
    std::size_t blasts = 0;
    for (int index = 0; index < 400 && reached == 0; ++index) {
        const Vector3 eye = session.fight().readout(session.player()).eye;
        session.controls().look = look_of(session.fight().scene().pose_of(BodyId{1001})->position - eye);
        session.controls().set(Held::trigger, index % 20 == 0);
        session.advance(tick);
        for (const Event& event : session.events()) {
            const auto* blast = std::get_if<BlastEvent>(&event);
            for (const BlastLine& line : session.picture().blast_lines) {
                const bool is_of_it = blast != nullptr && line.since == blast->at;
                EXPECT_TRUE(!is_of_it || line.from == blast->centre);
                EXPECT_TRUE(!is_of_it || !line.reaches || (line.to - line.from).norm() < blast->radius + 1.0);
                reached += is_of_it && line.reaches ? 1U : 0U;
            }
            blasts += blast != nullptr ? 1U : 0U;
        }
    }
    EXPECT_GT(blasts, 0U);
    EXPECT_GT(reached, 0U) << "a target stands there";
}

// Keys reach each moment of the timeline: as many as there are, one after the other, and back.
TEST(PlaygroundSession, KeysGoFromMomentToMoment) {
    Session session{demo(), {.crew = 1}};
    session.command(Command::previous_moment);
    EXPECT_EQ(session.notice(), "there is no earlier moment");
    std::vector<Tick> ticks;
    for (const double damage : {25.0, 30.0, 35.0, 40.0}) {
        play(session, 100);
        session.set("weapon.thorn-rifle.damage", damage);
        ticks.push_back(session.fight().tick());
    }
    play(session, 100);
    ASSERT_EQ(session.picture().moments.size(), ticks.size());
    const auto follow = [&](Command command, const char* end) {
        for (const Tick tick : ticks) {
            session.command(command);
            EXPECT_NEAR(static_cast<double>(session.fight().tick()), static_cast<double>(tick), 1.0);
            EXPECT_TRUE(session.stage().is_paused());
        }
        session.command(command);
        EXPECT_EQ(session.notice(), end);
    };
    std::reverse(ticks.begin(), ticks.end());
    follow(Command::previous_moment, "there is no earlier moment");
    std::reverse(ticks.begin(), ticks.end());
    ticks.erase(ticks.begin());
    follow(Command::next_moment, "there is no later moment");
}

TEST(PlaygroundSession, AChangedValueIsInTheFightWithinTwoTicks) {
    Session session{demo(), {.crew = 2}};
    play(session, 10);
    session.set("weapon.thorn-rifle.magazine", 12);
    play(session, 2);
    EXPECT_EQ(session.stage().fight().arsenal().weapons[0].magazine, 12);
    EXPECT_LE(session.stage().fight().readout(session.stage().player()).weapon->rounds, 13);
    session.wait_for_killing_times();
    const auto same = session.killing_times();
    ASSERT_TRUE(same != nullptr && same->now.points.size() == 12U);
    session.set("weapon.thorn-rifle.damage", 60);
    session.wait_for_killing_times();
    const auto answer = session.killing_times();
    EXPECT_EQ(answer->now.points[0].shots, 2);
    EXPECT_EQ(answer->first.points[0].shots, same->first.points[0].shots);
    EXPECT_GT(answer->first.points[0].shots, 2);
    EXPECT_LT(*answer->now.points[0].usual, *answer->first.points[0].usual);
    session.command(Command::compare);
    session.wait_for_killing_times();
    EXPECT_EQ(session.killing_times()->now.points[0].shots, same->first.points[0].shots);
}

// A file that lacks everything is taken in too: the fight keeps what it needs.
TEST(PlaygroundSession, GoesOnWhenAFileLosesItsWeapons) {
    const std::string file = ::testing::TempDir() + "avrek-bare-" + std::to_string(getpid()) + ".toml";
    std::ofstream{file} << shipped_texts().front().text;
    Session session{demo(), {.crew = 2}};
    session.watch({file});
    play(session, 20);
    std::ofstream{file} << "[surface.soil]\nfriction = 0.5\n";
    play(session, 30);
    EXPECT_TRUE(session.tuner().arsenal()->weapons.empty()) << session.notice();
    EXPECT_EQ(session.fight().arsenal().weapons.size(), demo()->arsenal.weapons.size());
    session.command(Command::link);
    EXPECT_EQ(session.linked(), nullptr) << "nobody could fight with these values";
    EXPECT_NE(session.notice().find("the arsenal has no "), std::string::npos) << session.notice();
    std::filesystem::remove(file);
}

// Hours of dragging a slider: old values are forgotten, and kept ticks can still be gone back to.
TEST(PlaygroundSession, ForgetsValuesThatNoKeptTickNeeds) {
    Session session{demo(), {.crew = 2, .kept = std::chrono::seconds{1}}};
    for (int frame = 0; frame < 120; ++frame) {
        session.set("weapon.thorn-rifle.damage", 20 + frame % 97, frame > 0);
        session.advance(tick);
    }
    EXPECT_EQ(session.tuner().change_count(), 1U);
    const Stage& stage = session.stage();
    for (Tick to = stage.newest(); to >= stage.oldest(); to -= 5) {
        session.seek(to);
        ASSERT_EQ(stage.fight().tick(), to) << session.notice();
    }
}

} // namespace
} // namespace avrek::playground
