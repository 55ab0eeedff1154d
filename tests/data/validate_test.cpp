#include <avrek/arsenal/validate.h>
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/intents_toml.h>

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

namespace avrek {
namespace {

struct FaultyValue {
    const char* lines; ///< in a weapon from line 3; a section of their own from line 8
    int line;          ///< line of the diagnostic
    Severity severity;
    const char* message; ///< part of it
};

const FaultyValue faulty_values[] = {
    {"spread = { hip = 1, aimed = 2 }", 3, Severity::error, "spread.aimed: is wider than from the hip"},
    {"reload.commit = 3", 3, Severity::error, "reload.commit: comes after the end of the reload"},
    {"reload.commit = 1.5\nreload.empty_time = 1", 3, Severity::error, "of the reload from empty"},
    {"trigger = \"burst\"\nburst.gap = 0.2", 4, Severity::error, "burst.gap: is longer than the interval"},
    {"trigger = \"charge\"\ncharge = { min = 2, full = 1 }", 4, Severity::error, "charge.min: is longer"},
    {"recoil.pattern = [[0, 1], [0, nan]]", 3, Severity::error, "recoil.pattern: is nan"},
    {"recoil.pattern = [[0, 1]]\nrecoil.loop_from = 1", 4, Severity::error,
     "recoil.loop_from: is not a step"},
    {"rounds_per_shot = 31", 3, Severity::error, "rounds_per_shot: is more than the magazine holds"},
    {"bloom.recovery = [[0, 0.5], [1, 0.7], [2, 0]]", 3, Severity::error, "bloom.recovery: rises"},
    {"spread.pellet_pattern = [[0.9, 0.9]]", 3, Severity::error,
     "spread.pellet_pattern: has a point outside of the cone"},
    {"like = \"base\"\nspread.hip = 0.1", 2, Severity::error, "magazine: is missing"},
    {"feed = \"heat\"\nrange = 0", 4, Severity::error, "range: is 0"},
    {"ammo = \"thron\"", 3, Severity::error, "names no ammo: \"thron\", did you mean 'thorn'?"},
    {"ammo = 3", 3, Severity::error, "ammo: is 3"},
    {"trigger = []", 3, Severity::error, "trigger: is a list of 0"},
    {"trigger = [\"single\", \"brust\"]", 3, Severity::error, "did you mean 'burst'?"},
    {"chamber = 1", 3, Severity::error, "chamber: is 1; allowed: true or false"},
    {"spread = 0.7", 3, Severity::error, "spread: is 0.7; allowed: a table with the keys of weapon.spread"},
    {"spread.hpi = 1", 3, Severity::error, "has no key 'hpi', did you mean 'hip'?"},
    {"recoil.jitter = [1]", 3, Severity::error, "recoil.jitter: is a list of 1"},
    {"spread.pellet_pattern = 3", 3, Severity::error, "spread.pellet_pattern: is 3"},
    {"spread.airborne = 0.5", 3, Severity::warning, "makes a jumping shooter more accurate"},
    {"reload.empty_time = 1", 3, Severity::warning, "shorter than from a part-filled"},
    {"falloff = [[0, 0.5], [9, 1]]", 3, Severity::warning, "does more from farther away"},
    {"spread.pellet_pattern = [[0, 0]]\npellets = 2", 3, Severity::warning,
     "does not have one point for each pellet"},
    {"bloom.recovery = [[0, 1], [1, 0.5]]", 3, Severity::warning, "never comes to 0"},
    {"projectile = \"sed\"", 3, Severity::error, "names no projectile: \"sed\", did you mean 'seed'?"},
    {"projectile = \"seed\"\nspray = 9", 4, Severity::error, "spray: is for weapons that launch nothing"},
    {"projectile = \"seed\"\nbounce.count = 2", 4, Severity::warning,
     "does nothing for a weapon that is not hitscan"},
    {"spray = 9\npellets = 3", 4, Severity::warning, "pellets: does nothing for a spray"},
    {"pierce = { energy = 5, per_body = 9 }", 3, Severity::warning, "so no body is pierced"},
    {"effect.type = \"rto\"\n[damage.rot]", 3, Severity::error,
     "names no damage: \"rto\", did you mean 'rot'?"},
    {"effect = { reaction = \"hevy\" }", 3, Severity::error, "did you mean 'heavy'?"},
    {"effect.reaction = \"shoev\"\n[body.a]\nreaction.shove.lasts = 1\nregion.x.shapes = [{ sphere = [0, 1, "
     "0], radius = 1 }]",
     3, Severity::error, "names no reaction: \"shoev\", did you mean 'shove'?"},
    {"[body.a]\nreaction.light.lasts = 1\nregion.x.shapes = [{ sphere = [0, 1, 0], radius = 1 }]", 9,
     Severity::error, "which is a word of its own"},
    {"[body.a]\nsurface = \"brak\"\nregion.x.shapes = [{ sphere = [0, 1, 0], radius = 1 }]\n[surface.bark]",
     9, Severity::error, "names no surface: \"brak\", did you mean 'bark'?"},
    {"[condition.a]\nlasts = 0\nperiod = 1", 10, Severity::warning, "means nothing for an instant condition"},
    {"[condition.a]\namount = 1", 9, Severity::warning, "amount: never comes, without a period"},
    {"[condition.a]\nlasts = 1\nperiod = 2", 10, Severity::warning, "so it never ticks"},
    {"[condition.a]\nlasts = 1\nperiod = 0.0001", 10, Severity::error, "shorter than a millisecond"},
    {"[condition.a]\nmax_count = 2", 9, Severity::warning, "counts only with stacking count"},
    {"[condition.a]\nlasts = 0\nspeed = 2", 9, Severity::warning, "so its changes end at once"},
    {"[condition.a]\ncancels = [\"b\", 3]\n[condition.b]", 9, Severity::error, "cancels: is 3"},
    {"[condition.a]\nforbids = [\"fire\", \"jump\"]", 9, Severity::error, "is \"jump\""},
    {"[condition.a]\ngrants.defence = \"No\"", 9, Severity::error, "grants.defence: is \"No\""},
    {"[body.a]\nregion.x.shapes = [{ sphere = [0, 1, 0], radius = 1 }]\ndefence.sap.start = 3", 10,
     Severity::error, "defence.sap.max: is missing"},
    {"[body.a]\nregion.x.shapes = [{ sphere = [0, 1, 0], radius = 1 }]\ndefence.sap = { max = 3, refill = 1, "
     "decay = 1 }",
     10, Severity::error, "both comes back and goes"},
    {"[body.a]\nregion.x.shapes = [{ sphere = [0, 1, 0], radius = 1 }]\nresists = { rot = 2 }", 10,
     Severity::error, "resists: names no damage: \"rot\""},
    {"[body.a]\nregion.x.shapes = [{ sphere = [0, 1, 0], radius = 1 }]\nguard.stamina = 9", 8,
     Severity::warning, "whole again at once"},
    {"[body.a]\nregion.x.shapes = [{ sphere = [0, 1, 0], radius = 1 }]\nheavy_reaction = { lasts = 1, rise = "
     "1 }",
     10, Severity::warning, "does not lie down"},
    {"[hazard.a]\nshape = { cylinder = [[0, 0, 0], [0, 0, 0]], radius = 1 }\ndamage = 1", 9, Severity::error,
     "shape.cylinder: is a list of 2"},
    {"[hazard.a]\nshape = { cylinder = [[0, 0, 0], [0, 1, 0]] }\ndamage = 1", 9, Severity::error,
     "keys that do not make one shape; allowed: { sphere, radius }, { capsule, radius }, { cylinder, radius "
     "}"},
    {"[hazard.a]\nperiod = 1", 8, Severity::warning, "damage: is 0, and it has no effect"},
    {"[pickup.a]\nrounds = 3", 9, Severity::error, "rounds: are of no kind of ammunition"},
    {"[pickup.a]\nradius = 1", 8, Severity::warning, "there is nothing else in it"},
    {"[match.a]\nlives = { start = 5, max = 3 }", 9, Severity::error, "is not between lives.min"},
    {"[match.a]\nlast_one_wins = true", 9, Severity::warning, "never happens when lives are not counted"},
    {"[projectile.a]\nspeed = 0", 9, Severity::error, "projectile.a.speed: is 0"},
    {"[projectile.a]\nfuse = 9", 9, Severity::warning, "fuse: is longer than the lifetime"},
    {"[projectile.a]\nblast.damage = 9", 8, Severity::warning, "blast.radius: is 0, so nothing goes off"},
    {"[projectile.a]\nblast = { radius = 2, falloff = [[0, 1], [2, 0]] }", 9, Severity::warning,
     "beyond the radius"},
    {"[projectile.a]\nproximity = 2", 9, Severity::warning, "does nothing for a projectile without a blast"},
    {"[projectile.a]\nbounce.cuont = 2", 9, Severity::error, "has no key 'cuont', did you mean 'count'?"},
    {"[melee.a]\nattack.b = { grip = 1, reach = 1 }", 9, Severity::error, "reach: is not beyond the grip"},
    {"[melee.a]\nattack.b = { path = [[-90, 0], [90, 0]] }", 9, Severity::error,
     "path: turns too far in one step"},
    {"[melee.a]\nattack.b = { path = [] }", 9, Severity::error, "path: is no path"},
    {"[melee.a]\nattack.B = {}", 9, Severity::error, "is not a name for an attack"},
    {"[melee.a]\nattack = 3", 9, Severity::error, "is 3; allowed: 1 to 64 tables [melee.ID.attack.NAME]"},
    {"[melee.a]", 8, Severity::error, "melee.a.attack: is missing"},
    {"trigger = [\"single\", \"single\"]", 3, Severity::warning, "names a mode twice"},
};

TEST(Validate, EachHasItsLineAndWarningsStillLoad) {
    for (const FaultyValue& each : faulty_values) {
        const std::string lines = each.lines;
        const bool based = lines.starts_with("like");
        const std::string own = "rate_of_fire = 600\nrange = 90\ndamage = 20\nreload.time = 2\n";
        const std::string given =
            lines.find("range") == std::string::npos ? own : "rate_of_fire = 600\ndamage = 20\n";
        // Sections of their own come after the weapon.
        const bool apart = lines.starts_with("[");
        const std::string text = "[ammo.thorn]\n[weapon.w]\n" + (apart ? "" : lines + '\n') +
                                 (based ? "[weapon.base]\n" + own : given + "magazine = 30\n") +
                                 (apart ? lines + '\n' : "") +
                                 "[projectile.seed]\n[body.b.region.a]\n"
                                 "shapes = [{ sphere = [0, 1, 0], radius = 1 }]\n";
        const Loaded<Arsenal> loaded = parse_arsenal(text, "x.toml");
        EXPECT_EQ(static_cast<bool>(loaded), each.severity == Severity::warning) << text;
        bool found = false;
        for (const Diagnostic& diagnostic : loaded.diagnostics) {
            found |= to_string(diagnostic).find(each.message) != std::string::npos &&
                     diagnostic.line == static_cast<std::uint32_t>(each.line) &&
                     diagnostic.severity == each.severity;
        }
        EXPECT_TRUE(found) << text << "wanted: " << each.message << "\nfirst: "
                           << (loaded.diagnostics.empty() ? "nothing"
                                                          : to_string(loaded.diagnostics.front()));
    }
}

TEST(Validate, AreFoundInWeaponsMadeInCode) {
    WeaponSpec weapon;
    weapon.damage = 1.0;
    EXPECT_TRUE(validate(weapon).empty());
    constexpr double nan = std::numeric_limits<double>::quiet_NaN();
    weapon.recoil.pattern = {{0.0, nan}};
    weapon.spread.bloom.recovery.left = {};
    weapon.rounds_per_minute = nan;
    weapon.modes.clear();
    std::vector<std::string> keys;
    for (const SpecFault& found : validate(weapon)) {
        EXPECT_EQ(found.severity, Severity::error);
        keys.push_back(found.key);
    }
    EXPECT_EQ(keys,
              (std::vector<std::string>{"trigger", "rate_of_fire", "recoil.pattern", "bloom.recovery"}));
}

TEST(Validate, AreNotSeenInValuesThatWereRefused) {
    const Loaded<Arsenal> loaded =
        parse_arsenal("[weapon.w]\nrate_of_fire = 600\nrange = 9\ndamage = 1\nmagazine = 3\n"
                      "reload.time = 1\nspread = { hip = nan, aimed = 1 }\n",
                      "x");
    ASSERT_EQ(loaded.diagnostics.size(), 1U);
    EXPECT_EQ(loaded.diagnostics[0].where, "weapon.w.spread.hip");
}

TEST(Validate, TooManyKindsOfAmmunition) {
    std::string text;
    for (int kind = 0; kind < 65; ++kind) {
        text += "[ammo.a" + std::to_string(kind) + "]\n";
    }
    const Loaded<Arsenal> loaded = parse_arsenal(text, "x.toml");
    ASSERT_FALSE(loaded);
    EXPECT_NE(to_string(loaded.diagnostics.front()).find("too many kinds"), std::string::npos);
}

TEST(Intents, AreReadWithWhatTheyChangeAndEveryFault) {
    const auto good = parse_intents(
        "[[intent]]\nat = 0\ntrigger = true\nspeed = 2\n[[intent]]\nat = 0.5\naim = true\n", "x");
    ASSERT_TRUE(good);
    ASSERT_EQ(good->size(), 2U);
    EXPECT_TRUE((*good)[1].trigger && (*good)[1].aim && (*good)[1].speed == 2.0) << "what is not named stays";
    EXPECT_EQ((*good)[1].at, Time{std::chrono::milliseconds{500}});
    std::string too_many = "intent = [";
    for (std::size_t count = 0; count <= max_intents; ++count) {
        too_many += "0,";
    }
    too_many += ']';
    const std::pair<const char*, const char*> bad[] = {
        {"", "there is no intent in this file"},
        {too_many.c_str(), "intent: has too many tables; allowed: at most 100000 of them"},
        {"[[intent]]\ntrigger = true\n", "intent[0].at: is missing"},
        {"[[intent]]\nat = 1\n[[intent]]\nat = 0.5\n", "x:4:6: error: intent[1].at: is before"},
        {"[[intent]]\nat = nan\n", "is nan"},
        {"[[intent]]\nat = 0\ntriger = true\n", "did you mean 'trigger'?"},
        {"intent = 3\n", "does not belong here"},
        {"intent = [3]\n", "intent[0]: is 3"},
        {"[[intents]]\nat = 0\n", "intents: does not belong here"},
        {"[[intent]]\nat = = 0\n", "not valid TOML"},
    };
    for (const auto& [text, message] : bad) {
        const auto loaded = parse_intents(text, "x");
        ASSERT_FALSE(loaded) << message;
        std::string said;
        for (const Diagnostic& diagnostic : loaded.diagnostics) {
            said += to_string(diagnostic) + '\n';
        }
        EXPECT_NE(said.find(message), std::string::npos) << said;
    }
    EXPECT_FALSE(load_intents("/no/such/file.toml"));
}

} // namespace
} // namespace avrek
