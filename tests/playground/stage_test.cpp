#include "../rounds.h"
#include "../scene/draw.h"
#include "playground_rig.h"
#include <avrek/scene/nearest.h>

#include <gtest/gtest.h>
#include <session/geometry.h>
#include <session/sounds.h>
#include <unistd.h>

// The playground without its window.
namespace avrek::playground {
namespace {

using nlohmann::json;

// Back to any tick and on again, with the same inputs, comes to the same states.
TEST(Stage, GoesBackAndOnToTheSameStates) {
    Draw draw{4};
    Stage stage{demo(), {.crew = 5, .seed = 3, .kept = std::chrono::seconds{2}}};
    std::map<Tick, std::uint64_t> hashes;
    Arsenal quick = demo()->arsenal;
    quick.weapons[0].rounds_per_minute = 900;
    for (int index = 0; index < 260; ++index) {
        hashes[stage.fight().tick()] = stage.fight().state_hash();
        stage.controls.held = static_cast<std::uint32_t>(draw.below(1U << held_count));
        stage.controls.look = turned(stage.controls.look, draw(-0.2, 0.2), draw(-0.1, 0.1));
        if (index == 180) {
            ASSERT_TRUE(stage.retune(std::make_shared<const Arsenal>(quick)));
        }
        stage.play(tick);
    }
    hashes[stage.newest()] = stage.fight().state_hash();
    EXPECT_LT(stage.newest() - stage.oldest(), 200) << "older ones are forgotten";
    EXPECT_FALSE(stage.seek(stage.oldest() - 1) || stage.seek(stage.newest() + 1));
    for (int trial = 0; trial < rounds(30); ++trial) {
        const auto ticks = static_cast<std::size_t>(stage.newest() - stage.oldest());
        const Tick to = stage.oldest() + static_cast<Tick>(draw.below(ticks + 1));
        ASSERT_TRUE(stage.seek(to));
        ASSERT_EQ(stage.fight().state_hash(), hashes[to]) << to;
    }
    ASSERT_TRUE(stage.seek(stage.newest() - 5));
    const Tick newest = stage.newest();
    for (int step = 0; step < 5; ++step) {
        stage.step();
        ASSERT_EQ(stage.fight().state_hash(), hashes[stage.fight().tick()]);
    }
    EXPECT_EQ(stage.newest(), newest);
    stage.step();
    EXPECT_EQ(stage.newest(), newest + 1) << "a new one";
    // From before the change it plays on with the values that count now.
    ASSERT_TRUE(stage.seek(stage.oldest()));
    EXPECT_EQ(stage.fight().arsenal().weapons[0].rounds_per_minute,
              demo()->arsenal.weapons[0].rounds_per_minute);
    stage.pause(false);
    stage.play(tick);
    EXPECT_EQ(stage.fight().arsenal().weapons[0].rounds_per_minute, 900);
    EXPECT_EQ(stage.newest(), stage.fight().tick()) << "what came later is gone";
}

// Targets walk their rails, fall, stand up again, and go back in time with everything else.
TEST(Stage, TargetsFallAndStandUpAgain) {
    Stage stage{demo(), {.crew = 1, .targets = 2}};
    const BodyId target{1001};
    stage.play(tick);
    ASSERT_NE(stage.fight().find(target), nullptr);
    const Vector3 eye = stage.fight().readout(stage.player()).eye;
    double least = 1e9;
    double most = 0.0;
    bool fell = false;
    std::map<Tick, std::uint64_t> hashes;
    for (int index = 0;
         index < 900 && !(fell && stage.fight().match().find(target)->vitals.life == LifeState::alive);
         ++index) {
        const Vector3 middle = stage.fight().scene().pose_of(target)->position + Vector3{0, 1.2, 0};
        stage.controls.look = look_of(middle - eye);
        stage.controls.set(Held::trigger, index % 40 < 30);
        least = std::min(least, middle.x());
        most = std::max(most, middle.x());
        hashes[stage.fight().tick()] = stage.fight().state_hash();
        stage.play(tick);
        fell = fell || stage.fight().match().find(target)->vitals.life == LifeState::dead;
    }
    EXPECT_TRUE(fell) << "shots find it";
    EXPECT_EQ(stage.fight().match().find(target)->vitals.fraction(), 1.0) << "it stands again";
    EXPECT_GT(most - least, 0.5);
    for (const auto& [at, hash] : hashes) {
        if (at >= stage.oldest() && at % 7 == 0) {
            ASSERT_TRUE(stage.seek(at));
            ASSERT_EQ(stage.fight().state_hash(), hash) << at;
        }
    }
}

TEST(Stage, KeepsTimeAtAnySpeed) {
    Stage stage{demo(), {.crew = 2}};
    const Tick begin = stage.fight().tick();
    for (int frame = 0; frame < 100; ++frame) {
        stage.play(tick / 4);
    }
    EXPECT_EQ(stage.fight().tick(), begin + 25);
    stage.set_speed(0.5);
    stage.play(4 * tick);
    EXPECT_EQ(stage.fight().tick(), begin + 27);
    stage.play(std::chrono::hours{1});
    EXPECT_LE(stage.fight().tick(), begin + 27 + 16) << "a long wait is left out";
    stage.pause(true);
    const Tick paused = stage.fight().tick();
    stage.play(std::chrono::milliseconds{100});
    EXPECT_EQ(stage.fight().tick(), paused);
    EXPECT_LE(stage.shown(), stage.fight().now());
}

TEST(Stage, SaysWhatAnArsenalLacks) {
    GameData data = *demo();
    data.arsenal.weapons.clear();
    data.arsenal.shooters.clear();
    EXPECT_EQ(validate_stage(data, {}).size(), 2U);
    EXPECT_EQ(validate_stage(*demo(), {}).size(), 0U);
    EXPECT_EQ(validate_stage(*demo(), {.crew = 0}).size(), 1U);
}

// Whatever is set, undone and redone: the values are those of the changes that count.
TEST(Tuner, UndoesAndRedoesAnything) {
    Draw draw{6};
    Tuner tuner{shipped_texts()};
    const std::string first = "weapon.thorn-rifle.rate_of_fire";
    const std::vector<std::string> paths{first, "weapon.thorn-rifle.damage", "body.crew.health"};
    std::vector<std::map<std::string, double>> history{{}};
    std::size_t at = 0;
    for (int trial = 0; trial < rounds(200); ++trial) {
        const auto what = draw.below(5);
        if (what < 2) {
            const std::string& path = paths[draw.below(paths.size())];
            const double value = 20.0 + static_cast<double>(draw.below(50));
            ASSERT_TRUE(tuner.set({{path, value}}).empty());
            history.resize(at + 1);
            history.push_back(history.back());
            history[++at][path] = value;
        } else if (what == 2) {
            ASSERT_EQ(tuner.undo(), at > 0);
            at -= at > 0 ? 1 : 0;
        } else if (what == 3) {
            ASSERT_EQ(tuner.redo(), at + 1 < history.size());
            at += at + 1 < history.size() ? 1 : 0;
        } else {
            tuner.compare();
            ASSERT_EQ(tuner.arsenal(), tuner.first());
            ASSERT_EQ(tuner.find(first)->value, 720);
            tuner.compare();
        }
        ASSERT_EQ(tuner.change_count(), at);
        for (const std::string& path : paths) {
            const auto changed = history[at].find(path);
            const double wanted = changed != history[at].end()
                                      ? changed->second
                                      : ArsenalValues{shipped_texts()}.find(path)->value;
            ASSERT_EQ(tuner.find(path)->value, wanted) << path;
        }
        const auto rate = history[at].contains(first) ? history[at][first] : 720.0;
        ASSERT_EQ((*tuner.arsenal())[*tuner.arsenal()->weapon("thorn-rifle")].rounds_per_minute, rate);
    }
    const std::size_t before = tuner.change_count();
    for (const double dragged : {30.0, 31.0, 32.0}) {
        ASSERT_TRUE(tuner.set({{paths[1], dragged}}, dragged > 30.0).empty());
    }
    EXPECT_EQ(tuner.change_count(), before + 1) << "a slider that is dragged is one change";
    EXPECT_FALSE(tuner.set({{first, -5}}).empty());
    EXPECT_FALSE(tuner.set({{"weapon.thorn-rifle.rate", 5}}).empty());
    EXPECT_EQ(tuner.change_count(), before + 1);
    EXPECT_NE(tuner.overlay("o.toml")->text.find("damage = 32"), std::string::npos);
    // Other files below it keep the changes on top.
    std::vector<ArsenalText> texts = shipped_texts();
    texts.push_back({"o.toml", "[weapon.thorn-rifle]\nmagazine = 11\n"});
    EXPECT_TRUE(tuner.take(texts).empty());
    EXPECT_EQ(tuner.arsenal()->weapons[0].magazine, 11);
    EXPECT_EQ(tuner.arsenal()->weapons[0].damage, 32);
    EXPECT_FALSE(tuner.take({{"o.toml", "[weapon"}}).empty());
    EXPECT_EQ(tuner.arsenal()->weapons[0].magazine, 11);
}

TEST(PlaygroundSounds, AreHeardFromWhereTheyAreAndEnd) {
    for (std::size_t kind = 0; kind < sound_count; ++kind) {
        const std::vector<float> samples = samples_of(static_cast<SoundKind>(kind));
        const auto [least, most] = std::minmax_element(samples.begin(), samples.end());
        EXPECT_TRUE(*least >= -1.0F && *most <= 1.0F && *most > 0.1F) << kind;
        EXPECT_LT(std::abs(samples.back()), 0.01F) << kind;
    }
    Stage stage{demo(), {.crew = 2}};
    stage.play(tick);
    const CombatantReadout player = stage.fight().readout(stage.player());
    Draw draw{3};
    for (int trial = 0; trial < rounds(200); ++trial) {
        const Vector3 way{draw(-30, 30), draw(-3, 3), draw(-30, 30)};
        const Event shot = ShotEvent{.who = BodyId{2}, .muzzle = player.eye + way};
        const auto heard = sounds_of({&shot, 1}, stage.fight(), stage.player());
        ASSERT_EQ(heard.size(), 1U);
        const double side = way.dot(turned_to(player.view) * world_left());
        ASSERT_EQ(heard[0].left > heard[0].right, side > 0.0);
        const Event farther = ShotEvent{.who = BodyId{2}, .muzzle = player.eye + 3.0 * way};
        const auto faint = sounds_of({&farther, 1}, stage.fight(), stage.player());
        ASSERT_LE(faint[0].left + faint[0].right, heard[0].left + heard[0].right);
    }
    Mixer mixer;
    std::vector<float> both(2 * 4410);
    mixer.add(std::vector<Sound>(500, {SoundKind::blast}));
    mixer.mix(both);
    EXPECT_LE(*std::max_element(both.begin(), both.end()), 1.0F);
    EXPECT_GT(*std::max_element(both.begin(), both.end()), 0.3F);
    for (int part = 0; part < 8; ++part) {
        mixer.mix(both);
    }
    EXPECT_EQ(std::count(both.begin(), both.end(), 0.0F), static_cast<std::ptrdiff_t>(both.size()));
}

TEST(PlaygroundScript, SaysWhatIsWrongWhereAndWhatIsAllowed) {
    const auto wrong =
        parse_script("[[do]]\nhold = ['triger']\nat = 1\n[[do]]\nat = -1\nlok = 3\n"
                     "press = 'pause'\nlink = { los = 1, loss = 99 }\n[[do]]\nset = 3\n[[den]]\n",
                     "s.toml");
    ASSERT_FALSE(wrong);
    ASSERT_EQ(wrong.diagnostics.size(), 8U);
    std::string all;
    for (const Diagnostic& fault : wrong.diagnostics) {
        EXPECT_TRUE(fault.line > 0 && fault.column > 0 && !fault.allowed.empty()) << to_string(fault);
        all += to_string(fault) + '\n';
    }
    for (const char* part :
         {"did you mean 'trigger'?", "did you mean 'look'?", "s.toml:2:9", "a list of commands",
          "latency, jitter, loss", "0 to 50", "[[do]] with at = SECONDS"}) {
        EXPECT_NE(all.find(part), std::string::npos) << part << " is not in\n" << all;
    }
    EXPECT_FALSE(parse_script("[[do", "s.toml"));
    EXPECT_TRUE(parse_script("", "s.toml"));
    for (const std::string& name : held_names()) {
        EXPECT_EQ(name_of(*held_named(name)), name);
    }
    for (const std::string& name : command_names()) {
        EXPECT_EQ(name_of(*command_named(name)), name);
        EXPECT_FALSE(meaning_of(*command_named(name)).empty());
    }
}

const Corner& drawn_corner(const LevelGeometry& level, std::size_t index) {
    return level.corners[level.numbers[index]];
}

Vector3 drawn_at(const LevelGeometry& level, std::size_t index) {
    const auto& at = drawn_corner(level, index).at;
    return {at[0], at[1], at[2]};
}

Triangle drawn_triangle(const LevelGeometry& level, std::size_t first) {
    return {drawn_at(level, first), drawn_at(level, first + 1), drawn_at(level, first + 2)};
}

// Slow pictures are drawn coarser, never more than twice, and quick ones in full again.
TEST(PlaygroundGeometry, IsCoarserWhilePicturesAreSlow) {
    const LevelGeometry level = geometry_of(demo()->arena.level, demo()->arsenal.surfaces);
    Draw draw{7};
    double coarser = 1.0;
    for (const auto& [length, ends_at] :
         {std::pair{60, 2.0}, {40, 2.0}, {16, 1.0}, {40, 1.0}, {300, 2.0}, {1, 1.0}}) {
        for (int picture = 0; picture < 60; ++picture) {
            const double before = coarser;
            coarser = next_coarseness(coarser, std::chrono::milliseconds{length});
            EXPECT_TRUE(coarser >= 1.0 && coarser <= 2.0 && std::abs(coarser - before) < 0.21);
        }
        EXPECT_NEAR(coarser, ends_at, 1e-9) << length;
    }
    std::size_t differ = 0;
    for (const Chunk& chunk : level.solid) {
        Camera camera;
        camera.pose.position = {draw(-40, 40), draw(0, 8), draw(-40, 40)};
        const std::size_t full = detail_of(chunk, camera);
        const std::size_t coarse = detail_of(chunk, camera, 2.0);
        EXPECT_GE(coarse, full);
        differ += coarse > full ? 1U : 0U;
    }
    EXPECT_GT(differ, level.solid.size() / 20);
}

// A coarse surface is near every corner of the fine one. The stated error is a mean.
TEST(PlaygroundGeometry, CoarseDetailsStayNearTheLevel) {
    const LevelGeometry atrium = geometry_of(demo()->arena.level, demo()->arsenal.surfaces);
    for (std::size_t detail = 0; detail < detail_errors.size(); ++detail) {
        std::size_t moved = 0;
        for (const Chunk& chunk : atrium.solid) {
            const CornerRange& fine = chunk.details[0];
            const CornerRange& coarse = chunk.details[detail];
            for (std::size_t index = fine.first; index < fine.first + fine.count;
                 index += tests_are_slow ? 399 * 5 : 399) {
                Metres nearest = 1e300;
                for (std::size_t first = coarse.first; first < coarse.first + coarse.count; first += 3) {
                    // The last corner has a triangle's colour.
                    if (drawn_corner(atrium, first + 2).colour == drawn_corner(atrium, index + 2).colour) {
                        nearest = std::min(
                            nearest,
                            nearest_point(drawn_triangle(atrium, first), drawn_at(atrium, index)).distance);
                    }
                }
                ASSERT_LE(nearest, 2.0 * detail_errors[detail] + 1e-6) << detail;
                moved += nearest > 0.2 * detail_errors[detail] ? 1U : 0U;
            }
        }
        EXPECT_EQ(moved > enough(20U), detail > 0) << detail;
    }
}

// No corner in the picture is in a box that is culled.
TEST(PlaygroundGeometry, CullsNothingThatIsSeen) {
    const LevelGeometry atrium = geometry_of(demo()->arena.level, demo()->arsenal.surfaces);
    std::size_t corners = 0;
    std::size_t fine = 0;
    std::size_t coarse = 0;
    for (const auto* chunks : {&atrium.solid, &atrium.clear}) {
        for (const Chunk& chunk : *chunks) {
            for (const CornerRange& part : chunk.details) {
                corners += part.count;
            }
            fine += chunk.details[0].count;
            coarse += chunk.details.back().count;
        }
    }
    EXPECT_EQ(corners, atrium.numbers.size());
    EXPECT_LT(2 * atrium.corners.size(), corners) << "triangles share corners";
    for (std::size_t first = 0; first < corners; first += tests_are_slow ? 21 : 3) {
        const Triangle triangle = drawn_triangle(atrium, first);
        const auto& normal = drawn_corner(atrium, first + 2).normal;
        const Vector3 front = (triangle.b - triangle.a).cross(triangle.c - triangle.a).normalized();
        ASSERT_GT(front.dot(Vector3{normal[0], normal[1], normal[2]}), 0.99) << first;
    }
    EXPECT_LT(2 * coarse, fine) << "far chunks have fewer triangles";
    EXPECT_GT(corners, 3 * demo()->arena.level.triangle_count() - 1);
    Draw draw{8};
    std::size_t culled = 0;
    const int trials = rounds(40);
    for (int trial = 0; trial < trials; ++trial) {
        Camera camera;
        camera.pose = {{draw(-15, 15), draw(0.5, 6), draw(-28, 28)},
                       turned_to({draw(-pi, pi), draw(-0.5, 0.5)})};
        for (const Chunk& chunk : atrium.solid) {
            if (may_be_seen(chunk.bounds, camera)) {
                continue;
            }
            ++culled;
            for (std::size_t index = chunk.details[0].first; index < chunk.details.back().first; index += 7) {
                const auto seen = on_screen(camera, drawn_at(atrium, index));
                ASSERT_FALSE(seen && seen->inside) << "trial " << trial;
            }
        }
    }
    EXPECT_GT(culled, static_cast<std::size_t>(trials) * atrium.solid.size() / 4);
    // Normals of closed shapes face outwards.
    for (const Shape& shape : {Shape{Sphere{{1, 2, 3}, 0.5}}, Shape{Capsule{{0, 0, 0}, {0, 1, 1}, 0.3}},
                               Shape{Box{{{1, 1, 1}, turned_to({1, 0.5})}, {1, 2, 3}}}}) {
        std::vector<Corner> drawn;
        add_shape(drawn, shape, {});
        EXPECT_EQ(drawn.size() % 3, 0U);
        for (const Corner& corner : drawn) {
            const Vector3 out = Vector3{corner.at[0], corner.at[1], corner.at[2]} - centre_of(shape);
            ASSERT_GT(out.dot(Vector3{corner.normal[0], corner.normal[1], corner.normal[2]}), 0.0);
        }
    }
}

} // namespace
} // namespace avrek::playground
