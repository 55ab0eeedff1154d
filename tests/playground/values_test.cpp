#include "../rounds.h"
#include "../scene/draw.h"
#include "playground_rig.h"
#include <avrek/arsenal/arsenal_hash.h>

#include <gtest/gtest.h>
#include <unistd.h>

// The values of the playground: curves, presets, keys with their defaults, and what a change does.
namespace avrek::playground {
namespace {

// Whatever is dragged to wherever: the arsenal stays whole, and undo takes it back.
TEST(PlaygroundValues, CurvesAndPatternsCanBeDraggedAnywhere) {
    Draw draw{12};
    Session session{demo(), {.crew = 1}};
    std::array<int, 3> kinds{};
    for (int trial = 0; trial < rounds(60); ++trial) {
        const auto& entries = session.tuner().entries();
        session.tune(trial < 2 ? "weapon.thorn-rifle" : entries[draw.below(entries.size())]);
        if (session.curves().empty()) {
            continue;
        }
        std::size_t which = draw.below(session.curves().size());
        for (std::size_t other = 0; trial < 2 && other < session.curves().size(); ++other) {
            const char* name = trial == 0 ? ".recoil.pattern" : ".falloff";
            which = session.curves()[other].path.ends_with(name) ? other : which;
        }
        const EditedCurve curve = session.curves()[which];
        const std::size_t index = draw.below(curve.points.size());
        const CurvePoint from = drawn_point(curve, index);
        const bool is_curve = curve.kind == EditedCurve::Kind::curve;
        const CurvePoint wanted{from.x + (is_curve ? draw(-50.0, 50.0) : draw(-3.0, 3.0)),
                                from.y + draw(-1.0, 1.0)};
        const double x =
            moved_point(curve, index, wanted).at(curve.path + '[' + std::to_string(index + 1) + "].x");
        ASSERT_TRUE(!is_curve || index == 0 || x > curve.points[index - 1].x);
        ASSERT_TRUE(!is_curve || index + 1 == curve.points.size() || x < curve.points[index + 1].x);
        const std::size_t changes = session.tuner().change_count();
        session.move_point(curve, index, {from.x, from.y});
        session.move_point(curve, index, wanted, true);
        ASSERT_EQ(session.tuner().change_count(), changes + 1) << "a drag is one change";
        if (!session.notice().empty()) { // some curves may not rise: the point stays
            ASSERT_NE(session.notice().find("allowed: "), std::string::npos) << session.notice();
            session.command(Command::undo);
            continue;
        }
        ++kinds[static_cast<std::size_t>(curve.kind)];
        const EditedCurve& moved =
            *std::find_if(session.curves().begin(), session.curves().end(),
                          [&](const EditedCurve& one) { return one.path == curve.path; });
        const CurvePoint is = drawn_point(moved, index);
        if (is_curve) {
            for (std::size_t next = 1; next < moved.points.size(); ++next) {
                ASSERT_LT(moved.points[next - 1].x, moved.points[next].x);
            }
        } else {
            ASSERT_NEAR(is.x, wanted.x, 0.01 + 0.01 * std::abs(wanted.x));
        }
        const bool is_path = curve.kind == EditedCurve::Kind::path; // limits hold for its steps
        ASSERT_NEAR(is.y, is_path ? wanted.y : std::clamp(wanted.y, curve.min, curve.max),
                    0.01 + 0.01 * std::abs(wanted.y));
        session.command(Command::undo);
        ASSERT_EQ(session.curves()[0].points.size(), session.curves()[0].first.size());
        ASSERT_EQ(session.tuner().arsenal()->weapons.size(), demo()->arsenal.weapons.size());
        ASSERT_EQ(hash_of(*session.tuner().arsenal()), hash_of(demo()->arsenal)) << curve.path;
    }
    EXPECT_GT(kinds[0], 0);
    EXPECT_GT(kinds[2], 0) << "a recoil pattern";
}

// A default that is written out changes nothing: what the panel shows of keys that are not given is true.
TEST(PlaygroundValues, ShowsTheDefaultsOfKeysThatAreNotGiven) {
    Session session{demo(), {.crew = 1}};
    const std::size_t given = session.numbers().size();
    session.command(Command::all_keys);
    EXPECT_GT(session.numbers().size(), given + 10);
    const ArsenalValues values{shipped_texts()};
    const std::uint64_t hash = hash_of(demo()->arsenal);
    std::size_t defaults = 0;
    for (const std::string& entry : session.tuner().entries()) {
        for (const ArsenalNumber& number : values.all_numbers_of(entry)) {
            if (number.given ||
                number.path.ends_with(".field")) { // 2.1 radians are no round number of degrees
                continue;
            }
            const ArsenalChange change{number.path, number.value};
            const Loaded<Arsenal> arsenal = values.with({&change, 1});
            if (arsenal) { // a table that is not there may need more
                ++defaults;
                EXPECT_EQ(hash_of(*arsenal), hash) << number.path << " = " << number.value;
            }
        }
    }
    EXPECT_GT(defaults, 150U);
}

TEST(PlaygroundValues, PresetsAreTheirOverlays) {
    for (const char* name : {"hot-burr-gun", "quick-rifle", "tough-crew"}) {
        const std::string file = std::string{AVREK_SOURCE_DIR "/data/overlays/"} + name + ".toml";
        Session session{demo(), {.crew = 1}};
        session.offer_presets({file});
        session.set("weapon.thorn-rifle.magazine", 21);
        session.command(Command::next_preset);
        std::vector<ArsenalText> texts = shipped_texts();
        std::ifstream stream{file};
        texts.push_back({"one", "[weapon.thorn-rifle]\nmagazine = 21\n"});
        texts.push_back({file, std::string{std::istreambuf_iterator<char>{stream}, {}}});
        EXPECT_EQ(hash_of(*session.tuner().arsenal()), hash_of(*parse_arsenal(texts))) << session.notice();
        session.command(Command::undo);
        EXPECT_EQ(session.tuner().change_count(), 1U) << "a preset is one change";
        session.apply("none.toml");
        EXPECT_EQ(session.notice(), "none.toml cannot be read");
        session.apply(AVREK_SOURCE_DIR "/README.md");
        EXPECT_NE(session.notice().find("README.md"), std::string::npos);
        EXPECT_EQ(session.tuner().change_count(), 1U);
    }
    Session none{demo(), {.crew = 1}};
    none.command(Command::next_preset);
    EXPECT_EQ(none.notice(), "there is no preset");
}

// Keys move each point of the entry's curves as far as a mouse could; planes have left on the left.
std::size_t points_moved_by_keys(Session& session) {
    std::size_t moved = 0;
    for (std::size_t number = 0; number < session.numbers().size(); ++number) {
        session.command(Command::next_number);
        const std::string path = session.selected();
        const std::vector<EditedCurve> curves = session.curves();
        const auto curve = std::find_if(curves.begin(), curves.end(), [&path](const EditedCurve& one) {
            return path.starts_with(one.path + '[');
        });
        if (curve == curves.end()) {
            session.command(Command::point_left);
            EXPECT_EQ(session.notice(), "no point of a curve is chosen") << path;
            continue;
        }
        const auto place = static_cast<std::size_t>(curve - curves.begin());
        const std::size_t index = std::stoul(path.substr(curve->path.size() + 1)) - 1;
        const double to_right = curve->kind == EditedCurve::Kind::curve ? 1.0 : -1.0;
        for (const auto& [command, way] :
             {std::pair{Command::point_right, to_right}, {Command::point_left, -to_right}}) {
            const CurvePoint from = drawn_point(session.curves()[place], index);
            session.command(command);
            const CurvePoint to = drawn_point(session.curves()[place], index);
            EXPECT_NEAR(to.y, from.y, 0.01 + 0.01 * std::abs(from.y)) << path;
            EXPECT_GE((to.x - from.x) * way, 0.0) << path;
            moved += to.x != from.x ? 1U : 0U;
            session.command(Command::undo);
        }
    }
    return moved;
}

TEST(PlaygroundValues, KeysChangeTheNumberThatIsChosen) {
    Session session{demo(), {.crew = 1}};
    session.command(Command::larger);
    EXPECT_EQ(session.notice(), "no number is chosen");
    const std::size_t count = session.numbers().size();
    for (std::size_t index = 0; index < count; ++index) {
        session.command(Command::next_number);
        ASSERT_EQ(session.selected(), session.numbers()[index].path);
        const double before = session.numbers()[index].value;
        session.command(Command::larger);
        ASSERT_TRUE(session.numbers()[index].value > before || session.numbers()[index].max <= before)
            << session.selected() << ' ' << session.notice();
        session.command(Command::undo);
    }
    EXPECT_GT(points_moved_by_keys(session), 3U);
    const EditedCurve two{.path = "a.b", .points = {{0, 1}, {2, 3}}, .first = {}};
    for (const char* none : {"a.b[0].y", "a.b[3].y", "a.b[].y", "a.bc[1].y", "a.b"}) {
        EXPECT_FALSE(point_at(two, none)) << none; // a preset can have fewer points than the chosen one
    }
    EXPECT_EQ(point_at(two, "a.b[2].y"), 1U);
    session.command(Command::next_number);
    EXPECT_EQ(session.selected(), session.numbers().front().path) << "it goes round";
    session.command(Command::previous_number);
    EXPECT_EQ(session.selected(), session.numbers().back().path);
    session.command(Command::link);
    session.command(Command::next_number);
    EXPECT_EQ(session.selected(), "link.latency");
    session.command(Command::smaller);
    EXPECT_EQ(session.linked()->link().yours.latency, from_seconds(0.057));
}

TEST(PlaygroundValues, EndsWithoutChangesThatAreLostOnlyWhenAskedTwice) {
    const std::string file = ::testing::TempDir() + "avrek-end-" + std::to_string(getpid()) + ".toml";
    Session session{demo(), {.crew = 1}};
    session.save_to(file);
    EXPECT_TRUE(session.may_end());
    session.set("weapon.thorn-rifle.damage", 26);
    EXPECT_FALSE(session.may_end());
    EXPECT_NE(session.notice().find("not saved"), std::string::npos);
    EXPECT_TRUE(session.may_end());
    session.set("weapon.thorn-rifle.damage", 27);
    EXPECT_FALSE(session.may_end()) << "another change";
    session.command(Command::save);
    EXPECT_TRUE(session.may_end() && !session.has_unsaved());
    session.set("weapon.thorn-rifle.damage", 22);
    EXPECT_TRUE(session.may_end()) << "the first values again";
    std::filesystem::remove(file);
}

TEST(PlaygroundValues, SaysWhatAChangeDoes) {
    Session session{demo(), {.crew = 1}};
    session.wait_for_killing_times();
    EXPECT_TRUE(words_of(*session.killing_times()).empty());
    EXPECT_EQ(session.killing_times()->duels.size(), 2 * (demo()->arsenal.weapons.size() - 1));
    session.set("weapon.thorn-rifle.damage", 26);
    session.wait_for_killing_times();
    const auto answer = session.killing_times();
    const std::vector<std::string> words = words_of(*answer);
    ASSERT_GT(words.size(), 2U);
    EXPECT_NE(words.front().find("4 shots, was 5"), std::string::npos) << words.front();
    for (const KillDuel& one : answer->duels) {
        EXPECT_GE(one.now, one.first - 0.01) << one.other;
    }
    EXPECT_LE(*answer->first.fewer_from, 26.0) << "the damage that passes it";
    EXPECT_EQ(answer->now.stretches.front().shots, answer->now.points.front().shots);
    session.set("weapon.thorn-rifle.tracer_speed", 500);
    session.command(Command::undo);
    session.command(Command::undo);
    session.set("shooter." + demo()->arsenal.shooters.back().id + ".reaction", 0.3);
    session.wait_for_killing_times();
    EXPECT_EQ(words_of(*session.killing_times()).front(), "no time to kill changes");
}

// The group on the board is that of the rifle's cone.
TEST(PlaygroundValues, ABoardShowsWhereShotsGo) {
    Session session{demo(), {.crew = 1}};
    play(session, 20);
    session.command(Command::board);
    session.controls().set(Held::trigger, true);
    for (int index = 0; index < 60; ++index) {
        session.advance(tick);
        const Fighter& me = *session.fight().find(session.player());
        session.controls().look = turned(session.controls().look, 0.0, -0.3 * me.kick.pitch);
    }
    const FiringBoard& board = session.board();
    EXPECT_EQ(board.distance, 10.0);
    ASSERT_GT(board.hits.size(), 5U);
    EXPECT_LE(board.hits.size(), session.fight().match().find(session.player())->stats.shots);
    for (const Vector3& point : board.points) {
        EXPECT_NEAR(to_local(board.pose, point).z(), 0.0, 1e-9);
    }
    EXPECT_GT(session.picture().recoil.size(), 20U);
    EXPECT_GT(session.picture().recoil.back().kick.pitch, 0.0);
    EXPECT_NEAR(session.picture().recoil.front().pulled.pitch, 0.0, 1e-9);
    EXPECT_GT(session.picture().recoil.back().pulled.pitch, 0.0) << "it was pulled down";
    for (const Metres distance : {20.0, 30.0, 40.0, 0.0}) {
        session.command(Command::board);
        EXPECT_EQ(session.board().distance, distance);
        EXPECT_TRUE(session.board().hits.empty());
    }
}

} // namespace
} // namespace avrek::playground
